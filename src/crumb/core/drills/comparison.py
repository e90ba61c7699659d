"""Two ways of playing the same notes compared: how fast each goes, how it sounds, which one wins.

Rules are common practice, no source: a way is sure at a tempo where at least two tries, and two of
three, are clean; a way wins from the tempo on from which it is never less clean than the other, and
somewhere cleaner.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.tempo.ladder import written

_SURE = Fraction(2, 3)
_TRIES = 2


@dataclass(frozen=True, slots=True)
class Try:
    """One pass of one way (0 or 1) at a tempo."""

    way: int
    tempo: Fraction
    is_clean: bool


@dataclass(frozen=True, slots=True)
class Rating:
    """A rating of one way: intonation and tone, from 1 to 5."""

    way: int
    intonation: int
    tone: int


@dataclass(frozen=True, slots=True)
class Way:
    """The results of one way; None where there is none."""

    name: str
    clean: int
    tries: int
    sure_at: Fraction | None
    intonation: Fraction | None
    tone: Fraction | None


@dataclass(frozen=True, slots=True)
class Comparison:
    """Both ways, and in a sentence what that says."""

    ways: tuple[Way, Way]
    verdict: str


def compare(names: tuple[str, str], tries: Iterable[Try], ratings: Iterable[Rating]) -> Comparison:
    """Compare two ways of playing a chunk by tries and ratings.

    Args:
        names: of the first way and the second.
        tries: passes of both, in any order.
        ratings: what was heard of both, in any order.
    """
    played, heard = list(tries), list(ratings)
    ways = tuple(_way(names[i], i, played, heard) for i in (0, 1))
    return Comparison((ways[0], ways[1]), _verdict((ways[0], ways[1]), played))


def _way(name: str, way: int, tries: Sequence[Try], ratings: Sequence[Rating]) -> Way:
    mine = [one for one in tries if one.way == way]
    heard = [one for one in ratings if one.way == way]
    shares = _shares(mine)
    counts = {tempo: sum(one.tempo == tempo for one in mine) for tempo in shares}
    sure = [t for t, share in shares.items() if share >= _SURE and counts[t] >= _TRIES]
    return Way(
        name,
        sum(one.is_clean for one in mine),
        len(mine),
        max(sure, default=None),
        _mean([one.intonation for one in heard]),
        _mean([one.tone for one in heard]),
    )


def _mean(values: Sequence[int]) -> Fraction | None:
    return Fraction(sum(values), len(values)) if values else None


def _shares(tries: Sequence[Try]) -> dict[Fraction, Fraction]:
    """The share of clean tries at each tempo."""
    counts: dict[Fraction, list[bool]] = {}
    for one in tries:
        counts.setdefault(one.tempo, []).append(one.is_clean)
    return {tempo: Fraction(sum(row), len(row)) for tempo, row in counts.items()}


def _verdict(ways: tuple[Way, Way], tries: Sequence[Try]) -> str:
    first, second = (_shares([one for one in tries if one.way == i]) for i in (0, 1))
    tempos = sorted(first.keys() & second.keys())
    if not tempos:
        return "Try both ways at one tempo, then at a quicker one."
    if len(tempos) == 1 and first[tempos[0]] == second[tempos[0]]:
        return f"No difference yet at {written(tempos[0])}: try both quicker.{_by_ear(ways)}"
    for winner, mine, other in ((1, second, first), (0, first, second)):
        from_here = _wins_from(tempos, mine, other)
        if from_here is None:
            continue
        name, loser = ways[winner].name, ways[1 - winner].name
        if from_here == tempos[0]:
            return f"“{name}” is cleaner at every tempo tried.{_by_ear(ways)}"
        below = tempos[tempos.index(from_here) - 1]
        return f"Above {written(below)} “{name}” wins; up to there “{loser}”.{_by_ear(ways)}"
    return f"Neither way is cleaner than the other.{_by_ear(ways)}"


def _wins_from(
    tempos: Sequence[Fraction],
    mine: Mapping[Fraction, Fraction],
    other: Mapping[Fraction, Fraction],
) -> Fraction | None:
    """The tempo from which on one way is never less clean, and cleaner right there."""
    found: Fraction | None = None
    for tempo in reversed(tempos):
        if mine[tempo] < other[tempo]:
            break
        if mine[tempo] > other[tempo]:
            found = tempo
    return found


def _by_ear(ways: tuple[Way, Way]) -> str:
    """Which way sounds better, where both were rated."""
    said = []
    for what, one, two in (
        ("intonation", ways[0].intonation, ways[1].intonation),
        ("tone", ways[0].tone, ways[1].tone),
    ):
        if one is not None and two is not None and one != two:
            said.append(f"{what} is better with “{ways[0 if one > two else 1].name}”")
    if not said:
        return ""
    text = " and ".join(said)
    return f" {text[0].upper()}{text[1:]}."
