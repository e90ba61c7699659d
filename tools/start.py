"""Start everything on this machine: ``./start demo`` or ``./start``.

Checks first, so that nothing is left half-started; Ctrl-C stops all that was started.
"""

import fcntl
import os
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from types import FrameType

import provision
from postgres import CannotStart, Cluster, free_port, port_is_free
from provision import PYTHON, ROOT, say
from supervision import DatabasePart, Part, supervise

DEFAULT_PORT = 8327


def _port() -> int:
    text = os.environ.get("CRUMB_PORT", str(DEFAULT_PORT))
    if not text.isdigit() or not 1024 <= int(text) <= 65535:
        raise CannotStart(f"CRUMB_PORT is “{text}”; it must be a number from 1024 to 65535.")
    port = int(text)
    if not port_is_free(port):
        raise CannotStart(
            f"Port {port} is in use: stop what uses it, or choose another with CRUMB_PORT=8400."
        )
    return port


def _hold(data: Path) -> int:
    """Take the folder for this start; the lock goes with the process, however it ends."""
    data.mkdir(parents=True, exist_ok=True)
    handle = os.open(data / "start.lock", os.O_CREAT | os.O_RDWR)
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        raise CannotStart(f"Crumb is already running on the data in {data}.") from error
    return handle


def _both(one: Callable[[], None], other: Callable[[], None]) -> None:
    """Two installs at once; the first failure is raised when both are through."""
    failures: list[Exception] = []

    def kept(work: Callable[[], None]) -> None:
        try:
            work()
        except Exception as error:
            failures.append(error)

    threads = [threading.Thread(target=kept, args=(work,)) for work in (one, other)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    if failures:
        raise failures[0]


def _stop(_: int, __: FrameType | None) -> None:
    raise KeyboardInterrupt


def _processes() -> int:
    """How many API processes: one for each processor, unless it was said."""
    text = os.environ.get("CRUMB_PROCESSES", "")
    if not text:
        return max(len(os.sched_getaffinity(0)), 1)
    if not text.isdigit() or not 1 <= int(text) <= 64:
        raise CannotStart(f"CRUMB_PROCESSES is “{text}”; it must be a number from 1 to 64.")
    return int(text)


def _wait_until_up(servers: list[Part], port: int) -> None:
    for _ in range(240):
        if any(server.has_died for server in servers):
            raise CannotStart(f"The server stopped right away; {servers[0].name}'s log says why.")
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=2):
                return
        except OSError:
            time.sleep(0.25)
    raise CannotStart("The server does not answer.")


def _listen(port: int) -> socket.socket:
    """The socket that all API processes share; it stays open while one of them is replaced."""
    listening = socket.socket()
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listening.bind(("127.0.0.1", port))
    listening.listen(1024)
    listening.set_inheritable(True)
    return listening


def _serve(data: Path, port: int, *, demo: bool) -> None:
    cluster = Cluster(data / "pg", free_port())
    parts: list[Part] = []
    try:
        cluster.start()
        env = {
            **os.environ,
            "CRUMB_FILES_DIR": str(data / "files"),
            "CRUMB_DRAWINGS_DIR": str(data / "drawings"),
            "CRUMB_WEB_DIR": str(ROOT / "web" / "dist"),
            "CRUMB_DATABASE_URL": cluster.url,
            "CRUMB_PUBLIC_URL": os.environ.get("CRUMB_PUBLIC_URL", f"http://127.0.0.1:{port}"),
        }
        upgrade = [str(PYTHON), "-m", "crumb.admin", "upgrade"]
        if subprocess.run(upgrade, cwd=ROOT, env=env, check=False).returncode != 0:
            raise CannotStart("The database could not be brought up to date; see above.")
        told = ""
        if demo:
            seed = [str(PYTHON), "-m", "crumb.demo.seed"]
            done = subprocess.run(
                seed, cwd=ROOT, env=env, stdout=subprocess.PIPE, text=True, check=False
            )
            if done.returncode != 0:
                raise CannotStart("The demo data could not be made; see above.")
            told = done.stdout
        listening = _listen(port)
        serve = [str(PYTHON), "-m", "crumb.api.serve", "--fd", str(listening.fileno())]
        servers = [
            Part(
                f"server process {number}",
                serve,
                folder=ROOT,
                env=env,
                log=data / "logs" / f"server-{number}.log",
                pass_fds=[listening.fileno()],
            )
            for number in range(1, _processes() + 1)
        ]
        worker = Part(
            "worker",
            [str(PYTHON), "-m", "crumb.jobs"],
            folder=ROOT,
            env=env,
            log=data / "logs" / "worker.log",
        )
        parts = [*servers, worker]
        for part in parts:
            part.start()
        _wait_until_up(servers, port)
        say(f"\nCrumb is at http://127.0.0.1:{port}\n{told}")
        if not demo:
            say("A new server asks for its first director.")
        say("Ctrl-C stops it.")
        supervise(parts, DatabasePart(cluster))
    finally:
        for part in parts:
            part.stop()
        cluster.stop()


def main(arguments: list[str]) -> int:
    """Run; the exit status is 0 when stopped by the user."""
    if arguments not in ([], ["demo"]):
        say("Say ./start demo, or ./start for an empty server.")
        return 2
    # Said for Ctrl-C too: a shell that puts us in the background has it ignored otherwise.
    signal.signal(signal.SIGINT, _stop)
    signal.signal(signal.SIGTERM, _stop)
    os.environ.pop("PYTHONPATH", None)
    data = Path(os.environ.get("CRUMB_DATA", ROOT / ".data")).resolve()
    data = data if not arguments else data / "demo"
    try:
        port = _port()
        provision.check_python()
        provision.check_node()
        lock = _hold(data)
        provision.ensure_debian()
        _both(provision.ensure_python, provision.ensure_node)
        provision.ensure_page()
        _serve(data, port, demo=bool(arguments))
        os.close(lock)
    except CannotStart as error:
        sys.stderr.write(f"{error}\n")
        return 1
    except KeyboardInterrupt:
        say("\nStopped.")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
