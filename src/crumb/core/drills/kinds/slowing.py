"""A written slowing: counted in one, in four, in eight to the beat, and kept so."""

import re
from fractions import Fraction

from crumb.core.drills.build import marked_step, plural, written_step
from crumb.core.drills.model import LEARN, NOTES_KNOWN, ON, DrillKind, Settings, Step
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import LEARNING, PROVING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.model import Direction, Measure
from crumb.core.score.position import Position, Span

_SLOWING = re.compile(
    r"\b(rit(\.|ard|enuto)?|rall(\.|entando)?|allarg|slentando|calando|molto meno|slow(er|ing))",
    re.IGNORECASE,
)
_STAGES = ((1, Fraction(1)), (4, Fraction(3, 4)), (8, Fraction(1, 2)))
"""Clicks to a beat and the share of the tempo it has come down to (common practice, no source)."""


def slowing_at(passage: Passage) -> Position | None:
    """Where a slowing is written in the passage."""
    for measure in passage.cut.measures:
        for mark in measure.directions:
            where = Position(measure.index, mark.at)
            is_inside = passage.span.start <= where < passage.span.end
            if mark.kind == "words" and _SLOWING.search(mark.text) and is_inside:
                return where
    return None


def _slowing(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    at = slowing_at(passage)
    if at is None:
        raise DrillDoesNotFit("No slowing is written here: no rit., rall. or the like.")
    start = min((p for p in passage.attacks if p >= at), default=None)
    if start is None:
        raise DrillDoesNotFit("The slowing stands over the end of a held note: take more music.")
    span = Span(start, passage.span.end, passage.span.landing)
    steps = [
        _counted(passage, span, clicks, pace, int(settings["learning_repetitions"]))
        for clicks, pace in _STAGES
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _counted(passage: Passage, span: Span, clicks: int, pace: Fraction, times: int) -> Step:
    base = written_step(
        passage,
        span,
        repetitions=times,
        kind=LEARN,
        slip=ON,
        pace=pace,
        click=passage.part.measures[span.start.index].time.beat / clicks,
        say="Count what clicks aloud; the beat grows longer and every part of it as much.",
    )
    name = f"{plural(clicks, 'click')} to the beat"

    def words(measure: Measure) -> list[Direction]:
        is_first = measure.index == span.start.index
        return [Direction(span.start.at, "words", f"count {clicks}")] if is_first else []

    return marked_step(base, name=name, kind=LEARN, words=words)


COUNT_SLOWING = DrillKind(
    name="count-slowing",
    title="Count the slowing",
    family="Reading and layers",
    use_when="A written slowing comes too soon, in a jerk, or each time another way.",
    how="From the mark on: the beat counted in one, then in four as it slows, then in eight; then"
    " as written, the same every time.",
    clean_means="The slowing is the same twice running, and no beat is longer than the next one.",
    on_slip="Go on counting; start again at the mark.",
    needs="A slowing written in the chunk: rit., rall. or the like.",
    make=_slowing,
    parameters=(LEARNING, PROVING),
    least_level=NOTES_KNOWN,
    instead=("subdivision-click", "alone"),
)

KINDS = (COUNT_SLOWING,)
