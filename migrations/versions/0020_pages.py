"""Pages: files that are brought in as pages, each page read, and the places of measures on them."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

_KINDS = ("import", "sheets", "take")


def _check_kinds(kinds: tuple[str, ...]) -> None:
    op.drop_constraint("kind", "job", type_="check")
    listed = ", ".join(f"'{kind}'" for kind in kinds)
    op.create_check_constraint("kind", "job", f"kind in ({listed})")


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    empty = sa.text("'[]'")
    op.create_table(
        "page_set",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("title", sa.String(200), nullable=False),
        sa.Column("composer", sa.String(200), nullable=False),
        sa.Column("sources", postgresql.JSONB(), nullable=False),
        sa.Column("bytes", sa.Integer(), server_default=sa.text("0"), nullable=False),
        sa.Column("piece_id", sa.Uuid(), sa.ForeignKey("piece.id"), nullable=True),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False
        ),
    )
    op.create_table(
        "page",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column(
            "set_id", sa.Uuid(), sa.ForeignKey("page_set.id", ondelete="cascade"), nullable=False
        ),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("source", sa.Integer(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("turn", sa.Integer(), server_default=sa.text("0"), nullable=False),
        sa.Column("is_left_out", sa.Boolean(), server_default=sa.false(), nullable=False),
        sa.Column("begins", postgresql.JSONB(), nullable=True),
        sa.Column("picture", sa.String(100), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("is_drawn", sa.Boolean(), server_default=sa.false(), nullable=False),
        sa.Column("message", sa.String(400), nullable=False),
        sa.Column("measures", postgresql.JSONB(), nullable=True),
        sa.Column("earlier", postgresql.JSONB(), server_default=empty, nullable=False),
        sa.Column("later", postgresql.JSONB(), server_default=empty, nullable=False),
    )
    for table, column in (
        ("page_set", "program_id"),
        ("page_set", "piece_id"),
        ("page", "program_id"),
        ("page", "set_id"),
    ):
        op.create_index(f"ix_{table}_{column}", table, [column])
    op.add_column("part", sa.Column("on_pages", postgresql.JSONB(), nullable=True))
    op.add_column("job", sa.Column("page_set_id", sa.Uuid(), nullable=True))
    op.create_index("ix_job_page_set_id", "job", ["page_set_id"])
    _check_kinds((*_KINDS, "pages"))


def downgrade() -> None:
    op.execute("delete from job where kind = 'pages'")
    _check_kinds(_KINDS)
    op.drop_index("ix_job_page_set_id", "job")
    op.drop_column("job", "page_set_id")
    op.drop_column("part", "on_pages")
    op.drop_table("page")
    op.drop_table("page_set")
