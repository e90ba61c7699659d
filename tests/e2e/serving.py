"""Servers and workers for tests, forked from one process that has loaded them already.

Loading the API takes four seconds of a processor, the worker three; 17 modules want a school of
their own each. Standard library only: whatever forks must not have more threads than one.
"""

import multiprocessing
import os
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from importlib import import_module
from multiprocessing.context import ForkServerProcess

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
