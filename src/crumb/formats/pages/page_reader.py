"""A page's picture into systems and measures."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import cv2
import numpy as np

from crumb.core.pages.model import Area, PageMeasure
from crumb.formats.pages.barline_net import likely_barlines
from crumb.formats.pages.barlines import Stroke, patch_of, strokes_in
from crumb.formats.pages.ink import (
    Grey,
    Ink,
    Ruling,
    flattened,
    ink_of,
    ruling_of,
    skew_of,
    straightened,
)
from crumb.formats.pages.long_rests import long_rests
from crumb.formats.pages.staves import Track, find_staves, strip_of

_SURE = 0.5
_GROUP = 1.3  # spaces between the strokes of one double or repeating barline
_FEWEST_PIXELS = 13.0  # of a staff space; a smaller page is enlarged
_MOST_AROUND = 9.0  # spaces above and below a system that belong to it
_NARROWEST = 2.2  # spaces of a measure
_LONGEST_HEAD = 16.0  # spaces: clef, seven flats and a meter
_CLOSE = 1.15  # spaces between the signs at the head of a line
_COURTESY = 9.0  # spaces: what stands after the last barline of a line and is no measure


@dataclass(frozen=True, slots=True)
class Bar:
    """A barline of one staff; columns of the page, heights of its staff."""

    x: float
    is_thick: bool
    strokes: int
    dots_before: bool
    dots_after: bool

    @property
    def closes(self) -> bool:
        """Whether it is more than a plain barline."""
        return self.strokes > 1 or self.is_thick


@dataclass(frozen=True, slots=True)
class Staff:
    """A staff with its barlines."""

    track: Track
    bars: tuple[Bar, ...]
    head: int
    """The column at which clef, key and meter end, if a barline follows right after them."""


@dataclass(frozen=True, slots=True)
class Picture:
    """A page made even and level, and what was read of it.

    ``rests`` are the measures in which only a long rest stands, each with its middle column.
    """

    grey: Grey
    measures: tuple[PageMeasure, ...]
    rests: Mapping[int, int]
    space: float


def read_picture(grey: Grey, *, is_clean: bool = False) -> Picture:
    """Read the staves and barlines of a page.

    Args:
        grey: the page, upright.
        is_clean: whether it was drawn by a program, so that light and skew need no correction.
    """
    page = grey if is_clean else flattened(grey)
    ink = ink_of(page)
    if not is_clean:
        degrees = skew_of(ink)
        page = straightened(page, degrees)
        ink = ink_of(page)
    ruling = ruling_of(ink)
    if ruling is not None and ruling.space < _FEWEST_PIXELS:
        page = np.asarray(
            cv2.resize(page, None, fx=2, fy=2, interpolation=cv2.INTER_CUBIC), dtype=np.uint8
        )
        ink = ink_of(page)
        ruling = ruling_of(ink)
    if ruling is None:
        return Picture(page, (), {}, 0.0)
    staves = [_staff(page, ink, track, ruling) for track in find_staves(ink, ruling)]
    systems = _systems(staves, ink, ruling)
    measures = _measures(systems, ruling, page.shape)
    rests = long_rests(measures, [system[0].track for system in systems], ink, ruling)
    return Picture(page, tuple(measures), rests, ruling.space)


def _staff(page: Grey, ink: Ink, track: Track, ruling: Ruling) -> Staff:
    strip = strip_of(page, track)
    inked = strip_of(ink.astype(np.uint8) * 255, track) > 127
    strokes = strokes_in(inked, ruling)
    sure = likely_barlines([patch_of(strip, stroke, ruling) for stroke in strokes])
    bars = [stroke for stroke, chance in zip(strokes, sure, strict=True) if chance >= _SURE]
    groups: list[list[Stroke]] = []
    for stroke in bars:
        if groups and stroke.left - groups[-1][-1].right < _GROUP * ruling.space:
            groups[-1].append(stroke)
        else:
            groups.append([stroke])
    found = tuple(_bar(group, inked, track, ruling) for group in groups)
    return Staff(track, found, _head(inked, found, track, ruling))


def _head(inked: Ink, bars: Sequence[Bar], track: Track, ruling: Ruling) -> int:
    """The column of a barline before which nothing but clef, key and meter stands.

    Their signs follow each other closely; before the first note of a measure there is more room.
    """
    space = ruling.space
    first = next((bar for bar in bars if bar.x - track.left > 1.5 * space), None)
    if first is None or first.x - track.left > _LONGEST_HEAD * space:
        return track.left
    centre, reach = len(inked) // 2, round(2.1 * space)
    body = inked[centre - reach : centre + reach + 1, : round(first.x - track.left)].copy()
    for k in (-2, -1, 0, 1, 2):
        row, half = reach + round(k * space), max(1, round(ruling.line / 2 + 0.5))
        body[max(row - half, 0) : row + half + 1] = False
    where = np.flatnonzero(body.any(axis=0))
    ends = np.concatenate([[0], where, [body.shape[1] - 1]])
    return round(first.x) if np.diff(ends).max() < _CLOSE * space else track.left


def _bar(group: Sequence[Stroke], inked: Ink, track: Track, ruling: Ruling) -> Bar:
    left, right = group[0].left, group[-1].right
    thick = [s for s in group if s.width > max(0.3 * ruling.space, 2.2 * ruling.line)]
    return Bar(
        x=track.left + (left + right - 1) / 2,
        is_thick=bool(thick),
        strokes=len(group),
        dots_before=_has_dots(inked, left, -1, ruling),
        dots_after=_has_dots(inked, right - 1, 1, ruling),
    )


def _has_dots(inked: Ink, edge: int, way: int, ruling: Ruling) -> bool:
    """Two dots beside a barline, in the second and the third space, and nothing else there."""
    space = ruling.space
    centre = len(inked) // 2
    low, high = sorted((edge + way * round(space * 0.2), edge + way * round(space * 1.25)))
    low, high = max(low, 0), min(high, inked.shape[1])
    if high - low < 3:
        return False
    reach = round(1.85 * space)
    window = inked[centre - reach : centre + reach + 1, low:high].copy()
    for k in (-1, 0, 1):
        row, half = reach + round(k * space), max(1, round(ruling.line / 2 + 0.5))
        window[row - half : row + half + 1] = False
    count, _, stats, middles = cv2.connectedComponentsWithStats(window.astype(np.uint8))
    least, most = 0.16 * space, 0.75 * space
    blobs = [
        ((middles[k][1] - reach) / space, (middles[k][0]) / space)
        for k in range(1, count)
        if stats[k][cv2.CC_STAT_AREA] > 0.02 * space * space
        and least <= stats[k][cv2.CC_STAT_HEIGHT] <= most
        and least <= stats[k][cv2.CC_STAT_WIDTH] <= most
    ]
    large = sum(stats[k][cv2.CC_STAT_AREA] > 0.06 * space * space for k in range(1, count))
    if len(blobs) != 2 or large > 2:
        return False
    (one, x_one), (two, x_two) = sorted(blobs)
    return bool(max(abs(one + 0.5), abs(two - 0.5), abs(x_one - x_two)) < 0.25)


def _systems(staves: Sequence[Staff], ink: Ink, ruling: Ruling) -> list[list[Staff]]:
    """Staves that a line joins at their left are played at once."""
    systems: list[list[Staff]] = []
    for staff in staves:
        if systems and _are_joined(systems[-1][-1].track, staff.track, ink, ruling):
            systems[-1].append(staff)
        else:
            systems.append([staff])
    return systems


def _are_joined(above: Track, below: Track, ink: Ink, ruling: Ruling) -> bool:
    if abs(above.left - below.left) > 3 * ruling.space:
        return False
    reach = round(ruling.space * 1.2)
    left = max(0, min(above.left, below.left) - reach)
    top = round(float(above.middle[0]) + 2 * above.space)
    bottom = round(float(below.middle[0]) - 2 * below.space)
    if bottom <= top:
        return False
    columns = ink[top:bottom, left : max(above.left, below.left) + reach]
    return bool(columns.size) and float(columns.mean(axis=0).max()) > 0.9


def _measures(
    systems: Sequence[Sequence[Staff]], ruling: Ruling, size: tuple[int, ...]
) -> list[PageMeasure]:
    found: list[PageMeasure] = []
    edges = _heights(systems, ruling, size[0])
    for number, (system, (top, bottom)) in enumerate(zip(systems, edges, strict=True)):
        bars = _together(system, ruling)
        left = min(staff.track.left for staff in system)
        right = max(staff.track.right for staff in system)
        first_line = system[0].track.top()
        last_line = system[0].track.bottom()
        found.extend(
            replace(
                one,
                area=Area(one.area.left, top, one.area.right, bottom),
                first_line=first_line,
                last_line=last_line,
                system=number,
            )
            for one in _between(bars, left, max(s.head for s in system), right, ruling)
        )
    return found


def _heights(
    systems: Sequence[Sequence[Staff]], ruling: Ruling, height: int
) -> list[tuple[int, int]]:
    """The top and bottom of each system: halfway to its neighbours, and not too far."""
    around = round(_MOST_AROUND * ruling.space)
    tops = [min(staff.track.top() for staff in system) for system in systems]
    bottoms = [max(staff.track.bottom() for staff in system) for system in systems]
    found = []
    for place, (top, bottom) in enumerate(zip(tops, bottoms, strict=True)):
        above = (bottoms[place - 1] + top) // 2 if place else 0
        below = (bottom + tops[place + 1]) // 2 if place + 1 < len(tops) else height
        if place and above > top:  # systems side by side, or one that overlaps another
            above = top - around
        if below < bottom:
            below = bottom + around
        found.append((max(above, top - around, 0), min(below, bottom + around, height)))
    return found


def _together(system: Sequence[Staff], ruling: Ruling) -> list[Bar]:
    """The barlines that most staves of a system have at about the same place."""
    if len(system) == 1:
        return list(system[0].bars)
    found = []
    for bar in system[0].bars:
        beside = [
            min((abs(bar.x - other.x) for other in staff.bars), default=1e9) for staff in system[1:]
        ]
        agree = 1 + sum(far < ruling.space for far in beside)
        if agree * 2 > len(system):
            found.append(bar)
    return found


def _between(
    bars: Sequence[Bar], left: int, head: int, right: int, ruling: Ruling
) -> list[PageMeasure]:
    """Measures between barlines; their heights are not known yet.

    A barline at the head of a line, after clef and key alone, ends no measure.
    """
    space = ruling.space
    edge = max(left + 1.5 * space, head + 0.5 * space)
    found: list[PageMeasure] = []
    start, opens = left, any(bar.dots_after for bar in bars if bar.x <= edge)
    for bar in bars:
        x = round(bar.x)
        if bar.x <= edge:
            continue
        if x - start < _NARROWEST * space:
            continue
        found.append(
            PageMeasure(
                Area(start, 0, x, 1),
                0,
                1,
                0,
                opens_repeat=opens,
                closes_repeat=bar.dots_before,
                closes=bar.closes and not bar.dots_before and not bar.dots_after,
            )
        )
        start, opens = x, bar.dots_after
    rest = right - start
    if rest > (_COURTESY if found else _NARROWEST) * space:
        found.append(PageMeasure(Area(start, 0, right, 1), 0, 1, 0, opens_repeat=opens))
    elif found and rest > 0:
        found[-1] = found[-1].between(found[-1].area.left, right)
    return found
