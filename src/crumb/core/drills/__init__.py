"""The drill catalogue.

To add a drill: write its maker and ``DrillKind`` in the module of its family in ``kinds``, list it
in that module's ``KINDS``. Nothing else knows drills by name, apart from what they offer instead of
themselves and what the ranking says for them.
"""

from collections.abc import Mapping
from fractions import Fraction

from crumb.core.drills.kinds import CATALOGUE
from crumb.core.drills.minutes import climb_seconds, cycle_seconds
from crumb.core.drills.model import INTERMEDIATE, Drill, DrillKind, Parameter, Setting, Step
from crumb.core.drills.passage import MOST_SECONDS, Passage, too_long
from crumb.core.drills.touch import touched
from crumb.core.errors import DrillDoesNotFit, EmptySpan, NotNotatable, UnknownDrill
from crumb.core.score.model import Part
from crumb.core.score.position import Span, canonical

__all__ = [
    "CATALOGUE",
    "Drill",
    "DrillKind",
    "Parameter",
    "Passage",
    "Step",
    "burst_of",
    "climb_seconds",
    "coverage",
    "cycle_seconds",
    "drill_kind",
    "fits",
    "make_drill",
    "passage_of",
]

_BY_NAME = {kind.name: kind for kind in CATALOGUE}


def drill_kind(name: str) -> DrillKind:
    """The catalogue entry of that name.

    Raises:
        UnknownDrill: there is none.
    """
    if name not in _BY_NAME:
        raise UnknownDrill(f"There is no drill called {name[:40]}: choose {', '.join(_BY_NAME)}.")
    return _BY_NAME[name]


def passage_of(part: Part, span: Span, tempo: Fraction | None = None) -> Passage:
    """A span made ready for drills, its edges written in one way.

    Args:
        part: the music.
        span: what of it.
        tempo: beats a minute it will be practised at, for what depends on minutes.
    """
    edges = Span(canonical(part, span.start), canonical(part, span.end), span.landing)
    return Passage(part, edges, tempo)


def make_drill(
    part: Part,
    span: Span,
    name: str,
    settings: Mapping[str, object],
    *,
    level: str = INTERMEDIATE,
    passage: Passage | None = None,
    offer: bool = True,
) -> Drill:
    """Apply a drill to a span.

    Args:
        part: the music.
        span: what of it.
        name: of the drill.
        settings: what the director set; the rest is usual for the player and instrument.
        level: beginner, intermediate or advanced.
        passage: the span made ready before, where several drills are made from it.
        offer: whether a refusal looks for what fits instead.

    Raises:
        UnknownDrill, BadSetting: a wrong call.
        DrillDoesNotFit: the music has not what the drill needs; says what fits instead, with the
            names as the fact ``instead``.
        EmptySpan: there is no note.
    """
    kind = drill_kind(name)
    passage = passage or passage_of(part, span)
    if not passage.attacks and not passage.is_blank:
        raise EmptySpan(_ONLY_HELD if passage.cut else None)
    chosen = _settings(kind, passage, settings, level)
    try:
        steps = _made(kind, passage, chosen)
    except DrillDoesNotFit as error:
        if not offer:
            raise
        offered = [_BY_NAME[other] for other in kind.instead if fits(passage, other)]
        raise DrillDoesNotFit(
            f"{error.message}{_offer(offered)}", instead=[other.name for other in offered]
        ) from error
    return Drill(name, passage.span, chosen, steps, kind.at_goal, kind.stays)


_ONLY_HELD = "Only the end of a held note stands here: take its beginning too."


def fits(passage: Passage, name: str) -> bool:
    """Whether a drill finds in the passage what it works on, with its usual settings."""
    kind = _BY_NAME[name]
    try:
        return bool(_made(kind, passage, _settings(kind, passage, {}, INTERMEDIATE)))
    except DrillDoesNotFit:
        return False


def _settings(
    kind: DrillKind, passage: Passage, given: Mapping[str, object], level: str
) -> dict[str, Setting]:
    """Settings with the usual values filled in; without notes, pieces are whole measures."""
    takes_units = any(p.name == "unit" for p in kind.parameters)
    if passage.is_blank and takes_units:
        given = {"unit": "measure", **given}
    return kind.settings(given, level, passage.instrument.family)


def _made(kind: DrillKind, passage: Passage, chosen: dict[str, Setting]) -> tuple[Step, ...]:
    if passage.is_blank and not kind.by_measures:
        raise DrillDoesNotFit("Only the measures of this part are known here, not its notes.")
    try:
        steps = touched(passage, kind.make(passage, chosen), chosen)
    except NotNotatable as error:
        raise DrillDoesNotFit(
            f"This rhythm cannot be written out in the music here. {error.message}"
        ) from error
    seconds = cycle_seconds(steps, tempo=passage.working_tempo, beat=passage.beat)
    if seconds > MOST_SECONDS and not kind.for_pieces:
        raise DrillDoesNotFit(too_long(passage, seconds))
    return steps


def _offer(kinds: list[DrillKind]) -> str:
    if not kinds:
        return ""
    titles = [f"“{kind.title}”" for kind in kinds[:3]]
    listed = titles[0] if len(titles) == 1 else f"{', '.join(titles[:-1])} or {titles[-1]}"
    return f" {listed} would fit here."


def burst_of(step: Step, goal: Fraction) -> Fraction | None:
    """The tempo at which the step's quick notes are as fast as the run at goal."""
    return None if step.burst is None else goal * step.burst


def coverage(passage: Passage, drill: Drill) -> tuple[int, int]:
    """How many of the chunk's notes a drill gives their turn, and how many there are.

    A turn is what the drill is about: to be long, to be leaned on, to be the first of a link; in
    a drill about all of its notes alike, to be played.
    """
    everything = {note.id for notes in passage.struck for note in notes}
    turned: set[str] = set()
    for step in drill.steps:
        if step.turned is not None:
            turned |= step.turned
        elif not step.as_written:
            return len(everything), len(everything)
    if all(step.turned is None for step in drill.steps):
        turned = everything
    return len(turned & everything), len(everything)
