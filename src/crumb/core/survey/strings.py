"""Strings, positions, shifts and crossings of bowed instruments.

Open strings are any method's; a hand spans a perfect fourth on violin and viola, a minor third on
the cello (a half step more extended) and a whole step on the bass, whose middle fingers work as one
(common practice, from memory). The way that shifts and crosses least is taken.
"""

from collections.abc import Sequence
from dataclasses import dataclass

OPEN = {
    "violin": (55, 62, 69, 76),
    "viola": (48, 55, 62, 69),
    "cello": (36, 43, 50, 57),
    "bass": (40, 45, 50, 55),  # written: an octave above what sounds
}
HAND = {"violin": 5, "viola": 5, "cello": 3, "bass": 2}
"""Half steps between the first and the last finger of a hand that stays where it is."""
_FIRST_FINGER = {"violin": 2, "viola": 2, "cello": 2, "bass": 2}
_THUMB = 12  # half steps above the open string where cello and bass go into thumb position
HIGHEST = 26
"""Half steps above an open string that are still fingered."""
_SHIFT, _CROSS, _FAR, _HIGH = 1.5, 0.35, 0.9, 0.06
_STOPPED = 0.02  # an open string before a stopped note of the same pitch


@dataclass(frozen=True, slots=True)
class Place:
    """The place of a note: string (0 the lowest), half steps above it, and the first finger's base.

    An open string keeps the hand where it was.
    """

    string: int
    height: int
    base: int


def _choices(family: str, pitch: int) -> list[Place]:
    found = []
    for string, low in enumerate(OPEN[family]):
        height = pitch - low
        if height == 0:
            found.append(Place(string, 0, 0))
        elif 0 < height <= HIGHEST:
            span = HAND[family]
            lowest = max(1, height - span)
            found.extend(Place(string, height, base) for base in range(lowest, height + 1))
    return found


def path(family: str, pitches: Sequence[int]) -> list[Place | None]:
    """A place for each note; None for one below or above the instrument."""
    result: list[Place | None] = []
    run: list[int] = []
    for pitch in pitches:
        if _choices(family, pitch):
            run.append(pitch)
            continue
        result.extend(_best(family, run))
        run = []
        result.append(None)
    result.extend(_best(family, run))
    return result


def _best(family: str, pitches: Sequence[int]) -> list[Place]:
    if not pitches:
        return []
    costs: dict[Place, float] = {}
    backs: list[dict[Place, Place]] = []
    home = _FIRST_FINGER[family]
    for pitch in pitches:
        row: dict[Place, float] = {}
        back: dict[Place, Place] = {}
        for choice in _choices(family, pitch):
            high = _HIGH * max(choice.base - home, 0) + _STOPPED * (choice.height > 0)
            if not costs:
                row[choice] = high
                continue
            best = None
            for before, cost in costs.items():
                # An open string rings while the hand stays where it was.
                base = choice.base or before.base
                total = cost + _cost(before, base, choice.string)
                if best is None or total < best[0]:
                    best = (total, before, base)
            assert best is not None
            placed = Place(choice.string, choice.height, best[2])
            if placed not in row or best[0] + high < row[placed]:
                row[placed] = best[0] + high
                back[placed] = best[1]
        costs = row
        backs.append(back)
    place = min(costs, key=lambda p: costs[p])
    found = [place]
    for back in reversed(backs[1:]):
        place = back[place]
        found.append(place)
    return found[::-1]


def _cost(before: Place, base: int, string: int) -> float:
    crossed = abs(before.string - string)
    cost = 0.0 if not crossed else _CROSS if crossed == 1 else _FAR * crossed
    moved = abs(before.base - base) if before.base and base else 0
    if moved <= 1:
        return cost + 0.3 * moved
    return cost + _SHIFT + 0.1 * moved


def step(family: str, before: Place, after: Place) -> tuple[float, str, str]:
    """The change from one note to the next: cost, kind and reason (empty if there is none)."""
    crossed = abs(before.string - after.string)
    moved = abs(before.base - after.base) if before.base and after.base else 0
    if moved > 1:
        way = "up" if after.base > before.base else "down"
        if family in ("cello", "bass") and after.height >= _THUMB > before.height:
            return 1.2, "thumb", "Into thumb position"
        return 0.8 + 0.05 * moved, "shift", f"Shift {way}"
    if crossed > 1:
        return 0.7, "crossing", f"Over {crossed - 1} string{'s' if crossed > 2 else ''}"
    if crossed == 1:
        return 0.2, "", ""
    return 0.0, "", ""
