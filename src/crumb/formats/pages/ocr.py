"""Printed words of pictures, by Tesseract where it is installed.

Only the head of a page and the room over each staff are read: a staff is no line of text.
"""

import shutil
import subprocess
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from crumb.core.pages.model import Area, PageMeasure, Word
from crumb.formats.pages.ink import Grey

_SECONDS = 20.0
_SURE = 35.0  # percent
_BORDER = 24


@dataclass(frozen=True, slots=True)
class _Cutting:
    """A piece of the page in the picture that is read: where it is there, and on the page."""

    top: int
    bottom: int
    x: int
    y: int
    scale: float


def is_there() -> bool:
    """Whether Tesseract is installed."""
    return shutil.which("tesseract") is not None


def words_on(grey: Grey, measures: Sequence[PageMeasure], space: float) -> tuple[Word, ...]:
    """The words at the head of a page and the numbers over its staves.

    Args:
        grey: the page, level.
        measures: its measures.
        space: from one staff line to the next, in pixels.
    """
    if not is_there():
        return ()
    top = min((m.first_line for m in measures), default=len(grey) // 3)
    head = grey[: max(0, round(top - 0.8 * space))]
    found = _read([(head, 0, 0)], "6", 1.0) if head.shape[0] > 30 else []
    if measures:
        scale = min(max(30 / space, 1.0), 2.5)
        found.extend(_read(_over_staves(grey, measures, space), "6", scale, numbers=True))
    return tuple(found)


def _over_staves(
    grey: Grey, measures: Sequence[PageMeasure], space: float
) -> list[tuple[Grey, int, int]]:
    """The room over the head of each system, where a number stands."""
    cuttings = []
    seen: set[int] = set()
    for measure in measures:
        if measure.system in seen:
            continue
        seen.add(measure.system)
        left = max(0, round(measure.area.left - 3.0 * space))
        right = round(measure.area.left + 4.5 * space)
        top = max(0, round(measure.first_line - 4.2 * space))
        bottom = max(top + 1, round(measure.first_line - 0.9 * space))
        cuttings.append((_without_clef(grey[top:bottom, left:right], space), left, top))
    return cuttings


def _without_clef(cut: Grey, space: float) -> Grey:
    """The room over a staff without what reaches up into it from below: the head of a clef."""
    ink = (cut < 140).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    clean = cut.copy()
    for label in range(1, count):
        _, y, width, height, _ = stats[label]
        if y + height >= len(cut) - 1 or height > 2.6 * space or width > 5 * space:
            clean[labels == label] = 255
    return clean


def _read(
    cuttings: Sequence[tuple[Grey, int, int]], mode: str, scale: float, *, numbers: bool = False
) -> list[Word]:
    rows: list[NDArray[np.uint8]] = []
    placed: list[_Cutting] = []
    width = max((round(c.shape[1] * scale) for c, _, _ in cuttings), default=0) + 2 * _BORDER
    y = 0
    for cut, left, top in cuttings:
        if not cut.size:
            continue
        large = cv2.resize(cut, None, fx=scale, fy=scale, interpolation=cv2.INTER_CUBIC)
        row = np.full((large.shape[0] + 2 * _BORDER, width), 255, dtype=np.uint8)
        row[_BORDER : _BORDER + large.shape[0], _BORDER : _BORDER + large.shape[1]] = large
        placed.append(_Cutting(y, y + len(row), left, top, scale))
        rows.append(row)
        y += len(row)
    if not rows:
        return []
    words = []
    for text, area in _tesseract(np.vstack(rows), mode, numbers=numbers):
        middle = (area.top + area.bottom) / 2
        place = next((p for p in placed if p.top <= middle < p.bottom), None)
        if place is None:
            continue
        words.append(
            Word(
                text,
                Area(
                    place.x + round((area.left - _BORDER) / scale),
                    place.y + round((area.top - place.top - _BORDER) / scale),
                    place.x + round((area.right - _BORDER) / scale),
                    place.y + round((area.bottom - place.top - _BORDER) / scale),
                ),
            )
        )
    return words


def _tesseract(picture: NDArray[np.uint8], mode: str, *, numbers: bool) -> list[tuple[str, Area]]:
    _, data = cv2.imencode(".png", picture)
    command = ["tesseract", "stdin", "stdout", "--psm", mode, "-c", "tessedit_do_invert=0"]
    if numbers:
        command += ["-c", "tessedit_char_whitelist=0123456789"]
    try:
        done = subprocess.run(  # noqa: S603 - our own words, and a picture that we made
            [*command, "tsv"],
            input=data.tobytes(),
            capture_output=True,
            timeout=_SECONDS,
            check=False,
            env={"OMP_THREAD_LIMIT": "1", "PATH": "/usr/local/bin:/usr/bin:/bin"},
        )
    except (subprocess.TimeoutExpired, OSError):
        return []
    found = []
    for line in done.stdout.decode(errors="replace").splitlines()[1:]:
        fields = line.split("\t")
        if len(fields) != 12 or not fields[11].strip():
            continue
        left, top, width, height = (int(n) for n in fields[6:10])
        if float(fields[10]) >= _SURE:
            found.append((fields[11].strip()[:120], Area(left, top, left + width, top + height)))
    return found
