"""MEI into MusicXML by music21, in a process of its own with bounded time and memory.

Run as a program it converts standard input: ``python -m crumb.formats.converting``.
"""

import contextlib
import io
import resource
import subprocess
import sys
import tempfile
from pathlib import Path

from crumb.core.errors import UnreadableFile

_SECONDS = 7
_MEMORY = 1_500_000_000


def to_musicxml(data: bytes) -> bytes:
    """The first piece of an MEI file as MusicXML.

    Raises:
        UnreadableFile: it cannot be read, or not within some seconds.
    """
    try:
        done = subprocess.run(
            [sys.executable, "-m", "crumb.formats.converting"],
            input=data,
            capture_output=True,
            timeout=_SECONDS + 10,
            check=False,
        )
    except subprocess.TimeoutExpired as error:
        raise UnreadableFile("Reading this MEI file took too long.") from error
    if done.returncode != 0 or not done.stdout:
        raise UnreadableFile("This MEI file cannot be read as music.")
    return done.stdout


def _convert(data: bytes) -> bytes:
    # Imported here: music21 takes a second to load, and only this process needs it.
    from music21 import converter, defaults, stream

    # What is not said in the file is not made up: no title or author of the library's own.
    defaults.author = defaults.title = ""
    found = converter.parseData(data.decode("utf-8", "replace"), format="mei")
    if isinstance(found, stream.Opus):
        found = found.scores[0]
    with tempfile.TemporaryDirectory() as folder:
        path = found.write("musicxml", fp=Path(folder) / "piece.musicxml")
        return Path(path).read_bytes()


def main() -> int:
    """Convert standard input to standard output; 1 if it cannot be."""
    resource.setrlimit(resource.RLIMIT_CPU, (_SECONDS, _SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (_MEMORY, _MEMORY))
    data = sys.stdin.buffer.read()
    try:
        with contextlib.redirect_stdout(io.StringIO()):
            result = _convert(data)
    except Exception as error:  # whatever the library stumbles over means the same here
        sys.stderr.write(f"{type(error).__name__}\n")
        return 1
    sys.stdout.buffer.write(result)
    return 0


if __name__ == "__main__":
    sys.exit(main())
