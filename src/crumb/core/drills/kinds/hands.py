"""Drills of the hand: its order by itself, two ways compared, ready before it is needed."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import cycle, islice

from crumb.core.drills.build import (
    bare,
    laid_step,
    marked_step,
    plural,
    with_length,
    word_at,
    written_step,
)
from crumb.core.drills.kinds.reading import spoken
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
from crumb.core.survey.strings import HIGHEST, OPEN, Place
from crumb.core.survey.strings import path as string_path

_BRASS = frozenset({"trumpet", "horn", "euphonium", "tuba"})


def hand_labels(passage: Passage, pitches: Sequence[int | None]) -> list[str]:
    """Labels of the hand for each note, as printed under it: valves, position, string, sticking."""
    family = passage.instrument.family
    if passage.is_struck:
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


def _string_label(place: Place, strings: int) -> str:
    """The string, counted from the highest as players do; an open one is marked so."""
    return _ROMAN[strings - 1 - place.string] + ("·0" if place.height == 0 else "")


def _order(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    events = [e for e in passage.plain_events if not e.is_rest]
    own = str(settings["order"])
    if own != AUTO:
        labels = own_order(passage, own, [top(e.model) for e in events])
    else:
        labels = hand_labels(passage, [top(e.model) for e in events]) or [
            # Woodwinds and keyboards: names stand for fingerings, which no table can print.
            spoken(e.model[0].pitch) if e.model[0].pitch else ""
            for e in events
        ]
    row = [_labelled(event, label) for event, label in zip(events, labels, strict=True)]
    return _order_steps(passage, settings, row)


def _labelled(event: Event, label: str) -> Event:
    plain = bare(event)
    named = tuple(
        replace(note, lyric=label if i == 0 else "") for i, note in enumerate(plain.model)
    )
    return with_length(replace(plain, model=named), Fraction(1))


_STICKS = frozenset("RLB")
_PLUCKS = frozenset("pima")
_ROMAN = ("I", "II", "III", "IV")
_FINGER = re.compile(r"^(?:(?:[01234T]|x[1-4])|(?:IV|III|II|I)(?:·?[0-4])?)$")
_VALVES = re.compile(r"^(?:0|1?2?3?4?)$")
_POSITION = re.compile(r"^[1-7][#b♯♭+-]?$")
_MOST_OWN = 64


def own_order(passage: Passage, text: str, pitches: Sequence[int | None]) -> list[str]:
    """An order of sticks, fingers, strings or positions as typed in, one for each note.

    A shorter row than the notes is looped: ``R L R L``, ``i m a m``.

    Raises:
        BadSetting: too many signs, a sign the instrument does not have, or one that cannot play
            its note; says which note.
    """
    signs = text.replace(",", " ").split()
    if len(signs) == 1 and len(text) > 1 and set(text) <= _STICKS | _PLUCKS:
        signs = list(text)
    if not 1 <= len(signs) <= _MOST_OWN:
        raise BadSetting(f"Type between 1 and {_MOST_OWN} signs, with spaces between them.")
    if len(signs) > len(pitches):
        raise BadSetting(f"That is {len(signs)} signs for {plural(len(pitches), 'note')}.")
    row = list(islice(cycle(signs), len(pitches)))
    for place, (sign, pitch) in enumerate(zip(row, pitches, strict=True), 1):
        why = _wrong_sign(passage, sign, pitch)
        if why:
            raise BadSetting(f"Note {place}: “{sign[:8]}” {why}.")
    return row


def _wrong_sign(passage: Passage, sign: str, pitch: int | None) -> str:
    """Why a sign cannot stand under a note of this instrument; empty if it can."""
    family = passage.instrument.family
    if passage.is_struck:
        return "" if sign in _STICKS else "is no stick: R, L or B for both"
    if family in OPEN:
        if sign in _PLUCKS:
            return ""
        return (
            _wrong_string(family, sign, pitch) if _FINGER.match(sign) else "is no finger or string"
        )
    if family in _BRASS:
        return "" if sign and _VALVES.match(sign) else "is no valve: 0, 1, 2, 12, 123 …"
    if family == "trombone":
        return "" if _POSITION.match(sign) else "is no position: 1 to 7"
    return "" if len(sign) <= 6 else "is too long to stand under a note"


def _wrong_string(family: str, sign: str, pitch: int | None) -> str:
    roman = next(
        (name for name in sorted(_ROMAN, key=len, reverse=True) if sign.startswith(name)), ""
    )
    opens = OPEN[family]
    strings = [len(opens) - 1 - _ROMAN.index(roman)] if roman else range(len(opens))
    finger = sign.removeprefix(roman).lstrip("·") if roman else sign
    if pitch is None:
        return ""
    heights = [pitch - opens[string] for string in strings]
    if finger == "0" and 0 not in heights:
        return "is an open string, and this note is none"
    if not any(0 <= height <= HIGHEST for height in heights):
        return "is a string that does not have this note"
    return ""


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
    needs="One line of notes. The labels are a usual choice: type your own where they differ.",
    make=_order,
    stays=True,
    parameters=(
        Parameter("order", "Own order, such as R L R L or i m a m", AUTO),
        LEARNING,
        PROVING,
    ),
    instead=("voices-apart", "alone"),
)


_LONGEST = 60
"""Letters of a way's name, which is that of a step too."""


def _two_ways(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    times = int(settings["times"])
    one = (str(settings["first"]) or "first way")[:_LONGEST]
    two = (str(settings["second"]) or "second way")[:_LONGEST]
    if one.casefold() == two.casefold():
        raise BadSetting("Name two different ways.")
    base = written_step(
        passage,
        repetitions=times,
        kind=LEARN,
        slip=ON,
        say="Note speed, intonation and tone of each way; above some tempo one of them wins.",
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
    use_when="Two fingerings, positions or bowings will do, and you want to know which is better.",
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
