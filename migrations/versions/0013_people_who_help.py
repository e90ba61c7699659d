"""Assistants, who hear some sections, and helpers, who tick for one student."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.drop_constraint("role", "person", type_="check")
    op.create_check_constraint(
        "role", "person", "role in ('director', 'assistant', 'helper', 'student')"
    )
    op.create_table(
        "charge",
        sa.Column("id", sa.Uuid(), primary_key=True),
        sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
        sa.Column("section_id", sa.Uuid(), sa.ForeignKey("section.id"), nullable=True),
        sa.Column("student_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=True),
        sa.CheckConstraint("(section_id is null) <> (student_id is null)", name="one"),
    )
    op.create_index("ix_charge_person_id", "charge", ["person_id"])
    op.create_index("ix_charge_section_id", "charge", ["section_id"])
    op.create_index("ix_charge_student_id", "charge", ["student_id"])
    op.add_column(
        "invitation",
        sa.Column("role", sa.String(12), nullable=False, server_default=sa.text("'director'")),
    )
    op.add_column(
        "invitation",
        sa.Column(
            "section_ids", sa.ARRAY(sa.Uuid()), nullable=False, server_default=sa.text("'{}'")
        ),
    )
    op.add_column("invitation", sa.Column("student_id", sa.Uuid(), nullable=True))


def downgrade() -> None:
    op.execute("delete from invitation where role <> 'director'")
    op.drop_column("invitation", "student_id")
    op.drop_column("invitation", "section_ids")
    op.drop_column("invitation", "role")
    op.drop_table("charge")
    # Whoever helped has no place in the older shape; what they judged keeps their name.
    op.execute(
        "delete from signed_in using person p"
        " where p.id = person_id and p.role in ('assistant', 'helper')"
    )
    op.execute(
        "update person set role = 'director', secret_hash = ''"
        " where role in ('assistant', 'helper')"
    )
    op.drop_constraint("role", "person", type_="check")
    op.create_check_constraint("role", "person", "role in ('director', 'student')")
