"""Crops of pages as one SVG drawing that scales to its place, its pictures inside of it.

Measures and beats have the names that engraved ones have, so that brackets, slips and marks find
their places on both.
"""

from base64 import b64encode
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from hashlib import sha256

import cv2
import numpy as np
from numpy.typing import NDArray

from crumb.core.errors import NotNotatable
from crumb.core.pages.crops import CropMeasure, read_crops, rows_of, runs_of
from crumb.formats.layout import Layout

Load = Callable[[str], bytes]
"""The bytes of a page's picture, by its key."""
DRAWER = "crops-1"
"""Part of every cache key: raise the number when crops are drawn otherwise."""
_SPACE = 18.0  # units, as in engraved music
_GAP = 26.0  # units between rows
_BETWEEN = 10.0  # units between crops that are no neighbours on the page
_MOST_PIXELS = 2.2  # of a picture, for each unit
_EDGE = 12.0


def crops_key(text: str, layout: Layout) -> str:
    """The name of a drawing of crops."""
    return sha256(f"{DRAWER}|{layout}|{text}".encode()).hexdigest()


def draw_crops(text: str, layout: Layout, load: Load) -> str:
    """The drawing of crops.

    Raises:
        NotNotatable: the pages are gone, or there is nothing to show.
    """
    crops = read_crops(text)
    pages = _Pages(load)
    inner = layout.width - 2 * _EDGE
    # A whole part is shown in the lines of its page, where there is room for them.
    by_line = layout.width >= 1900 and not layout.trimmed
    drawn, y, widest = [], _EDGE, 0.0
    for row in rows_of(crops, inner, _SPACE, by_line=by_line):
        made = _Row(row, inner, pages, layout, fill=by_line)
        drawn.append(made.drawn(_EDGE, y))
        y += made.height + _GAP
        widest = max(widest, made.width)
    width = widest + 2 * _EDGE if layout.trimmed else float(layout.width)
    body = "".join(drawn)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:.0f} {y:.0f}"'
        f' class="crops">{body}</svg>'
    )


class _Pages:
    """Pictures of pages, each read once for a drawing."""

    def __init__(self, load: Load) -> None:
        self._load = load
        self._read: dict[str, NDArray[np.uint8]] = {}

    def picture(self, key: str) -> NDArray[np.uint8]:
        """A page in grey.

        Raises:
            NotNotatable: it is gone.
        """
        known = self._read.get(key)
        if known is not None:
            return known
        try:
            data = np.frombuffer(self._load(key), dtype=np.uint8)
        except FileNotFoundError as error:
            raise NotNotatable("The page of these measures was deleted.") from error
        read = cv2.imdecode(data, cv2.IMREAD_GRAYSCALE)
        if read is None:
            raise NotNotatable("The page of these measures cannot be read.")
        self._read = {key: np.asarray(read, dtype=np.uint8)}
        return self._read[key]


@dataclass
class _Placed:
    """A run of neighbours in a row: its picture's rectangle on the page, where it is drawn."""

    crops: Sequence[CropMeasure]
    x: float
    scale: float
    top: int
    bottom: int


