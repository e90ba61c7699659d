from pathlib import Path

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import School, a_school, app_on, with_music


@pytest.fixture(scope="module")
def app(new_session: sessionmaker[Session], tmp_path_factory: pytest.TempPathFactory) -> FastAPI:
    folder: Path = tmp_path_factory.mktemp("files")
    return app_on(new_session, folder)


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return a_school(app, new_session)


@pytest.fixture
def music_school(school: School) -> School:
    return with_music(school)
