"""How much of a chunk goes at its goal: the other axis beside how fast all of it goes."""

from collections.abc import Iterable
from fractions import Fraction

from crumb.core.evidence.model import Evidence, Kind, What
from crumb.core.mastery.replay import Target
from crumb.core.score.model import Part
from crumb.core.score.position import Span, absolute


def longest_at_goal(part: Part, target: Target, evidence: Iterable[Evidence]) -> Span | None:
    """The longest stretch inside a chunk that was clean in a row at goal, as written and unaided.

    What is longer than the chunk shows all of it. None where nothing was.
    """
    running: dict[Span, int] = {}
    shown: set[Span] = set()
    for one in sorted(evidence, key=lambda each: each.order):
        here = _inside(one.span, target.span)
        if here is None or not _proves(one, target.goal):
            continue
        running[here] = running.get(here, 0) + 1 if one.is_clean else 0
        if running[here] >= target.rules.in_a_row:
            shown.add(here)

    def length(span: Span) -> Fraction:
        return absolute(part, span.end) - absolute(part, span.start)

    return max(shown, key=lambda span: (length(span), -absolute(part, span.start)), default=None)


def _inside(played: Span, chunk: Span) -> Span | None:
    if played.covers(chunk):
        return Span(chunk.start, chunk.end)
    return Span(played.start, played.end) if chunk.covers(played) else None


def _proves(one: Evidence, goal: Fraction) -> bool:
    plain = one.what is What.REPETITION and one.counts and one.kind is Kind.PROVE
    as_is = one.as_written and not one.is_aided
    return plain and as_is and one.tempo is not None and one.tempo >= goal
