"""One API process: ``python -m crumb.api.serve --port 8327``, or on a socket that is open already.

Several processes share one socket (``--fd``): whichever is free takes the next connection, and one
that dies is replaced without anybody being turned away.
"""

import argparse
import resource
import socket
import sys
from collections.abc import Callable

import uvicorn
from starlette.types import ASGIApp

from crumb.api.connections import Connection
from crumb.api.main import create_app
from crumb.logs import set_up_logs

_SWITCH_SECONDS = 0.001
"""How long one thread computes while others wait for it: handing in is not held up by a drill."""


def main(arguments: list[str] | None = None) -> None:
    """Serve until stopped."""
    parser = argparse.ArgumentParser(prog="crumb.api.serve")
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--port", type=int, default=8327)
    parser.add_argument("--fd", type=int)
    given = parser.parse_args(arguments)
    set_up_logs()
    sys.setswitchinterval(_SWITCH_SECONDS)
    _as_many_files_as_allowed()
    config = config_of(create_app, host=given.host, port=given.port)
    sockets = None if given.fd is None else [socket.socket(fileno=given.fd)]
    uvicorn.Server(config).run(sockets=sockets)


def config_of(
    make: Callable[[], ASGIApp], *, host: str = "127.0.0.1", port: int = 8327
) -> uvicorn.Config:
    """How an application of ours is served."""
    return uvicorn.Config(
        make,
        factory=True,
        host=host,
        port=port,
        loop="uvloop",
        http=Connection,
        # Who speaks for whom is said by CRUMB_TRUSTED_PROXIES alone.
        proxy_headers=False,
        server_header=False,
        log_config=None,
        access_log=False,
        backlog=1024,
        timeout_keep_alive=30,
        timeout_graceful_shutdown=8,
    )


def _as_many_files_as_allowed() -> None:
    """A connection is a file: the usual bound of 1,024 is less than a school opens."""
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))


if __name__ == "__main__":
    main()
