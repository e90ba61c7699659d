"""Every migration up and down on a real database, and what the schema itself promises."""

from uuid import uuid4

import pytest
from sqlalchemy import create_engine, inspect, text
from sqlalchemy.orm import Session, sessionmaker

from crumb.store.tables import Base, Person, Program
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
    assert {"repetition", "retraction"} <= set(functions) | set(triggers)
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
                email=email,
                secret_hash="x",
            )
        )
        session.commit()

    with new_session() as session:
        add(session, "quill@test.example")
    with new_session() as session, pytest.raises(Exception, match="uq_person_email"):
        add(session, "QUILL@test.example")
