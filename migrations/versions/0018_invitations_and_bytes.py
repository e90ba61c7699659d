"""Invitations are listed and taken back by an id; uploads and takes are counted in bytes."""

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    new_id = sa.text("gen_random_uuid()")
    op.add_column("invitation", sa.Column("id", sa.Uuid(), nullable=False, server_default=new_id))
    op.create_unique_constraint("uq_invitation_id", "invitation", ["id"])
    for table in ("take", "job"):
        zero = sa.text("0")
        op.add_column(table, sa.Column("bytes", sa.Integer(), nullable=False, server_default=zero))
    op.execute(
        "delete from invitation i using person p"
        " where p.id = i.made_by and p.secret_hash = '' and i.used_at is null"
    )


def downgrade() -> None:
    for table in ("job", "take"):
        op.drop_column(table, "bytes")
    op.drop_column("invitation", "id")
