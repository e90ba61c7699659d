"""Make the demo school that browser tests copy: ``python -m checks.demo``."""

import os
import subprocess
import sys
import time
from pathlib import Path

from sqlalchemy import create_engine, text

from checks.stage import run
from postgres import Cluster


def main() -> None:
    """Seed it twice (a second time changes nothing), lay its days out and work off its jobs.

    All copies begin with that, so that no browser test waits for the worker's first minutes.
    """
    where, _, port = os.environ["CRUMB_TEST_CLUSTER"].rpartition(":")
    name, _, files = os.environ["CRUMB_TEST_DEMO"].partition(":")
    cluster = Cluster(Path(where), int(port))
    cluster.copy("crumb", name)
    url = cluster.url.removesuffix("crumb") + name
    for module in ("crumb.demo.seed", "crumb.demo.seed", "crumb.jobs.upkeep"):
        run(module, url=url, CRUMB_FILES_DIR=files)
    _work_off(url, files)


_LONGEST = 300.0  # seconds for the jobs of a demo: a minute of sound in all


def _work_off(url: str, files: str) -> None:
    """Run a worker until no job waits."""
    env = {**os.environ, "CRUMB_DATABASE_URL": url, "CRUMB_FILES_DIR": files}
    worker = subprocess.Popen([sys.executable, "-m", "crumb.jobs"], env=env)
    engine = create_engine(url, isolation_level="AUTOCOMMIT")
    end = time.monotonic() + _LONGEST
    try:
        with engine.connect() as connection:
            while connection.scalar(text(_OPEN)):
                if worker.poll() is not None or time.monotonic() > end:
                    raise SystemExit("The jobs of the demo school did not end.")
                time.sleep(0.2)
    finally:
        worker.terminate()
        worker.wait()
        engine.dispose()


_OPEN = "select count(*) from job where state in ('waiting', 'working')"


if __name__ == "__main__":
    try:
        main()
    except subprocess.CalledProcessError as error:
        raise SystemExit(error.returncode) from error
