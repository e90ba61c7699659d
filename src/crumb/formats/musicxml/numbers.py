"""Numbers and words out of a file, strictly: a bad one is an error that names its place."""

import re
from fractions import Fraction
from functools import lru_cache

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.formats.musicxml.bounds import MOST_LETTERS

Ticks = int | Fraction
_INTEGER = re.compile(r"[+-]?[0-9]{1,9}")
_DECIMAL = re.compile(r"[+-]?([0-9]{1,9}(\.[0-9]{0,9})?|\.[0-9]{1,9})")


def text_of(element: etree._Element, path: str) -> str:
    """The stripped text of a child, empty if there is none."""
    return (element.findtext(path) or "").strip()[:MOST_LETTERS]


def whole(text: str | None, where: str) -> int:
    """An integer.

    Raises:
        UnreadableFile: it is none.
    """
    number = _integer((text or "").strip())
    if number is None:
        raise UnreadableFile(f"{where}: “{(text or '').strip()[:20]}” is not a whole number.")
    return number


def exact(text: str | None, where: str) -> Fraction:
    """A decimal number as an exact fraction.

    Raises:
        UnreadableFile: it is none.
    """
    number = _decimal((text or "").strip())
    if number is None:
        raise UnreadableFile(f"{where}: “{(text or '').strip()[:20]}” is not a number.")
    return number


# The same few numbers stand in a file tens of thousands of times.


@lru_cache(maxsize=2048)
def _integer(clean: str) -> int | None:
    return int(clean) if _INTEGER.fullmatch(clean) else None


@lru_cache(maxsize=2048)
def _decimal(clean: str) -> Fraction | None:
    return Fraction(clean) if _DECIMAL.fullmatch(clean) else None


def ticks(text: str | None, where: str) -> Ticks:
    """A duration of the file in its own divisions, whole wherever it can be.

    Raises:
        UnreadableFile: it is no number.
    """
    clean = (text or "").strip()
    if len(clean) < 10 and clean.isascii() and clean.isdigit():
        return int(clean)
    return exact(clean, where)


def small(text: str | None, *, most: int, otherwise: int) -> int:
    """A whole number from 1 that decides nothing exact; anything else is as usual."""
    clean = (text or "").strip()
    if not clean.isascii() or not clean.isdigit() or len(clean) > 9:
        return otherwise
    return min(max(int(clean), 1), most)
