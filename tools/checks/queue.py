"""One queue of steps on as many processors as there are: the longest first, needs before users."""

import os
import re
import subprocess
import time
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
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
    """How a step ended: its exit status, what it printed, and the seconds it took."""

    step: Step
    status: int
    printed: str
    seconds: float

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
        if self.status == 0:
            return f"ok      {self.step.name} ({self.seconds:.0f} s)"
        return f"FAILED  {self.step.name} ({self.seconds:.0f} s)\n{self.printed[-_SHOWN:]}"


def run_step(step: Step, env: Mapping[str, str]) -> Done:
    """Run one step to its end."""
    begun = time.monotonic()
    done = subprocess.run(
        step.command,
        cwd=step.folder,
        env={**os.environ, **env, **step.env},
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        stdin=subprocess.DEVNULL,
        text=True,
        check=False,
    )
    status = 0 if step.counts and done.returncode == _NO_TESTS else done.returncode
    return Done(step, status, done.stdout, time.monotonic() - begun)


def next_step(waiting: Sequence[Step], ready: set[str]) -> Step | None:
    """The longest step whose needs are ready; None if all must wait."""
    able = [step for step in waiting if step.needs <= ready]
    return max(able, key=lambda step: (step.seconds, step.name), default=None)


def run_all(
    steps: Sequence[Step],
    at_once: int,
    run: Callable[[Step], Done],
    tell: Callable[[Done], None],
    ready: set[str],
) -> list[Done]:
    """Run all steps, even after a failure; those whose needs failed are failed too."""
    waiting, ended = list(steps), []
    ready = set(ready)
    with ThreadPoolExecutor(at_once) as pool:
        going: set[Future[Done]] = set()
        while waiting or going:
            while len(going) < at_once and (step := next_step(waiting, ready)) is not None:
                waiting.remove(step)
                going.add(pool.submit(run, step))
            if not going:
                for step in waiting:
                    ended.append(Done(step, 1, f"It needs {', '.join(step.needs - ready)}.", 0.0))
                    tell(ended[-1])
                return ended
            finished, going = wait(going, return_when=FIRST_COMPLETED)
            for future in finished:
                done = future.result()
                ended.append(done)
                tell(done)
                if done.status == 0 and done.step.makes:
                    ready.add(done.step.makes)
    return ended
