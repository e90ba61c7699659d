"""Voices apart and articulation swaps: the same notes with less in them, or joined otherwise."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import partial
from itertools import combinations, pairwise

from crumb.core.drills.build import marked_step, written_step
from crumb.core.drills.kinds.reading import silent
from crumb.core.drills.model import LEARN, NOTES_KNOWN, ON, DrillKind, Parameter, Settings, Step
from crumb.core.drills.passage import Passage
from crumb.core.drills.patterns import natural_group
from crumb.core.drills.settings import LEARNING, PROVING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.meter import beats_of, lead_of
from crumb.core.score.model import ZERO, Measure, Note, Slur
from crumb.core.score.position import sounds
from crumb.core.score.slicing import mended
from crumb.core.survey.strings import OPEN

_PRINTED_ONLY = frozenset({"staccato", "staccatissimo", "tenuto", "accent", "strong-accent",
                           "detached-legato", "spiccato", "breath-mark"})  # fmt: skip


# Voices apart -----------------------------------------------------------------------------------


def _chord_sizes(passage: Passage) -> int:
    return max(len(notes) for notes in passage.struck)


def _voices(passage: Passage) -> list[tuple[str, str]]:
    """The (staff, voice) rows that sound in the span, highest first."""
    heights: dict[tuple[int, str], list[int]] = {}
    for measure in passage.cut.measures:
        for note in measure.notes:
            where = note.pitch or note.place
            if note.sounds and not note.cue and where is not None:
                heights.setdefault((note.staff, note.voice), []).append(where.midi)
    rows = sorted(heights, key=lambda row: -sum(heights[row]) / len(heights[row]))
    return [(str(staff), voice) for staff, voice in rows]


def _keep_voices(kept: Sequence[tuple[str, str]]) -> Callable[[Measure, Note], Note | None]:
    def change(_: Measure, note: Note) -> Note | None:
        if (str(note.staff), note.voice) in kept or not note.sounds:
            return note
        return None if note.in_chord or note.grace else silent(note)

    return change


def _only(step: Step, name: str, members: frozenset[int], size: int) -> Step:
    """A written step with some members of its chords, counted from the lowest; lone notes stay."""
    measures = []
    for measure in step.part.measures:
        chords: dict[tuple[object, ...], list[Note]] = {}
        for note in measure.notes:
            if note.sounds and not note.grace and not note.hidden:
                chords.setdefault((note.staff, note.voice, note.at), []).append(note)
        dropped: dict[str, bool] = {}
        for notes in chords.values():
            if len(notes) < 2:
                continue
            ordered = sorted(notes, key=lambda n: (n.pitch or n.place).midi)  # type: ignore[union-attr]
            wanted = {min(m, len(notes) - 1) if m < size - 1 else len(notes) - 1 for m in members}
            for place, note in enumerate(ordered):
                dropped[note.id] = place not in wanted
        row: list[Note] = []
        heads: dict[str, Note] = {}
        for note in measure.notes:
            if not note.in_chord:
                heads[f"{note.staff}/{note.voice}"] = note
            if dropped.get(note.id, False):
                continue
            head = heads.get(f"{note.staff}/{note.voice}")
            lost_head = note.in_chord and head is not None and dropped.get(head.id, False)
            if lost_head and head is not None:
                # The first note of a chord carries its beams and marks: they pass to who is left.
                note = replace(
                    note,
                    in_chord=False,
                    beams=head.beams,
                    slurs=note.slurs or head.slurs,
                    articulations=note.articulations or head.articulations,
                    tuplet=head.tuplet,
                    lyric=head.lyric,
                )
                heads[f"{note.staff}/{note.voice}"] = note
            row.append(note)
        measures.append(replace(measure, notes=tuple(row)))
    part = replace(step.part, measures=with_accidentals(mended(measures), keep=True))
    lead = step.covers.start.at
    return replace(
        step,
        name=name,
        kind=LEARN,
        part=part,
        sounds=tuple(replace(s, at=s.at - lead) for s in sounds(part)),
        as_written=False,
    )


def _rank(place: int, count: int) -> str:
    if count == 2:
        return ("Lower voice", "Upper voice")[place]
    if place in (0, count - 1):
        return "Lowest voice" if place == 0 else "Highest voice"
    return f"Voice {place + 1} from below"


def _voices_apart(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        slip=ON,
        say="Hear the other voice while you play this one; keep its fingers where they will be.",
    )
    rows = _voices(passage)
    size = _chord_sizes(passage)
    if len(rows) > 1:
        names = [_rank(len(rows) - 1 - i, len(rows)) for i in range(len(rows))]

        def make(kept: tuple[int, ...]) -> Step:
            name = " and ".join(names[i].lower() if n else names[i] for n, i in enumerate(kept))
            change = _keep_voices([rows[i] for i in kept])
            return marked_step(base, name=name, kind=LEARN, change=change)

        count = len(rows)
    elif size > 1:

        def make(kept: tuple[int, ...]) -> Step:
            places = [size - 1 - i for i in kept]
            name = " and ".join(
                _rank(p, size).lower() if n else _rank(p, size) for n, p in enumerate(places)
            )
            return _only(base, name, frozenset(places), size)

        count = size
    else:
        raise DrillDoesNotFit("One line only: voices are taken apart where two sound together.")
    together = int(settings["together"])
    steps = [
        make(kept)
        for number in range(1, min(together, count - 1) + 1)
        for kept in combinations(range(count), number)
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


VOICES_APART = DrillKind(
    name="voices-apart",
    title="Voices apart",
    family="Isolation",
    use_when="A double stop is out of tune, or two voices are in the way of each other.",
    how="The upper voice, the lower voice, then both; of three or four, each and then pairs.",
    clean_means="Each voice in tune by itself with the fingers of both in place.",
    on_slip="Go on; tune the note that was off before the next pass.",
    needs="Chords, double stops or two voices.",
    make=_voices_apart,
    parameters=(
        Parameter(
            "together", "Voices at once, at most", 1, low=1, high=3, by_level={"advanced": 2}
        ),
        LEARNING,
        PROVING,
    ),
    caution="Small hands: do not force a stretch.",
    same_pitches=False,
    instead=("pitches-only", "alone"),
)


# Articulation ---------------------------------------------------------------------------------


_DASH = "tenuto"


def _slurred(step: Step, name: str, sizes: Sequence[int], *, in_beats: bool = False) -> Step:
    """A written step slurred in groups of these sizes; a size of 1 is separate.

    Groups are counted anew from every beat or barline, and no slur goes over one. A note that comes
    again under a slur gets its dash, or nobody would hear it.
    """
    ends: dict[str, tuple[Slur, ...]] = {}
    dashed: set[str] = set()
    row: list[Note] = []
    group, window = 0, (-1, Fraction(-1))

    def close() -> None:
        nonlocal group
        if len(row) > 1:
            ends[row[0].id] = (Slur(1, "start"),)
            ends[row[-1].id] = (Slur(1, "stop"),)
            dashed.update(note.id for pair in pairwise(row) if _same(*pair) for note in pair)
        if row:
            group += 1
        row.clear()

    for measure in step.part.measures:
        beats, lead = beats_of(measure.time), lead_of(measure)
        for note in measure.notes:
            if note.hidden or note.grace or note.cue or note.in_chord:
                continue
            if note.is_rest:
                close()
                continue
            if note.tie in ("continue", "stop"):
                if row:
                    row[-1] = note
                continue
            beat = beats.slot(note.at + lead)[1] if in_beats else ZERO
            if (measure.index, beat) != window:
                close()
                group, window = 0, (measure.index, beat)
            if len(row) >= sizes[group % len(sizes)]:
                close()
            row.append(note)
    close()

    def change(_: Measure, note: Note) -> Note:
        kept = tuple(a for a in note.articulations if a not in _PRINTED_ONLY)
        return replace(
            note,
            slurs=ends.get(note.id, ()),
            articulations=(*kept, _DASH) if note.id in dashed else kept,
        )

    return marked_step(step, name=name, kind=LEARN, change=change)


def _same(one: Note, two: Note) -> bool:
    return one.pitch is not None and one.pitch == two.pitch


def _with_all(step: Step, name: str, mark: str) -> Step:
    def change(_: Measure, note: Note) -> Note:
        if not note.is_attack or note.in_chord:
            return note
        return replace(note, articulations=(mark,), slurs=())

    return marked_step(step, name=name, kind=LEARN, change=change)


def _reversed_bow(step: Step) -> Step:
    """An up-bow on the first note, so that every stroke goes the other way."""
    first = next(
        n.id for m in step.part.measures for n in m.notes if n.is_attack and not n.in_chord
    )
    flipped = {"up-bow": "down-bow", "down-bow": "up-bow"}

    def change(_: Measure, note: Note) -> Note:
        marks = tuple((flipped.get(tag, tag), text) for tag, text in note.technical)
        printed = any(tag in flipped for tag, _ in note.technical)
        if note.id == first and not printed:
            marks = (("up-bow", ""), *marks)
        return replace(note, technical=marks)

    return marked_step(step, name="Bow the other way", kind=LEARN, change=change)


_ALL = 999
_Way = tuple[str, tuple[int, ...]]
_IN_FOURS: tuple[_Way, ...] = (("Two and two", (2,)), ("One, two, one", (1, 2, 1)))
_IN_THREES: tuple[_Way, ...] = (("Two and one", (2, 1)), ("One and two", (1, 2)))


def _articulation(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if not passage.is_pitched:
        raise DrillDoesNotFit("Strokes without pitch are not slurred.")
    if len(_voices(passage)) > 1:
        raise DrillDoesNotFit("Two voices are slurred each in its own way: take them apart first.")
    if len(passage.attacks) < 3:
        raise DrillDoesNotFit("It takes three notes to slur them in more than one way.")
    most = int(settings["ways"]) * int(settings["learning_repetitions"])
    passage.need_short(most + int(settings["repetitions"]))
    is_strings = passage.instrument.family in OPEN
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        slip=ON,
        say="Only how the notes are joined changes; tempo and tone stay.",
    )
    value = passage.commonest_value
    in_threes = natural_group(value, passage.meter) in (3, 6)
    grouped = _IN_THREES if in_threes else _IN_FOURS
    ways: list[Callable[[], Step]] = [
        lambda: _slurred(base, "All slurred", (_ALL,)),
        lambda: _slurred(base, "Separate bows" if is_strings else "All tongued", (1,)),
        *(
            partial(_slurred, base, name, sizes, in_beats=sum(sizes) * value <= passage.beat)
            for name, sizes in grouped
        ),
        lambda: _with_all(base, "All short", "staccato"),
        lambda: _slurred(base, "Eights", (8,)),
    ]
    if is_strings:
        ways.insert(2, lambda: _reversed_bow(base))
    steps = [way() for way in ways[: int(settings["ways"])]]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


ARTICULATION = DrillKind(
    name="articulation",
    title="Articulation swap",
    family="Isolation",
    use_when="The tongue or bow is in the way of the fingers, or the slurring is unclear.",
    how="All slurred, all tongued or separate, two and two from the beat …; then as written.",
    clean_means="The fingers never notice which articulation it was.",
    on_slip="Go on; only the joining is judged.",
    needs="Three notes with pitch or more, in one line.",
    make=_articulation,
    parameters=(
        Parameter("ways", "Ways", 4, low=1, high=7, by_level={"beginner": 2, "advanced": 7}),
        replace(LEARNING, default=2),
        PROVING,
    ),
    caution="A locked jaw or tongue: stop and rest, then slur.",
    least_level=NOTES_KNOWN,
    instead=("count-it", "alone"),
)

KINDS = (VOICES_APART, ARTICULATION)
