"""Isolation: the chunk by itself, the two notes that trip, each note by itself."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.build import bare, laid_step, written_step
from crumb.core.drills.model import (
    ANEW,
    LEARN,
    ON,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, PROVING, WARM_UP, note_number
from crumb.core.drills.spots import hardest_pair, kin_differences
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.naming import span_label
from crumb.core.score.notating import Event
from crumb.core.score.position import Position, Span
from crumb.core.survey.strings import OPEN

_WAYS = ("the same each time", "slow, medium, fast", "each a little different")
_SPEEDS = (("Slow", Fraction(60, 100)), ("Medium", Fraction(80, 100)))


def _different(passage: Passage) -> list[tuple[str, Fraction, str]]:
    """Four passes that differ a little, so that no one of them becomes the only way."""
    elsewhere = {
        True: ("elsewhere on the bow", "Another part of the bow, the same tone."),
        False: ("softer", "Softer, with as much air or care."),
    }[passage.instrument.family in OPEN]
    return [
        ("as it comes", Fraction(1), "As you would play it now."),
        (elsewhere[0], Fraction(1), elsewhere[1]),
        ("a little slower", Fraction(90, 100), "A little slower, and listening."),
        ("a little faster", Fraction(105, 100), "A little faster; a slip here costs nothing."),
    ]


def _alone(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    proof = written_step(passage, repetitions=int(settings["repetitions"]))
    way = str(settings["way"])
    if way == _WAYS[1]:
        slower = [
            written_step(
                passage,
                name=name,
                repetitions=int(settings["repetitions"]),
                kind=SET,
                pace=pace,
                say="Everything as at full tempo, only slower.",
            )
            for name, pace in _SPEEDS
        ]
        return (*slower, replace(proof, name="Fast, as written"))
    if way == _WAYS[2]:
        varied = [
            written_step(
                passage,
                name=f"Once, {name}",
                repetitions=1,
                kind=LEARN,
                pace=pace,
                slip=ON,
                say=say,
            )
            for name, pace, say in _different(passage)
        ]
        return (*varied, proof)
    return (proof,)


ALONE = DrillKind(
    name="alone",
    title="Alone",
    family="Isolation",
    use_when="The notes are known and the spot has to become sure, or has to be proved.",
    how="The chunk in a loop, with a breath between, until it was clean often enough in a row.",
    clean_means="Every note, rhythm and articulation as written, without a stop.",
    on_slip="Start the count over.",
    needs="Any chunk with a note in it.",
    make=_alone,
    parameters=(Parameter("way", "How the passes differ", _WAYS[0], choices=_WAYS), PROVING),
    caution=WARM_UP,
    by_measures=True,
)


def widening(passage: Passage, core: Span) -> list[Span]:
    """From a few notes outward: the beats they stand in, the measures, two measures, the chunk."""
    whole = passage.span
    beats = passage.all_beats
    low = max((b for b in beats if b <= core.start), default=core.start)
    high = min((b for b in beats if b >= core.end), default=core.end)
    first, last = core.start.index, max(core.end.index - (core.end.at == 0), core.start.index)
    wanted = [
        core,
        Span(low, high, landing=True),
        Span(Position(first, Fraction(0)), Position(last + 1, Fraction(0)), landing=True),
        Span(Position(max(first - 1, 0), Fraction(0)), Position(last + 1, Fraction(0)), True),
        whole,
    ]
    spans: list[Span] = []
    for span in wanted:
        start, end = max(span.start, whole.start), min(span.end, whole.end)
        clipped = whole if (start, end) == (whole.start, whole.end) else passage.between(start, end)
        if not spans or (clipped.covers(spans[-1]) and clipped != spans[-1]):
            spans.append(clipped)
    return spans


def _widening_steps(
    passage: Passage, core: Span, *, first: str, times: int, proving: int
) -> tuple[Step, ...]:
    spans = widening(passage, core)
    steps = [
        written_step(passage, core, name=first, repetitions=times, kind=SET, slip=ANEW)
        if span == spans[0]
        else written_step(
            passage, span, name=span_label(passage.part, span), repetitions=proving, kind=SET
        )
        for span in spans[:-1]
    ]
    return (*steps, written_step(passage, repetitions=proving))


def _two_notes(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if len(passage.attacks) + passage.has_landing < 3:
        raise DrillDoesNotFit("Two notes are all there is here.")
    size = int(settings["notes"])
    at = note_number(passage, settings["at"], otherwise=hardest_pair(passage))
    at = max(min(at, len(passage.attacks) - (1 if passage.has_landing else size)), 0)
    core = passage.notes_span(at, min(at + size - 1, len(passage.attacks)))
    if core.start == passage.span.start and core.end >= passage.span.end:
        raise DrillDoesNotFit("These notes are the whole chunk.")
    number = f"{at + 1} and {at + 2}" if size == 2 else f"{at + 1} to {at + size}"
    return _widening_steps(
        passage,
        core,
        first=f"Notes {number}",
        times=int(settings["many"]),
        proving=int(settings["repetitions"]),
    )


TWO_NOTES = DrillKind(
    name="two-notes",
    title="Two notes first",
    family="Isolation",
    use_when="One change between two notes trips the whole measure.",
    how="The two notes many times, then their beat, the measure, two measures, the chunk.",
    clean_means="The change itself is easy: no gap, no extra note, no tension.",
    on_slip="Start the two notes over; further out, two slips in a row take the tempo down.",
    needs="Three notes or more.",
    make=_two_notes,
    parameters=(
        Parameter("at", "From note", AUTO),
        Parameter("notes", "How many notes", 2, low=2, high=3),
        Parameter("many", "Times in a row first", 10, low=2, high=40, by_level={"beginner": 6}),
        PROVING,
    ),
    caution=WARM_UP,
)


def _difference(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    text = str(settings["notes"])
    places = kin_differences(passage) if text == AUTO else _numbers(passage, text)
    if not places:
        raise DrillDoesNotFit(
            "The part has no similar passage: the same rhythm with a few notes changed."
        )
    first, last = max(places[0] - 1, 0), min(places[-1] + 1, len(passage.attacks))
    core = passage.notes_span(first, last)
    named = ", ".join(str(place + 1) for place in places)
    return _widening_steps(
        passage,
        core,
        first=f"What differs: note {named}",
        times=int(settings["many"]),
        proving=int(settings["repetitions"]),
    )


def _numbers(passage: Passage, text: str) -> list[int]:
    return sorted(
        {note_number(passage, word, otherwise=0) for word in text.replace(",", " ").split()}
    )


DIFFERENCE = DrillKind(
    name="difference",
    title="What differs first",
    family="Isolation",
    use_when="The chunk is almost like one already known, and the old one keeps coming out.",
    how="The notes that differ from the similar passage, many times; the measure; the chunk.",
    clean_means="The changed notes come without thinking of the other passage.",
    on_slip="Start the count of the changed notes over.",
    needs="A similar passage elsewhere in the part, or the numbers of the notes that differ.",
    make=_difference,
    parameters=(
        Parameter("notes", "Notes that differ", AUTO),
        Parameter("many", "Times in a row first", 10, low=2, high=40),
        PROVING,
    ),
    instead=("two-notes", "alone"),
)


def repeated(events: Sequence[Event], times: int) -> list[Event]:
    """Every note so many times in a row; rests once."""
    return [
        bare(event) if i == 0 else _struck_again(event)
        for event in events
        for i in range(1 if event.is_rest else times)
    ]


def _struck_again(event: Event) -> Event:
    plain = bare(event)
    return replace(plain, model=tuple(replace(note, tie=None) for note in plain.model))


def _each_note(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    events = passage.events
    if len(passage.attacks) < 2:
        raise DrillDoesNotFit("One note is no line to repeat note by note.")
    most = int(settings["most"])
    if len(passage.attacks) * most > 320:
        raise DrillDoesNotFit("That is too long to play each note so often: take a smaller chunk.")
    stages = {"slow": (Fraction(1, 2),), "fast": (Fraction(1),)}.get(
        str(settings["stages"]), (Fraction(1, 2), Fraction(1))
    )
    landing = [bare(passage.landing)] if passage.landing else []
    times_each = int(settings["learning_repetitions"])
    steps = [
        laid_step(
            passage,
            [*repeated(events, times), *landing],
            name=f"Each note ×{times}" + (", at half tempo" if pace < 1 else ""),
            kind=LEARN,
            repetitions=times_each,
            pace=pace,
            slip=ON,
            say="Fingers stay close; every repeat as clear as the first.",
        )
        for pace in stages
        for times in range(most, 1, -1)
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


EACH_NOTE = DrillKind(
    name="each-note",
    title="Each note several times",
    family="Isolation",
    use_when="Fingers run ahead of the bow or tongue, or sixteenths are uneven.",
    how="Every note four times in a row, then three, two, one.",
    clean_means="Each change falls exactly with its first stroke; fingers stay close.",
    on_slip="Go on, and note where it was.",
    needs="One line of notes without grace notes.",
    make=_each_note,
    parameters=(
        Parameter("most", "Most times in a row", 4, low=2, high=6, by_level={"beginner": 3}),
        Parameter(
            "stages",
            "Tempo",
            "fast",
            choices=("fast", "slow", "slow, then fast"),
            by_level={"beginner": "slow", "advanced": "slow, then fast"},
        ),
        replace(LEARNING, default=1, by_level={"beginner": 2}),
        PROVING,
    ),
    caution=WARM_UP,
    instead=("alone", "backward"),
)

KINDS = (
    ALONE,
    TWO_NOTES,
    DIFFERENCE,
    EACH_NOTE,
)
