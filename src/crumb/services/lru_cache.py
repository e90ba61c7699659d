"""What was worked out lately in this process and stays true; the oldest is forgotten."""

from collections import OrderedDict
from threading import Lock
from typing import Generic, TypeVar

K = TypeVar("K")
V = TypeVar("V")


class LruCache(Generic[K, V]):
    """Values by key, so many at most: who was asked for longest ago goes first. For threads."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = Lock()
        self._known: OrderedDict[K, V] = OrderedDict()

    def get(self, key: K) -> V | None:
        """What is known; None if nothing is."""
        with self._lock:
            found = self._known.get(key)
            if found is not None:
                self._known.move_to_end(key)
            return found

    def keep(self, key: K, value: V) -> V:
        """Know it from here on; the value itself."""
        with self._lock:
            self._known[key] = value
            self._known.move_to_end(key)
            if len(self._known) > self._most:
                self._known.popitem(last=False)
        return value
