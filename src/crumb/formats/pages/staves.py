"""Staves in the ink of a page: five level lines of one spacing, followed as the paper bends."""

from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from crumb.formats.pages.ink import Ink, Ruling

_STRIP = 2.0
"""Width of the columns that are looked at together, in spaces."""
_SEEN = 0.62
"""How much of a comb of five lines must be inked in a strip for it to be a staff there."""
_SHORTEST = 7.0
"""Spaces. What is shorter is an ossia or no staff."""
_MOST_GAP = 5  # strips that may be missing in a track
ROOM = 6.0
"""Spaces above and below the middle line that a straightened staff shows."""


@dataclass(frozen=True, slots=True)
class Track:
    """A staff as it was followed: the height of its middle line at each column, in pixels."""

    left: int
    middle: NDArray[np.float64]
    space: float

    @property
    def right(self) -> int:
        """The column after its last one."""
        return self.left + len(self.middle)

    def top(self) -> int:
        """Its highest line, at its highest."""
        return round(float(self.middle.min()) - 2 * self.space)

    def bottom(self) -> int:
        """Its lowest line, at its lowest."""
        return round(float(self.middle.max()) + 2 * self.space)


def find_staves(ink: Ink, ruling: Ruling) -> list[Track]:
    """The staves of a page whose lines are about level, from top to bottom."""
    level = _level_ink(ink, ruling)
    width = max(int(ruling.space * _STRIP), 8)
    strips = [level[:, x : x + width].mean(axis=1) for x in range(0, ink.shape[1] - width, width)]
    tracks = _linked([_combs(strip, ruling.space) for strip in strips], ruling.space)
    found = [_track(track, width, level, ruling) for track in tracks]
    long = [one for one in found if one is not None]
    return _apart(sorted(long, key=lambda one: float(one.middle.mean())))


def _level_ink(ink: Ink, ruling: Ruling) -> Ink:
    """The ink that lies in level strokes, small breaks mended."""
    picture = ink.astype(np.uint8)
    gap = max(3, int(ruling.space * 0.5)) | 1
    closed = cv2.morphologyEx(picture, cv2.MORPH_CLOSE, np.ones((1, gap), np.uint8))
    stroke = max(9, int(ruling.space * 1.6)) | 1
    return cv2.morphologyEx(closed, cv2.MORPH_OPEN, np.ones((1, stroke), np.uint8)).astype(bool)


def _combs(profile: NDArray[np.float64], space: float) -> list[float]:
    """Heights of middle lines in a strip: rows at which five lines of one spacing are inked."""
    reach = max(1, round(space * 0.12))
    soft = cv2.dilate(profile.reshape(-1, 1), np.ones((2 * reach + 1, 1))).ravel()
    offsets = [round(k * space) for k in (-2, -1, 0, 1, 2)]
    edge = max(offsets)
    if len(soft) <= 2 * edge:
        return []
    rows = np.arange(edge, len(soft) - edge)
    lines = np.stack([soft[rows + offset] for offset in offsets])
    # The mean, with the weakest line counted twice: a line may fade, and a beam is no staff.
    score = (lines.sum(axis=0) + lines.min(axis=0)) / 6
    found: list[float] = []
    while len(score):
        best = int(np.argmax(score))
        if score[best] < _SEEN:
            break
        plateau = np.flatnonzero(score[best : best + 2 * reach + 2] >= score[best] - 1e-6)
        found.append(float(rows[best] + plateau.mean()))
        low, high = int(max(0, best - 4.5 * space)), int(best + 4.5 * space)
        score[low:high] = 0
    return sorted(found)


def _linked(combs: Sequence[Sequence[float]], space: float) -> list[dict[int, float]]:
    """Combs of neighbouring strips at about the same height, as one track each."""
    open_tracks: list[dict[int, float]] = []
    done: list[dict[int, float]] = []
    for place, heights in enumerate(combs):
        still = [t for t in open_tracks if place - max(t) <= _MOST_GAP]
        done.extend(t for t in open_tracks if place - max(t) > _MOST_GAP)
        open_tracks = still
        for height in heights:
            near = [
                t for t in open_tracks if max(t) < place and abs(t[max(t)] - height) < space * 0.45
            ]
            if near:
                min(near, key=lambda t: abs(t[max(t)] - height))[place] = height
            else:
                open_tracks.append({place: height})
    return [*done, *open_tracks]


