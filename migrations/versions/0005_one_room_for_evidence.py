"""One room for evidence, drills frozen when sent, one table of jobs, names with keys, time zones.

What was played stays row for row: the table of repetitions becomes that of evidence. Drills that
were sent before are frozen by ``crumb-admin upgrade`` after this, for that needs to make them.
"""

import unicodedata

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

_EXACT = sa.String(40)
_MOMENT = sa.DateTime(timezone=True)
_NOW = sa.text("now()")


def _key(text: str) -> str:
    """As ``crumb.core.names`` made it when this was written."""
    folded = unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", text).casefold())
    seen = "".join(c for c in folded if unicodedata.category(c) != "Cf")
    return " ".join(unicodedata.normalize("NFKC", seen).split())


def _fill_keys(table: str, order: str, unique: str) -> None:
    """Give every name its key.

    Two spellings of one name could be entered before: a later one gets a number that its director
    sees.
    """
    bind = op.get_bind()
    taken: set[tuple[str, str]] = set()
    rows = bind.execute(
        sa.text(
            f"select id, program_id::text, name, {unique} as is_unique from {table}"
            f" order by {order}"
        )
    ).all()
    for row_id, program, name, is_unique in rows:
        told, number = name, 1
        while is_unique and (program, _key(told)) in taken:
            number += 1
            told = f"{name[:70]} ({number})"
        if is_unique:
            taken.add((program, _key(told)))
        bind.execute(
            sa.text(f"update {table} set name = :name, name_key = :key where id = :id"),
            {"name": told, "key": _key(told), "id": row_id},
        )


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    _people()
    _music()
    _sending()
    _evidence()
    _jobs()


