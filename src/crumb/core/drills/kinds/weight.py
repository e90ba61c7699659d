"""Beat weight: which beats, and which notes inside a beat, are heavier than others.

In four 1 > 3 > 4 > 2, and the same inside four sixteenths; in three 1 > 3 > 2, in two 1 > 2 (common
practice, no source).
"""

from collections.abc import Callable, Mapping
from dataclasses import replace
from fractions import Fraction
from itertools import groupby, pairwise

from crumb.core.drills.build import is_landing, marked_step, written_step
from crumb.core.drills.model import LEARN, NOTES_KNOWN, DrillKind, Settings, Step
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import LEARNING, PROVING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.meter import beats_of, lead_of
from crumb.core.score.model import Measure, Note

_RANKS: Mapping[int, tuple[int, ...]] = {2: (3, 0), 3: (3, 0, 1), 4: (3, 0, 2, 1)}
"""How heavy each beat, or each note of a beat, is by how many there are: 3 the heaviest."""
_MARKS: Mapping[int, tuple[str, ...]] = {
    3: ("accent", "tenuto"),
    2: ("accent",),
    1: ("tenuto",),
    0: (),
}
_OUR_MARKS = frozenset({"accent", "tenuto", "strong-accent"})


def beat_ranks(beats: int) -> tuple[int, ...]:
    """How heavy each beat of a measure is; of more than four only the first is told."""
    return _RANKS.get(beats, (3, *(0 for _ in range(beats - 1))))


def _ranks_of_beats(passage: Passage) -> dict[str, int]:
    """The weight of every note struck on a beat, by its id."""
    found: dict[str, int] = {}
    for measure in passage.cut.measures:
        grid, lead = beats_of(measure.time), lead_of(measure)
        ranks = beat_ranks(len(grid.lengths))
        for note in measure.notes:
            number, start, _ = grid.slot(note.at + lead)
            if _counts(note) and start == note.at + lead:
                found[note.id] = ranks[number % len(ranks)]
    return found


def _ranks_inside(passage: Passage) -> dict[str, int]:
    """The weight of the notes of every beat that holds two, three or four equal ones."""
    found: dict[str, int] = {}
    for measure in passage.cut.measures:
        grid, lead = beats_of(measure.time), lead_of(measure)
        row = sorted((n for n in measure.notes if _counts(n) and not n.in_chord), key=_at)
        for _, group in groupby(row, key=lambda n: grid.slot(n.at + lead)[0]):
            notes = list(group)
            if len(notes) in _RANKS and _are_even(notes):
                found.update(zip((n.id for n in notes), _RANKS[len(notes)], strict=True))
    return found


def _are_even(notes: list[Note]) -> bool:
    gaps = {b.at - a.at for a, b in pairwise(notes)} | {n.duration for n in notes}
    return len(gaps) == 1


def _at(note: Note) -> Fraction:
    return note.at


def _counts(note: Note) -> bool:
    return note.is_attack and not (note.hidden or note.cue or note.grace or is_landing(note))


def _weighted(base: Step, name: str, ranks: Mapping[str, int], say: str) -> Step:
    def change(_: Measure, note: Note) -> Note:
        if note.id not in ranks or note.in_chord:
            return note
        kept = tuple(a for a in note.articulations if a not in _OUR_MARKS)
        return replace(note, articulations=(*kept, *_MARKS[ranks[note.id]]))

    step = marked_step(base, name=name, kind=LEARN, change=change)
    return replace(step, say=say, turned=frozenset(ranks))


_SIGNS = "A wedge and a line weigh most, then a wedge, then a line; what has none is light."


def _beat_weight(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    base = written_step(passage, repetitions=int(settings["learning_repetitions"]), kind=LEARN)
    between: list[tuple[str, Callable[[Passage], dict[str, int]]]] = [
        ("The beats", _ranks_of_beats),
        ("Inside each beat", _ranks_inside),
    ]
    steps = [
        _weighted(base, name, ranks, _SIGNS)
        for name, find in between
        if len(set((ranks := find(passage)).values())) > 1
    ]
    if not steps:
        raise DrillDoesNotFit("No two beats here differ in weight: take a whole measure.")
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


BEAT_WEIGHT = DrillKind(
    name="beat-weight",
    title="Beat weight",
    family="Emphasis",
    use_when="Every note weighs the same and the measure has no shape.",
    how="In four, 1 weighs most, then 3, 4 and 2; the same inside four sixteenths; then as"
    " written.",
    clean_means="The order of weights can be heard with closed eyes; no note is struck harder.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Notes on two beats or more, or several in a beat.",
    is_aid=True,
    make=_beat_weight,
    parameters=(replace(LEARNING, default=2), PROVING),
    least_level=NOTES_KNOWN,
    instead=("lean", "alone"),
)

KINDS = (BEAT_WEIGHT,)
