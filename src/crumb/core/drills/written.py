"""Steps that play the music as it is written."""

from crumb.core.drills.model import PROVE, Step
from crumb.core.score.model import Part
from crumb.core.score.position import Span
from crumb.core.score.slicing import played_quarters, slice_span, span_sounds


def written_step(part: Part, span: Span, *, name: str, repetitions: int, kind: str = PROVE) -> Step:
    """The span as written, clicked on the beat of its first measure."""
    return Step(
        name=name,
        kind=kind,
        repetitions=repetitions,
        part=slice_span(part, span),
        sounds=span_sounds(part, span),
        quarters=played_quarters(part, span),
        click=part.measures[span.start.index].time.beat,
        covers=span,
        as_written=True,
    )
