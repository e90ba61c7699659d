"""The place of reading in a measure, in the file's own ticks and in quarter notes.

Whole ticks are many times faster than fractions, and the same few come over and over.
"""

from dataclasses import dataclass, field
from fractions import Fraction

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import ZERO, Note
from crumb.formats.musicxml.numbers import Ticks, ticks
from crumb.formats.musicxml.tempos import TYPE_LENGTHS

_ROUNDED = 20
"""A rounded duration is off by no more than this part of it; else the file means what it says."""
_MOST_DIVISIONS = 1_000_000
_LONGEST = 1000  # quarter notes


@dataclass
class Divisions:
    """Ticks to a quarter note, in force until a file says otherwise, and what was worked out."""

    count: Fraction = Fraction(1)
    places: dict[Ticks, tuple[Fraction, str]] = field(default_factory=dict)
    lengths: dict[Ticks, Fraction] = field(default_factory=dict)


class Cursor:
    """A place in one measure; begins at its left barline."""

    def __init__(self, divisions: Divisions, where: str) -> None:
        """``where`` names the measure in messages."""
        self.divisions = divisions
        self.where = where
        self.went_back = False
        self._at: Ticks = 0
        self._furthest: Ticks = 0
        self._chord: Ticks = 0
        self._meant: dict[Ticks, Ticks] = {}
        """Where a place is that the file could only round: a third of 1024 is no whole number."""

    @property
    def at(self) -> Fraction:
        """Quarter notes from the left barline."""
        return self._place(self._at)[0]

    @property
    def furthest(self) -> Fraction:
        """The end of what was read so far, in quarter notes."""
        return self._place(self._furthest)[0]

    def set_divisions(self, count: Fraction) -> None:
        """Ticks to a quarter note from here on.

        Raises:
            UnreadableFile: no file counts like that.
        """
        if not 0 < count <= _MOST_DIVISIONS:
            raise UnreadableFile(f"{self.where}: {count} divisions to a quarter.")
        ratio = count / self.divisions.count
        if self._furthest and ratio != 1:
            self._at, self._furthest = self._at * ratio, self._furthest * ratio
            self._chord *= ratio
            self._meant = {at * ratio: meant * ratio for at, meant in self._meant.items()}
        self.divisions.count = count
        self.divisions.places, self.divisions.lengths = {}, {}

    def back(self, text: str | None) -> None:
        """A <backup> of so many ticks, at most to the left barline."""
        self.went_back = True
        self._at = max(self._at - self._duration(text), 0)

    def forward(self, text: str | None) -> None:
        """A <forward> of so many ticks."""
        self._at += self._duration(text)
        self._furthest = max(self._furthest, self._at)

    def take(self, note: Note, duration: Ticks | None) -> tuple[Fraction, str, Fraction]:
        """Pass a note of so many ticks: where it begins, that as note ids say it, its length.

        Both in quarter notes. Without a duration the written value holds.

        Raises:
            UnreadableFile: no note is that long.
        """
        if duration is None:
            duration = TYPE_LENGTHS.get(note.type, ZERO) * self.divisions.count
        meant = duration if note.tuplet is None else self._without_rounding(note, duration)
        length = self._length(meant)
        if note.in_chord and not note.grace:
            return *self._place(self._chord), length
        at, said = self._place(self._at)
        if not note.grace:
            self._chord = self._at
            self._advance(duration, meant)
            if self._at > self._furthest:
                self._furthest = self._at
        return at, said, length

    def _advance(self, duration: Ticks, meant: Ticks) -> None:
        end = self._at + duration
        if self._meant or meant != duration:
            true_end = self._meant.get(self._at, self._at) + meant
            if true_end != end:
                self._meant[end] = true_end
        self._at = end

    def _without_rounding(self, note: Note, duration: Ticks) -> Ticks:
        """Ticks of a tuplet note that the file's divisions could not say exactly.

        An exporter rounds 1024 / 3 to 341 or 342, or drops what is over; the written value and the
        tuplet say what was meant.
        """
        assert note.tuplet is not None
        written = TYPE_LENGTHS.get(note.type)
        if written is None or not duration:
            return duration
        dotted = written * (2 - Fraction(1, 2**note.dots))
        meant = dotted * note.tuplet.normal / note.tuplet.actual * self.divisions.count
        off = abs(meant - duration)
        return meant if 0 < off <= 1 and off * _ROUNDED <= meant else duration

    def _place(self, place: Ticks) -> tuple[Fraction, str]:
        """A place in quarter notes, and as note ids say it."""
        if self._meant:
            place = self._meant.get(place, place)
        known = self.divisions.places.get(place)
        if known is None:
            at = Fraction(place) / self.divisions.count
            known = self.divisions.places[place] = (at, f"{at.numerator}_{at.denominator}")
        return known

    def _duration(self, text: str | None) -> Ticks:
        duration = ticks(text, self.where)
        self._length(duration)
        return duration

    def _length(self, duration: Ticks) -> Fraction:
        """Ticks as quarter notes.

        Raises:
            UnreadableFile: no note is that long.
        """
        length = self.divisions.lengths.get(duration)
        if length is None:
            length = Fraction(duration) / self.divisions.count
            if not 0 <= length <= _LONGEST:
                raise UnreadableFile(f"{self.where}: a note lasts {length} quarter notes.")
            self.divisions.lengths[duration] = length
        return length
