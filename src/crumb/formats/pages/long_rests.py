"""Measures in which only a long rest stands: a thick level bar, or blocks on the middle line."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from crumb.core.pages.model import PageMeasure
from crumb.formats.pages.ink import Ink, Ruling
from crumb.formats.pages.staves import Track, strip_of

_GAP = 1.3  # spaces between one sign and the next
_HEAD = 11.0  # spaces at the start of a line that clef, key and meter may take
_FRONT = 4.0  # spaces that a meter or a repeat sign may take elsewhere
_BAR = 3.0  # spaces that a level bar has at least
_REACH = 2.15  # spaces from the middle line: what stands over the staff is no part of a rest
_FULL = 0.72  # of the rectangle around a block is ink


def long_rests(
    measures: Sequence[PageMeasure], tracks: Sequence[Track], ink: Ink, ruling: Ruling
) -> dict[int, int]:
    """The places of such measures, each with the middle column of its rest."""
    grey = ink.astype(np.uint8) * 255
    found: dict[int, int] = {}
    strips = [strip_of(grey, track) > 127 for track in tracks]
    for place, measure in enumerate(measures):
        track, strip = tracks[measure.system], strips[measure.system]
        is_first = place == 0 or measures[place - 1].system != measure.system
        left, right = measure.area.left - track.left, measure.area.right - track.left
        edge = round(0.7 * ruling.space)
        middle = _rest(strip[:, max(left + edge, 0) : right - edge], ruling, is_first=is_first)
        if middle is not None:
            found[place] = measure.area.left + edge + middle
    return found


def _rest(strip: Ink, ruling: Ruling, *, is_first: bool) -> int | None:
    """The middle column of a rest that stands alone in a measure; None if there is none."""
    space, centre = ruling.space, len(strip) // 2
    reach = round(_REACH * space)
    body = strip[centre - reach : centre + reach + 1].copy()
    room = max(1, round(ruling.line / 2 + 1))
    for k in (-2, -1, 0, 1, 2):
        row = reach + round(k * space)
        body[row - room : row + room + 1] &= _thick(body, row, room)
    groups = _groups(np.asarray(body.any(axis=0)), round(_GAP * space))
    if not groups:
        return None
    left, right = groups[-1]
    if any(end > (_HEAD if is_first else _FRONT) * space for _, end in groups[:-1]):
        return None
    sign = body[:, left:right]
    rows = np.flatnonzero(sign.any(axis=1))
    top, bottom = (rows[0] - reach) / space, (rows[-1] - reach) / space
    is_bar = right - left >= _BAR * space and _is_level_bar(sign, reach, space)
    full = sign[rows[0] : rows[-1] + 1]
    is_block = -1.35 < top < -0.7 and bottom < 1.35 and _fill(full) > _FULL
    return (left + right) // 2 if is_bar or is_block else None


def _thick(body: Ink, row: int, room: int) -> NDArray[np.bool_]:
    """The columns in which ink goes on above or below a staff line."""
    above = body[max(row - room - 2, 0) : max(row - room, 1)].any(axis=0)
    below = body[row + room + 1 : row + room + 3].any(axis=0)
    return np.asarray(above | below)


def _groups(columns: NDArray[np.bool_], gap: int) -> list[tuple[int, int]]:
    where = np.flatnonzero(columns)
    if not len(where):
        return []
    breaks = np.flatnonzero(np.diff(where) > gap)
    starts = [where[0], *where[breaks + 1]]
    ends = [*where[breaks], where[-1]]
    return [(int(a), int(b) + 1) for a, b in zip(starts, ends, strict=True)]


def _is_level_bar(sign: Ink, middle: int, space: float) -> bool:
    half = max(1, round(0.2 * space))
    inner = sign[:, sign.shape[1] // 8 : sign.shape[1] - sign.shape[1] // 8]
    core = float(inner[middle - half : middle + half + 1].mean())
    away = np.concatenate(
        [inner[: middle - round(0.9 * space)], inner[middle + round(0.9 * space) :]]
    )
    return core > 0.9 and float(away.mean()) < 0.06


def _fill(sign: Ink) -> float:
    """Ink in the columns that have any."""
    columns = sign.any(axis=0)
    return float(sign[:, columns].mean()) if columns.any() else 0.0
