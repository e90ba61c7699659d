"""A part at a glance: its main beat, the goal tempo it prints, and what looks wrong in it."""

from collections import Counter
from collections.abc import Sequence
from fractions import Fraction

from crumb.core.score.model import Measure, Part

UNSAID_GOAL = Fraction(100)
"""Goal tempo of a part whose file names none; the director sets it."""


def main_beat(part: Part) -> Fraction:
    """The beat of the part's commonest meter."""
    return part.main_time.beat


def findings(part: Part) -> list[str]:
    """Doubts about the music, in words with measure numbers; it is taken all the same."""
    if part.is_blank:
        return []  # its measures were counted by hand
    found = []
    last = part.measures[-1]
    inner = part.measures[1:-1]
    long = [m.number for m in inner if m.length > m.nominal]
    short = [m.number for m in inner if m.lead + m.length < m.nominal and not _is_half(part, m)]
    if long:
        found.append(f"Longer than the time signature says: {_listed(long)}.")
    if short:
        found.append(f"Shorter than the time signature says: {_listed(short)}.")
    if part.has_pickup and len(part.measures) > 1:
        total = part.measures[0].length + last.length
        if total != last.nominal:
            found.append("The pickup and the last measure do not add up to a full measure.")
    numbers = Counter(m.number for m in part.measures if not m.lead)
    twice = [number for number, times in numbers.items() if times > 1]
    if twice:
        found.append(f"Printed more than once, so say which: measure {_listed(twice)}.")
    return found


def ends_early(measures: int, longest: int) -> list[str]:
    """Whether a part of so many measures stops before the longest of its score, in words."""
    if measures >= longest:
        return []
    return [f"This part ends early: {measures} measures, the score has {longest}."]


def _listed(numbers: Sequence[str]) -> str:
    return ", ".join(numbers[:8]) + (" and more" if len(numbers) > 8 else "")


def _is_half(part: Part, measure: Measure) -> bool:
    """Whether a short measure is one of two that a repeat or line break cut in the middle."""
    return any(
        measure.length + other.length == measure.nominal
        for other in part.measures[max(measure.index - 1, 0) : measure.index + 2]
        if other.index != measure.index
    )


def goal_of(part: Part) -> Fraction:
    """The goal tempo printed in the part, counted in its main beat."""
    tempo = next((m.tempo for m in part.measures if m.tempo), None)
    if tempo is None:
        return UNSAID_GOAL
    goal = tempo.quarters / main_beat(part)
    return min(max(Fraction(round(goal)), Fraction(20)), Fraction(300))
