"""What dies under the start command comes back by itself and is said; answers stay clear."""

import json
import os
import signal
import subprocess
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from pathlib import Path
from threading import Thread

import pytest

from postgres import free_port
from tests.test_start import START


class Started:
    """A server under the start command, and what it says."""

    def __init__(self, folder: Path) -> None:
        self.port = free_port()
        self.folder = folder
        env = {
            **os.environ,
            "CRUMB_PORT": str(self.port),
            "CRUMB_DATA": str(folder),
            "CRUMB_PROCESSES": "2",
        }
        self.process = subprocess.Popen(START, env=env, stdout=subprocess.PIPE, text=True)
        self.said: list[str] = []
        self._listener = Thread(target=self._listen, daemon=True)
        self._listener.start()
        self.until(lambda: any("Ctrl-C" in line for line in self.said), 120)

    def _listen(self) -> None:
        assert self.process.stdout is not None
        self.said.extend(iter(self.process.stdout.readline, ""))

    def kill(self) -> None:
        """Kill who looks after the parts, without a word to any of them."""
        self.process.kill()
        self._gone(10)

    def end(self) -> None:
        """Stop all of it."""
        self.process.terminate()
        self._gone(60)

    def _gone(self, seconds: float) -> None:
        self.process.wait(seconds)
        self._listener.join()
        assert self.process.stdout is not None
        self.process.stdout.close()

    def until(self, is_so: Callable[[], bool], seconds: float = 60) -> None:
        """Wait for something; it must come."""
        end = time.monotonic() + seconds
        while not is_so():
            assert time.monotonic() < end, f"it did not come: {self.said}"
            assert self.process.poll() is None, f"it stopped: {self.said}"
            time.sleep(0.1)

    def parts(self, word: str) -> list[int]:
        """The processes that it started whose command has this word."""
        children = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text()
        found = []
        for pid in map(int, children.split()):
            command = Path(f"/proc/{pid}/cmdline").read_bytes().decode().split("\0")
            if word in command:
                found.append(pid)
        return found

    def health(self) -> dict[str, str]:
        """What the server says of itself; nothing if it does not answer."""
        try:
            with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=5) as r:
                return json.load(r)
        except urllib.error.HTTPError as error:
            return json.load(error)
        except OSError:
            return {}

    def sign_in(self) -> tuple[int, dict[str, object]]:
        """How a stranger's sign-in is answered."""
        body = json.dumps({"email": "nobody@test.example", "password": "long enough, but no"})
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/session/director",
            data=body.encode(),
            headers={"content-type": "application/json"},
        )
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                return answer.status, json.load(answer)
        except urllib.error.HTTPError as error:
            return error.code, json.load(error)


@pytest.fixture(scope="module")
def started() -> Iterator[Started]:
    with tempfile.TemporaryDirectory(prefix="crumb-kept-up-") as name:
        folder = Path(name)
        folder.chmod(0o755)
        server = Started(folder)
        try:
            yield server
        finally:
            server.end()


def all_well(server: Started) -> bool:
    return server.health().get("status") == "ok"


@pytest.mark.full
def test_a_killed_server_process_is_replaced_while_the_other_answers(started: Started):
    serving = started.parts("crumb.api.serve")
    assert len(serving) == 2
    for place, pid in enumerate(serving):
        started.until(lambda: all_well(started))
        os.kill(pid, signal.SIGKILL)
        started.until(lambda place=place: len(told(started, "server process")) > place)
        started.until(lambda pid=pid: len(set(started.parts("crumb.api.serve")) - {pid}) == 2)
    assert not set(serving) & set(started.parts("crumb.api.serve"))
    assert "stopped (-9); it is started again" in told(started, "server process")[0]
    started.until(lambda: all_well(started))


def told(server: Started, name: str) -> list[str]:
    return [line for line in server.said if name in line and "started again" in line]


def test_a_killed_worker_is_replaced(started: Started):
    started.until(lambda: all_well(started))
    (worker,) = started.parts("crumb.jobs")
    os.kill(worker, signal.SIGKILL)
    started.until(lambda: bool(told(started, "worker")))
    started.until(lambda: started.parts("crumb.jobs") not in ([], [worker]))
    started.until(lambda: started.health().get("worker") == "ok")


def test_a_killed_database_is_a_clear_answer_and_comes_back_alone(started: Started):
    started.until(lambda: all_well(started))
    postmaster = int((started.folder / "pg" / "postmaster.pid").read_text().split()[0])
    os.kill(postmaster, signal.SIGSTOP)  # so that there is time to look
    os.kill(postmaster, signal.SIGKILL)
    answers = []
    started.until(lambda: answers.append(started.sign_in()) or answers[-1][0] == 401)
    odd = {status for status, _ in answers} - {401, 429, 503}
    assert not odd, answers
    for status, problem in answers:
        if status == 503:
            assert "type" in problem, "told as problem details"
            assert "database" in str(problem["detail"]).lower()
    assert told(started, "database")
    started.until(lambda: all_well(started))
    assert len(started.parts("crumb.api.serve")) == 2, "the servers lived on"


@pytest.mark.full
def test_a_supervisor_that_is_killed_takes_its_parts_along():
    with tempfile.TemporaryDirectory(prefix="crumb-killed-") as name:
        folder = Path(name)
        folder.chmod(0o755)
        server = Started(folder)
        parts = server.parts("crumb.api.serve") + server.parts("crumb.jobs")
        assert len(parts) >= 3
        server.kill()
        end = time.monotonic() + 20
        while any(Path(f"/proc/{pid}").exists() for pid in parts):
            assert time.monotonic() < end, "parts go on without whoever looks after them"
            time.sleep(0.1)
        Started(folder).end()  # and the database, which stayed, is found again
