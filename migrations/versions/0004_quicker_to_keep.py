"""What is long in a part is packed with lz4: a score of twenty parts is kept in half the time.

Parts that are there stay as they were packed; both kinds are read alike.
"""

from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

_LONG = ("notation", "survey")


def _pack(method: str) -> None:
    op.execute("set local lock_timeout = '5s'")
    for column in _LONG:
        op.execute(f"alter table part alter column {column} set compression {method}")


def upgrade() -> None:
    _pack("lz4")


def downgrade() -> None:
    _pack("pglz")
