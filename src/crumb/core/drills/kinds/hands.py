"""What the hand does: its order by itself, two ways compared, ready before it is needed."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.kinds.reading import spoken
from crumb.core.drills.making import (
    bare,
    laid_step,
    marked_step,
    with_length,
    word_at,
    written_step,
)
from crumb.core.drills.model import (
    LEARN,
    ON,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, PROVING, note_number
from crumb.core.drills.spots import hardest_pair, sudden_change, top
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.model import Direction, Measure
from crumb.core.score.notating import Event
from crumb.core.survey.fingers import CHARTS
from crumb.core.survey.slide import path as slide_path
from crumb.core.survey.strings import OPEN, Place
from crumb.core.survey.strings import path as string_path

_BRASS = frozenset({"trumpet", "horn", "euphonium", "tuba"})


def hand_labels(passage: Passage, pitches: Sequence[int | None]) -> list[str]:
    """What the hand does for each note, as printed under it: valves, position, string, sticking."""
    family = passage.instrument.family
    if family == "drums" or not passage.is_pitched:
        return ["R" if i % 2 == 0 else "L" for i in range(len(pitches))]
    if family == "mallets":
        return ["R" if i % 2 == 0 else "L" for i in range(len(pitches))]
    known = [p for p in pitches if p is not None]
    if family in _BRASS:
        chart = CHARTS[family]
        return ["" if p is None else (chart.get(p, "?") or "0") for p in pitches]
    if family == "trombone":
        sounding = passage.part.transposition.chromatic
        found = iter(slide_path([p + sounding for p in known]))
        return ["" if p is None else str(next(found) or "?") for p in pitches]
    if family in OPEN:
        places = iter(string_path(family, known))
        labels = []
        for pitch in pitches:
            place = next(places) if pitch is not None else None
            strings = len(OPEN[family])
            labels.append("" if place is None else _string_label(place, strings))
        return labels
    return []


_ROMAN = ("I", "II", "III", "IV")


def _string_label(place: Place, strings: int) -> str:
    """The string, counted from the highest as players do; an open one is marked so."""
    return _ROMAN[strings - 1 - place.string] + ("·0" if place.height == 0 else "")


def _order(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    events = [e for e in passage.plain_events if not e.is_rest]
    labels = hand_labels(passage, [top(e.model) for e in events])
    if not labels:
        return _named_order(passage, settings, events)
    row = [
        with_length(
            replace(
                bare(event),
                model=tuple(
                    replace(note, lyric=label if i == 0 else "")
                    for i, note in enumerate(bare(event).model)
                ),
            ),
            Fraction(1),
        )
        for event, label in zip(events, labels, strict=True)
    ]
    return _order_steps(passage, settings, row)


def _named_order(passage: Passage, settings: Settings, events: Sequence[Event]) -> tuple[Step, ...]:
    """Woodwinds and keyboards: the names stand for the fingering, which a table cannot print."""
    row = [
        with_length(
            replace(
                bare(event),
                model=tuple(
                    replace(note, lyric=spoken(note.pitch) if i == 0 and note.pitch else "")
                    for i, note in enumerate(bare(event).model)
                ),
            ),
            Fraction(1),
        )
        for event in events
    ]
    return _order_steps(passage, settings, row)


def _order_steps(passage: Passage, settings: Settings, row: Sequence[Event]) -> tuple[Step, ...]:
    times = int(settings["learning_repetitions"])
    silent = laid_step(
        passage,
        row,
        name="Silent, in order",
        kind=LEARN,
        repetitions=times,
        pace=Fraction(1, 2),
        slip=ON,
        say="Only the fingers, slide or sticks, in slow even time; say what the hand does.",
    )
    aloud = replace(
        silent, name="Sounding, still even", pace=Fraction(1), say="The same with sound."
    )
    return (silent, aloud, written_step(passage, repetitions=int(settings["repetitions"])))


ORDER = DrillKind(
    name="hand-order",
    title="Finger, slide or stick order",
    family="Technique",
    use_when="The hand does not know what comes next, or the sticking is left to chance.",
    how="The sequence of valves, positions, strings or sticks by itself, silent, then sounding.",
    clean_means="Every finger, position or stick right and without hurry.",
    on_slip="Go on, and mark the note.",
    needs="One line of notes. The labels are a usual choice: change them where yours differ.",
    make=_order,
    parameters=(LEARNING, PROVING),
    instead=("voices-apart", "alone"),
)


def _two_ways(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    times = int(settings["times"])
    one, two = str(settings["first"]) or "first way", str(settings["second"]) or "second way"
    if one.casefold() == two.casefold():
        raise BadSetting("Name two different ways.")
    base = written_step(
        passage,
        repetitions=times,
        kind=LEARN,
        slip=ON,
        say="Note speed, tune and tone of each way; above some tempo one of them wins.",
    )

    def step(name: str) -> Step:
        first = base.part.measures[0].index

        def words(measure: Measure) -> Iterable[Direction]:
            if measure.index == first:
                yield Direction(base.covers.start.at, "words", name)

        return marked_step(base, name=name[:1].upper() + name[1:], kind=LEARN, words=words)

    return (
        step(one),
        step(two),
        written_step(passage, name="The way you chose", repetitions=int(settings["repetitions"])),
    )


TWO_WAYS = DrillKind(
    name="two-ways",
    title="Two ways compared",
    family="Technique",
    use_when="Two fingerings, positions or bowings are possible and nobody knows which is better.",
    how="The one way in turn with the other, a few times each; then the way you chose.",
    clean_means="Nothing is judged but the difference; the last step is as written.",
    on_slip="Go on: a slip tells against that way.",
    needs="Any chunk.",
    make=_two_ways,
    parameters=(
        Parameter(
            "first", "First way", "usual fingering", by_family={"trombone": "usual positions"}
        ),
        Parameter(
            "second", "Second way", "other fingering", by_family={"trombone": "other positions"}
        ),
        Parameter("times", "Times each", 3, low=1, high=10),
        PROVING,
    ),
    by_measures=True,
)


def _prepare(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if len(passage.attacks) < 2:
        raise DrillDoesNotFit("One note leaves nothing to prepare.")
    change_at = sudden_change(passage)
    otherwise = change_at if change_at is not None else hardest_pair(passage) + 1
    at = note_number(passage, settings["at"], otherwise=otherwise)
    if at == 0:
        raise DrillDoesNotFit("The first note is prepared before you start.")
    word = str(settings["word"]) or "set"
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        pace=Fraction(1, 2),
        slip=ON,
        say="At the sign the finger, hand, bow or mallet is already where it will be needed, and"
        " stays down as long as it can.",
    )
    step = marked_step(
        base, name="Prepared, at half tempo", kind=LEARN, words=word_at(passage, at - 1, word)
    )
    faster = replace(step, name="Prepared, in tempo", pace=Fraction(1))
    return (step, faster, written_step(passage, repetitions=int(settings["repetitions"])))


PREPARE = DrillKind(
    name="prepare",
    title="Prepare and leave down",
    family="Technique",
    use_when="A finger, shift, mallet or pizzicato comes late because it starts late.",
    how="A sign one note early says when the hand must be ready; slowly, in tempo, without it.",
    clean_means="The hand is there before the note; nothing jumps.",
    on_slip="Go on; be earlier next time.",
    needs="Two notes or more.",
    make=_prepare,
    parameters=(
        Parameter("at", "Prepare for note", AUTO),
        Parameter("word", "Sign", "set"),
        LEARNING,
        PROVING,
    ),
    instead=("alone",),
)

KINDS = (
    ORDER,
    TWO_WAYS,
    PREPARE,
)
