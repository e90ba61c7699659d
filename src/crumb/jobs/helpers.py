"""Helper processes of a worker: the parts of a large score are worked on side by side."""

import multiprocessing
import os
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from functools import lru_cache
from typing import TypeVar

from crumb.formats.musicxml.reader import PartText
from crumb.formats.reading import PartSource

T = TypeVar("T")

_MOST = 4
_WORTH_IT = 1_000_000  # bytes of notation; less is done sooner than a helper has started


def each_with_help(work: Callable[[PartSource], T], parts: Iterable[PartSource], /) -> Iterator[T]:
    """Work done for each part, in their order; by helpers where there is much of it.

    Raises:
        BrokenProcessPool: a helper died; the next time has new ones.
    """
    todo = list(parts)
    texts = [part for part in todo if isinstance(part, PartText)]
    if len(texts) < len(todo) or len(todo) < 2 or sum(p.size for p in texts) < _WORTH_IT:
        return map(work, todo)
    return _helped(work, todo)


def _helped(work: Callable[[PartSource], T], parts: list[PartSource]) -> Iterator[T]:
    try:
        yield from helpers().map(work, parts)
    except BrokenProcessPool:
        helpers.cache_clear()
        raise


@lru_cache(maxsize=1)
def helpers() -> ProcessPoolExecutor:
    """As many as there are processors to use; started when first wanted, then kept."""
    count = min(len(os.sched_getaffinity(0)), _MOST)
    # Not forked: a worker has threads, and a fork of them may stand still for ever.
    return ProcessPoolExecutor(count, mp_context=multiprocessing.get_context("spawn"))
