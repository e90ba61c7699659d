"""Leans, regroupings, quick releases and repeats: the same notes with the weight elsewhere.

Leans and groupings are aids: marked as such, and gone again in the last step.
"""

import re
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.build import (
    bare,
    is_landing,
    laid_part,
    laid_step,
    marked_step,
    with_length,
    written_step,
)
from crumb.core.drills.kinds.isolation import repeated
from crumb.core.drills.model import (
    LEARN,
    NOTES_KNOWN,
    RHYTHM_KNOWN,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.patterns import natural_group
from crumb.core.drills.settings import LEARNING, PROVING, WARM_UP
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.model import ZERO, Measure, Note, Part, Time
from crumb.core.score.notating import Event, beamed_together
from crumb.core.score.position import sounds

_GROUP = re.compile(r"\d{1,2}", re.ASCII)
_MARKS = {"lean": "tenuto", "accent": "accent"}
_STYLE = Parameter("style", "By a", "lean", choices=tuple(_MARKS))


def _order(step: Step) -> dict[str, int]:
    """The place of each attack of a written step among its attacks, chords as one; by note id."""
    places: dict[str, int] = {}
    last: tuple[int, Fraction] | None = None
    count = -1
    found = [
        ((m.index, n.at), n)
        for m in step.part.measures
        for n in m.notes
        if n.is_attack and not n.hidden and not is_landing(n)
    ]
    for where, note in sorted(found, key=lambda item: item[0]):
        if where != last:
            count, last = count + 1, where
        places[note.id] = count
    return places


def _leaned(step: Step, places: frozenset[int], *, name: str, style: str) -> Step:
    order = _order(step)
    mark = _MARKS[style]

    def change(_: Measure, note: Note) -> Note:
        if order.get(note.id) not in places or mark in note.articulations:
            return note
        return replace(note, articulations=(*note.articulations, mark))

    made = marked_step(step, name=name, kind=LEARN, change=change)
    return replace(made, turned=frozenset(n for n in order if order[n] in places))


def _lean(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    group = int(settings["group"]) or natural_group(passage.commonest_value, passage.meter)
    style = str(settings["style"])
    count = len(passage.attacks)
    if group < 2:
        raise BadSetting("A group has at least two notes.")
    if count < group:
        if int(settings["group"]) or count < 2:
            raise DrillDoesNotFit(f"There are only {count} notes: lean in smaller groups.")
        group = count
    base = written_step(
        passage, repetitions=int(settings["learning_repetitions"]), kind=LEARN, say=_SAYS[style]
    )
    steps = [
        _leaned(
            base,
            frozenset(range(place, count, group)),
            name=f"Lean on {place + 1} of {group}"
            if style == "lean"
            else f"Accent on {place + 1} of {group}",
            style=style,
        )
        for place in range(group)
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


_SAYS = {
    "lean": "Lean into the marked notes: a little longer and warmer, no accent.",
    "accent": "Accent the marked notes; everything between stays light.",
}
LEAN = DrillKind(
    name="lean",
    title="Lean on each in turn",
    family="Emphasis",
    use_when="Notes inside the groups are swallowed, or accents fall everywhere.",
    how="Lean on the first of every group, then the second, third, fourth; then as written.",
    clean_means="Only the leaned notes speak out; the tempo does not notice.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="As many notes as one group has.",
    is_aid=True,
    make=_lean,
    parameters=(
        Parameter("group", "Groups of (0: as the meter has them)", 0, low=0, high=8),
        _STYLE,
        replace(LEARNING, default=2),
        PROVING,
    ),
    least_level=NOTES_KNOWN,
)


# Regrouping -----------------------------------------------------------------------------------


def group_sizes(text: str) -> list[int]:
    """Sizes of groups as written down: ``1+4+4``.

    Raises:
        BadSetting: not whole numbers from 1 to 16 joined by +.
    """
    words = text.replace(" ", "").split("+")
    sizes = [int(word) for word in words if _GROUP.fullmatch(word)]
    if not len(words) == len(sizes) <= 16 or not all(1 <= size <= 16 for size in sizes):
        raise BadSetting(f"“{text[:20]}” is no grouping: write 1+4+4, or 3+3.")
    return sizes


def _group_starts(sizes: list[int], count: int) -> list[int]:
    """First places of the groups; the last two or more sizes go on to the end."""
    starts, place, i = [], 0, 0
    while place < count:
        starts.append(place)
        place += sizes[i] if i < len(sizes) else sizes[-1]
        i += 1
    return starts


def _rebeamed(part: Part, starts: frozenset[str]) -> Part:
    """Beams broken only before the notes named and at rests, barlines and unflagged notes."""
    measures = []
    for measure in part.measures:
        beams: dict[int, tuple[str, ...]] = {}
        row: list[int] = []
        for i, note in enumerate(measure.notes):
            if note.in_chord or note.grace:
                continue
            joins = bool(note.beams) or note.type in ("eighth", "16th", "32nd", "64th", "128th")
            if row and (not joins or note.is_rest or note.id in starts):
                beams.update(beamed_together(measure.notes, row))
                row = []
            if joins and note.sounds:
                row.append(i)
        beams.update(beamed_together(measure.notes, row))
        measures.append(
            replace(
                measure,
                notes=tuple(
                    n if n.grace else replace(n, beams=beams.get(i, ()))
                    for i, n in enumerate(measure.notes)
                ),
            )
        )
    return replace(part, measures=tuple(measures))


def _regroup(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_one_line()
    sizes = group_sizes(str(settings["groups"]))
    count = len(passage.attacks)
    starts = _group_starts(sizes, count)
    if len(starts) < 2:
        raise DrillDoesNotFit(f"There are only {count} notes: take smaller groups.")
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        say="Think and lean in the new groups, as they are beamed; the rhythm stays.",
    )
    order = _order(base)
    heads = frozenset(note_id for note_id, place in order.items() if place in starts)
    name = f"Grouped {'+'.join(str(size) for size in sizes)}"
    step = _leaned(base, frozenset(starts), name=name, style=str(settings["style"]))
    part = _rebeamed(step.part, heads)
    return (
        replace(step, part=part, turned=None),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


REGROUP = DrillKind(
    name="regroup",
    title="Regroup",
    family="Emphasis",
    use_when="The groups have hardened, or the way over the beat is where it breaks.",
    how="Groups that start elsewhere, such as 1+4+4 instead of 4+4 or six as 3+3; then as written.",
    clean_means="You hear the new groups, and the rhythm has not changed.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="One line with more notes than one group.",
    make=_regroup,
    parameters=(
        Parameter("groups", "Groups (the last goes on)", "1+4"),
        _STYLE,
        replace(LEARNING, default=2),
        PROVING,
    ),
    least_level=NOTES_KNOWN,
)


# Releases and repeats ---------------------------------------------------------------------------


def _quick_release(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        say="Let each note go at once; the finger stays on its key, string or hole.",
    )

    def change(_: Measure, note: Note) -> Note:
        if not note.is_attack or note.in_chord or is_landing(note):
            return note
        return replace(note, articulations=("staccatissimo",), slurs=())

    def unslurred(measure: Measure, note: Note) -> Note:
        return replace(change(measure, note), slurs=())

    step = marked_step(base, name="Quick release", kind=LEARN, change=unslurred)
    return (step, written_step(passage, repetitions=int(settings["repetitions"])))


QUICK_RELEASE = DrillKind(
    name="quick-release",
    title="Quick release",
    family="Emphasis",
    use_when="Notes stick together, or the hand stays tight after each.",
    how="Every note let go at once without lifting the finger; then as written.",
    clean_means="Each note short and free; the hand is loose before the next.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Any chunk.",
    make=_quick_release,
    parameters=(LEARNING, PROVING),
    caution=WARM_UP,
    least_level=NOTES_KNOWN,
)


def _quick_repeats(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    times = int(settings["times_each"])
    events = passage.events
    if len(passage.attacks) * times > 320:
        raise DrillDoesNotFit(
            "That is too long to strike each note so often: take a smaller chunk."
        )
    row = [
        event if event.is_rest else with_length(event, event.duration / times)
        for event in repeated(events, times)
    ]
    landing = [bare(passage.landing)] if passage.landing else []
    step = laid_step(
        passage,
        [*row, *landing],
        name=f"Each note {times} quick times",
        kind=LEARN,
        repetitions=int(settings["learning_repetitions"]),
        say="If the repeats are uneven, that is the exercise.",
    )
    return (step, written_step(passage, repetitions=int(settings["repetitions"])))


QUICK_REPEATS = DrillKind(
    name="quick-repeats",
    title="Quick repeats",
    family="Emphasis",
    use_when="Tongue, bow or stick is uneven, or double tonguing has to be learned on these notes.",
    how="Each note two or three fast times in its own length; then as written.",
    clean_means="The repeats are even and light, and the change of note is on time.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="One line of notes without grace notes.",
    make=_quick_repeats,
    parameters=(
        Parameter("times_each", "Times each", 2, low=2, high=4, by_level={"advanced": 3}),
        LEARNING,
        PROVING,
    ),
    caution="Brass and reeds: rest about as long as you play. A locked tongue or wrist: stop.",
    least_level=RHYTHM_KNOWN,
)

_STRIKERS = frozenset({"keyboard", "mallets"})


def _hold_strike(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if passage.instrument.family not in _STRIKERS:
        raise DrillDoesNotFit(
            "Holding one note while striking another is for keyboard and mallets."
        )
    passage.need_pitches("There is no second key to hold here.")
    first = int(settings["first"]) - 1
    events = [e for e in passage.plain_events if not e.is_rest][first:]
    if not 2 <= len(events) <= 40:
        raise DrillDoesNotFit("This drill goes note by note: take a chunk of 2 to 40 notes.")
    most = int(settings["strikes"])
    counts = range(1, most + 1) if settings["stages"] == "yes" else (most,)
    steps = [
        _strike_step(passage, events, strikes, int(settings["learning_repetitions"]))
        for strikes in counts
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _strike_step(passage: Passage, events: Sequence[Event], strikes: int, times: int) -> Step:
    """Each note held while the next is struck so many times."""
    unit = Fraction(1, 2)
    beats = Time(str(strikes + 1), 8)
    held = [with_length(bare(e), unit * (strikes + 1)) for e in events[:-1]]
    struck = []
    for after in events[1:]:
        struck.append(replace(bare(after), duration=unit, model=()))
        struck.extend(with_length(e, unit) for e in repeated([after], strikes))
    lower = laid_part(passage, held, time=beats, group=beats.length)
    upper = laid_part(passage, struck, time=beats, group=beats.length)
    measures = tuple(
        replace(
            a,
            notes=(
                *(replace(n, voice="1", id=f"u{n.id}") for n in b.notes),
                *(replace(n, voice="2") for n in a.notes),
            ),
        )
        for a, b in zip(lower.measures, upper.measures, strict=True)
    )
    part = replace(lower, measures=measures)
    return Step(
        name=f"Hold one, strike the next ×{strikes}",
        kind=LEARN,
        repetitions=times,
        part=part,
        sounds=sounds(part),
        quarters=sum((e.duration for e in held), ZERO),
        click=unit,
        covers=passage.span,
        as_written=False,
        say="One key stays down, quiet, while the next finger or mallet strikes alone.",
    )


HOLD_STRIKE = DrillKind(
    name="hold-strike",
    title="Hold one, strike the next",
    family="Emphasis",
    use_when="Fingers or mallets are not independent: one moves when the other strikes.",
    how="One note held while the next is struck one to three times, note by note; then as written.",
    clean_means="The held hand or finger stays quiet; the strikes are even.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Keyboard or mallets, 2 to 40 notes in one line.",
    make=_hold_strike,
    parameters=(
        Parameter("strikes", "Strikes, at most", 3, low=1, high=3, by_level={"beginner": 2}),
        Parameter("stages", "Once, then twice, then three times", "yes", choices=("yes", "no")),
        Parameter("first", "Begin by holding note", 1, low=1, high=2),
        replace(LEARNING, default=2),
        PROVING,
    ),
    caution=WARM_UP,
    families=_STRIKERS,
    same_pitches=False,
    instead=("each-note", "alone"),
)

KINDS = (LEAN, REGROUP, QUICK_RELEASE, QUICK_REPEATS, HOLD_STRIKE)
