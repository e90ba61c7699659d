"""Levels with seams, secure tempo and rules of their own; plans and each student's days."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

_FRACTION = sa.String(40)


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.add_column("program", sa.Column("mastery_rules", JSONB(none_as_null=True), nullable=True))
    op.add_column("person", sa.Column("calendar_key", sa.String(43), nullable=True))
    op.create_unique_constraint("uq_person_calendar_key", "person", ["calendar_key"])
    for name in ("opens", "closes"):
        op.add_column(
            "chunk", sa.Column(name, sa.Boolean(), nullable=False, server_default=sa.false())
        )
    _mark_edges()
    # Levels of before are worked out anew by the new rules; until then they stand as they were.
    op.add_column(
        "mastery",
        sa.Column("rules", sa.SmallInteger(), nullable=False, server_default=sa.text("1")),
    )
    op.alter_column("mastery", "rules", server_default=sa.text("2"))
    op.add_column(
        "mastery",
        sa.Column("next_step", sa.String(200), nullable=False, server_default=sa.text("''")),
    )
    for name in ("seam_in", "seam_out", "is_enough"):
        op.add_column(
            "mastery", sa.Column(name, sa.Boolean(), nullable=False, server_default=sa.false())
        )
    for name in ("secure_bpm", "secure_low", "secure_high"):
        op.add_column("mastery", sa.Column(name, sa.Float(), nullable=True))
    op.add_column("mastery", sa.Column("best_bpm", _FRACTION, nullable=True))
    op.add_column("mastery", sa.Column("due_on", sa.Date(), nullable=True))
    op.create_table(
        "plan",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
        sa.Column("part_id", sa.Uuid(), sa.ForeignKey("part.id"), nullable=False),
        sa.Column("section_id", sa.Uuid(), sa.ForeignKey("section.id"), nullable=False),
        sa.Column("starts_on", sa.Date(), nullable=False),
        sa.Column("ends_on", sa.Date(), nullable=False),
        sa.Column("minutes_a_day", sa.Integer(), nullable=False),
        sa.Column("sessions_a_day", sa.Integer(), nullable=False),
        sa.Column("warm_up_minutes", sa.Integer(), nullable=False),
        sa.Column("player", sa.String(12), nullable=False),
        sa.Column("order_by", sa.String(12), nullable=False),
        sa.Column("days_off", JSONB(), nullable=False, server_default=sa.text("'[]'")),
        sa.Column("weekdays_off", JSONB(), nullable=False, server_default=sa.text("'[]'")),
        sa.Column("changes", JSONB(), nullable=False, server_default=sa.text("'{}'")),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()
        ),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("ends_on > starts_on", name="days"),
    )
    op.create_index("ix_plan_part_id", "plan", ["part_id"])
    op.create_index("ix_plan_section_id", "plan", ["section_id"])
    op.create_table(
        "plan_day",
        sa.Column("plan_id", sa.Uuid(), sa.ForeignKey("plan.id"), primary_key=True),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), primary_key=True),
        sa.Column("day", sa.Date(), primary_key=True),
        sa.Column("minutes", sa.Integer(), nullable=True),
        sa.Column("items", JSONB(none_as_null=True), nullable=True),
        sa.Column("is_laid_out", sa.Boolean(), nullable=False, server_default=sa.false()),
    )
    op.create_index("ix_plan_day_student_id", "plan_day", ["student_id"])
    op.add_column(
        "assignment",
        sa.Column("plan_id", sa.Uuid(), sa.ForeignKey("plan.id"), nullable=True),
    )
    op.create_index("ix_assignment_plan_id", "assignment", ["plan_id"])
    op.add_column("assignment_item", sa.Column("minutes", sa.Integer(), nullable=True))


def _mark_edges() -> None:
    """The first chunk of any map has no seam before it, the last none after it."""
    for column, place in (("opens", "1"), ("closes", "array_length(v.chunk_ids, 1)")):
        op.execute(
            f"update chunk set {column} = true where id in"
            f" (select v.chunk_ids[{place}] from chunk_map_version v)"
        )
    for column, place in (("opens", "0"), ("closes", "-1")):
        op.execute(
            f"update chunk set {column} = true where id::text in"
            f" (select level ->> {place} from chunk_map_version v,"
            " jsonb_array_elements(v.inner) as level)"
        )


def downgrade() -> None:
    op.drop_column("assignment_item", "minutes")
    op.drop_column("assignment", "plan_id")
    op.drop_table("plan_day")
    op.drop_table("plan")
    for name in (
        "due_on",
        "best_bpm",
        "secure_high",
        "secure_low",
        "secure_bpm",
        "is_enough",
        "seam_out",
        "seam_in",
        "next_step",
        "rules",
    ):
        op.drop_column("mastery", name)
    op.drop_column("chunk", "closes")
    op.drop_column("chunk", "opens")
    op.drop_column("person", "calendar_key")
    op.drop_column("program", "mastery_rules")
