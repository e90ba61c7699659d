"""Numbers and words out of a file, strictly: a bad one is an error that names its place."""

import re
from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile

_INTEGER = re.compile(r"^[+-]?\d{1,9}$")
_DECIMAL = re.compile(r"^[+-]?(\d{1,9}(\.\d{0,9})?|\.\d{1,9})$")


def text_of(element: etree._Element, path: str) -> str:
    """The stripped text of a child, empty if there is none."""
    return (element.findtext(path) or "").strip()


def whole(text: str | None, where: str) -> int:
    """An integer.

    Raises:
        UnreadableFile: it is none.
    """
    clean = (text or "").strip()
    if not _INTEGER.match(clean):
        raise UnreadableFile(f"{where}: “{clean[:20]}” is not a whole number.")
    return int(clean)


def exact(text: str | None, where: str) -> Fraction:
    """A decimal number as an exact fraction.

    Raises:
        UnreadableFile: it is none.
    """
    clean = (text or "").strip()
    if not _DECIMAL.match(clean):
        raise UnreadableFile(f"{where}: “{clean[:20]}” is not a number.")
    return Fraction(clean)
