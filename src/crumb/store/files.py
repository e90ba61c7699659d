"""Uploaded files behind one small interface; here, a folder."""

from hashlib import sha256
from pathlib import Path
from typing import Protocol

from crumb.settings import get_settings


class FileStore(Protocol):
    """Keeps bytes under the hash of their content."""

    def save(self, data: bytes) -> str:
        """Keep the bytes; the same bytes have the same key."""

    def load(self, key: str) -> bytes:
        """The bytes kept under a key."""


class FolderStore:
    """A file store in a local folder."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def save(self, data: bytes) -> str:
        """Keep the bytes; the same bytes have the same key."""
        key = sha256(data).hexdigest()
        path = self._path(key)
        if not path.exists():
            path.parent.mkdir(parents=True, exist_ok=True)
            unfinished = path.with_suffix(".part")
            unfinished.write_bytes(data)
            unfinished.replace(path)
        return key

    def load(self, key: str) -> bytes:
        """The bytes kept under a key."""
        return self._path(key).read_bytes()

    def _path(self, key: str) -> Path:
        return self.root / key[:2] / key


def get_files() -> FileStore:
    """The file store this process is set up with."""
    return FolderStore(get_settings().files_dir)
