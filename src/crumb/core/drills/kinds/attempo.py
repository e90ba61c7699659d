"""At goal tempo: stops that move apart, gaps that close, one look ahead, the run-through."""

from bisect import bisect_left
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from crumb.core.drills.build import is_landing, marked_step, plural, written_step
from crumb.core.drills.gaps import gapped_step
from crumb.core.drills.kinds.chaining import cuts
from crumb.core.drills.model import (
    ANEW,
    LEARN,
    NOTES_KNOWN,
    ON,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import PROVING, WARM_UP
from crumb.core.errors import ChunkEditRefused, DrillDoesNotFit
from crumb.core.score.half_measures import is_barline
from crumb.core.score.model import Measure, Note
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span
from crumb.core.split.proposals import beat_pieces, by_lines, two_partitions

# Stops ------------------------------------------------------------------------------------------


def stop_stages(
    passage: Passage, *, halves_first: bool = False
) -> list[tuple[str, list[Position]]]:
    """Where to stop at each stage: every beat, half measure, measure, two, line, two lines, page.

    The last place of each stage is the end of the passage. Stages that stop no more often than one
    before are left out.
    """
    part, span = passage.part, passage.span
    beats = [b for b in passage.all_beats if span.start < b < span.end]
    bars = [b for b in beats if is_barline(part, b)]
    middles = [
        Position(i, part.measures[i].length / 2)
        for i in range(span.start.index, min(span.end.index + 1, len(part.measures)))
    ]
    # A meter of three has no half measure to stop at.
    inner = set(middles) & set(beats)
    halves = sorted({*bars, *inner}) if inner else []
    lines = [edge.at for edge in by_lines(part) if span.start < edge.at < span.end]
    named: list[tuple[str, list[Position]]] = [
        *([] if halves_first else [("every beat", beats)]),
        *([("every half measure", halves)] if halves else []),
        ("every measure", bars),
        ("every two measures", _every_other(bars)),
        ("every line", lines),
        ("every two lines", _every_other(lines)),
        ("every page", [p for p in lines if part.measures[p.index].new_page]),
        ("the end only", []),
    ]
    stages: list[tuple[str, list[Position]]] = []
    for name, places in named:
        if not places and name != "the end only":
            continue
        with_end = [*places, span.end]
        if not stages or len(with_end) < len(stages[-1][1]):
            stages.append((name, with_end))
    return stages


def _every_other(places: Sequence[Position]) -> list[Position]:
    return list(places[1::2])


def _fermatas(passage: Passage, places: Sequence[Position]) -> Callable[[Measure, Note], Note]:
    """A fermata on what is struck where one stops; inside a held note it is counted, not drawn."""
    stops = set(places)

    def change(measure: Measure, note: Note) -> Note:
        stands = Position(measure.index, note.at) in stops or (
            is_landing(note) and passage.span.end in stops
        )
        is_struck = note.is_attack or note.is_rest
        if stands and is_struck and not note.in_chord and not note.hidden and not note.cue:
            return replace(note, fermata=True)
        return note

    return change


def _stops(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    stages = stop_stages(passage, halves_first=settings["first"] == "half measure")
    if len(stages) < 2:
        raise DrillDoesNotFit("There is only one beat here: nowhere to stop on the way.")
    times = int(settings["set_repetitions"])
    base = written_step(
        passage,
        repetitions=times,
        kind=SET,
        slip=ANEW,
        say="At goal tempo to each hold; stay as long as you like, look ahead, then go on.",
    )
    steps = [
        marked_step(
            base,
            name=f"Stop on {name} ({plural(len(places), 'stop')})",
            kind=LEARN,
            change=_fermatas(passage, places),
        )
        for name, places in stages
        if name != "the end only"
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


STOPS = DrillKind(
    name="stops",
    title="Stops that move apart",
    family="At tempo",
    use_when="The ladder stalls, days are few, or the player has never felt goal tempo.",
    how="At goal tempo, stopping on every beat as long as you like; then half measure, measure …",
    clean_means="Between two stops everything is at goal tempo and clean.",
    on_slip="Start the count of that stage over.",
    needs="More than one beat; the notes known.",
    make=_stops,
    parameters=(
        Parameter(
            "first",
            "Stop first on every",
            "beat",
            choices=("beat", "half measure"),
            by_level={"advanced": "half measure"},
        ),
        Parameter("set_repetitions", "In a row each", 3, low=1, high=20),
        PROVING,
    ),
    caution=WARM_UP,
    least_level=NOTES_KNOWN,
    at_goal=True,
    instead=("add-a-note", "alone"),
    by_measures=True,
)


# Gaps -------------------------------------------------------------------------------------------

_GAPS = (
    (Fraction(4), "4 beats"),
    (Fraction(2), "2 beats"),
    (Fraction(1), "1 beat"),
    (Fraction(1, 2), "half a beat"),
)


def _piece_starts(passage: Passage, pieces: Sequence[Span]) -> list[int]:
    """The attacks that pieces start with, the first one apart; a piece without a note is none."""
    found = {bisect_left(passage.attacks, piece.start) for piece in pieces}
    return sorted(place for place in found if 0 < place < len(passage.attacks))


def _close_gaps(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_one_line(grace=False)
    passage.need_short(int(settings["set_repetitions"]) * (len(_GAPS) + 1))
    ways = {"by beat": _piece_starts(passage, beat_pieces(passage.part, passage.span))}
    if not ways["by beat"]:
        raise DrillDoesNotFit("There is only one piece with a note in it here.")
    if settings["ways"] == "both":
        with suppress(ChunkEditRefused):
            _, second = two_partitions(passage.part, passage.span)
            ways["cut another way"] = _piece_starts(passage, second)
    times = int(settings["set_repetitions"])
    passage.need_short(times * (len(_GAPS) + 1) * len(ways) + int(settings["repetitions"]))
    steps: list[Step] = []
    for way, starts in ways.items():
        if not starts:
            continue
        steps += [
            gapped_step(
                passage,
                starts,
                gap * passage.beat,
                name=f"Pieces {way}, {said}",
                said=said,
                kind=SET,
                repetitions=times,
                slip=ANEW,
                say="Play a piece, think the next one through in the silence, play it at goal"
                " tempo.",
            )
            for gap, said in _GAPS
        ]
        steps.append(
            written_step(
                passage,
                name=f"Pieces {way}, no gap",
                kind=SET,
                repetitions=times,
                slip=ANEW,
                say="The same pieces in your mind, and no silence between them.",
            )
        )
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


CLOSE_GAPS = DrillKind(
    name="close-gaps",
    title="Close the gaps",
    family="At tempo",
    use_when="It goes in small pieces and stumbles where thought has to catch up.",
    how="Pieces at goal tempo with silent gaps of 4, 2, 1, ½, 0 beats; then other pieces.",
    clean_means="Each piece clean at goal tempo, entered exactly when the gap ends.",
    on_slip="Start the count of that gap over.",
    needs="Two beats or more in one line without grace notes.",
    make=_close_gaps,
    parameters=(
        Parameter(
            "ways", "Pieces", "both", choices=("both", "by beat"), by_level={"beginner": "by beat"}
        ),
        Parameter("set_repetitions", "In a row each", 3, low=1, high=20, by_level={"advanced": 2}),
        PROVING,
    ),
    caution=WARM_UP,
    least_level=NOTES_KNOWN,
    at_goal=True,
    instead=("stops", "backward", "alone"),
)


# Whole passes -----------------------------------------------------------------------------------


def _look_ahead(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    return (
        written_step(
            passage,
            name="Once, at goal tempo",
            kind=LEARN,
            repetitions=1,
            slip=ON,
            say="Feel what goal tempo will ask for. Slips are expected and do not count.",
        ),
    )


LOOK_AHEAD = DrillKind(
    name="look-ahead",
    title="One look ahead",
    family="At tempo",
    use_when="Before the slow work, to know what it is for.",
    how="Once through at goal tempo; not counted.",
    clean_means="You know afterwards where the first trouble will be.",
    on_slip="Go on, and note where.",
    needs="Any chunk whose notes are known.",
    make=_look_ahead,
    for_pieces=True,
    least_level=NOTES_KNOWN,
    at_goal=True,
    by_measures=True,
)


def _run_through(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    return (
        written_step(
            passage,
            name="Without stopping",
            repetitions=int(settings["times"]),
            slip=ON,
            say="Whatever happens, go on. Notice where it slipped and fix it afterwards.",
        ),
    )


RUN_THROUGH = DrillKind(
    name="run-through",
    title="Run through without stopping",
    family="At tempo",
    use_when="All chunks are known: once in a practice day, chosen beforehand.",
    how="From the first note to the last without a stop, whatever happens.",
    clean_means="No stop, no going back; notice each slip, fix it later.",
    on_slip="Go on and note the place.",
    needs="Every chunk in it at level 1 or higher.",
    make=_run_through,
    for_pieces=True,
    parameters=(Parameter("times", "Times", 1, low=1, high=5),),
    least_level=NOTES_KNOWN,
    by_measures=True,
)


def _stop_and_start(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    size = int(settings["notes"])
    count = len(passage.attacks)
    begin = min(int(settings["bookmark"]), max(count - 1, 1)) - 1
    if count <= size:
        raise DrillDoesNotFit(f"There are only {count} notes: one fragment is the whole of it.")
    starts = list(range(begin, count, size))
    if len(starts) > 1 and count - starts[-1] < 2 and not passage.has_landing:
        starts.pop()
    if len(starts) > 48:
        raise DrillDoesNotFit("That is too many fragments for one sitting: take a smaller chunk.")
    times = int(settings["many"])
    bounds = [*starts, count]
    return tuple(
        written_step(
            passage,
            passage.notes_span(one, two),
            name=f"Notes {one + 1}–{two}" if two > one + 1 else f"Note {two}",
            repetitions=times,
            kind=LEARN,
            slip=ON,
            say="Stop and start on purpose. Where you end is your bookmark for next time.",
        )
        for one, two in pairwise(bounds)
    )


STOP_AND_START = DrillKind(
    name="stop-and-start",
    title="Stop and start on purpose",
    family="At tempo",
    use_when="Stops and restarts have become a habit: now they are chosen, in small pieces.",
    how="Fragments of four to six notes, about ten times each, on through the piece.",
    clean_means="The fragment itself, with the first note of the next.",
    on_slip="All ten are played, whatever happens.",
    needs="More notes than one fragment has.",
    make=_stop_and_start,
    stays=True,
    parameters=(
        Parameter("notes", "Notes in a fragment", 5, low=3, high=8, by_level={"beginner": 4}),
        Parameter("many", "Times each", 10, low=3, high=20, by_level={"beginner": 6}),
        Parameter("bookmark", "Begin at note", 1, low=1, high=999),
    ),
    least_level=NOTES_KNOWN,
)


def _guided(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    unit = str(settings["unit"])
    starts = [passage.span.start, *cuts(passage, unit)]
    if len(starts) < 2:
        raise DrillDoesNotFit(f"There is only one {unit} here: no place to stop on the way.")
    if len(starts) > 48:
        raise DrillDoesNotFit("That is too many stops for one pass: take larger pieces.")
    tries = int(settings["tries"])
    ends = [*starts[1:], passage.span.end]
    steps = [
        written_step(
            passage,
            span := passage.between(start, end),
            name=span_label(passage.part, span),
            repetitions=tries,
            kind=LEARN,
            slip=ON,
            say="Listen to it once. Then play it, as often as agreed, and go on.",
        )
        for start, end in zip(starts, ends, strict=True)
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


GUIDED = DrillKind(
    name="guided-pass",
    title="Demonstrate, pause, go on",
    family="At tempo",
    use_when="A whole class learns the chunk, or a player needs to hear it before playing it.",
    how="Each piece is heard once, then tried a set number of times; at last as written.",
    clean_means="Every piece had its tries; the last pass is as written.",
    on_slip="Go on after the agreed tries.",
    needs="Two measures or beats that start with a note.",
    make=_guided,
    stays=True,
    parameters=(
        Parameter(
            "unit",
            "One piece is a",
            "measure",
            choices=("beat", "half measure", "measure", "two measures"),
        ),
        Parameter("tries", "Tries at each", 3, low=1, high=10),
        PROVING,
    ),
    by_measures=True,
)

KINDS = (STOPS, CLOSE_GAPS, LOOK_AHEAD, RUN_THROUGH, STOP_AND_START, GUIDED)
