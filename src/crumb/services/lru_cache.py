"""A per-process LRU cache for values that never change."""

from collections import OrderedDict
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K")
V = TypeVar("V")


class LruCache(Generic[K, V]):
    """Values by key, at most so many: the least recently used goes first. Safe for threads."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = Lock()
        self._known: OrderedDict[K, V] = OrderedDict()

    def get(self, key: K) -> V | None:
        """The value of a key; None if there is none."""
        with self._lock:
            found = self._known.get(key)
            if found is not None:
                self._known.move_to_end(key)
            return found

    def keep(self, key: K, value: V) -> V:
        """Keep a value; the value itself."""
        with self._lock:
            self._known[key] = value
            self._known.move_to_end(key)
            if len(self._known) > self._most:
                self._known.popitem(last=False)
        return value
