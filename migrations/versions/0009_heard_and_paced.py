"""What was heard of a chunk; floor and festival tempos of a part; drills for every nth day."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

_FRACTION = sa.String(40)


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.create_table(
        "heard",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("part_id", sa.Uuid(), sa.ForeignKey("part.id"), nullable=False),
        sa.Column("chunk_id", sa.Uuid(), sa.ForeignKey("chunk.id"), nullable=False),
        sa.Column("section_id", sa.Uuid(), sa.ForeignKey("section.id"), nullable=True),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=True),
        sa.Column("symptom", sa.String(20), nullable=False),
        sa.Column("by_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column(
            "said_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("(section_id is null) <> (student_id is null)", name="whose"),
    )
    op.create_index("ix_heard_part_id", "heard", ["part_id"])
    op.create_index("ix_heard_student_id", "heard", ["student_id"])
    for name in ("floor_bpm", "festival_bpm"):
        op.add_column("part", sa.Column(name, _FRACTION, nullable=True))
    op.add_column(
        "assignment_item",
        sa.Column("every", sa.SmallInteger(), nullable=False, server_default=sa.text("1")),
    )


def downgrade() -> None:
    op.drop_column("assignment_item", "every")
    op.drop_column("part", "festival_bpm")
    op.drop_column("part", "floor_bpm")
    op.drop_table("heard")
