"""Recipes, sendings with exceptions, versions for other instruments, practice sheets on paper."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def _link(table: str, column: str, target: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(
        [column], [f"{target}.id"], name=op.f(f"fk_{table}_{column}_{target}")
    )


def _now(name: str) -> sa.Column:
    return sa.Column(
        name, sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False
    )


def _text(name: str, length: int, default: str = "") -> sa.Column:
    return sa.Column(
        name, sa.String(length), server_default=sa.text(f"'{default}'"), nullable=False
    )


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    _recipes()
    _assignments()
    op.add_column("part", sa.Column("version_of_id", sa.Uuid(), nullable=True))
    op.create_index(op.f("ix_part_version_of_id"), "part", ["version_of_id"])
    op.create_foreign_key(
        op.f("fk_part_version_of_id_part"), "part", "part", ["version_of_id"], ["id"]
    )
    op.add_column("repetition", _text("source", 8, "self"))
    op.create_check_constraint(
        op.f("ck_repetition_source"), "repetition", "source in ('self', 'paper')"
    )
    _sheets()


def _recipes() -> None:
    op.create_table(
        "recipe",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("section_id", sa.Uuid(), nullable=True),
        sa.Column("name", sa.String(60), nullable=False),
        sa.Column("note", sa.String(200), nullable=False),
        sa.Column("items", postgresql.JSONB(), nullable=False),
        _now("made_at"),
        sa.Column("removed_at", sa.DateTime(timezone=True), nullable=True),
        _link("recipe", "program_id", "program"),
        _link("recipe", "section_id", "section"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recipe")),
    )
    op.create_index(op.f("ix_recipe_program_id"), "recipe", ["program_id"])


def _assignments() -> None:
    op.add_column("assignment", sa.Column("sending_id", sa.Uuid(), nullable=True))
    # What was sent before was sent one by one.
    op.execute("update assignment set sending_id = id")
    op.alter_column("assignment", "sending_id", nullable=False)
    op.create_index(op.f("ix_assignment_sending_id"), "assignment", ["sending_id"])
    op.add_column("assignment", _text("exception", 16))
    op.add_column("assignment_item", _text("role", 8, "focus"))
    op.add_column("assignment_item", _text("note", 200))
    op.add_column(
        "assignment_item", sa.Column("removed_at", sa.DateTime(timezone=True), nullable=True)
    )


def _sheets() -> None:
    op.create_table(
        "sheet_job",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("sending_id", sa.Uuid(), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("message", sa.String(400), nullable=False),
        sa.Column("file_key", sa.String(100), nullable=False),
        _now("made_at"),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint(
            "state in ('waiting', 'working', 'done', 'failed')", name=op.f("ck_sheet_job_state")
        ),
        _link("sheet_job", "program_id", "program"),
        _link("sheet_job", "person_id", "person"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sheet_job")),
    )
    op.create_index(op.f("ix_sheet_job_program_id"), "sheet_job", ["program_id"])
    op.create_table(
        "sheet",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("code", sa.String(8), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("assignment_id", sa.Uuid(), nullable=False),
        sa.Column("student_id", sa.Uuid(), nullable=False),
        _now("made_at"),
        _link("sheet", "program_id", "program"),
        _link("sheet", "assignment_id", "assignment"),
        _link("sheet", "student_id", "person"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sheet")),
        sa.UniqueConstraint("code", name=op.f("uq_sheet_code")),
        sa.UniqueConstraint(
            "assignment_id", "student_id", name=op.f("uq_sheet_assignment_id_student_id")
        ),
    )
    op.create_index(op.f("ix_sheet_assignment_id"), "sheet", ["assignment_id"])
    op.create_index(op.f("ix_sheet_student_id"), "sheet", ["student_id"])


def downgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.drop_table("sheet")
    op.drop_table("sheet_job")
    op.drop_constraint(op.f("ck_repetition_source"), "repetition", type_="check")
    op.drop_column("repetition", "source")
    op.drop_constraint(op.f("fk_part_version_of_id_part"), "part", type_="foreignkey")
    op.drop_index(op.f("ix_part_version_of_id"), "part")
    op.drop_column("part", "version_of_id")
    for column in ("removed_at", "note", "role"):
        op.drop_column("assignment_item", column)
    op.drop_column("assignment", "exception")
    op.drop_index(op.f("ix_assignment_sending_id"), "assignment")
    op.drop_column("assignment", "sending_id")
    op.drop_table("recipe")
