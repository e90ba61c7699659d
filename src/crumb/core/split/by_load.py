"""Split by load: hard places into blocks that can be repeated, easy music left in its phrases.

A block is four to six notes with its landing (common practice, no source); what is easy for this
part, or easy altogether, stays as long as it is.
"""

from bisect import bisect_left
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from statistics import median

from crumb.core.score.half_measures import is_barline
from crumb.core.score.meter import beat_starts
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Position, Span, absolute, beat_positions, is_held
from crumb.core.split.nested import Edge
from crumb.core.split.phrases import phrase_edges
from crumb.core.survey.model import Survey
from crumb.core.survey.objectives import TECHNIQUES

_FEWEST = 4
"""Notes of a block; what would leave fewer on a side is not cut."""
_EASY = 4.0
"""Load of a stretch that nobody needs in pieces, whatever else the part asks for."""
_SAID = 2


def by_load(part: Part, survey: Survey) -> list[Edge]:
    """Phrases cut until no piece is too heavy: stubborn places get small, easy ones stay whole.

    A piece weighs its load times how dense it is against the part's middle, so that what is hard
    per beat is cut smaller than what is only long. Four ordinary measures are just not too heavy.
    """
    scale = _Scale.of(part, survey)
    edges = {edge.at: edge for edge in phrase_edges(part)}
    ends = [*sorted(edges), Position(len(part.measures), ZERO)]
    start = Position(0, ZERO)
    for end in ends:
        for edge in scale.cuts(Span(start, end)):
            edges.setdefault(edge.at, edge)
        start = end
    return sorted(edges.values())


@dataclass(frozen=True, slots=True)
class _Scale:
    part: Part
    survey: Survey
    middle: float
    limit: float
    attacks: Sequence[Position]
    """Where something is struck, in order, held notes of other voices apart."""

    @classmethod
    def of(cls, part: Part, survey: Survey) -> "_Scale":
        loads = [m.load for m in survey.measures if m.load > 0]
        middle = median(loads) if loads else 1.0
        struck = {Position(m.index, n.at) for m, n in part.each_note() if n.is_attack}
        return cls(part, survey, middle, max(4.0 * middle, _EASY), sorted(struck))

    def load(self, span: Span) -> float:
        total = 0.0
        for index in range(span.start.index, min(span.end.index + 1, len(self.part.measures))):
            starts = beat_starts(self.part.measures[index])
            starts = starts if starts and starts[0] == 0 else (ZERO, *starts)
            for start, load in zip(starts, self.survey.measures[index].beats, strict=False):
                if span.start <= Position(index, start) < span.end:
                    total += load
        return total

    def weight(self, span: Span) -> float:
        load = self.load(span)
        length = absolute(self.part, span.end) - absolute(self.part, span.start)
        measures = length / self.part.measures[span.start.index].nominal
        density = load / float(measures) / self.middle if measures else 1.0
        return load * max(density, 0.25)

    def cuts(self, span: Span) -> list[Edge]:
        if self.weight(span) <= self.limit:
            return []
        at = self._middle_of(span)
        if at is None:
            return []
        first, second = Span(span.start, at), Span(at, span.end)
        return [*self.cuts(first), Edge(at, 0, (self._reason(span, at),)), *self.cuts(second)]

    def _middle_of(self, span: Span) -> Position | None:
        """The barline, else the beat, else the note that halves the load best."""
        inside = self._between(span.start, span.end)
        if len(inside) < 2 * _FEWEST:
            return None
        free = [p for p in beat_positions(self.part) if not is_held(self.part, p)]
        # A barline may leave less on a side than a cut inside the measure.
        bars = [p for p in free if inside[2] <= p <= inside[-2] and is_barline(self.part, p)]
        low, high = inside[_FEWEST], inside[-_FEWEST]
        beats = [p for p in free if low <= p <= high]
        notes = [p for p in inside if low <= p <= high and not is_held(self.part, p)]
        choices = bars or beats or notes
        half = self.load(span) / 2
        begin, end = absolute(self.part, span.start), absolute(self.part, span.end)

        def cost(place: Position) -> tuple[float, Fraction]:
            here = absolute(self.part, place)
            return (
                abs(self.load(Span(span.start, place)) - half),
                abs(here - (begin + end) / 2),
            )

        return min(choices, key=cost) if choices else None

    def _between(self, start: Position, end: Position) -> Sequence[Position]:
        return self.attacks[bisect_left(self.attacks, start) : bisect_left(self.attacks, end)]

    def _reason(self, span: Span, at: Position) -> str:
        kinds: Counter[str] = Counter()
        last = span.end.index + (span.end.at > 0)
        for measure in self.survey.measures[span.start.index : last]:
            for spot in measure.spots:
                if spot.kind in TECHNIQUES and span.start <= spot.at < span.end:
                    kinds[TECHNIQUES[spot.kind].casefold()] += 1
        names = [name for name, _ in kinds.most_common(_SAID)]
        what = " and ".join(names) or "many notes"
        if is_barline(self.part, at):
            return f"too much for one go: {what}"
        return f"a few notes at a time: {what}"
