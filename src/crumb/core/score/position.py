"""Positions, spans and what sounds in them."""

from bisect import bisect_right
from dataclasses import dataclass, replace
from fractions import Fraction

from crumb.core.errors import BadAddress
from crumb.core.score.meter import beat_starts, beats_of, lead_of
from crumb.core.score.model import ZERO, Measure, Note, Part
from crumb.core.score.pitch import Pitch


@dataclass(frozen=True, slots=True, order=True)
class Position:
    """A measure (by index, not printed number) plus an offset in it in quarter notes."""

    index: int
    at: Fraction


@dataclass(frozen=True, slots=True)
class Span:
    """From ``start`` up to, not including, ``end``; with ``landing`` the next note ends it."""

    start: Position
    end: Position
    landing: bool = False

    @property
    def measures(self) -> int:
        """How many measures have some of it, landing aside."""
        return self.end.index - self.start.index + (self.end.at > 0)

    def touches(self, other: "Span") -> bool:
        """Whether any of the music is in both, landings aside."""
        return self.start < other.end and other.start < self.end

    def covers(self, other: "Span") -> bool:
        """Whether everything from other's start to its end lies inside; landings aside."""
        return self.start <= other.start and other.end <= self.end


@dataclass(frozen=True, slots=True)
class Sound:
    """One attack with its ties merged; ``at`` in quarter notes from a stated zero."""

    at: Fraction
    duration: Fraction
    pitch: Pitch | None
    note_id: str
    grace: bool = False
    midi: int | None = None
    """The key it sounds at; None for a stroke without pitch."""
    drum: str = ""

    @property
    def end(self) -> Fraction:
        """Where the sound stops, from the same zero."""
        return self.at + self.duration


def absolute(part: Part, position: Position) -> Fraction:
    """Quarter notes from the start of the part.

    Raises:
        BadAddress: the measure does not exist or the offset lies outside it.
    """
    if position.index == len(part.measures) and position.at == 0:
        return part.length
    if not 0 <= position.index < len(part.measures):
        raise BadAddress(f"This part has {len(part.measures)} measures; there is no such place.")
    measure = part.measures[position.index]
    if not 0 <= position.at <= measure.length:
        raise BadAddress(f"Measure {measure.number} is not that long.")
    return part.starts[position.index] + position.at


def position_at(part: Part, quarters: Fraction) -> Position:
    """The position ``quarters`` from the start; a barline belongs to the measure after it."""
    if quarters >= part.length:
        return Position(len(part.measures), ZERO)
    index = max(bisect_right(part.starts, quarters) - 1, 0)
    return Position(index, quarters - part.starts[index])


def canonical(part: Part, position: Position) -> Position:
    """The same place with the end of a measure written as the start of the next."""
    return position_at(part, absolute(part, position))


def whole(part: Part) -> Span:
    """The span of the whole part."""
    return Span(Position(0, ZERO), Position(len(part.measures), ZERO))


def sounds(part: Part) -> tuple[Sound, ...]:
    """Every attack of the part from its start, ties merged, grace notes with duration 0."""
    result: list[Sound] = []
    tied: dict[tuple[Pitch | None, int], int] = {}
    for measure, note in part.each_note():
        if not note.sounds or note.cue:
            continue
        at = part.starts[measure.index - part.measures[0].index] + note.at
        voice_key = (note.pitch or note.place, note.staff)
        if not note.grace and note.tie in ("continue", "stop") and voice_key in tied:
            place = tied[voice_key]
            held = result[place]
            result[place] = replace(held, duration=at + note.duration - held.at)
            if note.tie == "stop":
                del tied[voice_key]
            continue
        if not note.grace and note.tie in ("start", "continue"):
            tied[voice_key] = len(result)
        midi = None
        if note.pitch is not None:
            midi = note.pitch.midi + part.transposition_at(measure).chromatic
        result.append(
            Sound(at, note.duration, note.pitch, note.id, bool(note.grace), midi, note.drum)
        )
    return tuple(sorted(result, key=lambda sound: sound.at))


def sounding(part: Part) -> tuple[Fraction, Fraction] | None:
    """Where the first note is struck and the last ends, in quarters; None if there is none."""
    struck = [sound for sound in sounds(part) if not sound.grace]
    if not struck:
        return None
    return struck[0].at, max(sound.end for sound in struck)


def starts_at(measure: Measure, at: Fraction) -> tuple[Note, ...]:
    """The sounding notes that are struck exactly at an offset, grace and cue notes apart."""
    return tuple(n for n in measure.notes if n.is_attack and n.at == at)


def landing_notes(part: Part, end: Position) -> tuple[Note, ...]:
    """The notes a span that ends here can land on; empty where a rest or a held note stands."""
    end = canonical(part, end)
    if end.index >= len(part.measures):
        return ()
    return starts_at(part.measures[end.index], end.at)


def is_held(part: Part, position: Position) -> bool:
    """Whether a note or rest is in the middle of its value here, or tied from before."""
    if position.index >= len(part.measures):
        return False
    measure = part.measures[position.index]
    return any(
        note.at < position.at < note.end
        or (note.at == position.at and note.sounds and note.tie in ("stop", "continue"))
        for note in measure.notes
        if not note.hidden and not note.grace
    )


def beat_of(measure: Measure, at: Fraction) -> Fraction:
    """The beat said aloud for an offset, counted from 1; a pickup counts to the barline."""
    place, start, length = beats_of(measure.time).slot(at + lead_of(measure))
    return 1 + place + (at + lead_of(measure) - start) / length


def beat_positions(part: Part) -> tuple[Position, ...]:
    """Every beat of the part in order, the end of the part last."""
    places = []
    for i, measure in enumerate(part.measures):
        starts = beat_starts(measure)
        if not starts or starts[0] > 0:
            places.append(Position(i, ZERO))
        places.extend(Position(i, at) for at in starts)
    return (*places, Position(len(part.measures), ZERO))
