"""Make the demo school that browser tests copy: ``python -m checks.demo``."""

import os
import subprocess
from pathlib import Path

from checks.stage import run
from postgres import Cluster


def main() -> None:
    """Seed it twice (a second time changes nothing) and lay its days out, once for all copies."""
    where, _, port = os.environ["CRUMB_TEST_CLUSTER"].rpartition(":")
    name, _, files = os.environ["CRUMB_TEST_DEMO"].partition(":")
    cluster = Cluster(Path(where), int(port))
    cluster.copy("crumb", name)
    url = cluster.url.removesuffix("crumb") + name
    for module in ("crumb.demo.seed", "crumb.demo.seed", "crumb.jobs.upkeep"):
        run(module, url=url, CRUMB_FILES_DIR=files)


if __name__ == "__main__":
    try:
        main()
    except subprocess.CalledProcessError as error:
        raise SystemExit(error.returncode) from error
