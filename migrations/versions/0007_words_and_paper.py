"""Words and paper of a program, circles to tick on its sheets, ratings of two ways."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    # What stood before 0007 printed on A4: those who have it keep it.
    op.add_column(
        "program",
        sa.Column("paper", sa.String(12), nullable=False, server_default=sa.text("'a4'")),
    )
    op.alter_column("program", "paper", server_default=sa.text("'us-letter'"))
    op.add_column(
        "program",
        sa.Column("words", sa.String(2), nullable=False, server_default=sa.text("'us'")),
    )
    op.add_column(
        "job", sa.Column("boxes", sa.Boolean(), nullable=False, server_default=sa.false())
    )
    op.create_table(
        "way_rating",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("item_id", sa.Uuid(), sa.ForeignKey("assignment_item.id"), nullable=False),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("way", sa.SmallInteger(), nullable=False),
        sa.Column("intonation", sa.SmallInteger(), nullable=False),
        sa.Column("tone", sa.SmallInteger(), nullable=False),
        sa.Column(
            "rated_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.CheckConstraint("way in (0, 1)", name="way"),
        sa.CheckConstraint("intonation between 1 and 5 and tone between 1 and 5", name="rating"),
    )
    op.create_index("ix_way_rating_item_id_student_id", "way_rating", ["item_id", "student_id"])
    op.create_check_constraint("words", "program", "words in ('us', 'uk')")
    op.create_check_constraint("paper", "program", "paper in ('us-letter', 'a4')")


def downgrade() -> None:
    op.drop_table("way_rating")
    op.drop_constraint("paper", "program", type_="check")
    op.drop_constraint("words", "program", type_="check")
    op.drop_column("job", "boxes")
    op.drop_column("program", "words")
    op.drop_column("program", "paper")
