"""Slide positions of the tenor trombone.

First position sounds B♭1 and its partials, each position half a step lower: any trombone method's
chart; the seventh partial, played from a sharp second position, is left out (from memory).
"""

from collections.abc import Sequence

_FIRST = (34, 46, 53, 58, 62, 65, 70, 74, 77)  # partials 1-6, 8-10 in first position
_ALTERNATE_COST = 1.2


def positions(pitch: int) -> tuple[int, ...]:
    """Every position that has a (sounding) pitch, the usual one first: the nearest in."""
    found = [top - pitch + 1 for top in _FIRST if 0 <= top - pitch <= 6]
    # A note of the pedal partial is the last choice where another series has it.
    found.sort()
    return tuple(found)


def path(pitches: Sequence[int]) -> list[int]:
    """Positions for a line that move the slide least, usual ones preferred; 0: not on the horn."""
    costs: dict[int, float] = {}
    backs: list[dict[int, int]] = []
    for pitch in pitches:
        choices = positions(pitch) or (0,)
        row: dict[int, float] = {}
        back: dict[int, int] = {}
        for rank, choice in enumerate(choices):
            own = _ALTERNATE_COST * rank
            if not costs:
                row[choice] = own
                continue
            before = min(costs, key=lambda p: costs[p] + (abs(p - choice) if p and choice else 0))
            moved = abs(before - choice) if before and choice else 0
            row[choice] = costs[before] + moved + own
            back[choice] = before
        costs = row
        backs.append(back)
    if not costs:
        return []
    place = min(costs, key=lambda p: costs[p])
    found = [place]
    for back in reversed(backs[1:]):
        place = back[place]
        found.append(place)
    return found[::-1]