def _people() -> None:
    op.add_column(
        "program", sa.Column("time_zone", sa.String(64), server_default="UTC", nullable=False)
    )
    op.drop_index("uq_person_email", table_name="person")
    op.drop_index("ix_person_program_name", table_name="person")
    op.add_column("person", sa.Column("name_key", sa.String(400)))
    op.add_column("person", sa.Column("email_key", sa.String(800)))
    _fill_keys("person", "created_at, id", "role = 'student'")
    bind = op.get_bind()
    for row_id, email in bind.execute(
        sa.text("select id, email from person where email is not null")
    ).all():
        bind.execute(
            sa.text("update person set email_key = :key where id = :id"),
            {"key": _key(email), "id": row_id},
        )
    op.alter_column("person", "name_key", nullable=False)
    op.create_index("uq_person_email_key", "person", ["email_key"], unique=True)
    op.create_index(
        "uq_person_program_id_name_key",
        "person",
        ["program_id", "name_key"],
        unique=True,
        postgresql_where=sa.text("role = 'student'"),
    )
    op.add_column("section", sa.Column("name_key", sa.String(400)))
    _fill_keys("section", "id", "true")
    op.alter_column("section", "name_key", nullable=False)
    op.drop_constraint("uq_section_program_id_name", "section")
    op.create_index(
        "uq_section_program_id_name_key", "section", ["program_id", "name_key"], unique=True
    )
    op.add_column(
        "signed_in", sa.Column("signed_in_at", _MOMENT, server_default=_NOW, nullable=False)
    )
    op.drop_index("ix_sign_in_failure_account_at", table_name="sign_in_failure")
    op.drop_table("sign_in_failure")
    op.create_table(
        "known_device",
        sa.Column("device_hash", sa.LargeBinary(32), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("seen_at", _MOMENT, server_default=_NOW, nullable=False),
        sa.ForeignKeyConstraint(
            ["person_id"], ["person.id"], name="fk_known_device_person_id_person"
        ),
        sa.PrimaryKeyConstraint("device_hash", "person_id", name="pk_known_device"),
    )
    op.create_index("ix_known_device_person_id", "known_device", ["person_id"])
    op.create_table(
        "sign_in_gate",
        sa.Column("key", sa.LargeBinary(32), nullable=False),
        sa.Column("since", _MOMENT, nullable=False),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("key", name="pk_sign_in_gate"),
    )
    op.create_table(
        "invitation",
        sa.Column("token_hash", sa.LargeBinary(32), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("made_by", sa.Uuid(), nullable=False),
        sa.Column("expires_at", _MOMENT, nullable=False),
        sa.Column("used_at", _MOMENT),
        sa.ForeignKeyConstraint(
            ["program_id"], ["program.id"], name="fk_invitation_program_id_program"
        ),
        sa.ForeignKeyConstraint(["made_by"], ["person.id"], name="fk_invitation_made_by_person"),
        sa.PrimaryKeyConstraint("token_hash", name="pk_invitation"),
    )
    op.create_index("ix_invitation_program_id", "invitation", ["program_id"])


def _music() -> None:
    op.add_column("piece", sa.Column("deleted_at", _MOMENT))
    op.add_column(
        "piece",
        sa.Column("erases_evidence", sa.Boolean(), server_default=sa.false(), nullable=False),
    )
    op.add_column("part", sa.Column("root_id", sa.Uuid()))
    op.execute(
        """
        with recursive lineage as (
          select id, id as root from part where replaces_id is null
          union all select p.id, l.root from part p join lineage l on p.replaces_id = l.id)
        update part set root_id = lineage.root from lineage where lineage.id = part.id
        """
    )
    op.alter_column("part", "root_id", nullable=False)
    op.create_index("ix_part_program_id", "part", ["program_id"])
    op.create_index("ix_part_replaces_id", "part", ["replaces_id"])
    op.drop_index("ix_chunk_part_id", table_name="chunk")
    op.create_index("ix_chunk_part_id_start_index", "chunk", ["part_id", "start_index"])
    op.drop_table("drawing")
    op.create_table(
        "notation",
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("xml", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("key", name="pk_notation"),
    )
    op.execute("alter table notation alter column xml set compression lz4")


def _sending() -> None:
    op.add_column("assignment_item", sa.Column("frozen", postgresql.JSONB()))
    op.create_index("ix_assignment_item_chunk_id", "assignment_item", ["chunk_id"])
    op.create_table(
        "sent_step",
        sa.Column("item_id", sa.Uuid(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("say", sa.String(400), nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("as_written", sa.Boolean(), nullable=False),
        sa.Column("is_aided", sa.Boolean(), nullable=False),
        sa.Column("rhythm", sa.String(8), nullable=False),
        sa.Column("start_index", sa.Integer(), nullable=False),
        sa.Column("start_at", _EXACT, nullable=False),
        sa.Column("end_index", sa.Integer(), nullable=False),
        sa.Column("end_at", _EXACT, nullable=False),
        sa.Column("repetitions", sa.Integer(), nullable=False),
        sa.Column("quarters", _EXACT, nullable=False),
        sa.Column("click", _EXACT, nullable=False),
        sa.Column("click_at", _EXACT, nullable=False),
        sa.Column("pace", _EXACT, nullable=False),
        sa.Column("slip", sa.String(8), nullable=False),
        sa.Column("burst", _EXACT),
        sa.Column("attacks", sa.Integer(), nullable=False),
        sa.Column("notation", sa.String(64)),
        sa.Column("sounds", postgresql.JSONB(), nullable=False),
        sa.CheckConstraint("kind in ('learn', 'set', 'prove')", name=op.f("ck_sent_step_kind")),
        sa.CheckConstraint("rhythm in ('written', 'free')", name=op.f("ck_sent_step_rhythm")),
        sa.CheckConstraint("slip in ('down', 'anew', 'on')", name=op.f("ck_sent_step_slip")),
        sa.ForeignKeyConstraint(
            ["item_id"], ["assignment_item.id"], name="fk_sent_step_item_id_assignment_item"
        ),
        sa.ForeignKeyConstraint(
            ["notation"], ["notation.key"], name="fk_sent_step_notation_notation"
        ),
        sa.PrimaryKeyConstraint("item_id", "place", name="pk_sent_step"),
    )


_RENAMED = ("program_id_program", "student_id_person", "part_id_part", "item_id_assignment_item")


def _evidence() -> None:
    op.execute("drop trigger repetition_append_only on repetition")
    op.rename_table("repetition", "evidence")
    op.execute("alter table evidence rename constraint pk_repetition to pk_evidence")
    for name in _RENAMED:
        op.execute(
            f"alter table evidence rename constraint fk_repetition_{name} to fk_evidence_{name}"
        )
    for name in ("kind", "source"):
        op.drop_constraint(op.f(f"ck_repetition_{name}"), "evidence")
    op.drop_index("ix_repetition_student_part", table_name="evidence")
    op.drop_index("ix_repetition_item_student", table_name="evidence")
    op.drop_column("evidence", "chunk_id")
    for column in (
        sa.Column("what", sa.String(12), server_default="repetition", nullable=False),
        sa.Column("is_aided", sa.Boolean(), server_default=sa.false(), nullable=False),
        sa.Column("rhythm", sa.String(8), server_default="written", nullable=False),
        sa.Column("level", sa.SmallInteger()),
        sa.Column("by_id", sa.Uuid()),
        sa.Column("reason", sa.String(400), server_default="", nullable=False),
        sa.Column("local_day", sa.Date()),
        sa.Column("doubt", sa.String(16), server_default="", nullable=False),
        sa.Column("rules", sa.SmallInteger(), server_default="1", nullable=False),
    ):
        op.add_column("evidence", column)
    # What was varied was not in the written rhythm, as far as anybody wrote down.
    op.execute(
        """
        update evidence e set
          rhythm = case when e.as_written then 'written' else 'free' end,
          local_day = (e.played_at at time zone p.time_zone)::date
        from program p where p.id = e.program_id
        """
    )
    op.alter_column("evidence", "local_day", nullable=False)
    op.alter_column("evidence", "step_name", server_default="")
    for name in ("item_id", "step", "tempo_bpm", "is_clean"):
        op.alter_column("evidence", name, nullable=True)
    op.create_foreign_key("fk_evidence_by_id_person", "evidence", "person", ["by_id"], ["id"])
    for name, rule in {
        "what": "what in ('repetition', 'hearing')",
        "kind": "kind in ('learn', 'set', 'prove')",
        "rhythm": "rhythm in ('written', 'free')",
        "source": "source in ('self', 'helper', 'paper', 'hearing', 'measured')",
        "complete": "case what when 'repetition' then is_clean is not null"
        " else level between 0 and 6 and by_id is not null end",
    }.items():
        op.create_check_constraint(op.f(f"ck_evidence_{name}"), "evidence", rule)
    for name, columns in {
        "ix_evidence_student_id_part_id": ["student_id", "part_id", "played_at"],
        "ix_evidence_student_id_played_at": ["student_id", "played_at"],
        "ix_evidence_item_id_student_id": ["item_id", "student_id", "played_at"],
        "ix_evidence_part_id": ["part_id"],
    }.items():
        op.create_index(name, "evidence", columns)
    op.alter_column("retraction", "repetition_id", new_column_name="evidence_id")
    op.execute(
        "alter table retraction rename constraint fk_retraction_repetition_id_repetition"
        " to fk_retraction_evidence_id_evidence"
    )
    # Erasing a deleted piece with all that was played on it says so, and is let through.
    _refuse(
        "if current_setting('crumb.erasing', true) = 'on' and tg_op = 'DELETE' then"
        " return null; end if;"
    )
    op.execute(
        "create trigger evidence_append_only before update or delete or truncate on evidence"
        " for each statement execute function refuse_change()"
    )
    op.add_column("mastery", sa.Column("last_id", sa.Uuid()))
    op.add_column(
        "mastery", sa.Column("fold", postgresql.JSONB(), server_default="{}", nullable=False)
    )
    op.create_table(
        "climb",
        sa.Column("item_id", sa.Uuid(), nullable=False),
        sa.Column("student_id", sa.Uuid(), nullable=False),
        sa.Column("tempo", _EXACT, nullable=False),
        sa.Column("reach", _EXACT, nullable=False),
        sa.Column("step", sa.Integer(), nullable=False),
        sa.Column("in_a_row", sa.Integer(), nullable=False),
        sa.Column("slips_in_a_row", sa.Integer(), nullable=False),
        sa.Column("done", sa.ARRAY(sa.Integer()), nullable=False),
        sa.Column("cycles", sa.Integer(), nullable=False),
        sa.Column("is_finished", sa.Boolean(), nullable=False),
        sa.Column("told", sa.String(12), nullable=False),
        sa.Column("last_at", _EXACT),
        sa.Column("last_played_at", _MOMENT),
        sa.Column("last_id", sa.Uuid()),
        sa.ForeignKeyConstraint(
            ["item_id"], ["assignment_item.id"], name="fk_climb_item_id_assignment_item"
        ),
        sa.ForeignKeyConstraint(["student_id"], ["person.id"], name="fk_climb_student_id_person"),
        sa.PrimaryKeyConstraint("item_id", "student_id", name="pk_climb"),
    )
    op.create_index("ix_climb_student_id", "climb", ["student_id"])


def _refuse(unless: str) -> None:
    op.execute(
        f"""
        create or replace function refuse_change() returns trigger language plpgsql as $$
        begin
          {unless}
          raise exception 'evidence in % is append-only', tg_table_name;
        end $$
        """
    )


def _jobs() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("kind", sa.String(8), nullable=False),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("stage", sa.String(40), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("tries", sa.Integer(), nullable=False),
        sa.Column("message", sa.String(400), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("file_key", sa.String(100), nullable=False),
        sa.Column("replaces_id", sa.Uuid()),
        sa.Column("piece_id", sa.Uuid()),
        sa.Column("sending_id", sa.Uuid()),
        sa.Column("made_at", _MOMENT, server_default=_NOW, nullable=False),
        sa.Column("alive_at", _MOMENT, server_default=_NOW, nullable=False),
        sa.Column("ended_at", _MOMENT),
        sa.CheckConstraint("kind in ('import', 'sheets')", name=op.f("ck_job_kind")),
        sa.CheckConstraint(
            "state in ('waiting', 'working', 'done', 'failed', 'cancelled')",
            name=op.f("ck_job_state"),
        ),
        sa.ForeignKeyConstraint(["program_id"], ["program.id"], name="fk_job_program_id_program"),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name="fk_job_person_id_person"),
        sa.ForeignKeyConstraint(["replaces_id"], ["piece.id"], name="fk_job_replaces_id_piece"),
        sa.ForeignKeyConstraint(["piece_id"], ["piece.id"], name="fk_job_piece_id_piece"),
        sa.PrimaryKeyConstraint("id", name="pk_job"),
    )
    op.create_index("ix_job_program_id", "job", ["program_id"])
    op.create_index(
        "ix_job_open",
        "job",
        ["state", "alive_at"],
        postgresql_where=sa.text("state in ('waiting', 'working')"),
    )
    # Work that was under way is begun anew.
    op.execute(
        """
        insert into job (id, program_id, person_id, kind, state, stage, done, total, tries, message,
                         file_name, file_key, replaces_id, piece_id, made_at, ended_at)
        select id, program_id, person_id, 'import',
               case when state = 'working' then 'waiting' else state end,
               stage, done, total, 0, message, file_name, file_key, replaces_id, piece_id, made_at,
               ended_at from import_job
        """
    )
    op.execute(
        """
        insert into job (id, program_id, person_id, kind, state, stage, done, total, tries, message,
                         file_name, file_key, sending_id, made_at, ended_at)
        select id, program_id, person_id, 'sheets',
               case when state = 'working' then 'waiting' else state end,
               '', done, total, 0, message, '', file_key, sending_id, made_at, ended_at
        from sheet_job
        """
    )
    op.drop_table("import_job")
    op.drop_table("sheet_job")
    op.execute("drop schema if exists jobs cascade")
    op.create_table(
        "worker",
        sa.Column("name", sa.String(120), nullable=False),
        sa.Column("seen_at", _MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("name", name="pk_worker"),
    )


def downgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.drop_table("worker")
    op.execute("create schema jobs")
    _old_jobs()
    op.drop_table("job")
    _old_evidence()
    op.drop_table("sent_step")
    op.drop_index("ix_assignment_item_chunk_id", table_name="assignment_item")
    op.drop_column("assignment_item", "frozen")
    op.drop_table("notation")
    op.create_table(
        "drawing",
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("svg", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("key", name="pk_drawing"),
    )
    op.drop_index("ix_chunk_part_id_start_index", table_name="chunk")
    op.create_index("ix_chunk_part_id", "chunk", ["part_id"])
    op.drop_column("part", "root_id")
    op.drop_index("ix_part_replaces_id", table_name="part")
    op.drop_index("ix_part_program_id", table_name="part")
    op.drop_column("piece", "erases_evidence")
    op.drop_column("piece", "deleted_at")
    _old_people()


def _old_jobs() -> None:
    state = "state in ('waiting', 'working', 'done', 'failed')"
    for table, columns in {
        "import_job": [
            sa.Column("file_name", sa.String(200), nullable=False),
            sa.Column("file_key", sa.String(100), nullable=False),
            sa.Column("replaces_id", sa.Uuid(), sa.ForeignKey("piece.id")),
            sa.Column("stage", sa.String(40), nullable=False),
            sa.Column("piece_id", sa.Uuid(), sa.ForeignKey("piece.id")),
        ],
        "sheet_job": [
            sa.Column("sending_id", sa.Uuid(), nullable=False),
            sa.Column("file_key", sa.String(100), nullable=False),
        ],
    }.items():
        op.create_table(
            table,
            sa.Column("id", sa.Uuid(), nullable=False),
            sa.Column("program_id", sa.Uuid(), sa.ForeignKey("program.id"), nullable=False),
            sa.Column("person_id", sa.Uuid(), sa.ForeignKey("person.id"), nullable=False),
            sa.Column("state", sa.String(12), nullable=False),
            sa.Column("done", sa.Integer(), nullable=False),
            sa.Column("total", sa.Integer(), nullable=False),
            sa.Column("message", sa.String(400), nullable=False),
            sa.Column("made_at", _MOMENT, server_default=_NOW, nullable=False),
            sa.Column("ended_at", _MOMENT),
            *columns,
            sa.CheckConstraint(state, name=op.f(f"ck_{table}_state")),
            sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
        )
        op.create_index(f"ix_{table}_program_id", table, ["program_id"])
    both = "id, program_id, person_id, done, total, message, file_key, made_at, ended_at"
    ended = "case when state in ('done', 'waiting', 'working') then state else 'failed' end"
    op.execute(
        f"insert into import_job ({both}, state, file_name, replaces_id, stage, piece_id)"
        f" select {both}, {ended}, file_name, replaces_id, stage, piece_id from job"
        " where kind = 'import'"
    )
    op.execute(
        f"insert into sheet_job ({both}, state, sending_id)"
        f" select {both}, {ended}, sending_id from job where kind = 'sheets'"
    )


def _old_evidence() -> None:
    op.drop_table("climb")
    op.drop_column("mastery", "fold")
    op.drop_column("mastery", "last_id")
    op.execute("drop trigger evidence_append_only on evidence")
    op.execute("drop trigger retraction_append_only on retraction")
    # What the old table has no place for does not fit back into it.
    gone = (
        "what <> 'repetition' or item_id is null or tempo_bpm is null"
        " or source not in ('self', 'paper')"
    )
    op.execute(
        f"delete from retraction where evidence_id in (select id from evidence where {gone})"
    )
    op.execute(f"delete from evidence where {gone}")
    op.alter_column("retraction", "evidence_id", new_column_name="repetition_id")
    op.execute(
        "alter table retraction rename constraint fk_retraction_evidence_id_evidence"
        " to fk_retraction_repetition_id_repetition"
    )
    for name in ("student_id_part_id", "student_id_played_at", "item_id_student_id", "part_id"):
        op.drop_index(f"ix_evidence_{name}", table_name="evidence")
    for name in ("what", "kind", "rhythm", "source", "complete"):
        op.drop_constraint(op.f(f"ck_evidence_{name}"), "evidence")
    op.drop_constraint("fk_evidence_by_id_person", "evidence")
    for name in ("what", "is_aided", "rhythm", "level", "by_id", "reason", "local_day", "doubt"):
        op.drop_column("evidence", name)
    op.drop_column("evidence", "rules")
    op.add_column("evidence", sa.Column("chunk_id", sa.Uuid()))
    op.execute(
        "update evidence e set chunk_id = i.chunk_id from assignment_item i where i.id = e.item_id"
    )
    for name in ("chunk_id", "item_id", "step", "tempo_bpm", "is_clean"):
        op.alter_column("evidence", name, nullable=False)
    op.alter_column("evidence", "step_name", server_default=None)
    op.create_foreign_key("fk_repetition_chunk_id_chunk", "evidence", "chunk", ["chunk_id"], ["id"])
    op.execute("alter table evidence rename constraint pk_evidence to pk_repetition")
    for name in _RENAMED:
        op.execute(
            f"alter table evidence rename constraint fk_evidence_{name} to fk_repetition_{name}"
        )
    op.rename_table("evidence", "repetition")
    op.create_check_constraint(
        op.f("ck_repetition_kind"), "repetition", "kind in ('learn', 'set', 'prove')"
    )
    op.create_check_constraint(
        op.f("ck_repetition_source"), "repetition", "source in ('self', 'paper')"
    )
    op.create_index(
        "ix_repetition_student_part", "repetition", ["student_id", "part_id", "played_at"]
    )
    op.create_index(
        "ix_repetition_item_student", "repetition", ["item_id", "student_id", "played_at"]
    )
    _refuse("")
    for table in ("repetition", "retraction"):
        op.execute(
            f"create trigger {table}_append_only before update or delete or truncate on {table}"
            " for each statement execute function refuse_change()"
        )


def _old_people() -> None:
    op.drop_table("invitation")
    op.drop_table("sign_in_gate")
    op.drop_table("known_device")
    op.create_table(
        "sign_in_failure",
        sa.Column("id", sa.Integer(), autoincrement=True, nullable=False),
        sa.Column("account", sa.String(260), nullable=False),
        sa.Column("at", _MOMENT, nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_sign_in_failure"),
    )
    op.create_index("ix_sign_in_failure_account_at", "sign_in_failure", ["account", "at"])
    op.drop_column("signed_in", "signed_in_at")
    op.drop_index("uq_section_program_id_name_key", table_name="section")
    op.drop_column("section", "name_key")
    op.create_unique_constraint("uq_section_program_id_name", "section", ["program_id", "name"])
    op.drop_index("uq_person_program_id_name_key", table_name="person")
    op.drop_index("uq_person_email_key", table_name="person")
    op.drop_column("person", "email_key")
    op.drop_column("person", "name_key")
    op.create_index("uq_person_email", "person", [sa.text("lower(email)")], unique=True)
    op.create_index("ix_person_program_name", "person", ["program_id", "name"])
    op.drop_column("program", "time_zone")
