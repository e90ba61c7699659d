"""A real PostgreSQL for the whole run; each module gets a database of its own, made in a moment."""

import os
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from uuid import uuid4

import pytest
from argon2 import PasswordHasher
from hypothesis import settings
from sqlalchemy import create_engine, text
from sqlalchemy.orm import Session, sessionmaker

from checks.sizes import Size
from postgres import Cluster, free_port
from tests.sizes import SIZE, examples

ROOT = Path(__file__).parent.parent

settings.register_profile("crumb", deadline=None, max_examples=examples(60))
settings.load_profile("crumb")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """What is marked ``full`` runs in ``./check full`` only, or where it is asked for by name."""
    if SIZE is Size.FULL or config.getoption("keyword") or config.getoption("markexpr"):
        return
    left_out = [item for item in items if item.get_closest_marker("full")]
    config.hook.pytest_deselected(items=left_out)
    items[:] = [item for item in items if item not in left_out]


def alembic(url: str, *arguments: str) -> subprocess.CompletedProcess[str]:
    """Run a migration command against a database."""
    return subprocess.run(
        [sys.executable, "-m", "alembic", *arguments],
        cwd=ROOT,
        env={**os.environ, "CRUMB_DATABASE_URL": url},
        capture_output=True,
        text=True,
        check=True,
    )


@pytest.fixture(scope="session", autouse=True)
def quick_secrets() -> Iterator[None]:
    """Hashing a secret is meant to be slow; hundreds of schools need not wait for it."""
    from crumb.services.people import hashing

    with pytest.MonkeyPatch.context() as patch:
        cheap = PasswordHasher(time_cost=1, memory_cost=64, parallelism=1)
        patch.setattr(hashing, "_hasher", cheap)
        yield


@pytest.fixture(scope="session")
def cluster() -> Iterator[Cluster]:
    """A server in a folder that goes away with it, or the one of the whole check."""
    shared = os.environ.get("CRUMB_TEST_CLUSTER")
    if shared:
        where, _, port = shared.rpartition(":")
        yield Cluster(Path(where), int(port))
        return
    folder = Path(tempfile.mkdtemp(prefix="crumb-test-"))
    folder.chmod(0o755)
    made = Cluster(folder / "pg", free_port())
    made.start("fsync=off", "full_page_writes=off")  # no commit of a test waits for the disk
    yield made
    made.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture(scope="session")
def template(cluster: Cluster) -> str:
    """A migrated, empty database that others are copied from."""
    if "CRUMB_TEST_CLUSTER" not in os.environ:
        alembic(cluster.url, "upgrade", "head")
    return "crumb"


@contextmanager
def copied(cluster: Cluster, template: str) -> Iterator[str]:
    """A copy of a database that nobody is connected to; its URL."""
    name = f"test_{uuid4().hex}"
    server = cluster.url.removesuffix("/crumb")
    engine = create_engine(f"{server}/postgres", isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        connection.execute(text(f"create database {name} template {template}"))
    yield f"{server}/{name}"
    with engine.connect() as connection:
        connection.execute(text(f"drop database {name} with (force)"))
    engine.dispose()


@pytest.fixture(scope="module")
def database_url(cluster: Cluster, template: str) -> Iterator[str]:
    """A fresh, migrated database for a module."""
    with copied(cluster, template) as url:
        yield url


@pytest.fixture(scope="module")
def new_session(database_url: str) -> Iterator[sessionmaker[Session]]:
    """Makes sessions on the module's database."""
    engine = create_engine(database_url)
    yield sessionmaker(engine, expire_on_commit=False)
    engine.dispose()
