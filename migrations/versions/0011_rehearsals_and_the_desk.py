"""Rehearsals with what became of them, hearings, and lines of the Desk that were put off."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

_SOURCES = "'self', 'helper', 'paper', 'hearing', 'measured'"


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.create_table(
        "rehearsal",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("piece_id", sa.Uuid(), sa.ForeignKey("piece.id"), nullable=False),
        sa.Column("section_id", sa.Uuid(), sa.ForeignKey("section.id"), nullable=True),
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("minutes", sa.Integer(), nullable=False),
        sa.Column("items", JSONB(), nullable=False),
        sa.Column("absent", sa.ARRAY(sa.Uuid()), nullable=False),
        sa.Column("done", JSONB(none_as_null=True), nullable=True),
        sa.Column("made_by", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("sent_home_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("minutes between 5 and 180", name="minutes"),
        sa.CheckConstraint("(done is null) = (ended_at is null)", name="ended"),
    )
    op.create_index("ix_rehearsal_program_id_day", "rehearsal", ["program_id", "day"])
    op.create_index("ix_rehearsal_piece_id", "rehearsal", ["piece_id"])
    op.create_index("ix_rehearsal_section_id", "rehearsal", ["section_id"])
    op.create_table(
        "put_off",
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), primary_key=True),
        sa.Column("line", sa.String(120), primary_key=True),
        sa.Column("until", sa.Date(), nullable=False),
    )
    op.create_table(
        "hearing",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("part_id", sa.Uuid(), sa.ForeignKey("part.id"), nullable=False),
        sa.Column("chunk_id", sa.Uuid(), sa.ForeignKey("chunk.id"), nullable=False),
        sa.Column("evidence_id", sa.Uuid(), sa.ForeignKey("evidence.id"), nullable=False),
        sa.Column("by_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("level", sa.SmallInteger(), nullable=False),
        sa.Column("before", sa.SmallInteger(), nullable=False),
        sa.Column("went_well", sa.String(200), nullable=False),
        sa.Column("one_thing", sa.String(200), nullable=False),
        sa.Column("missing", JSONB(), nullable=False),
        sa.Column("slips", JSONB(), nullable=False),
        sa.Column(
            "heard_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
    )
    op.create_index("ix_hearing_student_id_chunk_id", "hearing", ["student_id", "chunk_id"])
    op.create_index("ix_hearing_part_id", "hearing", ["part_id"])
    op.create_index("ix_hearing_evidence_id", "hearing", ["evidence_id"])
    op.execute(
        "create trigger hearing_append_only before update or delete or truncate on hearing"
        " execute function refuse_change()"
    )
    # What a room did is evidence of its own kind, which proves nothing.
    op.alter_column("evidence", "source", type_=sa.String(12), existing_server_default="'self'")
    op.drop_constraint("source", "evidence", type_="check")
    op.create_check_constraint("source", "evidence", f"source in ({_SOURCES}, 'rehearsed')")


def downgrade() -> None:
    op.drop_constraint("source", "evidence", type_="check")
    op.create_check_constraint("source", "evidence", f"source in ({_SOURCES})")
    op.alter_column("evidence", "source", type_=sa.String(8), existing_server_default="'self'")
    op.drop_table("hearing")
    op.drop_table("put_off")
    op.drop_table("rehearsal")
