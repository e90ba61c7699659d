"""A part at a glance: its main beat, the goal tempo it prints, and what looks wrong in it."""

from collections import Counter
from fractions import Fraction

from crumb.core.score.model import Part

UNSAID_GOAL = Fraction(100)
"""Goal tempo of a part whose file names none; the director sets it."""


def main_beat(part: Part) -> Fraction:
    """The beat of the part's commonest meter."""
    meters = Counter(measure.time for measure in part.measures)
    return meters.most_common(1)[0][0].beat


def findings(part: Part) -> list[str]:
    """What looks wrong, in words with measure numbers; the music is taken all the same."""
    found = []
    last = part.measures[-1]
    inner = part.measures[1:-1]
    odd = [m.number for m in inner if m.length != m.nominal and not m.implicit]
    if odd:
        shown = ", ".join(odd[:8]) + (" and more" if len(odd) > 8 else "")
        found.append(f"These measures do not add up to their time signature: {shown}.")
    if part.has_pickup and len(part.measures) > 1:
        total = part.measures[0].length + last.length
        if last.nominal != total and last.length != last.nominal:
            found.append("The pickup and the last measure do not add up to a full measure.")
    return found


def goal_of(part: Part) -> Fraction:
    """The goal tempo printed in the part, counted in its main beat."""
    tempo = next((m.tempo for m in part.measures if m.tempo), None)
    if tempo is None:
        return UNSAID_GOAL
    goal = tempo.quarters / main_beat(part)
    return min(max(Fraction(round(goal)), Fraction(20)), Fraction(300))