def _track(seen: dict[int, float], width: int, level: Ink, ruling: Ruling) -> Track | None:
    space = ruling.space
    if len(seen) * width < _SHORTEST * space:
        return None
    places = np.array(sorted(seen))
    heights = np.array([seen[p] for p in places])
    heights = _smooth(heights)
    first, last = int(places[0]) * width, (int(places[-1]) + 1) * width
    left = max(0, first - 2 * width)
    right = min(level.shape[1], last + 2 * width)
    columns = np.arange(left, right)
    middle = np.interp(columns, places * width + width / 2, heights)
    inked = _inked(level, columns, middle, space)
    start, stop = _ends(inked, first - left, last - left, max(3, int(space * 0.4)))
    if stop - start < _SHORTEST * space:
        return None
    return Track(left + start, middle[start:stop], space)


def _smooth(heights: NDArray[np.float64]) -> NDArray[np.float64]:
    if len(heights) < 5:
        return np.full_like(heights, np.median(heights))
    padded = np.pad(heights, 2, mode="edge")
    windows = np.lib.stride_tricks.sliding_window_view(padded, 5)
    calm = np.median(windows, axis=1)
    padded = np.pad(calm, 1, mode="edge")
    return np.asarray(np.convolve(padded, [0.25, 0.5, 0.25], mode="valid"))


def _inked(
    level: Ink, columns: NDArray[np.int64], middle: NDArray[np.float64], space: float
) -> NDArray[np.bool_]:
    """The columns where at least four of the five lines are."""
    reach = max(1, round(space * 0.18))
    count = np.zeros(len(columns), dtype=np.int64)
    for k in (-2, -1, 0, 1, 2):
        hit = np.zeros(len(columns), dtype=bool)
        for off in range(-reach, reach + 1):
            rows = np.clip(np.rint(middle + k * space).astype(np.int64) + off, 0, len(level) - 1)
            hit |= level[rows, columns]
        count += hit
    return count >= 4


def _ends(inked: NDArray[np.bool_], first: int, last: int, gap: int) -> tuple[int, int]:
    """From the first to after the last inked column: out from the strips, or in from them."""
    where = np.flatnonzero(inked)
    if not len(where):
        return first, first
    breaks = np.flatnonzero(np.diff(where) > 12 * gap)
    starts = [where[0], *where[breaks + 1]]
    ends = [*where[breaks], where[-1]]
    runs = list(zip(starts, ends, strict=True))
    start, end = max(runs, key=lambda run: min(run[1], last) - max(run[0], first))
    return int(start), int(end) + 1


def _apart(tracks: list[Track]) -> list[Track]:
    """Without tracks that lie on another: the longest one stays."""
    kept: list[Track] = []
    for track in sorted(tracks, key=lambda t: -len(t.middle)):
        clash = any(_overlap(track, other) for other in kept)
        if not clash:
            kept.append(track)
    return sorted(kept, key=lambda t: (float(t.middle.mean()), t.left))


def _overlap(a: Track, b: Track) -> bool:
    left, right = max(a.left, b.left), min(a.right, b.right)
    if right <= left:
        return False
    far = np.abs(
        a.middle[left - a.left : right - a.left] - b.middle[left - b.left : right - b.left]
    )
    return float(np.median(far)) < 4.2 * a.space


def strip_of(grey_or_ink: NDArray[np.uint8], track: Track) -> NDArray[np.uint8]:
    """A staff with some room around it, its lines level: as many columns as the track has."""
    room = round(ROOM * track.space)
    columns = np.arange(track.left, track.right, dtype=np.float32)
    across = np.tile(columns, (2 * room + 1, 1))
    down = (track.middle[np.newaxis, :] + np.arange(-room, room + 1)[:, np.newaxis]).astype(
        np.float32
    )
    return np.asarray(
        cv2.remap(grey_or_ink, across, down, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE),
        dtype=np.uint8,
    )
