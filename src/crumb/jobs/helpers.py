"""Helper processes of a box: the parts of a large score are worked on side by side."""

import multiprocessing
import os
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from typing import TypeVar

from crumb.formats.musicxml.reader import PartText
from crumb.formats.reading import PartSource

T = TypeVar("T")

_MOST = 4
_WORTH_IT = 1_000_000  # bytes of notation; less is done sooner than helpers have come and gone


def each_with_help(work: Callable[[PartSource], T], parts: Iterable[PartSource], /) -> Iterator[T]:
    """Work done for each part, in their order; by helpers where there is much of it.

    Raises:
        BrokenProcessPool: a helper died.
    """
    todo = list(parts)
    texts = [part for part in todo if isinstance(part, PartText)]
    if len(texts) < len(todo) or len(todo) < 2 or sum(p.size for p in texts) < _WORTH_IT:
        return map(work, todo)
    return _helped(work, todo)


def _helped(work: Callable[[PartSource], T], parts: list[PartSource]) -> Iterator[T]:
    count = min(len(os.sched_getaffinity(0)), _MOST)
    # Forked: a box has one thread, and all that helpers need is in memory already.
    with ProcessPoolExecutor(count, mp_context=multiprocessing.get_context("fork")) as pool:
        yield from pool.map(work, parts)
