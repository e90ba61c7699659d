"""Engravers in processes of their own, bounded in time, memory and output, replaced when killed.

They draw notation, and set drawings on a page.

Run as a program it is such a process: ``python -m crumb.formats.engraver`` reads requests from
standard input and answers on standard output, each a length and that many bytes of JSON.
"""

import atexit
import contextlib
import json
import os
import resource
import select
import struct
import subprocess
import sys
import threading
import time
from base64 import b64decode, b64encode
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from queue import Empty, LifoQueue
from typing import Any, BinaryIO

from crumb.core.errors import TooBusy, TooMuch
from crumb.formats.layout import Layout

SECONDS = 8.0
"""Longer than any real part takes: four hundred measures are drawn in two."""
MEMORY = 400_000_000
MOST_BYTES = 30_000_000
PROCESSES = 2
PATIENCE = 20.0

_LENGTH = struct.Struct(">I")


class _Child:
    """One engraver process."""

    def __init__(self) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", "crumb.formats.engraver"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )

    @property
    def is_alive(self) -> bool:
        return self._process.poll() is None

    def kill(self) -> None:
        self._process.kill()
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                with contextlib.suppress(OSError):
                    pipe.close()

    def ask(self, request: bytes, until: float) -> dict[str, Any]:
        """The answer to one request.

        Raises:
            TooMuch: no answer in time, or the process broke on it.
        """
        assert self._process.stdin is not None
        try:
            self._process.stdin.write(_LENGTH.pack(len(request)) + request)
            self._process.stdin.flush()
            (length,) = _LENGTH.unpack(self._read(_LENGTH.size, until))
            if length > MOST_BYTES:
                raise TooMuch(_TOO_MUCH)
            answer = json.loads(self._read(length, until))
        except (OSError, EOFError) as error:
            raise TooMuch(_TOO_MUCH) from error
        assert isinstance(answer, dict)
        return answer

    def _read(self, count: int, until: float) -> bytes:
        assert self._process.stdout is not None
        handle = self._process.stdout.fileno()
        parts: list[bytes] = []
        while count:
            left = until - time.monotonic()
            if left <= 0 or not select.select([handle], [], [], left)[0]:
                raise EOFError
            part = os.read(handle, min(count, 1 << 20))
            if not part:
                raise EOFError
            parts.append(part)
            count -= len(part)
        return b"".join(parts)


_TOO_MUCH = "This music takes too much to be engraved; split it or bring it in in smaller parts."


class Engravers:
    """A few engraver processes, started when they are wanted."""

    def __init__(self, count: int = PROCESSES, seconds: float = SECONDS) -> None:
        self._free = threading.Semaphore(count)
        self._idle: LifoQueue[_Child] = LifoQueue()
        self._seconds = seconds

    def draw(self, xml: str, layout: Layout) -> str:
        """Notation of our own writing as one SVG.

        Raises:
            TooMuch: it took too long, too much memory, or broke the engraver.
            TooBusy: every engraver is busy and stays so.
        """
        return str(self._asked({"xml": xml, "layout": asdict(layout)}, "svg"))

    def set_page(self, title: str, drawings: Sequence[tuple[str, str]]) -> bytes:
        """Named drawings on pages, as a PDF.

        Raises:
            TooMuch, TooBusy: as drawing does.
        """
        return b64decode(self._asked({"title": title, "drawings": list(drawings)}, "pdf"))

    def _asked(self, wish: Mapping[str, Any], wanted: str) -> str:
        if not self._free.acquire(timeout=PATIENCE):
            raise TooBusy
        try:
            child = self._child()
            request = json.dumps(wish).encode()
            try:
                answer = child.ask(request, time.monotonic() + self._seconds)
            except BaseException:
                child.kill()
                raise
            self._idle.put(child)
        finally:
            self._free.release()
        if wanted not in answer:
            raise TooMuch(str(answer.get("error") or _TOO_MUCH))
        return str(answer[wanted])

    def close(self) -> None:
        """End those that wait for work; they end by themselves, too, once nobody can ask them."""
        while not self._idle.empty():
            self._idle.get_nowait().kill()

    def _child(self) -> _Child:
        while True:
            try:
                child = self._idle.get_nowait()
            except Empty:
                return _Child()
            if child.is_alive:
                return child
            child.kill()


engravers = Engravers()
"""Those of this process."""
atexit.register(engravers.close)


def _answered(request: dict[str, Any]) -> dict[str, str]:
    # Imported here: only this process needs the libraries that draw and set.
    if "xml" in request:
        from crumb.formats.engraving import render

        return {"svg": render(request["xml"], Layout(**request["layout"]))}
    from crumb.formats.sheets import print_music

    return {"pdf": b64encode(print_music(request["title"], request["drawings"])).decode()}


def _serve(requests: BinaryIO, answers: BinaryIO) -> None:
    while head := requests.read(_LENGTH.size):
        request = json.loads(requests.read(_LENGTH.unpack(head)[0]))
        try:
            answer = _answered(request)
        except Exception as error:  # whatever it stumbles over means the same to who asked
            answer = {"error": getattr(error, "message", "This music could not be engraved.")}
        body = json.dumps(answer).encode()
        answers.write(_LENGTH.pack(len(body)) + body)
        answers.flush()


def main() -> None:
    """Answer until standard input ends."""
    resource.setrlimit(resource.RLIMIT_DATA, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    _serve(sys.stdin.buffer, sys.stdout.buffer)


if __name__ == "__main__":
    main()
