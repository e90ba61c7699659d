"""Chaining: small pieces made sure and joined, from the end, from the front, or block by block."""

from bisect import bisect_left
from collections.abc import Iterable
from dataclasses import replace

from crumb.core.drills.build import marked_step, plural, written_step
from crumb.core.drills.model import (
    ANEW,
    NOTES_KNOWN,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import PROVING, WARM_UP
from crumb.core.errors import BadSetting, CrumbError, DrillDoesNotFit
from crumb.core.score.address import find_span
from crumb.core.score.model import ZERO, Measure, Note, Part
from crumb.core.score.naming import place_label, span_label
from crumb.core.score.position import (
    Position,
    Span,
    absolute,
    is_held,
    landing_notes,
    position_at,
    starts_at,
)
from crumb.core.score.written import parse_span

MOST_STEPS = 48
UNITS = ("note", "beat", "half measure", "measure", "two measures", "chunk")


def _is_struck(part: Part, place: Position) -> bool:
    """A link starts on a note that is struck there: a rest in front would only delay the start."""
    return not is_held(part, place) and bool(starts_at(part.measures[place.index], place.at))


def _half_measures(passage: Passage) -> list[Position]:
    found = []
    for index in range(passage.span.start.index, passage.span.end.index + 1):
        if index < len(passage.part.measures):
            measure = passage.part.measures[index]
            found += [Position(index, ZERO), Position(index, measure.length / 2)]
    beats = set(passage.all_beats)
    return [p for p in found if p in beats]


def named_places(passage: Passage, text: str) -> list[Position]:
    """Places named by the director, such as ``35, 37.2``, inside the passage.

    Raises:
        BadSetting: a place that is not in it.
    """
    found = []
    for word in text.replace(";", ",").split(","):
        if not word.strip():
            continue
        try:
            place = find_span(passage.part, word.strip()).start
        except CrumbError as error:
            raise BadSetting(f"“{word.strip()[:20]}”: {error.message}") from error
        if not passage.span.start < place < passage.span.end:
            raise BadSetting(f"“{word.strip()[:20]}” is not inside this chunk.")
        found.append(place)
    return sorted(set(found))


def cuts(passage: Passage, unit: str, edges: str = "") -> list[Position]:
    """Where the passage divides by a unit, its start and end apart, on struck notes only."""
    part, span = passage.part, passage.span
    if unit == "note":
        return list(passage.attacks[1:])
    # What stands before the first cut must hold a note too, or there is nothing to play in it.
    first_note = passage.attacks[0] if passage.attacks else span.start
    places: Iterable[Position]
    if unit == "chunk":
        places = named_places(passage, edges)
    elif unit == "half measure":
        places = _half_measures(passage)
    elif unit == "beat":
        places = passage.beats()
    else:
        step = 2 if unit == "two measures" else 1
        first = span.start.index + (span.start.at > 0)
        places = [Position(i, ZERO) for i in range(first, span.end.index + 1, step)]
    return [
        p for p in places if first_note < p < span.end and (passage.is_blank or _is_struck(part, p))
    ]


def _check_count(steps: int, smaller: str) -> None:
    if steps > MOST_STEPS:
        raise DrillDoesNotFit(f"That makes {steps} steps, more than anyone keeps up: {smaller}.")


def _backward(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    part, span = passage.part, passage.span
    unit = str(settings["unit"])
    joints = [*reversed(cuts(passage, unit, str(settings["edges"]))), span.start]
    if unit == "note":
        joints = list(reversed(passage.attacks))
    if len(joints) < 2:
        more = " Chain it by beat." if unit not in ("beat", "note", "chunk") else ""
        more = " Name where its chunks begin." if unit == "chunk" else more
        raise DrillDoesNotFit(f"There is no second {unit} here to put in front of the last.{more}")
    _check_count(len(joints), "chain it by a larger unit")
    repetitions = int(settings["repetitions"])
    return tuple(
        written_step(
            passage,
            Span(place, span.end, span.landing),
            name=_link_name(part, place, span),
            repetitions=repetitions,
            kind=SET,
            turned=_struck_between(passage, place, joints[i - 1] if i else span.end),
        )
        for i, place in enumerate(joints)
    )


def _struck_between(passage: Passage, start: Position, end: Position) -> frozenset[str]:
    return frozenset(
        note.id
        for at, notes in zip(passage.attacks, passage.struck, strict=True)
        if start <= at < end
        for note in notes
    )


def _link_name(part: Part, place: Position, span: Span) -> str:
    label = span_label(part, Span(place, span.end))
    if place == span.start:
        return f"All of {label}"
    if label.startswith("pickup"):
        # Inside a chunk a link begins on a beat, even where its notes lead to a barline.
        last = span_label(part, Span(Position(span.end.index - (span.end.at == 0), ZERO), span.end))
        by_beat = f"{place_label(part, place)}–{last}"
        if _is_read_as(part, by_beat, Span(place, span.end)):
            return by_beat
    return label


def _is_read_as(part: Part, name: str, span: Span) -> bool:
    try:
        return parse_span(part, name) == span
    except CrumbError:
        return False


_EDGES = Parameter("edges", "Chunks begin at", "")
BACKWARD = DrillKind(
    name="backward",
    title="Backward chain",
    family="Chaining",
    use_when="The end breaks down, or a stubborn fast spot never gets past its middle.",
    how="The last beat or measure until it is sure, then one more in front, to the whole chunk.",
    clean_means="From the first note of the link to the landing without a stop, in tempo.",
    on_slip="Start the count over; so it does by itself after a pause of more than eight seconds.",
    needs="Two beats or measures that start with a note.",
    make=_backward,
    parameters=(
        Parameter("unit", "One link is a", "beat", choices=UNITS),
        _EDGES,
        Parameter("repetitions", "Clean in a row", 5, low=1, high=20, by_level={"beginner": 3}),
    ),
    instead=("add-a-note", "alone", "two-notes"),
    by_measures=True,
)


def _add_a_note(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    count = len(passage.attacks) + passage.has_landing
    if count < 3:
        raise DrillDoesNotFit("Two notes are all there is here.")
    first = min(int(settings["first"]), count - 1)
    _check_count(count - first + 1, "take a smaller chunk")
    times = int(settings["set_repetitions"])
    # The notes so far and no more: what comes next is not landed on.
    steps = [
        _held_at_last(
            written_step(
                passage,
                Span(passage.attacks[0], passage.edges[number]),
                name=plural(number, "note"),
                repetitions=times,
                kind=SET,
                slip=ANEW,
                say="At goal tempo from the first note; stop on the last and hold it.",
            ),
            passage.attacks[number - 1],
        )
        for number in range(first, count)
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _held_at_last(step: Step, last: Position) -> Step:
    """A written step that looks as it is played: stopped and held on its last note."""

    def change(measure: Measure, note: Note) -> Note:
        is_last = note.is_attack and Position(measure.index, note.at) == last
        if not is_last or note.in_chord or note.hidden or note.cue:
            return note
        return replace(note, fermata=True)

    return marked_step(step, name=step.name, kind=step.kind, change=change)


ADD_A_NOTE = DrillKind(
    name="add-a-note",
    title="Add a note",
    family="Chaining",
    use_when="Slow practice is sure but the tempo never comes: speed first, length later.",
    how="The first note, the first two, the first three … at goal tempo, to the whole chunk.",
    clean_means="At goal tempo, every note there, the last one held calmly.",
    on_slip="Start that length over; take a note off if it fails again.",
    needs="Fingering, strings, slide or sticking decided; not more than 48 notes.",
    make=_add_a_note,
    parameters=(
        Parameter("first", "Begin with how many notes", 1, low=1, high=8, by_level={"advanced": 2}),
        Parameter("set_repetitions", "In a row each", 3, low=1, high=20),
        PROVING,
    ),
    caution=WARM_UP,
    least_level=NOTES_KNOWN,
    at_goal=True,
    instead=("backward", "two-notes", "alone"),
)


def _cumulative(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    unit = str(settings["unit"])
    inner = cuts(passage, unit)
    starts = [passage.span.start, *inner]
    if len(starts) < 2:
        raise DrillDoesNotFit(f"There is only one {unit} here: nothing to add to it.")
    _check_count(2 * len(starts) - 1, "take larger pieces")
    times = int(settings["set_repetitions"])
    steps: list[Step] = []
    ends = [*starts[1:], passage.span.end]
    for place, (start, end) in enumerate(zip(starts, ends, strict=True)):
        steps.append(_linked(passage, passage.between(start, end), times))
        if 0 < place < len(starts) - 1:
            steps.append(_linked(passage, passage.until(end), times))
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _linked(passage: Passage, span: Span, times: int) -> Step:
    return written_step(
        passage, span, name=span_label(passage.part, span), repetitions=times, kind=SET
    )


CUMULATIVE = DrillKind(
    name="cumulative",
    title="Measure by measure",
    family="Chaining",
    use_when="The measures are sure one by one and have to become a line.",
    how="1; 2; 1–2; 3; 1–3; 4; … each clean before the next.",
    clean_means="Each piece clean with its landing before the next is added.",
    on_slip="Start the count of that piece over.",
    needs="Two measures, or two beats, that start with a note.",
    make=_cumulative,
    parameters=(
        Parameter("unit", "One piece is a", "measure", choices=UNITS[1:5]),
        Parameter("set_repetitions", "In a row each", 3, low=1, high=20),
        PROVING,
    ),
    instead=("blocks", "backward", "alone"),
    by_measures=True,
)


def _blocks(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    unit = str(settings["unit"])
    starts = [passage.span.start, *cuts(passage, unit)]
    ends = [*starts[1:], passage.span.end]
    times = int(settings["set_repetitions"])
    # Counted before anything is made: a long passage is refused at once.
    notes = [_inside(passage, start, end) for start, end in zip(starts, ends, strict=True)]
    count = sum(max(len(inside) - 1, 0) + 1 for inside in notes) + max(len(starts) - 2, 0)
    if count < 2:
        raise DrillDoesNotFit("There is only one small block here.")
    _check_count(count + 1, "take larger blocks or a smaller chunk")
    steps: list[Step] = []
    for place, (start, end) in enumerate(zip(starts, ends, strict=True)):
        block, inside = passage.between(start, end), notes[place]
        # Two notes, three, … the whole block, and at last the block with its landing.
        steps.extend(_grown(passage, inside[0], last, times) for last in inside[2:])
        if block.landing and len(inside) > 1:
            bare = Span(block.start, block.end)
            name = f"{span_label(passage.part, bare)} ({plural(len(inside), 'note')})"
            steps.append(written_step(passage, bare, name=name, repetitions=times, kind=SET))
        steps.append(_linked(passage, block, times))
        if 0 < place < len(starts) - 1:
            steps.append(_linked(passage, passage.until(end), times))
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _inside(passage: Passage, start: Position, end: Position) -> range:
    """The places of the attacks from one position up to another."""
    return range(bisect_left(passage.attacks, start), bisect_left(passage.attacks, end))


def _grown(passage: Passage, first: int, beyond: int, times: int) -> Step:
    span = Span(passage.attacks[first], passage.attacks[beyond])
    return written_step(
        passage,
        span,
        name=f"{span_label(passage.part, span)} ({plural(beyond - first, 'note')})",
        repetitions=times,
        kind=SET,
    )


BLOCKS = DrillKind(
    name="blocks",
    title="Blocks",
    family="Chaining",
    use_when="Fast sixteenths: one beat and its landing is as much as the hand takes at once.",
    how="Block 1 grown note by note, block 2, blocks 1 and 2, block 3 … until the chunk is whole.",
    clean_means="Each block runs to its landing without a gap where two blocks meet.",
    on_slip="Start the count of that block over.",
    needs="Two beats that start with a note.",
    make=_blocks,
    parameters=(
        Parameter("unit", "One block is a", "beat", choices=UNITS[1:4]),
        Parameter("set_repetitions", "In a row each", 2, low=1, high=20),
        PROVING,
    ),
    caution=WARM_UP,
    instead=("cumulative", "add-a-note", "alone"),
)


def _seams(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    part, span = passage.part, passage.span
    seam = span.end if settings["at"] == "end" else span.start
    if seam.index >= len(part.measures) or (seam.index, seam.at) == (0, ZERO):
        where = "after" if settings["at"] == "end" else "before"
        raise DrillDoesNotFit(f"There is nothing {where} this chunk to join it to.")
    middle = absolute(part, seam)
    length = absolute(part, span.end) - absolute(part, span.start)
    low = max(middle - length, ZERO)
    high = min(middle + length, part.length)
    first, last = position_at(part, low), position_at(part, high)
    beats = passage.all_beats
    if passage.is_blank:
        attacks = [beat for beat in beats if first <= beat < last]
    else:
        attacks = _attacks_between(part, first, last)
    before = [a for a in attacks if a < seam]
    after = [a for a in attacks if a >= seam]
    if not before or not after:
        raise DrillDoesNotFit("Only rests stand on one side of the seam: there is nothing to join.")
    last_beat = max((b for b in beats if b < seam), default=before[0])
    next_beat = min((b for b in beats if b > seam), default=position_at(part, part.length))
    last_measure = Position(seam.index if seam.at > 0 else seam.index - 1, ZERO)
    widths = (
        ("Last note into first", before[-1], after[0]),
        ("Last beat into first", last_beat, next_beat),
        ("Last measure into first", last_measure, Position(seam.index + 1, ZERO)),
    )[passage.is_blank :]
    times = int(settings["set_repetitions"])
    wide = Span(first, last)
    steps: list[Step] = []
    for name, start, end in widths:
        crossing = _landed(part, max(start, wide.start), min(max(end, after[0]), wide.end))
        if not any(crossing.start <= a < seam for a in before):
            crossing = _landed(part, before[-1], crossing.end)
        if name.startswith("Last note"):
            crossing = Span(before[-1], after[0], landing=True)
        if not steps or crossing != steps[-1].covers:
            steps.append(
                written_step(passage, crossing, name=name, repetitions=times, kind=SET, slip=ANEW)
            )
    both = _landed(part, wide.start, wide.end)
    whole = written_step(
        passage,
        both,
        name=f"Both: {span_label(part, Span(both.start, both.end))}",
        repetitions=int(settings["repetitions"]),
    )
    return (*steps, whole)


def _landed(part: Part, start: Position, end: Position) -> Span:
    return Span(start, end, bool(landing_notes(part, end)))


def _attacks_between(part: Part, start: Position, end: Position) -> list[Position]:
    return sorted(
        {
            Position(m.index, n.at)
            for m in part.measures[start.index : end.index + 1]
            for n in m.notes
            if n.is_attack and start <= Position(m.index, n.at) < end
        }
    )


SEAMS = DrillKind(
    name="seams",
    title="Seams",
    family="Chaining",
    use_when="Both chunks are clean and the way from one into the other is not.",
    how="Last note into first note, last beat into first, last measure into first; then both.",
    clean_means="Nothing is heard at the seam: no gap, no accent, no hurry.",
    on_slip="Start the count of that width over.",
    needs="Music on the other side of the chunk's edge.",
    make=_seams,
    parameters=(
        Parameter("at", "Seam at its", "end", choices=("end", "start")),
        Parameter("set_repetitions", "In a row each", 5, low=1, high=20, by_level={"beginner": 3}),
        PROVING,
    ),
    least_level=NOTES_KNOWN,
    same_pitches=False,
    instead=("backward", "alone"),
    by_measures=True,
)

KINDS = (BACKWARD, ADD_A_NOTE, CUMULATIVE, BLOCKS, SEAMS)
