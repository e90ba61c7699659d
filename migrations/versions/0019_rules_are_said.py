"""Which rules a level was worked out by is always said by whoever stores it."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.alter_column("mastery", "rules", server_default=None)


def downgrade() -> None:
    op.alter_column("mastery", "rules", server_default=sa.text("2"))
