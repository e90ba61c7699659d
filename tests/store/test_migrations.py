"""Every migration up and down on a real database, and what the schema itself promises."""

from uuid import uuid4

import pytest
from sqlalchemy import create_engine, inspect, text
from sqlalchemy.orm import Session, sessionmaker

from crumb.core.names import name_key
from crumb.store.tables import Base, Person, Program
from postgres import Cluster
from tests.conftest import alembic


def test_the_migrations_make_exactly_the_tables_of_the_code(database_url: str):
    assert "No new upgrade operations detected" in alembic(database_url, "check").stdout


def test_down_and_up_again_on_a_database_with_data(database_url: str):
    engine = create_engine(database_url)
    with sessionmaker(engine)() as session:
        session.add(Program(id=uuid4(), name="A", class_code="AAAA"))
        session.commit()
    alembic(database_url, "downgrade", "base")
    assert set(inspect(engine).get_table_names()) == {"alembic_version"}
    alembic(database_url, "upgrade", "head")
    assert set(inspect(engine).get_table_names()) == {
        *Base.metadata.tables,
        "alembic_version",
    }
    with engine.connect() as connection:
        triggers = connection.scalars(
            text("select distinct event_object_table from information_schema.triggers")
        ).all()
        functions = connection.scalars(
            text("select tgrelid::regclass::text from pg_trigger where not tgisinternal")
        ).all()
    assert {"evidence", "retraction"} <= set(functions) | set(triggers)
    engine.dispose()


def test_one_address_signs_in_one_director(new_session: sessionmaker[Session]):
    def add(session: Session, email: str) -> None:
        program = Program(id=uuid4(), name="P", class_code=uuid4().hex[:8])
        session.add(program)
        session.flush()
        session.add(
            Person(
                id=uuid4(),
                program_id=program.id,
                role="director",
                name="D",
                name_key="d",
                email=email,
                email_key=name_key(email),
                secret_hash="x",
            )
        )
        session.commit()

    with new_session() as session:
        add(session, "quill@test.example")
    with new_session() as session, pytest.raises(Exception, match="uq_person_email_key"):
        add(session, "QUILL@test.example")


PROGRAM, PIECE, PART, CHUNK = (str(uuid4()) for _ in range(4))
OLD_ROWS = f"""
insert into program (id, name, class_code) values ('{PROGRAM}', 'P', 'OLD1');
insert into piece (id, program_id, title, composer, file_name, file_key)
    values ('{PIECE}', '{PROGRAM}', 'T', '', 'f', 'k');
insert into part
    (id, program_id, piece_id, place, name, instrument, notation, facts, goal_bpm, map_cursor)
    values ('{PART}', '{PROGRAM}', '{PIECE}', 0, 'Flute', 'Flute', '', '{{}}', '100', 2);
insert into chunk (id, part_id, start_index, start_at, end_index, end_at, landing)
    values ('{CHUNK}', '{PART}', 0, '0', 1, '0', false);
insert into chunk_map_version (part_id, number, chunk_ids, edit)
    values ('{PART}', 1, array['{CHUNK}']::uuid[], 'Split'),
           ('{PART}', 2, array['{CHUNK}']::uuid[], 'Merge');
"""


@pytest.mark.full
def test_chunk_maps_from_before_sections_had_their_own_stay_everybodys(cluster: Cluster):
    server = cluster.url.removesuffix("/crumb")
    admin = create_engine(f"{server}/postgres", isolation_level="AUTOCOMMIT")
    name = f"old_{uuid4().hex}"
    with admin.connect() as connection:
        connection.execute(text(f"create database {name}"))
    url = f"{server}/{name}"
    alembic(url, "upgrade", "0001")
    engine = create_engine(url)
    with engine.begin() as connection:
        for statement in OLD_ROWS.split(";\n")[:-1]:
            connection.execute(text(statement))
    alembic(url, "upgrade", "head")
    with engine.begin() as connection:
        maps = connection.execute(text("select id, part_id, section_id, cursor from part_map"))
        assert [tuple(map(str, row)) for row in maps] == [(PART, PART, "None", "2")]
        edits = connection.execute(
            text("select edit, edges, order_by from chunk_map_version order by number")
        )
        assert [tuple(row) for row in edits] == [("Split", None, "front"), ("Merge", None, "front")]
    alembic(url, "downgrade", "0001")
    with engine.begin() as connection:
        assert connection.scalar(text("select map_cursor from part")) == 2
        rows = connection.execute(text("select part_id, number from chunk_map_version"))
        assert {(str(part), number) for part, number in rows} == {(PART, 1), (PART, 2)}
    engine.dispose()
    with admin.connect() as connection:
        connection.execute(text(f"drop database {name} with (force)"))
    admin.dispose()


