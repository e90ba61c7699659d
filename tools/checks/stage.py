"""What tests share in one check: a database server, its migrated template, the demo school.

Each is made once and copied by whoever wants one; a test that is run by itself makes its own.
"""

import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from postgres import Cluster, free_port
from provision import ROOT, VENV

PYTHON = VENV / "bin" / "python"
_SAFE_TO_LOSE = ("fsync=off", "full_page_writes=off", "synchronous_commit=off")


class Stage:
    """A folder with everything; gone at the end."""

    def __init__(self) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="crumb-check-"))
        self.folder.chmod(0o755)
        self.cluster = Cluster(self.folder / "pg", free_port())

    def open(self) -> None:
        """Start the server and bring its template up to date."""
        self.cluster.start(*_SAFE_TO_LOSE)
        run("alembic", "upgrade", "head", url=self.cluster.url)

    @property
    def env(self) -> dict[str, str]:
        """Where tests find it."""
        return {
            "CRUMB_TEST_CLUSTER": f"{self.cluster.folder}:{self.cluster.port}",
            "CRUMB_TEST_DEMO": f"demo:{self.folder / 'demo'}",
        }

    def close(self) -> None:
        """Stop the server; nothing of it stays."""
        self.cluster.stop()
        shutil.rmtree(self.folder, ignore_errors=True)


def run(module: str, *arguments: str, url: str, **env: str) -> None:
    """Run a module of ours against a database.

    Raises:
        CalledProcessError: it failed.
    """
    subprocess.run(
        [str(PYTHON), "-m", module, *arguments],
        cwd=ROOT,
        env={**os.environ, "CRUMB_DATABASE_URL": url, **env},
        check=True,
        stdout=sys.stderr,
        stdin=subprocess.DEVNULL,
    )
