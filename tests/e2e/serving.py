"""Servers and workers for tests, forked from one process that has loaded them already.

Loading the API takes four seconds of a processor, the worker three; 17 modules want a school of
their own each.
"""

import multiprocessing
import os
import time
import urllib.request
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from importlib import import_module
from multiprocessing.context import ForkServerProcess
from pathlib import Path

from postgres import free_port
from provision import ROOT

_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(["crumb.api.serve", "crumb.jobs.worker"])


@contextmanager
def running(
    module: str, arguments: Sequence[str], env: Mapping[str, str]
) -> Iterator[ForkServerProcess]:
    """Run the ``main`` of a module; at the end it is told to stop and waited for."""
    process = _context.Process(target=_run, args=(module, list(arguments), dict(env)))
    process.start()
    try:
        yield process
    finally:
        process.terminate()
        process.join(15)
        process.kill()


def _run(module: str, arguments: list[str], env: dict[str, str]) -> None:
    os.environ.update(env)
    main = import_module(module).main
    main(arguments) if arguments else main()


def env_of(database_url: str, files: Path) -> dict[str, str]:
    """The environment of a server or a worker of one school."""
    return {
        "CRUMB_DATABASE_URL": database_url,
        "CRUMB_FILES_DIR": str(files),
        "CRUMB_DRAWINGS_DIR": str(files / "drawings"),
        "CRUMB_WEB_DIR": str(ROOT / "web" / "dist"),
    }


def serve(database_url: str, files: Path) -> Iterator[str]:
    """Serve the built page and the API on a free port; yields the address."""
    port = free_port()
    url = f"http://127.0.0.1:{port}"
    arguments = ["--port", str(port)]
    with running("crumb.api.serve", arguments, env_of(database_url, files)) as server:
        _wait(url, server)
        yield url


def _wait(url: str, server: ForkServerProcess) -> None:
    for _ in range(900):  # a busy machine is slow, not wrong
        assert server.is_alive(), "the server stopped"
        try:
            with urllib.request.urlopen(f"{url}/api/health", timeout=2):
                return
        except OSError:
            time.sleep(0.1)
    raise AssertionError("the server does not answer")
