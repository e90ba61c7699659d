"""Uploaded files behind one small interface; here, a folder."""

import contextlib
import gzip
import os
import time
from hashlib import sha256
from pathlib import Path
from typing import Protocol
from uuid import uuid4

from crumb.settings import get_settings


class FileStore(Protocol):
    """Keeps bytes under the hash of their content."""

    def save(self, data: bytes) -> str:
        """Keep the bytes; the same bytes have the same key."""

    def load(self, key: str) -> bytes:
        """The bytes kept under a key."""

    def forget(self, key: str) -> None:
        """Let go of what is kept under a key; nothing happens if it is not there."""


class FolderStore:
    """A file store in a local folder."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def save(self, data: bytes) -> str:
        """Keep the bytes; the same bytes have the same key."""
        key = sha256(data).hexdigest()
        path = self._path(key)
        try:
            os.utime(path)  # in use from now on: the sweep leaves what is young
        except FileNotFoundError:
            path.parent.mkdir(parents=True, exist_ok=True)
            _write(path, data)
        return key

    def load(self, key: str) -> bytes:
        """The bytes kept under a key."""
        return self._path(key).read_bytes()

    def forget(self, key: str) -> None:
        """Let go of what is kept under a key; nothing happens if it is not there."""
        self._path(key).unlink(missing_ok=True)

    def older_than(self, seconds: float) -> set[str]:
        """The keys of what was last saved so long ago, what was never finished among them."""
        limit = time.time() - seconds
        return {path.name for path in self.root.glob("??/*") if _is_older(path, limit)}

    def forget_older(self, key: str, seconds: float) -> bool:
        """Let go of it unless it was saved again meanwhile; whether it went."""
        path = self._path(key)
        if not _is_older(path, time.time() - seconds):
            return False
        path.unlink(missing_ok=True)
        return True

    def _path(self, key: str) -> Path:
        return self.root / key[:2] / key


def _is_older(path: Path, limit: float) -> bool:
    try:
        return path.stat().st_mtime < limit
    except FileNotFoundError:
        return False


class Sounds(FolderStore):
    """A folder of recordings, each under a name of its own: letting one go never loses another."""

    def save(self, data: bytes) -> str:
        """Keep the bytes; the same bytes twice are kept twice."""
        key = uuid4().hex
        path = self.path_of(key)
        path.parent.mkdir(parents=True, exist_ok=True)
        _write(path, data)
        return key

    def path_of(self, key: str) -> Path:
        """The path of the bytes."""
        return self._path(key)


def _write(path: Path, data: bytes) -> None:
    """Write whole or not at all, whoever else writes the same."""
    unfinished = path.with_name(f"{path.name}.{uuid4().hex}.part")
    try:
        with unfinished.open("wb") as out:
            out.write(data)
            out.flush()
            os.fsync(out.fileno())
        unfinished.replace(path)
    finally:
        unfinished.unlink(missing_ok=True)


class Drawings:
    """Engravings kept in a folder, each under the hash of its music and layout.

    What is here can be drawn again at any time: a full disk only makes it slower.
    """

    def __init__(self, root: Path) -> None:
        self.root = root

    def find(self, key: str) -> str | None:
        """The drawing with a key, if it is here."""
        try:
            return gzip.decompress(self._path(key).read_bytes()).decode()
        except (OSError, EOFError, ValueError):
            return None

    def keep(self, key: str, svg: str) -> None:
        """Keep a drawing, if there is room for it."""
        path = self._path(key)
        unfinished = path.with_name(f"{key}.{uuid4().hex}.part")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            unfinished.write_bytes(gzip.compress(svg.encode(), 6))
            unfinished.replace(path)
        except OSError:
            with contextlib.suppress(OSError):
                unfinished.unlink(missing_ok=True)

    def _path(self, key: str) -> Path:
        return self.root / key[:2] / key


def get_drawings() -> Drawings:
    """The folder of this process's drawings."""
    return Drawings(get_settings().drawings_dir)


def get_sounds() -> Sounds:
    """The folder of takes: beside the uploads, so that one backup has both."""
    return Sounds(get_settings().files_dir / "takes")


def get_files() -> FolderStore:
    """The file store this process is set up with."""
    return FolderStore(get_settings().files_dir)
