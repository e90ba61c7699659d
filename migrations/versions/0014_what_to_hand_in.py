"""What sections hand in, the style of a passage, and what players let their leader see."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.create_table(
        "take_task",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("section_id", sa.Uuid(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("due_on", sa.Date(), nullable=False),
        sa.Column("made_by_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
    )
    op.create_index("ix_take_task_program_id", "take_task", ["program_id"])
    op.create_index("ix_take_task_section_id_due_on", "take_task", ["section_id", "due_on"])
    op.create_table(
        "take_choice",
        sa.Column("task_id", sa.Uuid(), sa.ForeignKey("take_task.id"), primary_key=True),
        sa.Column("chunk_id", sa.Uuid(), sa.ForeignKey("chunk.id"), primary_key=True),
        sa.Column("part_id", sa.Uuid(), sa.ForeignKey("part.id"), nullable=False),
        sa.Column("thing", sa.SmallInteger(), nullable=False),
        sa.Column("place", sa.SmallInteger(), nullable=False),
        sa.Column("least_seconds", sa.SmallInteger(), nullable=False),
    )
    op.create_index("ix_take_choice_chunk_id", "take_choice", ["chunk_id"])
    op.create_index("ix_take_choice_part_id", "take_choice", ["part_id"])
    op.create_table(
        "style_brief",
        sa.Column("chunk_id", sa.Uuid(), sa.ForeignKey("chunk.id"), primary_key=True),
        sa.Column("part_id", sa.Uuid(), sa.ForeignKey("part.id"), nullable=False),
        sa.Column("text", sa.String(300), nullable=False),
        sa.Column("by_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column(
            "said_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
    )
    op.create_index("ix_style_brief_part_id", "style_brief", ["part_id"])
    op.add_column(
        "section_member",
        sa.Column("shows_leader", sa.Boolean(), nullable=False, server_default=sa.text("false")),
    )


def downgrade() -> None:
    op.drop_column("section_member", "shows_leader")
    op.drop_table("style_brief")
    op.drop_table("take_choice")
    op.drop_table("take_task")
