"""Takes that students hand in, and what a school says of them: off until it says otherwise."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.add_column(
        "program",
        sa.Column("has_takes", sa.Boolean(), nullable=False, server_default=sa.text("false")),
    )
    op.add_column(
        "program",
        sa.Column("take_weeks", sa.SmallInteger(), nullable=False, server_default=sa.text("6")),
    )
    op.create_check_constraint("take_weeks", "program", "take_weeks between 1 and 26")
    op.create_table(
        "take",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("part_id", sa.Uuid(), sa.ForeignKey("part.id"), nullable=False),
        sa.Column("chunk_id", sa.Uuid(), sa.ForeignKey("chunk.id"), nullable=False),
        sa.Column("state", sa.String(8), nullable=False, server_default=sa.text("'waiting'")),
        sa.Column("message", sa.String(200), nullable=False, server_default=sa.text("''")),
        sa.Column("sound", sa.String(64), nullable=False),
        sa.Column("seconds", sa.Numeric(8, 3), nullable=True),
        sa.Column("why_anew", sa.String(200), nullable=False, server_default=sa.text("''")),
        sa.Column("anchors", JSONB(), nullable=False, server_default=sa.text("'[]'")),
        sa.Column("hearing_id", sa.Uuid(), sa.ForeignKey("hearing.id"), nullable=True),
        sa.Column("recorded_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column(
            "handed_in_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.CheckConstraint("state in ('waiting', 'ready', 'failed')", name="state"),
        sa.CheckConstraint("(state = 'ready') = (seconds is not null)", name="ready"),
    )
    op.create_index("ix_take_student_id_chunk_id", "take", ["student_id", "chunk_id"])
    op.create_index("ix_take_program_id_handed_in_at", "take", ["program_id", "handed_in_at"])
    op.create_index("ix_take_part_id", "take", ["part_id"])
    op.create_index("ix_take_hearing_id", "take", ["hearing_id"])
    op.add_column("job", sa.Column("take_id", sa.Uuid(), nullable=True))
    op.drop_constraint("kind", "job", type_="check")
    op.create_check_constraint("kind", "job", "kind in ('import', 'sheets', 'take')")


def downgrade() -> None:
    op.execute("delete from job where kind = 'take'")
    op.drop_constraint("kind", "job", type_="check")
    op.create_check_constraint("kind", "job", "kind in ('import', 'sheets')")
    op.drop_column("job", "take_id")
    op.drop_table("take")
    op.drop_constraint("take_weeks", "program", type_="check")
    op.drop_column("program", "take_weeks")
    op.drop_column("program", "has_takes")
