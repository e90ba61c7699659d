"""What an act that carries an id from the device answered, so that it is done once."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.create_table(
        "idempotency_key",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("act", sa.String(40), nullable=False),
        sa.Column("answer", postgresql.JSONB(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()),
    )
    op.create_index("ix_idempotency_key_at", "idempotency_key", ["at"])
    op.create_index("ix_idempotency_key_program_id", "idempotency_key", ["program_id"])
    op.create_index("ix_idempotency_key_person_id", "idempotency_key", ["person_id"])


def downgrade() -> None:
    op.drop_table("idempotency_key")
