"""A span as drills see it: its line of notes, where each is struck, its runs, who plays it."""

from collections import Counter
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from itertools import pairwise

from crumb.core.drills.runs import Run, find_runs, span_events
from crumb.core.errors import DrillDoesNotFit
from crumb.core.instruments.table import Instrument, instrument_of
from crumb.core.score.model import Measure, Note, Part, Time
from crumb.core.score.notating import Event
from crumb.core.score.position import (
    Position,
    Span,
    absolute,
    beat_positions,
    is_held,
    landing_notes,
    starts_at,
)
from crumb.core.score.slicing import slice_span
from crumb.core.tempo.ladder import seconds_of

_LIKELY = Fraction(80)
_STRUCK = frozenset({"drums", "mallets"})


MOST_SECONDS = Fraction(60 * 60)
"""Of one cycle of a drill: more than an hour is no drill any more (common practice, no source)."""


@dataclass(frozen=True)
class Passage:
    """A part and a span of it, with what drills ask about it, each worked out once."""

    part: Part
    span: Span
    tempo: Fraction | None = None
    """Beats a minute it is practised at, where that is known."""

    @property
    def working_tempo(self) -> Fraction:
        """The tempo by which minutes are judged: the one told, or what is likely without it."""
        return self.tempo or _LIKELY

    @property
    def is_blank(self) -> bool:
        """Whether only its measures are known: what is played in them stands on paper."""
        return self.part.is_blank

    @cached_property
    def first(self) -> Measure:
        """The measure it starts in."""
        return self.part.measures[self.span.start.index]

    @property
    def meter(self) -> Time:
        """The meter of its first measure; what has none is laid out in fours."""
        return Time("4", 4) if self.first.time.is_free else self.first.time

    @property
    def beat(self) -> Fraction:
        """The beat of its first measure, in quarter notes."""
        return self.first.time.beat

    @cached_property
    def instrument(self) -> Instrument:
        """The instrument, by the part's instrument or else its name."""
        return instrument_of(self.part)

    @cached_property
    def cut(self) -> Part:
        """The span as a part of its own."""
        return slice_span(self.part, self.span)

    @cached_property
    def _line(self) -> tuple[list[Event], Event | None]:
        return span_events(self.part, self.span, self.cut)

    @property
    def events(self) -> list[Event]:
        """One line of notes, chords and rests; a landing apart.

        Raises:
            DrillDoesNotFit: two voices, or grace notes that a new rhythm would leave no place.
        """
        return self._line[0]

    @property
    def landing(self) -> Event | None:
        """The note it lands on, one beat long."""
        return self._line[1]

    @cached_property
    def plain_events(self) -> list[Event]:
        """The line without its grace notes, and with the landing as its last note.

        Raises:
            DrillDoesNotFit: two voices.
        """
        events, landing = span_events(self.part, self.span, self.cut, drop_grace=True)
        return [*events, landing] if landing else events

    @cached_property
    def runs(self) -> tuple[Run, ...]:
        """Stretches of four or more equal notes."""
        return find_runs(self.events)

    @cached_property
    def attacks(self) -> tuple[Position, ...]:
        """Attacks in the span, in order, without the landing."""
        found = {
            Position(measure.index, note.at)
            for measure in self.part.measures[self.span.start.index : self.span.end.index + 1]
            for note in measure.notes
            if note.is_attack
        }
        return tuple(sorted(p for p in found if self.span.start <= p < self.span.end))

    @cached_property
    def struck(self) -> tuple[tuple[Note, ...], ...]:
        """The notes of each attack."""
        return tuple(starts_at(self.part.measures[p.index], p.at) for p in self.attacks)

    @cached_property
    def is_pitched(self) -> bool:
        """Whether every stroke has a pitch."""
        return all(note.pitch is not None for notes in self.struck for note in notes)

    @cached_property
    def is_struck(self) -> bool:
        """Whether a stroke cannot be held: percussion, which gets rests and never ties."""
        return self.instrument.family in _STRUCK or not self.is_pitched

    @cached_property
    def has_landing(self) -> bool:
        """Whether it lands on a note."""
        return self.span.landing and bool(landing_notes(self.part, self.span.end))

    @cached_property
    def edges(self) -> tuple[Position, ...]:
        """The attacks and the end of the span: note ``i`` lasts from edge i to edge i + 1."""
        return (*self.attacks, self.span.end)

    @cached_property
    def commonest_value(self) -> Fraction:
        """From attack to attack, the time that comes most often; the shorter one of two."""
        edges = [absolute(self.part, place) for place in self.edges]
        counts = Counter(after - at for at, after in pairwise(edges))
        return min(counts, key=lambda value: (-counts[value], value), default=self.beat)

    def notes_span(self, first: int, last: int) -> Span:
        """From the attack ``first`` to the attack ``last``, which is played and stopped on."""
        if last >= len(self.attacks):
            return Span(self.attacks[first], self.span.end, self.span.landing)
        return Span(self.attacks[first], self.attacks[last], landing=True)

    @cached_property
    def all_beats(self) -> tuple[Position, ...]:
        """Every beat of the part."""
        return beat_positions(self.part)

    def beats(self, *, struck_only: bool = True) -> list[Position]:
        """The beats inside the span after its start, where a note starts unless told otherwise.

        In a blank part a note may start on any of them.
        """
        struck_only = struck_only and not self.is_blank
        return [
            place
            for place in self.all_beats
            if self.span.start < place < self.span.end
            and (
                not struck_only
                or (
                    not is_held(self.part, place)
                    and bool(starts_at(self.part.measures[place.index], place.at))
                )
            )
        ]

    def until(self, end: Position) -> Span:
        """From its start up to a place, landing on the note there if one starts."""
        return self.between(self.span.start, end)

    def between(self, start: Position, end: Position) -> Span:
        """Between two places of it; at its own end it lands as the span does."""
        if end >= self.span.end:
            return Span(start, self.span.end, self.span.landing)
        return Span(start, end, bool(landing_notes(self.part, end)))

    @property
    def quarters(self) -> Fraction:
        """Its length, the landing apart."""
        return absolute(self.part, self.span.end) - absolute(self.part, self.span.start)

    def need_short(self, passes: int) -> None:
        """Refuse what nobody plays so often in an hour, before any of it is made.

        Args:
            passes: how often at least the whole passage is played in one cycle.

        Raises:
            DrillDoesNotFit: it is too long; says how many measures would fit.
        """
        seconds = passes * seconds_of(self.quarters, tempo=self.working_tempo, beat=self.beat)
        if seconds > MOST_SECONDS:
            raise DrillDoesNotFit(too_long(self, seconds))

    def need_one_line(self, *, grace: bool = True) -> None:
        """Refuse two voices, and grace notes where they have no place.

        Raises:
            DrillDoesNotFit: there are some.
        """
        _ = self.plain_events if grace else self.events

    def need_pitches(self, why: str) -> None:
        """Refuse strokes without pitch.

        Raises:
            DrillDoesNotFit: there are some.
        """
        if not self.is_pitched:
            raise DrillDoesNotFit(why)


def too_long(passage: Passage, seconds: Fraction) -> str:
    """The refusal of a drill that takes too long once through, with an alternative that fits."""
    measures = passage.span.end.index - passage.span.start.index + (passage.span.end.at > 0)
    fitting = int(measures * MOST_SECONDS / seconds / 3)
    offer = f" {fitting} measures take 20 minutes." if 1 < fitting < measures else ""
    return f"Once through would take {round(seconds / 60)} minutes: take a smaller chunk.{offer}"
