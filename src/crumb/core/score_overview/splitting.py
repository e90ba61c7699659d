"""Splitting once for everybody: a passage of the score gets its chunks in every part.

A part that rests there gets none. Parts that move in the same rhythm share their edges, those of
the one that finds it hardest; where a part begins with a pickup its chunk does, too.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Position, absolute
from crumb.core.score_overview.passages import ScorePassage
from crumb.core.split import proposals
from crumb.core.split.nested import Edge, NestedMap
from crumb.core.survey.model import Survey

_MOST_MEASURES = 64

Onsets = tuple[Fraction, ...]


@dataclass(frozen=True, slots=True)
class PartOfScore:
    """A part of a score, what it asks for, and how it is split now."""

    part: Part
    survey: Survey
    map: NestedMap


Propose = Callable[[PartOfScore, ScorePassage], list[Edge]]


def every(measures: int) -> Propose:
    """Chunks of so many measures, counted from the first full one of the passage.

    Raises:
        ChunkEditRefused: not between 1 and 64.
    """
    if not 1 <= measures <= _MOST_MEASURES:
        raise ChunkEditRefused("A chunk has between 1 and 64 measures.")
    reason = (f"every {measures} measures" if measures > 1 else "every measure",)

    def edges(one: PartOfScore, passage: ScorePassage) -> list[Edge]:
        first = passage.first + one.part.measures[passage.first].implicit
        places = range(first + measures, passage.last, measures)
        return [Edge(Position(index, ZERO), 0, reason) for index in places]

    return edges


def by_load(one: PartOfScore, passage: ScorePassage) -> list[Edge]:
    """Chunks as small as the music is hard."""
    del passage
    return proposals.by_load(one.part, one.survey)


def by_phrases(one: PartOfScore, passage: ScorePassage) -> list[Edge]:
    """A chunk for each phrase."""
    del passage
    return proposals.by_phrases(one.part)


def split_together(
    score: Sequence[PartOfScore], passages: Iterable[ScorePassage], propose: Propose
) -> list[NestedMap | None]:
    """The map of each part with some passages divided, and all else as it was.

    None: the part rests in all of them.
    """
    found: list[NestedMap | None] = [None] * len(score)
    phrases = [proposals.by_phrases(one.part) for one in score]
    for passage in passages:
        proposed: dict[Onsets, list[Edge]] = {}
        for place in sorted(range(len(score)), key=lambda i: -_load(score[i], passage)):
            one = score[place]
            onsets = onsets_in(one.part, passage)
            if not onsets:
                continue
            if onsets not in proposed:
                proposed[onsets] = propose(one, passage)
            before = found[place] or one.map
            found[place] = _with_edges(one, before, passage, proposed[onsets], phrases[place])
    return found


def plays_in(part: Part, passage: ScorePassage) -> bool:
    """Whether anything is struck in a passage."""
    measures = part.measures[passage.first : passage.last]
    return any(note.is_attack for measure in measures for note in measure.notes)


def onsets_in(part: Part, passage: ScorePassage) -> Onsets:
    """Where something is struck in a passage, from its first barline on, each place once."""
    begin = absolute(part, passage.span.start)
    measures = part.measures[passage.first : passage.last]
    struck = {
        absolute(part, Position(m.index, n.at)) - begin
        for m in measures
        for n in m.notes
        if n.is_attack
    }
    return tuple(sorted(struck))


def _load(one: PartOfScore, passage: ScorePassage) -> float:
    return sum(m.load for m in one.survey.measures[passage.first : passage.last])


def _with_edges(
    one: PartOfScore,
    before: NestedMap,
    passage: ScorePassage,
    edges: Iterable[Edge],
    phrases: Sequence[Edge],
) -> NestedMap:
    part = one.part
    start, end = (_border(part, index, phrases) for index in (passage.first, passage.last))
    inner = [Edge(e.at, 0, e.reasons) for e in edges if start < e.at < end and e.depth == 0]
    outside = [edge for edge in before.edges if not start <= edge.at <= end]
    here = (Position(0, ZERO), Position(len(part.measures), ZERO))
    borders = [Edge(at, 0, ("the passage",)) for at in (start, end) if here[0] < at < here[1]]
    made = sorted([*outside, *borders, *inner], key=lambda edge: edge.at)
    quiet = frozenset(entry for entry in before.quiet if not start <= entry[1] <= end)
    return NestedMap(tuple(made), quiet, is_split=True)


def _border(part: Part, index: int, phrases: Sequence[Edge]) -> Position:
    """The barline, or where the part's own phrase begins up to half a measure before it."""
    if not 0 < index < len(part.measures):
        return Position(index, ZERO)
    half = part.measures[index - 1].length / 2
    pickups = [e.at for e in phrases if e.at.index == index - 1 and e.at.at >= half]
    return pickups[-1] if pickups else Position(index, ZERO)