@pytest.mark.full
def test_a_school_from_before_there_was_a_choice_keeps_its_paper_and_a_new_one_prints_on_letter(
    database_url: str,
):
    engine = create_engine(database_url)
    alembic(database_url, "downgrade", "0006")
    with engine.begin() as connection:
        connection.execute(
            text("insert into program (id, name, class_code) values (:id, 'Old', 'OLDONE')"),
            {"id": uuid4()},
        )
    alembic(database_url, "upgrade", "head")
    with sessionmaker(engine)() as session:
        session.add(Program(id=uuid4(), name="New", class_code="NEWONE"))
        session.commit()
        told = "select name, words, paper from program where name in ('Old', 'New') order by name"
        rows = session.execute(text(told)).all()
    assert [tuple(row) for row in rows] == [("New", "us", "us-letter"), ("Old", "us", "a4")]
    engine.dispose()


@pytest.mark.full
def test_what_was_asked_for_goes_with_the_older_shape_and_nothing_else_does(database_url: str):
    engine = create_engine(database_url)
    program, section, person, piece, part, chunk, task = (str(uuid4()) for _ in range(7))
    rows = f"""
insert into program (id, name, class_code) values ('{program}', 'P', 'TASK1');
insert into section (id, program_id, name, name_key) values ('{section}', '{program}', 'S', 's');
insert into person (id, program_id, role, name, name_key, secret_hash)
    values ('{person}', '{program}', 'student', 'N', 'n', 'x');
insert into section_member (section_id, person_id, is_leader, shows_leader)
    values ('{section}', '{person}', true, true);
insert into piece (id, program_id, title, composer, file_name, file_key)
    values ('{piece}', '{program}', 'T', '', 'f', 'k');
insert into part
    (id, root_id, program_id, piece_id, place, name, instrument, notation, facts, goal_bpm)
    values ('{part}', '{part}', '{program}', '{piece}', 0, 'Flute', 'Flute', '', '{{}}', '100');
insert into chunk (id, part_id, start_index, start_at, end_index, end_at, landing)
    values ('{chunk}', '{part}', 0, '0', 1, '0', false);
insert into take_task (id, program_id, section_id, due_on, made_by_id)
    values ('{task}', '{program}', '{section}', '2026-12-01', '{person}');
insert into take_choice (task_id, chunk_id, part_id, thing, place, least_seconds)
    values ('{task}', '{chunk}', '{part}', 0, 0, 20);
insert into style_brief (chunk_id, part_id, text, by_id)
    values ('{chunk}', '{part}', 'Light', '{person}');
"""
    with engine.begin() as connection:
        for statement in rows.split(";\n")[:-1]:
            connection.execute(text(statement))
    alembic(database_url, "downgrade", "0013")
    assert not {"take_task", "take_choice", "style_brief"} & set(inspect(engine).get_table_names())
    alembic(database_url, "upgrade", "head")
    with engine.begin() as connection:
        led = connection.execute(
            text(f"select is_leader, shows_leader from section_member where person_id = '{person}'")
        )
        assert [tuple(row) for row in led] == [(True, False)]
        assert connection.scalar(text(f"select count(*) from chunk where id = '{chunk}'")) == 1
    engine.dispose()
