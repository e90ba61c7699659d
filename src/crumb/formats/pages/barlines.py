"""Barlines of one staff: upright strokes over its whole height that are no note's stem."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from crumb.formats.pages.ink import Grey, Ink, Ruling

_FULL = 0.8
"""Share of the staff's height that a barline inks at the least."""
_WIDEST = 0.85
"""Spaces. The thick line at the end is half a space."""


@dataclass(frozen=True, slots=True)
class Stroke:
    """An upright stroke over the whole staff; columns of its strip, the last one after it."""

    left: int
    right: int

    @property
    def middle(self) -> float:
        """Its middle column."""
        return (self.left + self.right - 1) / 2

    @property
    def width(self) -> int:
        """How many columns it has."""
        return self.right - self.left


def strokes_in(strip: Ink, ruling: Ruling) -> list[Stroke]:
    """Upright strokes over the whole height of a straightened staff, from left to right."""
    space = ruling.space
    centre = len(strip) // 2
    top, bottom = round(centre - 2 * space), round(centre + 2 * space) + 1
    body = strip[top:bottom]
    # A stroke may lean a little or have a rough edge: neighbours help out.
    wide = body.copy()
    wide[:, 1:] |= body[:, :-1]
    wide[:, :-1] |= body[:, 1:]
    inked = wide.mean(axis=0)
    found = []
    for left, right in _runs(inked >= _FULL):
        # The neighbours widen what they helped.
        left, right = (left + 1, right - 1) if right - left > 2 else (left, right)
        if right - left > _WIDEST * space:
            continue
        found.append(Stroke(left, right))
    return found


def _runs(mask: NDArray[np.bool_]) -> list[tuple[int, int]]:
    edges = np.diff(np.pad(mask, 1).astype(np.int8))
    starts, ends = np.flatnonzero(edges == 1), np.flatnonzero(edges == -1)
    return [(int(a), int(b)) for a, b in zip(starts, ends, strict=True)]


PATCH = (48, 24)
"""Rows and columns of what the net sees: eight spaces by four, six pixels a space."""


def patch_of(strip: Grey, stroke: Stroke, ruling: Ruling) -> NDArray[np.float32]:
    """What stands around a stroke, ink as 1, in a fixed scale."""
    centre = (len(strip) - 1) / 2
    rows, columns = PATCH
    scale = ruling.space / 6
    turn = np.array(
        [
            [scale, 0, stroke.middle - (columns - 1) / 2 * scale],
            [0, scale, centre - (rows - 1) / 2 * scale],
        ]
    )
    soft: Grey = strip
    if scale > 1:
        side = max(1, round(scale))
        soft = np.asarray(cv2.blur(strip, (side, side)), dtype=np.uint8)
    seen = cv2.warpAffine(
        soft,
        turn,
        (columns, rows),
        flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
        borderMode=cv2.BORDER_CONSTANT,
        borderValue=255,
    )
    return np.asarray(1 - seen.astype(np.float32) / 255)
