"""A server on a stage of its own: database, API processes, worker; to be measured or hurt."""

import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Self

from postgres import Cluster, free_port

ROOT = Path(__file__).parent.parent.parent


class Stage:
    """Processes as ``./start`` runs them, each at hand."""

    def __init__(self, parent: Path | None = None) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="crumb-stage-", dir=parent))
        self.folder.chmod(0o755)
        self.cluster = Cluster(self.folder / "pg", free_port())
        self.cluster.start()
        self.port = free_port()
        self.env = {
            **os.environ,
            "CRUMB_DATABASE_URL": self.cluster.url,
            "CRUMB_FILES_DIR": str(self.folder / "files"),
            "CRUMB_DRAWINGS_DIR": str(self.folder / "drawings"),
            "CRUMB_WEB_DIR": str(ROOT / "web" / "dist"),
        }
        subprocess.run(
            [sys.executable, "-m", "crumb.admin", "upgrade"], cwd=ROOT, env=self.env, check=True
        )
        self.socket: socket.socket | None = None
        self.servers: list[subprocess.Popen[bytes]] = []
        self.workers: list[subprocess.Popen[bytes]] = []

    def listen(self) -> socket.socket:
        """Open the socket that API processes share."""
        self.socket = socket.socket()
        self.socket.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        self.socket.bind(("127.0.0.1", self.port))
        self.socket.listen(1024)
        self.socket.set_inheritable(True)
        return self.socket

    def serve(self, count: int) -> None:
        """As many API processes, and wait until one answers."""
        fd = (self.socket or self.listen()).fileno()
        log = (self.folder / "server.log").open("ab")
        for _ in range(count):
            self.servers.append(
                subprocess.Popen(
                    [sys.executable, "-m", "crumb.api.serve", "--fd", str(fd)],
                    cwd=ROOT,
                    env=self.env,
                    pass_fds=[fd],
                    stderr=log,
                )
            )
        self.wait()

    def wait(self, seconds: float = 60) -> None:
        """Until the server answers that it is well."""
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            try:
                with urllib.request.urlopen(f"{self.url}/api/health", timeout=2):  # noqa: S310
                    return
            except OSError:
                time.sleep(0.1)
        raise TimeoutError("the server does not answer")

    @property
    def url(self) -> str:
        """Where it is."""
        return f"http://127.0.0.1:{self.port}"

    def work(self) -> subprocess.Popen[bytes]:
        """One worker more."""
        log = (self.folder / "worker.log").open("ab")
        command = [sys.executable, "-m", "crumb.jobs"]
        self.workers.append(subprocess.Popen(command, cwd=ROOT, env=self.env, stderr=log))
        return self.workers[-1]

    def stop_servers(self) -> None:
        """End the API processes."""
        for process in self.servers:
            process.terminate()
        for process in self.servers:
            process.wait(20)
        self.servers.clear()

    def kill(self, process: subprocess.Popen[bytes]) -> None:
        """As a power cut would."""
        process.send_signal(signal.SIGKILL)
        process.wait()

    def __enter__(self) -> Self:
        """This process, too, works on the stage's database and files from here on."""
        os.environ.update({k: v for k, v in self.env.items() if k.startswith("CRUMB_")})
        return self

    def __exit__(self, *_: object) -> None:
        self.close()

    def close(self) -> None:
        """End everything and remove it."""
        for process in self.workers:
            process.terminate()
        for process in self.workers:
            process.wait(20)
        self.stop_servers()
        if self.socket is not None:
            self.socket.close()
        self.cluster.stop()
        shutil.rmtree(self.folder, ignore_errors=True)
