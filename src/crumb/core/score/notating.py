"""Durations into written values, rows of notes into complete measures, and beams.

The rules of rhythmic spelling used here (no note hides a barline; a note that starts off the beat
is tied over the next beat, plain syncopation apart; tuplets close where their sum is plain again)
are common practice, no source.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache

from crumb.core.errors import NotNotatable
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.meter import Grid, beams_of
from crumb.core.score.model import (
    ZERO,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Slur,
    Time,
    Tuplet,
)

TYPES = (
    ("breve", Fraction(8)),
    ("whole", Fraction(4)),
    ("half", Fraction(2)),
    ("quarter", Fraction(1)),
    ("eighth", Fraction(1, 2)),
    ("16th", Fraction(1, 4)),
    ("32nd", Fraction(1, 8)),
    ("64th", Fraction(1, 16)),
    ("128th", Fraction(1, 32)),
    ("256th", Fraction(1, 64)),
)
FLAGS = {"eighth": 1, "16th": 2, "32nd": 3, "64th": 4, "128th": 5, "256th": 6}
_RATIOS = ((1, 1), (3, 2), (5, 4), (7, 4), (9, 8))
_DOTS = (Fraction(1), Fraction(3, 2), Fraction(7, 4))


@dataclass(frozen=True, slots=True)
class Value:
    """A written value: type, dots and tuplet ratio, with the time it takes."""

    duration: Fraction
    type: str
    dots: int
    actual: int
    normal: int


def is_plain(duration: Fraction) -> bool:
    """Whether a duration needs no tuplet: its denominator is a power of two."""
    return duration.denominator & (duration.denominator - 1) == 0


def value_of(duration: Fraction, max_dots: int = 2) -> Value | None:
    """The single written value of a duration, or None if it takes more than one."""
    return _known_value(duration.numerator, duration.denominator, max_dots)


# The same few durations come over and over, and fractions are slow to hash: looked up by numbers.
@lru_cache(maxsize=4096)
def _known_value(numerator: int, denominator: int, max_dots: int) -> Value | None:
    duration = Fraction(numerator, denominator)
    for actual, normal in _RATIOS:
        written = duration * actual / normal
        for dots in range(max_dots + 1):
            for type_name, length in TYPES:
                if length * _DOTS[dots] == written:
                    return Value(duration, type_name, dots, actual, normal)
    return None


def values_of(duration: Fraction) -> tuple[Value, ...]:
    """A duration as one value or several to be tied, longest first.

    Raises:
        NotNotatable: no sum of plain, dotted or tuplet values makes it.
    """
    single = value_of(duration)
    if single:
        return (single,)
    for actual, normal in _RATIOS:
        if not is_plain(duration * actual / normal):
            continue
        left = duration * actual / normal
        values: list[Value] = []
        for type_name, length in TYPES:
            while length <= left:
                values.append(Value(length * normal / actual, type_name, 0, actual, normal))
                left -= length
        if left == 0 and len(values) <= 8:
            return tuple(values)
    raise NotNotatable(f"A duration of {duration} quarter notes cannot be written exactly.")


@dataclass(frozen=True, slots=True)
class Event:
    """A note, chord or rest to be laid out: one duration, any number of pitches."""

    duration: Fraction
    model: tuple[Note, ...] = ()
    """The notes this event takes its pitches and marks from; empty for a rest."""

    slurs: tuple[str, ...] = ()
    """Ends of slurs here: ``stop`` before ``start``."""

    words: str = ""
    """Printed above."""

    gestures: tuple[str, ...] = ()
    """Ends of slides and the like to other events, as on a note."""

    directions: tuple[Direction, ...] = ()
    """Marks that stand where the event starts."""

    key: Key | None = None
    """The key from here on; it comes into force at the next barline."""

    @property
    def is_rest(self) -> bool:
        """Whether nothing sounds."""
        return not self.model


def lay_out(
    events: Iterable[Event],
    *,
    time: Time,
    key: Key,
    clefs: tuple[Clef, ...],
    id_prefix: str,
    groups: Grid | None = None,
    strokes: bool = False,
) -> tuple[Measure, ...]:
    """Fill measures of one meter with a row of events; the last measure is filled with rests.

    Every measure adds up to the meter exactly; notes across a barline or a beat are tied, and
    ``strokes``, which cannot be held, are followed by rests instead.
    """
    groups = groups or beams_of(time)
    measures: list[Measure] = []
    row: list[Note] = []
    words: list[Direction] = []
    at = ZERO
    counter = 0
    coming: Key | None = None

    def close() -> None:
        nonlocal key, coming
        notes = bracket_tuplets(row)
        made = Measure(
            index=len(measures),
            number="",
            implicit=True,
            length=time.length,
            time=time,
            key=key,
            clefs=clefs,
            notes=beam(notes, groups),
            directions=tuple(words),
        )
        measures.append(made)
        row.clear()
        words.clear()
        key, coming = coming or key, None

    silence = Event(ZERO)
    for event in events:
        left = event.duration
        first = True
        while left > 0:
            if at == time.length:
                close()
                at = ZERO
            if first and event.words:
                words.append(Direction(at, "words", event.words))
            if first and event.directions:
                words.extend(replace(mark, at=at) for mark in event.directions)
            if first and event.key is not None:
                key, coming = (event.key, None) if at == 0 else (key, event.key)
            chunk = _piece(at, min(left, time.length - at), groups)
            for value in values_of(chunk):
                left -= value.duration
                sounding = event if first or not strokes else silence
                goes_on = left > 0 and not strokes
                row.extend(_written(sounding, value, at, f"{id_prefix}{counter}", first, goes_on))
                counter += 1
                at += value.duration
                first = False
    if at < time.length and row:
        for value in _rests(at, time.length):
            row.append(rest(value, at, f"{id_prefix}{counter}"))
            counter += 1
            at += value.duration
    if row:
        close()
    return with_accidentals(measures)


def _piece(at: Fraction, duration: Fraction, groups: Grid) -> Fraction:
    """How much of a duration is written before the next beat has to be shown."""
    _, start, group = groups.slot(at)
    into = at - start
    if into == 0 or into + duration <= group:
        return duration
    plain_syncopation = into * 2 == group and duration == group
    return duration if plain_syncopation else group - into


def _rests(at: Fraction, end: Fraction) -> list[Value]:
    """Values that fill from ``at`` to ``end``: to the next beat first, then as long as can be."""
    gap = end - at
    to_beat = min(-at % 1, gap)
    values = list(values_of(to_beat)) if to_beat else []
    if gap > to_beat:
        values.extend(values_of(gap - to_beat))
    return values


def _tie(note: Note, *, is_first: bool, goes_on: bool) -> str | None:
    if note.is_rest:
        return None
    if is_first:
        return "start" if goes_on else None
    return "continue" if goes_on else "stop"


def _written(
    event: Event, value: Value, at: Fraction, note_id: str, is_first: bool, goes_on: bool
) -> list[Note]:
    if event.is_rest:
        return [rest(value, at, note_id)]
    tuplet = Tuplet(value.actual, value.normal) if value.actual > 1 else None
    return [
        replace(
            model,
            id=f"{note_id}" if i == 0 else f"{note_id}c{i}",
            at=at,
            duration=value.duration,
            type=value.type,
            dots=value.dots,
            tuplet=tuplet,
            in_chord=i > 0,
            tie=_tie(model, is_first=is_first, goes_on=goes_on),
            articulations=model.articulations if is_first else (),
            technical=model.technical if is_first else (),
            ornaments=_alone(model.ornaments) if is_first else (),
            gestures=(*_alone(model.gestures), *event.gestures) if is_first else (),
            lyric=model.lyric if is_first else "",
            fermata=model.fermata and not goes_on,
            slurs=_slurs(event, is_first=is_first, goes_on=goes_on) if i == 0 else (),
            nesting=(),
            beams=(),
            voice="1",
            staff=1,
        )
        for i, model in enumerate(event.model)
    ]


def _alone(marks: tuple[str, ...]) -> tuple[str, ...]:
    """Marks that need no partner on another note, which a new rhythm may not have."""
    return tuple(m for m in marks if ":" not in m or m.startswith("tremolo:single"))


def _slurs(event: Event, *, is_first: bool, goes_on: bool) -> tuple[Slur, ...]:
    """A slur stops on the last and starts on the first of the values an event is tied from."""
    stops = tuple(Slur(1, "stop") for end in event.slurs if end == "stop" and not goes_on)
    starts = tuple(Slur(1, "start") for end in event.slurs if end == "start" and is_first)
    return (*stops, *starts)


def rest(value: Value, at: Fraction, note_id: str, *, hidden: bool = False) -> Note:
    """A rest of one written value."""
    tuplet = Tuplet(value.actual, value.normal) if value.actual > 1 else None
    return Note(
        id=note_id,
        at=at,
        duration=value.duration,
        is_rest=True,
        hidden=hidden,
        type=value.type,
        dots=value.dots,
        tuplet=tuplet,
    )


def bracket_tuplets(notes: Sequence[Note]) -> tuple[Note, ...]:
    """Mark where each tuplet starts and stops: it closes where its sum is plain again."""
    result: list[Note] = []
    total = ZERO
    for note in notes:
        if note.tuplet is None or note.in_chord or note.grace:
            result.append(note)
            continue
        starts = total == 0
        total += note.duration
        stops = is_plain(total)
        if stops:
            total = ZERO
        edges = (starts and not stops, stops and not starts)
        if edges == (note.tuplet.starts, note.tuplet.stops):
            result.append(note)
            continue
        edge = replace(note.tuplet, starts=edges[0], stops=edges[1])
        result.append(replace(note, tuplet=edge))
    return tuple(result)


def beam(notes: Sequence[Note], groups: Grid, lead: Fraction = ZERO) -> tuple[Note, ...]:
    """Beam flagged notes inside each group, one voice at a time.

    Args:
        notes: the notes of one measure.
        groups: how much a beam may join.
        lead: quarter notes missing in front (a pickup), so that groups stay on the beats.
    """
    beamed: dict[int, tuple[str, ...]] = {}
    for voice in {(n.voice, n.staff) for n in notes}:
        run: list[int] = []
        slot = -1
        for i, note in enumerate(notes):
            if (note.voice, note.staff) != voice or note.in_chord or note.grace:
                continue
            here = groups.slot(note.at + lead)[0]
            joins = note.type in FLAGS and note.sounds
            if run and (not joins or here != slot):
                beamed.update(beamed_together(notes, run))
                run = []
            if joins:
                run.append(i)
                slot = here
        beamed.update(beamed_together(notes, run))
    return tuple(
        note
        if note.grace or note.beams == (beams := beamed.get(i, ()))
        else replace(note, beams=beams)
        for i, note in enumerate(notes)
    )


def beamed_together(notes: Sequence[Note], run: Sequence[int]) -> dict[int, tuple[str, ...]]:
    """The beams of the notes at these places, joined as one group."""
    if len(run) < 2:
        return {}
    flags = [FLAGS[notes[i].type] for i in run]
    beams: dict[int, tuple[str, ...]] = {}
    for place, index in enumerate(run):
        levels = []
        for level in range(1, flags[place] + 1):
            before = place > 0 and flags[place - 1] >= level
            after = place + 1 < len(run) and flags[place + 1] >= level
            if before and after:
                levels.append("continue")
            elif after:
                levels.append("begin")
            elif before:
                levels.append("end")
            else:
                levels.append("backward hook" if place > 0 else "forward hook")
        beams[index] = tuple(levels)
    return beams
