"""Takes: how long one has to be, and which place of the music an anchor may name."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from crumb.core.errors import TakeRefused
from crumb.core.instruments.table import Instrument
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span, absolute
from crumb.core.tempo.ladder import seconds_of

LONGEST_SECONDS = 600
MOST_ANCHORS = 40
_ONCE = Fraction(4, 5)
"""A take is the chunk once, and people rush. Common practice, no source."""


@dataclass(frozen=True, slots=True)
class Anchor:
    """A place of the music and when it sounds in a take, in seconds from its beginning."""

    at: Position
    seconds: Fraction


_BRASS = frozenset({"trumpet", "horn", "trombone", "euphonium", "tuba"})
_STRINGS = frozenset({"violin", "viola", "cello", "bass"})
_STRUCK = frozenset({"drums", "mallets"})


def set_up(instrument: Instrument) -> str:
    """The place of the device while a student plays. Common practice, no source."""
    if instrument.family in _BRASS:
        return "Two steps away, beside the bell and not in front of it; sit or stand as you play."
    if instrument.family in _STRINGS:
        return "At the height of the bridge, two steps away, where nothing of the bow is covered."
    if instrument.family in _STRUCK:
        return "Two steps in front, as high as your hands, away from what rings on."
    if instrument.family == "keyboard":
        return "On the side of the high keys, as high as your shoulder, never on the instrument."
    return "Two steps away, as high as your chest and not on the stand; sit or stand as you play."


def least_seconds(part: Part, span: Span, *, goal: Fraction, beat: Fraction) -> int:
    """How long a take of a span has to be: once through at goal, or a little less."""
    whole = seconds_of(absolute(part, span.end) - absolute(part, span.start), tempo=goal, beat=beat)
    return max(1, int(whole * _ONCE))


def check_anchors(span: Span, anchors: Sequence[Anchor], *, seconds: Fraction) -> None:
    """Whether anchors can stand: inside the chunk and the take, and later places sound later.

    Raises:
        TakeRefused: says which of them cannot.
    """
    if len(anchors) > MOST_ANCHORS:
        raise TakeRefused(f"More than {MOST_ANCHORS} places are too many.")
    for one in anchors:
        if not span.start <= one.at <= span.end:
            raise TakeRefused("That place is outside of the chunk.")
        if not 0 <= one.seconds <= seconds:
            raise TakeRefused("The take is not that long.")
    for before, after in pairwise(anchors):
        if not (before.at < after.at and before.seconds < after.seconds):
            raise TakeRefused("What comes later in the music sounds later in the take.")
