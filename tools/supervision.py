"""Parts of the server that are started again when they die, and say so.

Standard library only.
"""

import ctypes
import signal
import subprocess
import time
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import IO

from postgres import CannotStart, Cluster
from provision import say

_FIRST_PAUSE, _LONGEST_PAUSE = 0.5, 15.0
_WELL_AFTER = 30.0
"""Seconds after which a part that was started again counts as well."""
_STOP_SECONDS = 10
_LARGEST_LOG = 20_000_000


class Part:
    """A process that is kept running."""

    def __init__(
        self,
        name: str,
        command: Sequence[str],
        *,
        folder: Path,
        env: dict[str, str],
        log: Path,
        pass_fds: Sequence[int] = (),
    ) -> None:
        self.name = name
        self._command, self._folder, self._env = list(command), folder, env
        self._log, self._fds = log, tuple(pass_fds)
        self._process: subprocess.Popen[bytes] | None = None
        self._started_at = self._not_before = 0.0
        self._pause = _FIRST_PAUSE

    def start(self) -> None:
        """Start it; what it says goes to its log."""
        with _opened(self._log) as log:
            self._process = subprocess.Popen(
                self._command,
                cwd=self._folder,
                env=self._env,
                stdin=subprocess.DEVNULL,
                stdout=log,
                stderr=log,
                pass_fds=self._fds,
                preexec_fn=_end_with_parent,
            )
        self._started_at = time.monotonic()

    @property
    def has_died(self) -> bool:
        """Whether it ended by itself."""
        return self._process is not None and self._process.poll() is not None

    def look_after(self) -> None:
        """Start it again if it died: at once the first time, more slowly when it keeps dying."""
        now = time.monotonic()
        if self._process is None:
            if now >= self._not_before:
                self.start()
            return
        if not self.has_died:
            if now - self._started_at > _WELL_AFTER:
                self._pause = _FIRST_PAUSE
            return
        code = self._process.returncode
        say(f"The {self.name} stopped ({code}); it is started again. See {self._log}.")
        self._process = None
        self._not_before = now + self._pause
        self._pause = min(self._pause * 2, _LONGEST_PAUSE)

    def stop(self) -> None:
        """Ask it to end, and see that it does."""
        if self._process is None or self._process.poll() is not None:
            return
        self._process.terminate()
        try:
            self._process.wait(_STOP_SECONDS)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()


_PARENT_DEATH_SIGNAL = 1  # prctl
_libc = ctypes.CDLL(None)


def _end_with_parent() -> None:
    """In a part, before it begins: be asked to end when the supervisor is killed."""
    _libc.prctl(_PARENT_DEATH_SIGNAL, signal.SIGTERM)


def _opened(log: Path) -> IO[bytes]:
    log.parent.mkdir(parents=True, exist_ok=True)
    if log.exists() and log.stat().st_size > _LARGEST_LOG:
        log.replace(log.with_suffix(".old.log"))
    return log.open("ab")


class DatabasePart:
    """PostgreSQL, started again when it is gone."""

    def __init__(self, cluster: Cluster) -> None:
        self._cluster = cluster
        self._not_before = 0.0
        self._has_said = False

    def look_after(self) -> None:
        """Start it again if its process is gone; that may want several tries."""
        now = time.monotonic()
        if self._cluster.seems_alive or now < self._not_before:
            return
        if not self._has_said:
            say("The database stopped; it is started again.")
            self._has_said = True
        try:
            self._cluster.start()
            self._has_said = False
        except CannotStart:
            self._not_before = now + 2


def supervise(
    parts: Sequence[Part], database: DatabasePart, *, is_over: Callable[[], bool] = lambda: False
) -> None:
    """Look after everything until told otherwise."""
    while not is_over():
        database.look_after()
        for part in parts:
            part.look_after()
        time.sleep(0.3)
