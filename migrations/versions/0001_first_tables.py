"""The first tables, and the trigger that keeps evidence append-only."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


EVIDENCE = ("repetition", "retraction")


def upgrade() -> None:
    op.create_table(
        "drawing",
        sa.Column("key", sa.String(length=64), nullable=False),
        sa.Column("svg", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_drawing")),
    )
    op.create_table(
        "program",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("class_code", sa.String(length=12), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_program")),
        sa.UniqueConstraint("class_code", name=op.f("uq_program_class_code")),
    )
    op.create_table(
        "sign_in_failure",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("account", sa.String(length=260), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sign_in_failure")),
    )
    op.create_index(
        "ix_sign_in_failure_account_at", "sign_in_failure", ["account", "at"], unique=False
    )
    op.create_table(
        "person",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("role", sa.String(length=12), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.Column("email", sa.String(length=200), nullable=True),
        sa.Column("secret_hash", sa.String(length=200), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.CheckConstraint("role in ('director', 'student')", name=op.f("ck_person_role")),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name=op.f("fk_person_program_id_program")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
    )
    op.create_index("ix_person_program_name", "person", ["program_id", "name"], unique=False)
    op.create_index("uq_person_email", "person", [sa.literal_column("lower(email)")], unique=True)
    op.create_table(
        "piece",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("title", sa.String(length=200), nullable=False),
        sa.Column("composer", sa.String(length=200), nullable=False),
        sa.Column("file_name", sa.String(length=200), nullable=False),
        sa.Column("file_key", sa.String(length=100), nullable=False),
        sa.Column(
            "created_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name=op.f("fk_piece_program_id_program")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_piece")),
    )
    op.create_index(op.f("ix_piece_program_id"), "piece", ["program_id"], unique=False)
    op.create_table(
        "section",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(length=80), nullable=False),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name=op.f("fk_section_program_id_program")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_section")),
        sa.UniqueConstraint("program_id", "name", name=op.f("uq_section_program_id_name")),
    )
    op.create_table(
        "part",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("piece_id", sa.Uuid(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(length=120), nullable=False),
        sa.Column("instrument", sa.String(length=120), nullable=False),
        sa.Column("notation", sa.String(), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("goal_bpm", sa.String(length=40), nullable=False),
        sa.Column("map_cursor", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["piece_id"], ["piece.id"], name=op.f("fk_part_piece_id_piece")),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name=op.f("fk_part_program_id_program")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_part")),
    )
    op.create_index(op.f("ix_part_piece_id"), "part", ["piece_id"], unique=False)
    op.create_table(
        "section_member",
        sa.Column("section_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["person.id"], name=op.f("fk_section_member_person_id_person")
        ),
        sa.ForeignKeyConstraint(
            ["section_id"], ["section.id"], name=op.f("fk_section_member_section_id_section")
        ),
        sa.PrimaryKeyConstraint("section_id", "person_id", name=op.f("pk_section_member")),
    )
    op.create_index(
        op.f("ix_section_member_person_id"), "section_member", ["person_id"], unique=False
    )
    op.create_table(
        "signed_in",
        sa.Column("token_hash", sa.LargeBinary(length=32), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("expires_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["person.id"], name=op.f("fk_signed_in_person_id_person")
        ),
        sa.PrimaryKeyConstraint("token_hash", name=op.f("pk_signed_in")),
    )
    op.create_index(op.f("ix_signed_in_person_id"), "signed_in", ["person_id"], unique=False)
    op.create_table(
        "assignment",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("section_id", sa.Uuid(), nullable=False),
        sa.Column("due_on", sa.Date(), nullable=False),
        sa.Column("minutes_a_day", sa.Integer(), nullable=False),
        sa.Column("sent_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("withdrawn_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["part_id"], ["part.id"], name=op.f("fk_assignment_part_id_part")),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name=op.f("fk_assignment_program_id_program")
        ),
        sa.ForeignKeyConstraint(
            ["section_id"], ["section.id"], name=op.f("fk_assignment_section_id_section")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_assignment")),
    )
    op.create_index(op.f("ix_assignment_program_id"), "assignment", ["program_id"], unique=False)
    op.create_index(op.f("ix_assignment_section_id"), "assignment", ["section_id"], unique=False)
    op.create_table(
        "chunk",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("start_index", sa.Integer(), nullable=False),
        sa.Column("start_at", sa.String(length=40), nullable=False),
        sa.Column("end_index", sa.Integer(), nullable=False),
        sa.Column("end_at", sa.String(length=40), nullable=False),
        sa.Column("landing", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["part_id"], ["part.id"], name=op.f("fk_chunk_part_id_part")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_chunk")),
    )
    op.create_index(op.f("ix_chunk_part_id"), "chunk", ["part_id"], unique=False)
    op.create_table(
        "chunk_map_version",
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("chunk_ids", sa.ARRAY(sa.Uuid()), nullable=False),
        sa.Column("edit", sa.String(length=80), nullable=False),
        sa.Column(
            "made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False
        ),
        sa.ForeignKeyConstraint(
            ["part_id"], ["part.id"], name=op.f("fk_chunk_map_version_part_id_part")
        ),
        sa.PrimaryKeyConstraint("part_id", "number", name=op.f("pk_chunk_map_version")),
    )
    op.create_table(
        "assignment_item",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("assignment_id", sa.Uuid(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("chunk_id", sa.Uuid(), nullable=False),
        sa.Column("drill", sa.String(length=40), nullable=False),
        sa.Column("settings", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("start_bpm", sa.String(length=40), nullable=False),
        sa.Column("goal_bpm", sa.String(length=40), nullable=False),
        sa.Column("step_bpm", sa.String(length=40), nullable=False),
        sa.ForeignKeyConstraint(
            ["assignment_id"],
            ["assignment.id"],
            name=op.f("fk_assignment_item_assignment_id_assignment"),
        ),
        sa.ForeignKeyConstraint(
            ["chunk_id"], ["chunk.id"], name=op.f("fk_assignment_item_chunk_id_chunk")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_assignment_item")),
    )
    op.create_index(
        op.f("ix_assignment_item_assignment_id"), "assignment_item", ["assignment_id"], unique=False
    )
    op.create_table(
        "assignment_student",
        sa.Column("assignment_id", sa.Uuid(), nullable=False),
        sa.Column("student_id", sa.Uuid(), nullable=False),
        sa.ForeignKeyConstraint(
            ["assignment_id"],
            ["assignment.id"],
            name=op.f("fk_assignment_student_assignment_id_assignment"),
        ),
        sa.ForeignKeyConstraint(
            ["student_id"], ["person.id"], name=op.f("fk_assignment_student_student_id_person")
        ),
        sa.PrimaryKeyConstraint("assignment_id", "student_id", name=op.f("pk_assignment_student")),
    )
    op.create_index(
        op.f("ix_assignment_student_student_id"), "assignment_student", ["student_id"], unique=False
    )
    op.create_table(
        "mastery",
        sa.Column("student_id", sa.Uuid(), nullable=False),
        sa.Column("chunk_id", sa.Uuid(), nullable=False),
        sa.Column("level", sa.Integer(), nullable=False),
        sa.Column("proved_bpm", sa.String(length=40), nullable=True),
        sa.Column("why", sa.String(length=200), nullable=False),
        sa.Column("clean", sa.Integer(), nullable=False),
        sa.Column("slips", sa.Integer(), nullable=False),
        sa.Column("last_played_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["chunk_id"], ["chunk.id"], name=op.f("fk_mastery_chunk_id_chunk")),
        sa.ForeignKeyConstraint(
            ["student_id"], ["person.id"], name=op.f("fk_mastery_student_id_person")
        ),
        sa.PrimaryKeyConstraint("student_id", "chunk_id", name=op.f("pk_mastery")),
    )
    op.create_index(op.f("ix_mastery_chunk_id"), "mastery", ["chunk_id"], unique=False)
    op.create_table(
        "repetition",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("student_id", sa.Uuid(), nullable=False),
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("chunk_id", sa.Uuid(), nullable=False),
        sa.Column("item_id", sa.Uuid(), nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("step_name", sa.String(length=80), nullable=False),
        sa.Column("kind", sa.String(length=8), nullable=False),
        sa.Column("as_written", sa.Boolean(), nullable=False),
        sa.Column("start_index", sa.Integer(), nullable=False),
        sa.Column("start_at", sa.String(length=40), nullable=False),
        sa.Column("end_index", sa.Integer(), nullable=False),
        sa.Column("end_at", sa.String(length=40), nullable=False),
        sa.Column("tempo_bpm", sa.String(length=40), nullable=False),
        sa.Column("is_clean", sa.Boolean(), nullable=False),
        sa.Column("played_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column(
            "received_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.CheckConstraint("kind in ('learn', 'set', 'prove')", name=op.f("ck_repetition_kind")),
        sa.ForeignKeyConstraint(
            ["chunk_id"], ["chunk.id"], name=op.f("fk_repetition_chunk_id_chunk")
        ),
        sa.ForeignKeyConstraint(
            ["item_id"], ["assignment_item.id"], name=op.f("fk_repetition_item_id_assignment_item")
        ),
        sa.ForeignKeyConstraint(["part_id"], ["part.id"], name=op.f("fk_repetition_part_id_part")),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name=op.f("fk_repetition_program_id_program")
        ),
        sa.ForeignKeyConstraint(
            ["student_id"], ["person.id"], name=op.f("fk_repetition_student_id_person")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_repetition")),
    )
    op.create_index(
        "ix_repetition_item_student",
        "repetition",
        ["item_id", "student_id", "played_at"],
        unique=False,
    )
    op.create_index(
        "ix_repetition_student_part",
        "repetition",
        ["student_id", "part_id", "played_at"],
        unique=False,
    )
    op.create_table(
        "retraction",
        sa.Column("repetition_id", sa.Uuid(), nullable=False),
        sa.Column("retracted_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column(
            "received_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.ForeignKeyConstraint(
            ["repetition_id"],
            ["repetition.id"],
            name=op.f("fk_retraction_repetition_id_repetition"),
        ),
        sa.PrimaryKeyConstraint("repetition_id", name=op.f("pk_retraction")),
    )
    op.execute(
        """
        create function refuse_change() returns trigger language plpgsql as $$
        begin
            raise exception 'evidence in % is append-only', tg_table_name;
        end $$
        """
    )
    for table in EVIDENCE:
        op.execute(
            f"create trigger {table}_append_only before update or delete or truncate on {table}"
            " for each statement execute function refuse_change()"
        )


def downgrade() -> None:
    for table in EVIDENCE:
        op.execute(f"drop trigger {table}_append_only on {table}")
    op.execute("drop function refuse_change()")
    op.drop_table("retraction")
    op.drop_index("ix_repetition_student_part", table_name="repetition")
    op.drop_index("ix_repetition_item_student", table_name="repetition")
    op.drop_table("repetition")
    op.drop_index(op.f("ix_mastery_chunk_id"), table_name="mastery")
    op.drop_table("mastery")
    op.drop_index(op.f("ix_assignment_student_student_id"), table_name="assignment_student")
    op.drop_table("assignment_student")
    op.drop_index(op.f("ix_assignment_item_assignment_id"), table_name="assignment_item")
    op.drop_table("assignment_item")
    op.drop_table("chunk_map_version")
    op.drop_index(op.f("ix_chunk_part_id"), table_name="chunk")
    op.drop_table("chunk")
    op.drop_index(op.f("ix_assignment_section_id"), table_name="assignment")
    op.drop_index(op.f("ix_assignment_program_id"), table_name="assignment")
    op.drop_table("assignment")
    op.drop_index(op.f("ix_signed_in_person_id"), table_name="signed_in")
    op.drop_table("signed_in")
    op.drop_index(op.f("ix_section_member_person_id"), table_name="section_member")
    op.drop_table("section_member")
    op.drop_index(op.f("ix_part_piece_id"), table_name="part")
    op.drop_table("part")
    op.drop_table("section")
    op.drop_index(op.f("ix_piece_program_id"), table_name="piece")
    op.drop_table("piece")
    op.drop_index("uq_person_email", table_name="person")
    op.drop_index("ix_person_program_name", table_name="person")
    op.drop_table("person")
    op.drop_index("ix_sign_in_failure_account_at", table_name="sign_in_failure")
    op.drop_table("sign_in_failure")
    op.drop_table("program")
    op.drop_table("drawing")
