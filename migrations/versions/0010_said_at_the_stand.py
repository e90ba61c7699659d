"""What students say at the Stand: where and what a slip was, and a diary of practice."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.create_table(
        "slip_place",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("evidence_id", sa.Uuid(), sa.ForeignKey("evidence.id"), nullable=False),
        sa.Column("at_index", sa.Integer(), nullable=True),
        sa.Column("at_offset", sa.String(40), nullable=True),
        sa.Column("what", sa.String(16), nullable=False, server_default=sa.text("''")),
        sa.Column(
            "received_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.CheckConstraint("(at_index is null) = (at_offset is null)", name="place"),
    )
    op.create_index("ix_slip_place_evidence_id", "slip_place", ["evidence_id"])
    op.create_table(
        "diary",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("item_id", sa.Uuid(), sa.ForeignKey("assignment_item.id"), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("local_day", sa.Date(), nullable=False),
        sa.Column("said", JSONB(), nullable=False),
        sa.Column(
            "received_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
    )
    op.create_index("ix_diary_student_id_local_day", "diary", ["student_id", "local_day"])
    op.create_index("ix_diary_program_id_kind", "diary", ["program_id", "kind", "local_day"])
    op.create_index("ix_diary_item_id", "diary", ["item_id"])
    for table in ("slip_place", "diary"):
        op.execute(
            f"create trigger {table}_append_only before update or delete or truncate on {table}"
            " execute function refuse_change()"
        )


def downgrade() -> None:
    op.drop_table("diary")
    op.drop_table("slip_place")
