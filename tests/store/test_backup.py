"""A restored copy is equal to what was backed up, or it says where it is not."""

import zipfile
from pathlib import Path
from uuid import uuid4

import pytest
from sqlalchemy import create_engine, text
from sqlalchemy.orm import sessionmaker

from crumb.store.backup import NotEmpty, NotEqual, back_up, restore, verify
from postgres import Cluster
from tests.api.school import a_repetition, a_school, an_item, app_on, assigned, play, with_music
from tests.conftest import alembic


@pytest.fixture
def empty(cluster: Cluster, template: str):
    server = cluster.url.removesuffix("/crumb")
    name = f"copy_{uuid4().hex}"
    admin = create_engine(f"{server}/postgres", isolation_level="AUTOCOMMIT")
    with admin.connect() as connection:
        connection.execute(text(f"create database {name} template {template}"))
    engine = create_engine(f"{server}/{name}")
    yield engine
    engine.dispose()
    with admin.connect() as connection:
        connection.execute(text(f"drop database {name} with (force)"))
    admin.dispose()


@pytest.fixture
def filled(database_url: str, new_session: sessionmaker, tmp_path: Path):
    school = with_music(a_school(app_on(new_session, tmp_path / "files"), new_session))
    assigned(school, an_item(school, start=106))
    play(
        school.students[0],
        *(a_repetition(school.ids["items"][0], tempo=106, second=12 * i) for i in range(3)),
    )
    engine = create_engine(database_url)
    yield engine, tmp_path / "files"
    engine.dispose()


def test_a_restored_copy_is_proved_equal(filled, empty, tmp_path: Path):
    engine, files = filled
    kept = tmp_path / "school.crumb"
    told = back_up(engine, files, kept)
    assert "equal by its checksum" in told
    assert kept.stat().st_mode & 0o077 == 0
    assert restore(empty, tmp_path / "copy", kept) == told
    assert verify(empty, tmp_path / "copy", kept) == told
    with empty.connect() as one, engine.connect() as other:
        for table in ("evidence", "mastery", "climb", "sent_step", "person"):
            query = text(f"select md5(string_agg(t::text, '|' order by t::text)) from {table} t")
            assert one.scalar(query) == other.scalar(query)
    with empty.begin() as connection, pytest.raises(Exception, match="append-only"):
        connection.execute(text("delete from evidence"))


def test_what_changed_since_is_told(filled, tmp_path: Path):
    engine, files = filled
    kept = tmp_path / "school.crumb"
    back_up(engine, files, kept)
    with engine.begin() as connection:
        connection.execute(text("update section set name = 'Other'"))
    with pytest.raises(NotEqual, match="section"):
        verify(engine, files, kept)


def test_a_damaged_file_is_told_and_nothing_stays(filled, empty, tmp_path: Path):
    engine, files = filled
    kept, broken = tmp_path / "school.crumb", tmp_path / "broken.crumb"
    back_up(engine, files, kept)
    with zipfile.ZipFile(kept) as old, zipfile.ZipFile(broken, "w") as new:
        for name in old.namelist():
            data = old.read(name)
            new.writestr(name, data.replace(b"Clarinets", b"Clarinetz"))
    with pytest.raises(NotEqual, match="section"):
        restore(empty, tmp_path / "copy", broken)
    with empty.connect() as connection:
        assert connection.scalar(text("select count(*) from section")) == 0


def test_nothing_that_is_there_is_overwritten(filled, tmp_path: Path):
    engine, files = filled
    kept = tmp_path / "school.crumb"
    back_up(engine, files, kept)
    with pytest.raises(NotEmpty, match="program"):
        restore(engine, tmp_path / "copy", kept)


def test_another_version_of_the_database_is_refused(filled, empty, tmp_path: Path):
    engine, files = filled
    kept = tmp_path / "school.crumb"
    back_up(engine, files, kept)
    alembic(empty.url.render_as_string(hide_password=False), "downgrade", "-1")
    with empty.connect() as connection:
        older = connection.scalar(text("select version_num from alembic_version"))
    with pytest.raises(NotEqual, match=older):
        restore(empty, tmp_path / "copy", kept)
