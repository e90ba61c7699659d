"""One queue of steps on as many processors as there are: the longest first, needs before users."""

import os
import re
import subprocess
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Collection, Mapping, Sequence
from concurrent.futures import FIRST_COMPLETED, Future, ThreadPoolExecutor, wait
from dataclasses import dataclass

from checks.steps import Step

_COUNTED = re.compile(r"(\d+) (passed|failed|skipped|errors?)\b")
_COLOUR = re.compile(r"\x1b\[[0-9;]*m")
_NO_TESTS = 5
"""What pytest ends with where a shard has no test of this size."""
_SHOWN = 12_000  # characters of what a failed step printed


@dataclass(frozen=True, slots=True)
class Done:
    """How a step ended: its exit status, what it printed, and the seconds it took.

    ``busy_seconds`` are those in which it kept a processor busy, its own processes with it.
    """

    step: Step
    status: int
    printed: str
    seconds: float
    busy_seconds: float = 0.0

    @property
    def counts(self) -> Counter[str]:
        """How many tests passed, failed and were skipped, as its last summary says."""
        found: Counter[str] = Counter()
        if not self.step.counts:
            return found
        lines = [_COLOUR.sub("", line) for line in self.printed.splitlines()]
        for line in [line for line in lines if _COUNTED.search(line)][-1:]:
            for number, word in _COUNTED.findall(line):
                found["failed" if word.startswith("error") else word] += int(number)
        return found

    def told(self) -> str:
        """In a line; what a failed one printed below it."""
        took = f"{self.step.name} ({self.seconds:.0f} s, {self.busy_seconds:.0f} s of a processor)"
        if self.status == 0:
            return f"ok      {took}"
        return f"FAILED  {took}\n{self.printed[-_SHOWN:]}"


def run_step(step: Step, env: Mapping[str, str]) -> Done:
    """Run one step to its end."""
    begun = time.monotonic()
    with tempfile.TemporaryFile() as out:
        process = subprocess.Popen(
            step.command,
            cwd=step.folder,
            env={**os.environ, **env, **step.env},
            stdout=out,
            stderr=subprocess.STDOUT,
            stdin=subprocess.DEVNULL,
        )
        _, ended, used = os.wait4(process.pid, 0)
        process.returncode = os.waitstatus_to_exitcode(ended)
        out.seek(0)
        printed = out.read().decode(errors="replace")
    status = 0 if step.counts and process.returncode == _NO_TESTS else process.returncode
    busy = used.ru_utime + used.ru_stime
    return Done(step, status, printed, time.monotonic() - begun, busy)


def next_step(waiting: Sequence[Step], ready: set[str], full: Collection[str] = ()) -> Step | None:
    """The longest step whose needs are ready and whose room is not full; None if all must wait."""
    able = [step for step in waiting if step.needs <= ready and step.uses not in full]
    return max(able, key=lambda step: (step.seconds, step.name), default=None)


def run_all(
    steps: Sequence[Step],
    processors: int,
    run: Callable[[Step], Done],
    tell: Callable[[Done], None],
    ready: set[str],
) -> list[Done]:
    """Run all steps, even after a failure; those whose needs failed are failed too.

    One more step than there are processors runs at once: a browser test waits for a third of its
    time. No more steps than processors use the same thing: browsers do not starve each other.
    """
    at_once = processors + 1
    busy: Counter[str] = Counter()
    waiting, ended = list(steps), []
    ready = set(ready)
    with ThreadPoolExecutor(at_once) as pool:
        going: set[Future[Done]] = set()
        while waiting or going:
            while len(going) < at_once:
                full = {thing for thing, count in busy.items() if thing and count >= processors}
                if (step := next_step(waiting, ready, full)) is None:
                    break
                waiting.remove(step)
                busy[step.uses] += 1
                going.add(pool.submit(run, step))
            if not going:
                for step in waiting:
                    ended.append(Done(step, 1, f"It needs {', '.join(step.needs - ready)}.", 0.0))
                    tell(ended[-1])
                return ended
            finished, going = wait(going, return_when=FIRST_COMPLETED)
            for future in finished:
                done = future.result()
                busy[done.step.uses] -= 1
                ended.append(done)
                tell(done)
                if done.status == 0 and done.step.makes:
                    ready.add(done.step.makes)
    return ended
