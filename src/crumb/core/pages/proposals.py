"""The parts of a set of pages: where one begins, and what it is called."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from crumb.core.instruments.names import instrument_meant
from crumb.core.names import name_key
from crumb.core.pages.model import PageRead, Word

_MOST_WORDS = 8
"""In the name of a part; a longer line is a text."""


@dataclass(frozen=True, slots=True)
class Proposal:
    """A page that begins a part: its name, as it is printed or counted."""

    page: int
    name: str
    is_printed: bool


def lines_over_music(page: PageRead) -> list[str]:
    """The lines of words above the first staff, from the top down, each in its columns."""
    top = min((m.first_line for m in page.measures), default=page.height // 3)
    words = [w for w in page.words if w.area.bottom <= top and w.text.strip()]
    return [text for line in _lines(words) for text in _columns(line)]


def _lines(words: Sequence[Word]) -> list[list[Word]]:
    lines: list[list[Word]] = []
    for word in sorted(words, key=lambda w: ((w.area.top + w.area.bottom) / 2, w.area.left)):
        middle = (word.area.top + word.area.bottom) / 2
        if lines:
            last = lines[-1][0].area
            if last.top <= middle <= last.bottom:
                lines[-1].append(word)
                continue
        lines.append([word])
    return [sorted(line, key=lambda w: w.area.left) for line in lines]


def _columns(line: Sequence[Word]) -> list[str]:
    """The texts of a line: a gap as wide as three letters are high divides two."""
    found: list[list[Word]] = [[line[0]]]
    for before, word in pairwise(line):
        gap = word.area.left - before.area.right
        if gap > 3 * max(before.area.height, 1):
            found.append([])
        found[-1].append(word)
    return [" ".join(w.text for w in words) for words in found]


def name_on(page: PageRead) -> str:
    """The name of a part at the head of a page; empty where none is printed there."""
    for text in lines_over_music(page):
        words = text.split()
        if len(words) <= _MOST_WORDS and instrument_meant(text):
            return text
    return ""


def title_on(page: PageRead) -> str:
    """The largest line at the head of a page that is no part's name."""
    top = min((m.first_line for m in page.measures), default=page.height // 3)
    lines = _lines([w for w in page.words if w.area.bottom <= top and w.text.strip()])
    texts = [
        (max(w.area.height for w in line), " ".join(w.text for w in line))
        for line in lines
        if any(c.isalpha() for w in line for c in w.text)
    ]
    named = name_on(page)
    others = [one for one in texts if one[1] != named]
    return max(others, key=lambda one: one[0], default=(0, ""))[1]


def proposed_parts(pages: Sequence[PageRead]) -> list[Proposal]:
    """Where parts begin: at a name that is not the name of the page before, or at measure 1 again.

    The first page always begins one.
    """
    found: list[Proposal] = []
    title = name_key(title_on(pages[0])) if pages else ""
    for place, page in enumerate(pages):
        name = name_on(page)
        is_other = bool(name) and (not found or name_key(found[-1].name) != name_key(name))
        is_headed = bool(title) and name_key(title_on(page)) == title
        if place == 0 or is_other or (is_headed and not _goes_on(page)):
            found.append(Proposal(place, name or f"Part {len(found) + 1}", bool(name)))
    return found


def _goes_on(page: PageRead) -> bool:
    """Whether its first measure bears a number above 1."""
    return bool(page.measures) and (page.measures[0].number or 0) > 1
