"""Plausibility of a repetition: an implausible one is kept and told, and proves nothing.

The bounds are ours; they let through whatever a player could do and stop what nobody can. Only a
clean pass can be too short or too fast: a pass that breaks is short, and a slip that is left out
flatters. Of a slip only the same tap twice is doubted.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction

from crumb.core.evidence.model import Doubt
from crumb.core.tempo.ladder import seconds_of

CLOCK_SLACK = timedelta(minutes=2)
"""Clocks of devices differ by as much and mean no harm."""

MOST_ATTACKS = Fraction(16)
"""Notes a second, through a whole passage, that no school player reaches on any instrument."""

ABOVE_GOAL = Fraction(2)
"""Nobody practises a passage at more than this multiple of its goal."""

SAME_TAP = timedelta(milliseconds=350)
"""Two slips as near as that are one finger on one button."""

TAPPED_EARLY = Fraction(9, 10)
"""A tap may come before the last note has ended; the share of a pass that must have gone by."""

SAID = {
    Doubt.EARLY: "This was played before it was sent: is the date of this device right?",
    Doubt.LATE: "The clock of this device is ahead: set its date and time.",
    Doubt.FAST: "That is faster than anybody can play it.",
    Doubt.HURRIED: "Two repetitions came in less time than one takes.",
    Doubt.TWICE: "The button was hit twice: that is one slip.",
    Doubt.JUMP: "Rungs were left out on the way to this tempo.",
}
"""What the player is told; what was counted is kept, but lifts no level."""


@dataclass(frozen=True, slots=True)
class ExpectedPass:
    """A pass as the assignment asks for it.

    ``quarters`` is the length of one pass at the ladder's tempo, ``attacks`` how many notes are
    struck in it, ``beat`` what the tempo counts.
    """

    quarters: Fraction
    attacks: int
    beat: Fraction
    goal: Fraction
    sent_at: datetime | None


@dataclass(frozen=True, slots=True)
class Neighbour:
    """A repetition of the same player: when it ended, and how."""

    at: datetime
    is_clean: bool = True


@dataclass(frozen=True, slots=True)
class Neighbours:
    """The player's own repetitions nearest in time, before and after."""

    before: Neighbour | None = None
    after: Neighbour | None = None


def doubt_of(
    asked: ExpectedPass,
    *,
    tempo: Fraction | None,
    is_clean: bool,
    at: datetime,
    around: Neighbours,
    now: datetime,
    is_jump: bool = False,
) -> Doubt:
    """The first thing that speaks against a repetition that ended at a moment.

    Without a click a pass is taken to last as long as at the goal.
    """
    if at > now + CLOCK_SLACK:
        return Doubt.LATE
    if asked.sent_at is not None and at < asked.sent_at - CLOCK_SLACK:
        return Doubt.EARLY
    near = [one for one in (around.before, around.after) if one is not None]
    if not is_clean:
        is_same = any(not one.is_clean and abs(at - one.at) < SAME_TAP for one in near)
        return Doubt.TWICE if is_same else Doubt.NONE
    length = seconds_of(asked.quarters, tempo=tempo or asked.goal, beat=asked.beat)
    if tempo is not None and (
        tempo > asked.goal * ABOVE_GOAL or asked.attacks > MOST_ATTACKS * length
    ):
        return Doubt.FAST
    least = timedelta(seconds=float(length * TAPPED_EARLY))
    if around.before is not None and at - around.before.at < least:
        return Doubt.HURRIED
    # What follows sooner than a pass lasts was too short itself, if it was clean.
    if around.after is not None and around.after.is_clean and around.after.at - at < least:
        return Doubt.HURRIED
    return Doubt.JUMP if is_jump else Doubt.NONE
