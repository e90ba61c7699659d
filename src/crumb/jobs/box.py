"""A sandbox process for one job, with bounds on time and memory."""

import contextlib
import ctypes
import multiprocessing
import os
import resource
import signal
import time
from collections.abc import Mapping
from dataclasses import dataclass
from multiprocessing.context import ForkServerProcess
from pathlib import Path
from uuid import UUID

from crumb.core.vocabulary import JobKind

_PARENT_DEATH_SIGNAL = 1  # prctl
_TICKS = os.sysconf("SC_CLK_TCK")


@dataclass(frozen=True, slots=True)
class Bounds:
    """Limits of a job: seconds of one processor in any of its processes, seconds, bytes."""

    cpu_seconds: float
    seconds: float
    memory: int


BOUNDS: Mapping[str, Bounds] = {
    JobKind.IMPORT: Bounds(cpu_seconds=8.0, seconds=60.0, memory=400_000_000),
    JobKind.TAKE: Bounds(cpu_seconds=80.0, seconds=120.0, memory=400_000_000),
    JobKind.PAGES: Bounds(cpu_seconds=900.0, seconds=1800.0, memory=400_000_000),
    JobKind.SHEETS: Bounds(cpu_seconds=120.0, seconds=300.0, memory=800_000_000),
}
_ROOM = 150_000_000
"""What a process may map beyond its share before the kernel says no; the watch is finer."""

_context = multiprocessing.get_context("forkserver")
_context.set_forkserver_preload(["crumb.jobs.work"])


class Box:
    """A job being worked on."""

    def __init__(self, job_id: UUID, kind: str, number: int) -> None:
        self.job_id, self.number = job_id, number
        self._bounds = BOUNDS[kind]
        self._begun = time.monotonic()
        self._process: ForkServerProcess = _context.Process(
            target=_inside, args=(job_id, kind, number, self._bounds.memory)
        )
        self._process.start()

    @property
    def is_running(self) -> bool:
        """Whether it has not ended."""
        return self._process.is_alive()

    @property
    def ended_well(self) -> bool:
        """Whether the process came to its own end."""
        return self._process.exitcode == 0

    @property
    def is_held_up(self) -> bool:
        """Whether it has taken too long without computing too much: the machine is busy."""
        return time.monotonic() - self._begun > self._bounds.seconds

    def overrun(self) -> str:
        """The limit of its own that the job overran: ``time``, ``memory`` or none."""
        members = _group(self._process.pid)
        if any(cpu > self._bounds.cpu_seconds for cpu, _ in members):
            return "time"
        return "memory" if sum(used for _, used in members) > self._bounds.memory else ""

    def kill(self) -> None:
        """End it and everything it started."""
        pid = self._process.pid
        if pid is not None:
            with contextlib.suppress(ProcessLookupError, PermissionError):
                os.killpg(pid, signal.SIGKILL)
        self._process.kill()
        self._process.join()


def _inside(job_id: UUID, kind: str, number: int, memory: int) -> None:
    """Run a job inside of the box."""
    os.setsid()  # a group of its own, so that helpers go with it
    ctypes.CDLL(None).prctl(_PARENT_DEATH_SIGNAL, signal.SIGKILL)
    worker = multiprocessing.parent_process()
    if worker is None or not worker.is_alive():
        os._exit(1)  # it was killed before its death could be heard of; another does the job
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    resource.setrlimit(resource.RLIMIT_DATA, (memory + _ROOM, memory + _ROOM))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    if kind == JobKind.PAGES:
        os.nice(10)  # it takes minutes, and nobody stands and waits for it
    from crumb.jobs.work import work_off

    work_off(job_id, kind, number)


def _group(leader: int | None) -> list[tuple[float, int]]:
    """Seconds of processor and bytes of memory of every process in a group."""
    found = []
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        try:
            fields = (entry / "stat").read_text().rpartition(")")[2].split()
            if int(fields[2]) != leader:
                continue
            cpu = (int(fields[11]) + int(fields[12])) / _TICKS
            found.append((cpu, _own_bytes(entry)))
        except (OSError, IndexError, ValueError):
            continue  # it ended meanwhile
    return found


def _own_bytes(process: Path) -> int:
    """A process's share of memory: pages it shares with others count in part."""
    for line in (process / "smaps_rollup").read_text().splitlines():
        if line.startswith("Pss:"):
            return int(line.split()[1]) * 1024
    return 0
