"""Uneven clicks of a step, lines and pages of a part, tags of chunks, objectives, claimed kin."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

_EMPTY = sa.text("'[]'")


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.add_column(
        "sent_step",
        sa.Column("clicks", postgresql.JSONB(), nullable=False, server_default=_EMPTY),
    )
    op.add_column("part", sa.Column("page_map", postgresql.JSONB(), nullable=True))
    op.add_column(
        "piece",
        sa.Column("objectives", postgresql.JSONB(), nullable=False, server_default=_EMPTY),
    )
    op.add_column(
        "kin_link",
        sa.Column("is_claimed", sa.Boolean(), nullable=False, server_default=sa.false()),
    )
    op.add_column(
        "kin_link", sa.Column("steps", sa.Integer(), nullable=False, server_default=sa.text("0"))
    )
    op.add_column(
        "kin_link",
        sa.Column("later", sa.String(40), nullable=False, server_default=sa.text("'0'")),
    )
    op.create_table(
        "chunk_tag",
        sa.Column("chunk_id", sa.Uuid(), sa.ForeignKey("chunk.id"), primary_key=True),
        sa.Column("tag", sa.String(40), primary_key=True),
        sa.Column("is_on", sa.Boolean(), nullable=False),
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column(
            "said_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
    )
    # A heart meant two things; now it is for what is expressive.
    op.execute(
        "update mark set kind = 'words', text = left(trim('by heart ' || text), 80)"
        " where kind = 'heart'"
    )


def downgrade() -> None:
    op.drop_table("chunk_tag")
    for name in ("later", "steps", "is_claimed"):
        op.drop_column("kin_link", name)
    op.drop_column("piece", "objectives")
    op.drop_column("part", "page_map")
    op.drop_column("sent_step", "clicks")
