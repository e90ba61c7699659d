"""A page as ink on paper: light made even, skew taken out, the distance of staff lines measured."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

Grey = NDArray[np.uint8]
"""Pixels, rows first: 0 is black, 255 is white."""
Ink = NDArray[np.bool_]
"""Pixels, rows first: true where there is ink."""

_MOST_SKEW = 6.0  # degrees
_SPACE_RANGE = (5, 60)  # pixels


@dataclass(frozen=True, slots=True)
class Ruling:
    """How staves are ruled, in pixels: the thickness of a line, and from one line to the next."""

    line: float
    space: float


def flattened(grey: Grey) -> Grey:
    """The page with its light made even: shadows and yellow paper become white."""
    small = cv2.resize(grey, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    side = max(9, min(small.shape) // 12) | 1
    paper = cv2.medianBlur(cv2.dilate(small, np.ones((7, 7), np.uint8)), min(side, 51))
    wide = cv2.resize(paper, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.asarray(cv2.divide(grey, np.maximum(wide, 1), scale=255), dtype=np.uint8)


def ink_of(grey: Grey) -> Ink:
    """Where the ink is, on a page whose light is even.

    A thin line in few pixels is hardly darker than the paper: the level lies just under the
    paper's own grain, and never under the level that divides black from white.
    """
    middle, _ = cv2.threshold(grey, 0, 255, cv2.THRESH_BINARY | cv2.THRESH_OTSU)
    paper = grey[::3, ::3]
    paper = paper[paper > middle]
    if not len(paper):
        return np.asarray(grey < middle)
    white = float(np.median(paper))
    grain = float(np.median(np.abs(paper - white))) * 1.48
    return np.asarray(grey < max(middle, white - max(45.0, 4.5 * grain)))


def skew_of(ink: Ink) -> float:
    """Degrees by which the staff lines rise to the right; 0 where none are found."""
    wide = ink.shape[1]
    height = max(1, ink.shape[0] * 900 // wide)
    full = ink.astype(np.uint8) * 255
    small = np.asarray(cv2.resize(full, (900, height), interpolation=cv2.INTER_AREA), np.uint8)
    best = _sharpest(small, np.arange(-_MOST_SKEW, _MOST_SKEW + 0.1, 0.5))
    return _sharpest(small, np.arange(best - 0.5, best + 0.51, 0.05))


def _sharpest(small: NDArray[np.uint8], angles: NDArray[np.float64]) -> float:
    """The angle at which rows are fullest and emptiest."""
    height, width = small.shape
    middle = (width / 2, height / 2)

    def sharpness(angle: float) -> float:
        turn = cv2.getRotationMatrix2D(middle, -angle, 1.0)
        rows = cv2.warpAffine(small, turn, (width, height)).sum(axis=1, dtype=np.float64)
        return float(np.square(np.diff(rows)).sum())

    return float(max(angles, key=lambda angle: (sharpness(float(angle)), -abs(angle))))


def straightened(grey: Grey, degrees: float) -> Grey:
    """The page turned so that its staves are level."""
    if abs(degrees) < 0.04:
        return grey
    height, width = grey.shape
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), -degrees, 1.0)
    turned = cv2.warpAffine(
        grey, turn, (width, height), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    return np.asarray(turned, dtype=np.uint8)


def ruling_of(ink: Ink) -> Ruling | None:
    """How the staves of a page are ruled; None where nothing is ruled.

    Lengths of vertical runs are counted where the page is blurred to the sides: grain goes, lines
    stay.
    """
    level = cv2.blur(ink.astype(np.uint8) * 255, (31, 1)) > 110
    black, pairs = _runs(level)
    if len(pairs) < 200:
        return None
    low, high = _SPACE_RANGE
    counts = np.bincount(pairs[(pairs >= low) & (pairs <= high)], minlength=high + 2)
    near = counts[:-1] + np.pad(counts[:-2], (1, 0))  # with the neighbour below: blur has halves
    space = int(np.argmax(near))
    if near[space] < 150:
        return None
    around = pairs[(pairs >= space - 1) & (pairs <= space + 1)]
    thin = black[black <= max(space // 2, 2)]
    line = float(np.median(thin)) if len(thin) else 1.0
    return Ruling(max(line, 1.0), float(around.mean()))


def _runs(ink: Ink) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Lengths of black vertical runs, and of each with the white run after it."""
    columns = ink[:, :: max(1, ink.shape[1] // 700)].T
    padded = np.pad(columns, ((0, 0), (1, 1))).astype(np.int8)
    edges = np.diff(padded, axis=1)
    col_up, row_up = np.nonzero(edges == 1)
    _, row_down = np.nonzero(edges == -1)
    black = row_down - row_up
    same = col_up[1:] == col_up[:-1]
    pairs = (row_up[1:] - row_up[:-1])[same]
    thin = black[:-1][same] * 2 < pairs
    return black, pairs[thin]