class _Row:
    """One row of crops."""

    def __init__(
        self, row: Sequence[CropMeasure], room: float, pages: _Pages, layout: Layout, *, fill: bool
    ) -> None:
        self._pages, self._layout = pages, layout
        self.number = row[0].number
        runs = runs_of(row)
        natural = sum(c.width / c.space * _SPACE for c in row) + _BETWEEN * (len(runs) - 1)
        # A measure wider than the row is made narrower; a line of a page fills the row.
        self.stretch = room / natural if fill or natural > room else 1.0
        self.width = natural * self.stretch
        self._placed: list[_Placed] = []
        x = 0.0
        for run in runs:
            top, bottom = self._rows_with_ink(run)
            scale = _SPACE / run[0].space * self.stretch
            self._placed.append(_Placed(run, x, scale, top, bottom))
            x += (run[-1].right - run[0].left) * scale + _BETWEEN * self.stretch
        self._above = max((p.crops[0].first_line - p.top) * p.scale for p in self._placed)
        below = max((p.bottom - p.crops[0].first_line) * p.scale for p in self._placed)
        self._head = 20.0 if layout.numbers and self.number else 0.0
        self.height = self._head + self._above + below

    def _rows_with_ink(self, run: Sequence[CropMeasure]) -> tuple[int, int]:
        """The rows of a run that have ink, with some air."""
        first, last = run[0], run[-1]
        page = self._pages.picture(first.page)
        cut = page[first.top : first.bottom, first.left : last.right]
        inked = np.flatnonzero((cut < 140).any(axis=1))
        air = round(first.space * 0.7)
        low = first.first_line - round(first.space * 1.5)
        high = first.last_line + round(first.space * 1.5)
        if len(inked):
            low = min(low, first.top + int(inked[0]) - air)
            high = max(high, first.top + int(inked[-1]) + air)
        return max(low, first.top, 0), min(high, first.bottom, len(page))

    def drawn(self, left: float, y: float) -> str:
        """Its elements, from a corner on."""
        staff = y + self._head + self._above
        parts = [self._run(placed, left + placed.x, staff) for placed in self._placed]
        if self._head and self.number.isdigit():
            parts.append(
                f'<text class="crop-number" x="{left:.1f}" y="{y + 13:.1f}" font-size="14"'
                f' font-family="serif" font-style="italic">{int(self.number)}</text>'
            )
        return f'<g class="system">{"".join(parts)}</g>'

    def _run(self, placed: _Placed, left: float, staff: float) -> str:
        first, last = placed.crops[0], placed.crops[-1]
        page = self._pages.picture(first.page)
        cut = page[placed.top : placed.bottom, first.left : last.right]
        if not cut.size:
            raise NotNotatable("These measures lie outside their page.")
        top = staff - (first.first_line - placed.top) * placed.scale
        width, height = cut.shape[1] * placed.scale, cut.shape[0] * placed.scale
        image = (
            f'<image x="{left:.1f}" y="{top:.1f}" width="{width:.1f}" height="{height:.1f}"'
            f' preserveAspectRatio="none" href="data:image/png;base64,{_png(cut, width)}"/>'
        )
        groups = "".join(
            _measure(crop, left + (crop.left - first.left) * placed.scale, staff, placed.scale)
            for crop in placed.crops
        )
        return image + groups


def _measure(crop: CropMeasure, left: float, staff: float, scale: float) -> str:
    """A measure's own names and beats over its picture; what is landed on has none."""
    if not crop.beats:
        return ""
    right = left + crop.width * scale
    bottom = staff + (crop.last_line - crop.first_line) * scale
    lines = "".join(
        f'<path d="M{left:.1f} {y:.1f}L{right:.1f} {y:.1f}" stroke="none"/>'
        for y in (staff, bottom)
    )
    beats = []
    for beat in crop.beats:
        at = Fraction(beat.at)
        x = left + (beat.left - crop.left) * scale
        wide = max((beat.right - beat.left) * scale, 1.0)
        beats.append(
            f'<g class="note" id="n{crop.index}-{at.numerator}_{at.denominator}-beat">'
            f'<rect class="notehead" x="{x:.1f}" y="{staff - 9:.1f}" width="{wide:.1f}"'
            f' height="{bottom - staff + 18:.1f}" fill="#000" fill-opacity="0"/></g>'
        )
    return f'<g class="measure" id="m{crop.index}"><g class="staff">{lines}{"".join(beats)}</g></g>'


def _png(cut: NDArray[np.uint8], width: float) -> str:
    """A picture of sixteen greys, no larger than it is worth."""
    most = width * _MOST_PIXELS
    if cut.shape[1] > most:
        share = most / cut.shape[1]
        cut = np.asarray(
            cv2.resize(cut, None, fx=share, fy=share, interpolation=cv2.INTER_AREA), dtype=np.uint8
        )
    few = np.clip(np.rint(cut / 17.0) * 17, 0, 255).astype(np.uint8)
    _, data = cv2.imencode(".png", few, [cv2.IMWRITE_PNG_COMPRESSION, 9])
    return b64encode(data.tobytes()).decode()
