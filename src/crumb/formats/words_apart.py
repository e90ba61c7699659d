"""Words of an engraving that stand on each other are moved apart.

The engraver sets the note sign of a tempo twice as tall as the words beside it, and puts words over
the numbers of measures. Only what it drew is read here; how wide words are is an estimate.
"""

import re
from bisect import bisect_left
from collections.abc import Iterator
from dataclasses import dataclass, replace

_GROUP = re.compile(
    r'<g id="[^"]*" class="(?P<kind>mNum|tempo|dir|reh)\b[^>]*>(?P<box><rect [^>]*/>)?'
    r'<text(?: x="(?P<x>-?\d+)")? y="(?P<y>-?\d+)"(?P<rest>[^>]*)(?<!/)>(?P<inside>.*?)</text>',
    re.DOTALL,
)
_SIZED = re.compile(r'font-size="(\d+)px"[^>]*>([^<]*)<')
_NOTE_SIGN = re.compile(r'(<tspan font-family="Leland" font-size=")720px"')
_NOTE_SIGN_SIZE = 460
_HEAD = re.compile(r'class="(?:notehead|artic|accid)"[^>]*><use [^>]*translate\((-?\d+), (-?\d+)\)')
_STEM = re.compile(r'class="stem"[^>]*><path d="M(-?\d+) (-?\d+) L-?\d+ (-?\d+)"')
_HEAD_WIDTH, _HEAD_HEIGHT = 230, 200
_WIDTH, _HEIGHT, _GAP = 0.52, 0.78, 70
"""Of a letter, as shares of its size; and between one line of words and the next."""


@dataclass(frozen=True, slots=True)
class _Words:
    """Where some words stand: their group's place in the drawing, edges, base line and height."""

    place: int
    kind: str
    left: float
    right: float
    base: int
    height: float

    def hits(self, other: "_Words") -> bool:
        """Whether they stand on each other."""
        return (
            self.left < other.right
            and other.left < self.right
            and self.base - self.height < other.base
            and other.base - other.height < self.base
        )


def words_apart(svg: str) -> str:
    """The drawing with note signs as tall as words, no words on a number, no number on a note."""
    svg = _NOTE_SIGN.sub(rf'\g<1>{_NOTE_SIGN_SIZE}px"', svg)
    found = list(_words(svg))
    settled = [words for words in found if words.kind == "reh"]
    notes = sorted(_notes(svg), key=lambda one: one.left) if found else []
    lefts = [one.left for one in notes]
    moved: dict[int, int] = {}
    for kind in ("mNum", "dir", "tempo"):
        for words in (w for w in found if w.kind == kind):
            near: list[_Words] = []
            if kind == "mNum":
                begin = bisect_left(lefts, words.left - _HEAD_WIDTH)
                near = notes[begin : bisect_left(lefts, words.right)]
            free = _freed(words, [*settled, *near])
            settled.append(free)
            if free.base != words.base:
                moved[words.place] = free.base
    return _GROUP.sub(lambda match: _set(match, moved), svg) if moved else svg


def _freed(words: _Words, settled: list[_Words]) -> _Words:
    """Moved up past whatever it stands on."""
    while hit := next((other for other in settled if words.hits(other)), None):
        words = replace(words, base=round(hit.base - hit.height - _GAP))
    return words


def _notes(svg: str) -> Iterator[_Words]:
    """Heads, signs and stems, which a number of a measure may touch."""
    for x, y in _HEAD.findall(svg):
        left, middle = int(x), int(y)
        half = _HEAD_HEIGHT // 2
        yield _Words(0, "note", left, left + _HEAD_WIDTH, middle + half, _HEAD_HEIGHT)
    for x, one, two in _STEM.findall(svg):
        top, bottom = sorted((int(one), int(two)))
        yield _Words(0, "note", int(x) - 20, int(x) + 20, bottom, bottom - top)


def _words(svg: str) -> Iterator[_Words]:
    for match in _GROUP.finditer(svg):
        sizes = [(int(size), text) for size, text in _SIZED.findall(match["inside"]) if text]
        if not sizes:
            continue
        width = sum(size * _WIDTH * len(text) for size, text in sizes)
        height = max(size for size, _ in sizes) * _HEIGHT
        left = float(match["x"] or 0)
        if 'text-anchor="middle"' in match["rest"]:
            left -= width / 2
        margin = 60 if match["box"] else 0
        yield _Words(
            match.start(),
            match["kind"],
            left - margin,
            left + width + margin,
            int(match["y"]) + margin,
            height + 2 * margin,
        )


def _set(match: re.Match[str], moved: dict[int, int]) -> str:
    base = moved.get(match.start())
    if base is None:
        return match[0]
    return match[0].replace(f' y="{match["y"]}"', f' y="{base}"', 1)
