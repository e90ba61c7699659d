"""Levels that wait to be recomputed, or cannot be, are found without reading all of them."""

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.create_index(
        "ix_mastery_waits",
        "mastery",
        ["chunk_id", "student_id"],
        postgresql_where=sa.text("rules <= 0"),
    )


def downgrade() -> None:
    op.drop_index("ix_mastery_waits", "mastery")
