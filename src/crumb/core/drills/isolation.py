"""Isolation: the chunk by itself, the two notes that trip, each note by itself."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.making import bare, laid_step, note_ids, with_length, written_step
from crumb.core.drills.model import (
    ANEW,
    LEARN,
    NOTES_KNOWN,
    ON,
    RHYTHM_KNOWN,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.spots import hardest_pair, sudden_change, twin_differences
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.address import span_label
from crumb.core.score.notating import Event
from crumb.core.score.position import Position, Span

PROVING = Parameter("repetitions", "Clean in a row", 3, low=1, high=20)
LEARNING = Parameter(
    "learning_repetitions", "Times each to learn it", 4, low=1, high=20, by_level={"advanced": 2}
)
WARM_UP = (
    "Warm up before fast repetition. Pain, numbness or tingling: stop, rest, tell the teacher."
)
AUTO = "auto"


def note_number(passage: Passage, given: object, *, otherwise: int) -> int:
    """Which note of the chunk is meant, from 0; ``auto`` leaves it to the drill.

    Raises:
        BadSetting: no such note.
    """
    text = str(given)
    if text == AUTO:
        return otherwise
    if not text.isdigit() or not 1 <= int(text) <= len(passage.attacks):
        raise BadSetting(
            f"Say auto, or which note of the chunk: 1 to {len(passage.attacks)}, not “{text[:20]}”."
        )
    return int(text) - 1


def _alone(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    return (written_step(passage, repetitions=int(settings["repetitions"])),)


ALONE = DrillKind(
    name="alone",
    title="Alone",
    family="Isolation",
    use_when="The notes are known and the spot has to become sure, or has to be proved.",
    how="The chunk in a loop, with a breath between, until it was clean often enough in a row.",
    clean_means="Every note, rhythm and articulation as written, without a stop.",
    on_slip="The count starts anew.",
    needs="Any chunk with a note in it.",
    make=_alone,
    parameters=(PROVING,),
    caution=WARM_UP,
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
    on_slip="Count the two notes anew; further out, two slips in a row take the tempo down.",
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
    places = twin_differences(passage) if text == AUTO else _numbers(passage, text)
    if not places:
        raise DrillDoesNotFit(
            "No twin of this chunk was found in the part: the same rhythm with a few notes changed."
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
    how="Only the notes that differ from its twin, many times; then the measure, then the chunk.",
    clean_means="The changed notes come without thinking of the twin.",
    on_slip="Count the changed notes anew.",
    needs="A twin elsewhere in the part, or the numbers of the notes that differ.",
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


def shortest_unit(passage: Passage) -> Fraction:
    """The value that fills the run, or the shortest note of the chunk."""
    values = [event.duration for event in passage.plain_events if not event.is_rest]
    return min(values)


def _every_note(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    unit = shortest_unit(passage)
    pace = unit / passage.beat
    if pace >= 1:
        raise DrillDoesNotFit(
            "No note here is shorter than a beat: the beat clicks on each already."
        )
    slow = written_step(
        passage,
        name="One click a note",
        kind=LEARN,
        repetitions=int(settings["learning_repetitions"]),
        pace=pace,
        click=unit / 2,
        slip=ON,
        say="The click goes at goal tempo, one written note on each, its off-beat sounding between."
        " Fingers are set before bow or tongue.",
    )
    return (slow, written_step(passage, repetitions=int(settings["repetitions"])))


EVERY_NOTE = DrillKind(
    name="every-note",
    title="Every note on a click",
    family="Isolation",
    use_when="Fingers and bow or tongue do not arrive together.",
    how="The click stays at goal tempo, but each short note gets a whole click: fingers first.",
    clean_means="The finger is down before the bow or tongue moves, on every click.",
    on_slip="Go on, and note where it was.",
    needs="Notes shorter than a beat.",
    make=_every_note,
    parameters=(LEARNING, PROVING),
    at_goal=True,
    instead=("alone", "off-beat-click"),
)


def _off_beat(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    half = passage.beat / (3 if passage.beat.numerator % 3 == 0 else 2)
    return (
        written_step(
            passage,
            name="Click off the beat",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            click_at=passage.beat - half,
            say="The click is the off-beat: the beat itself is yours.",
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


SETTING = Parameter(
    "set_repetitions", "In a row to set it", 5, low=1, high=20, by_level={"beginner": 3}
)
OFF_BEAT = DrillKind(
    name="off-beat-click",
    title="Click on the off-beat",
    family="Isolation",
    use_when="It rushes or drags although the beat clicks.",
    how="The metronome sounds between the beats; then on them, as written.",
    clean_means="The click stays exactly in the middle of each beat.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="Any chunk.",
    make=_off_beat,
    parameters=(SETTING, PROVING),
    least_level=NOTES_KNOWN,
)


def _subdivision(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    parts = 3 if passage.beat.numerator % 3 == 0 else 2
    return (
        written_step(
            passage,
            name="Click on the subdivision",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            click=passage.beat / parts,
            say="Count the small beats aloud once, then play on them.",
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


SUBDIVISION = DrillKind(
    name="subdivision-click",
    title="Click on the subdivision",
    family="Isolation",
    use_when="Rests come out short, dotted notes lazy, or slow and free music has no pulse yet.",
    how="The metronome sounds every half beat (every third in compound time); then the beat.",
    clean_means="Every note on or exactly between the clicks; long notes and rests full length.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="Any chunk.",
    make=_subdivision,
    parameters=(SETTING, PROVING),
)


def _first_beat(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    return (
        written_step(
            passage,
            name="Click on the first beat only",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            click=passage.first.nominal,
            click_at=-passage.span.start.at % passage.first.nominal,
            say="One click a measure: the beats between are yours.",
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


FIRST_BEAT = DrillKind(
    name="first-beat-click",
    title="Click on the first beat",
    family="Isolation",
    use_when="The pulse leans on the metronome and is lost without it.",
    how="The metronome sounds once a measure; then on every beat, as written.",
    clean_means="Each measure arrives with its click, neither early nor late.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="More than one measure.",
    make=_first_beat,
    parameters=(SETTING, PROVING),
    least_level=RHYTHM_KNOWN,
)


def _long_before(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("A stroke cannot be held long before a fast group.")
    if not passage.runs:
        raise DrillDoesNotFit("No fast group here: it takes four equal notes in a row.")
    run = min(passage.runs, key=lambda r: r.unit)
    length = passage.beat * int(settings["beats"])
    lead = with_length(bare(passage.events[run.first]), length)
    group = list(passage.events[run.first : run.last])
    landing = [passage.landing] if passage.landing and run.last == len(passage.events) else []
    return (
        laid_step(
            passage,
            [lead, *group, *landing],
            name="Long, then the group",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            say="A full long note first; the air or bow keeps moving into the group.",
            turned=note_ids(group),
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


LONG_BEFORE = DrillKind(
    name="long-before-fast",
    title="Long before fast",
    family="Isolation",
    use_when="The tongue or bow locks in a fast group, or the air stops before it.",
    how="A full long note on the first pitch, then the fast group without a break.",
    clean_means="The group is as free as the long note was; no tightening.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="A run: four or more equal notes in a row.",
    make=_long_before,
    parameters=(
        Parameter("beats", "Long note, in beats", 4, low=2, high=8),
        SETTING,
        PROVING,
    ),
    caution="Brass and reeds: rest about as long as you play. A locked jaw or tongue: stop and"
    " rest.",
    same_pitches=False,
    instead=("articulation", "alone"),
)


def _with_gap(passage: Passage, at: int, gap: Fraction) -> list[Event]:
    """The line with silence before its attack ``at``."""
    row: list[Event] = []
    attack = 0
    for event in passage.plain_events:
        if not event.is_rest:
            if attack == at and gap:
                row.append(Event(gap))
            attack += 1
        row.append(event)
    return row


def _rest_gap(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    found = sudden_change(passage)
    if str(settings["at"]) == AUTO and found is None:
        raise DrillDoesNotFit(
            "No sudden change here: no new dynamic, bow or finger, and no leap of an octave."
        )
    at = note_number(passage, settings["at"], otherwise=found or 0)
    if at == 0:
        raise DrillDoesNotFit("The change stands at the very start: take the notes before it too.")
    steps = [
        laid_step(
            passage,
            _with_gap(passage, at, passage.beat * share),
            name=f"{said} of rest before note {at + 1}",
            kind=LEARN,
            repetitions=int(settings["learning_repetitions"]),
            slip=ON,
            say="Let go on both sides of the gap; be ready before it ends.",
        )
        for share, said in (
            (Fraction(1), "A beat"),
            (Fraction(1, 2), "Half a beat"),
            (Fraction(1, 4), "A quarter of a beat"),
        )
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


REST_GAP = DrillKind(
    name="rest-gap",
    title="Rest in the gap",
    family="Isolation",
    use_when="A sudden dynamic, register or pizzicato change comes late or tense.",
    how="A beat of rest before the change, then half a beat, a quarter, none.",
    clean_means="The change is there at once and calm; no tension before or after it.",
    on_slip="Go on; the next pass of the same gap tells.",
    needs="A sudden change inside the chunk, or the number of the note it falls on.",
    make=_rest_gap,
    parameters=(Parameter("at", "Before note", AUTO), LEARNING, PROVING),
    instead=("two-notes", "alone"),
)

KINDS = (
    ALONE,
    TWO_NOTES,
    DIFFERENCE,
    EACH_NOTE,
    EVERY_NOTE,
    OFF_BEAT,
    SUBDIVISION,
    FIRST_BEAT,
    REST_GAP,
    LONG_BEFORE,
)
