"""A span of a part on pages as what is cut out of them: laid in rows of a width.

A crop is written down as text, as notation is, so that what was sent stays what it was.
"""

import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Any

from crumb.core.errors import NotNotatable
from crumb.core.score.meter import beat_starts
from crumb.core.score.model import Measure, Part, Printed

MARK = '{"crops":'
"""What the text of crops begins with; notation begins otherwise."""
_VERSION = 1


@dataclass(frozen=True, slots=True)
class CropBeat:
    """A beat: its offset as ``1/2`` and its edges, in pixels of the page."""

    at: str
    left: int
    right: int


@dataclass(frozen=True, slots=True)
class CropMeasure:
    """A measure that is cut out: its index, its number, its rectangle, its outer staff lines."""

    index: int
    number: str
    page: str
    left: int
    top: int
    right: int
    bottom: int
    first_line: int
    last_line: int
    begins_line: bool
    beats: tuple[CropBeat, ...]

    @property
    def width(self) -> int:
        """In pixels of the page."""
        return self.right - self.left

    @property
    def space(self) -> float:
        """From one staff line to the next, in pixels of the page."""
        return max((self.last_line - self.first_line) / 4, 1.0)

    def follows(self, other: "CropMeasure") -> bool:
        """Whether nothing lies between two measures on their page."""
        return (self.page, self.top, self.bottom, self.left) == (
            other.page,
            other.top,
            other.bottom,
            other.right,
        )


def crop_text(part: Part) -> str:
    """The crops of a part on pages, as text."""
    rows = [row for measure in part.measures for row in _rows(measure)]
    return json.dumps({"crops": _VERSION, "measures": rows}, separators=(",", ":"))


def _rows(measure: Measure) -> Iterator[dict[str, Any]]:
    if measure.printed is None:
        return
    yield _row(measure, measure.printed, is_landing=False)
    if measure.printed.landing is not None:
        yield _row(measure, measure.printed.landing, is_landing=True)


def _row(measure: Measure, printed: Printed, *, is_landing: bool) -> dict[str, Any]:
    left, right = (_x(printed, share) for share in printed.shown)
    return {
        "index": measure.index + is_landing,
        "number": "" if is_landing else measure.number,
        "page": printed.page,
        "area": [left, printed.top, max(right, left + 1), printed.bottom],
        "lines": [printed.first_line, printed.last_line],
        "line": bool(measure.new_system) and not is_landing,
        "beats": [] if is_landing else list(_beats(measure, printed)),
    }


def _beats(measure: Measure, printed: Printed) -> Iterator[list[Any]]:
    """Beats of what is shown: time runs evenly through a measure, for want of notes."""
    starts = [*beat_starts(measure), measure.length]
    for start, end in pairwise(starts):
        if printed.shown[0] <= start / measure.length < printed.shown[1]:
            share, until = start / measure.length, end / measure.length
            yield [str(start), _x(printed, share), _x(printed, until)]


def _x(printed: Printed, share: Fraction) -> int:
    return printed.left + round((printed.right - printed.left) * share)


def is_crop(text: str) -> bool:
    """Whether what is kept of a step is crops of pages rather than notation."""
    return text.startswith(MARK)


def read_crops(text: str) -> list[CropMeasure]:
    """What :func:`crop_text` wrote.

    Raises:
        NotNotatable: there is nothing to show.
    """
    rows: Sequence[Mapping[str, Any]] = json.loads(text)["measures"]
    if not rows:
        raise NotNotatable("No page shows these measures.")
    return [_crop(row) for row in rows]


def _crop(row: Mapping[str, Any]) -> CropMeasure:
    left, top, right, bottom = row["area"]
    first_line, last_line = row["lines"]
    return CropMeasure(
        row["index"],
        row["number"],
        row["page"],
        left,
        top,
        right,
        bottom,
        first_line,
        last_line,
        row["line"],
        tuple(CropBeat(*beat) for beat in row["beats"]),
    )


def rows_of(
    crops: Sequence[CropMeasure], width: float, scale: float, *, by_line: bool
) -> list[list[CropMeasure]]:
    """The crops in rows.

    Args:
        crops: in order.
        width: of a row, in units.
        scale: units that a staff space has.
        by_line: whether rows are those of the page; else each is as full as it can be.
    """
    rows: list[list[CropMeasure]] = []
    used = 0.0
    for crop in crops:
        wide = crop.width / crop.space * scale
        is_full = bool(rows) and used + wide > width
        if not rows or (crop.begins_line if by_line else is_full):
            rows.append([])
            used = 0.0
        rows[-1].append(crop)
        used += wide
    return rows


def runs_of(row: Sequence[CropMeasure]) -> list[list[CropMeasure]]:
    """The crops of a row that lie beside each other on the page, together."""
    runs: list[list[CropMeasure]] = []
    for crop in row:
        if runs and crop.follows(runs[-1][-1]):
            runs[-1].append(crop)
        else:
            runs.append([crop])
    return runs
