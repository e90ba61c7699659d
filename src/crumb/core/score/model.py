"""The score model: what a part holds, exact and immutable.

Musical time is a ``Fraction`` of a quarter note everywhere. Offsets (``at``) count from the start
of the measure they stand in.
"""

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import cached_property

from crumb.core.score.pitch import Pitch, Transposition
from crumb.core.score.ticks import Ticks

ZERO = Fraction(0)
FREE = "senza-misura"


_BEATS_IN = {2: (2,), 3: (3,), 4: (2, 2), 5: (3, 2), 6: (3, 3)}
"""The beats of a printed group of an additive meter, in units."""


@dataclass(frozen=True)
class Time:
    """A time signature. ``symbol`` is how it is printed (``common``, ``cut`` or empty)."""

    beats: str
    unit: int
    symbol: str = ""

    @cached_property
    def numerator(self) -> int:
        """Units in a measure; additive signatures such as 3+2 are summed."""
        return sum(int(part) for part in self.beats.split("+"))

    @cached_property
    def is_free(self) -> bool:
        """Whether nothing is counted (senza misura): each measure is as long as it is."""
        return self.symbol == FREE

    @cached_property
    def length(self) -> Fraction:
        """A full measure in quarter notes."""
        return Fraction(4 * self.numerator, self.unit)

    @cached_property
    def is_compound(self) -> bool:
        """Whether the beat divides in three (6/8, 9/8, 12/8 and their kin)."""
        return self.beat.numerator % 3 == 0

    @cached_property
    def is_uneven(self) -> bool:
        """Whether its beats differ in length, as in 3+2/8."""
        return len(set(self.groups)) > 1

    @cached_property
    def groups(self) -> tuple[Fraction, ...]:
        """Its beats in order, in quarter notes: those it prints (3+2/8), else equal ones."""
        printed = [int(part) for part in self.beats.split("+")]
        if self.unit >= 8 and len(printed) > 1 and all(n in _BEATS_IN for n in printed):
            beats = [n for group in printed for n in _BEATS_IN[group]]
            return tuple(Fraction(4 * n, self.unit) for n in beats)
        is_compound = self.unit >= 8 and self.numerator % 3 == 0 and self.numerator > 3
        units = 3 if is_compound else 1
        return (Fraction(4 * units, self.unit),) * (self.numerator // units)

    @cached_property
    def beat(self) -> Fraction:
        """The unit that a tempo counts, in quarter notes: the beat, or less where beats differ."""
        return Fraction(4, self.unit) if self.is_uneven else self.groups[0]

    @property
    def text(self) -> str:
        """As said aloud: ``4/4``."""
        if self.is_free:
            return "free time"
        return f"{self.beats}/{self.unit}"


@dataclass(frozen=True, slots=True)
class Key:
    """A key signature: fifths above C (flats negative) and mode if the source says it."""

    fifths: int
    mode: str = ""


@dataclass(frozen=True, slots=True)
class Clef:
    """A clef sign on a staff line, moved by whole octaves."""

    sign: str
    line: int
    octave_change: int = 0


@dataclass(frozen=True, slots=True)
class Tempo:
    """``per_minute`` beats of ``beat`` quarter notes each."""

    beat: Fraction
    per_minute: Fraction

    @property
    def quarters(self) -> Fraction:
        """Quarter notes per minute."""
        return self.beat * self.per_minute


@dataclass(frozen=True, slots=True)
class Tuplet:
    """``actual`` notes in the time of ``normal``, nesting multiplied out; its bracket's edges."""

    actual: int
    normal: int
    starts: bool = False
    stops: bool = False


@dataclass(frozen=True, slots=True)
class Bracket:
    """One end of a bracket among nested tuplets: ``actual`` in the time of ``normal``."""

    number: int
    end: str  # "start" or "stop"
    actual: int
    normal: int


@dataclass(frozen=True, slots=True)
class Slur:
    """One end of a slur."""

    number: int
    end: str  # "start" or "stop"


@dataclass(frozen=True)
class Note:
    """A note, rest or chord member as written.

    ``pitch`` is written pitch; ``None`` for a rest or an unpitched stroke. ``place`` is the staff
    position of an unpitched stroke, ``drum`` the name of what it strikes, if the source says so.
    ``tie`` is None, "start", "continue" or "stop". ``nesting`` holds the brackets of tuplets inside
    tuplets, ``gestures`` what leads from note to note or through a chord (``arpeggiate``,
    ``slide:start:1``). ``form`` is shared by notes that differ in
    nothing but id, offset and duration, as far as the reader knows of it.
    """

    id: str
    at: Fraction
    duration: Fraction
    pitch: Pitch | None = None
    place: Pitch | None = None
    is_rest: bool = False
    hidden: bool = False
    voice: str = "1"
    staff: int = 1
    grace: str = ""  # "", "grace" or "slashed"
    cue: bool = False
    in_chord: bool = False
    tie: str | None = None
    type: str = ""
    dots: int = 0
    tuplet: Tuplet | None = None
    nesting: tuple[Bracket, ...] = ()
    beams: tuple[str, ...] = ()
    slurs: tuple[Slur, ...] = ()
    articulations: tuple[str, ...] = ()
    ornaments: tuple[str, ...] = ()
    technical: tuple[tuple[str, str], ...] = ()
    gestures: tuple[str, ...] = ()
    fermata: bool = False
    accidental: str = ""
    notehead: str = ""
    lyric: str = ""
    """A syllable, with a hyphen on the side where its word goes on: ``Al-``, ``-le-``."""
    drum: str = ""
    form: object = field(default=None, init=False, compare=False, repr=False)

    def placed(self, id: str, at: Fraction, duration: Fraction) -> "Note":
        """The same note at a place of its own.

        Many times faster than making a note field by field: a score is tens of thousands.
        """
        made = object.__new__(Note)
        # Not ``copy()``: that of a dict which shares its keys is several times slower to read.
        fields = {**self.__dict__}
        fields["id"], fields["at"], fields["duration"] = id, at, duration
        if "form" not in fields:
            fields["form"] = self
        object.__setattr__(made, "__dict__", fields)
        return made

    def signed(self, accidental: str, form: "Note | None" = None) -> "Note":
        """The same note with another printed sign, as quickly made as :meth:`placed`.

        Args:
            accidental: its name in MusicXML; empty for none.
            form: the ``form`` of another note that differs in nothing but its place.
        """
        made = object.__new__(Note)
        fields = {**self.__dict__}
        fields["accidental"] = accidental
        fields["form"] = made if form is None else form
        object.__setattr__(made, "__dict__", fields)
        return made

    @property
    def end(self) -> Fraction:
        """Offset in the measure where the note stops."""
        return self.at + self.duration

    @property
    def sounds(self) -> bool:
        """Whether something is struck, bowed or blown (grace and cue notes included)."""
        return not self.is_rest

    @property
    def is_attack(self) -> bool:
        """A sounding note that is not the continuation of a tie, nor grace or cue."""
        return not self.is_rest and not self.grace and not self.cue and self.tie in (None, "start")


@dataclass(frozen=True, slots=True)
class Direction:
    """A mark between the notes.

    ``kind`` is dynamic, words, rehearsal, tempo, wedge, octave, segno, coda, pedal or jump. The
    text of a jump says where playing goes on or ends: dacapo, dalsegno, tocoda or fine.
    """

    at: Fraction
    kind: str
    text: str = ""
    above: bool = True
    staff: int = 1
    tempo: Tempo | None = None


@dataclass(frozen=True, slots=True)
class Change:
    """Clef, key or time coming into force inside or at the start of a measure."""

    at: Fraction
    clef: Clef | None = None
    staff: int = 1
    key: Key | None = None
    time: Time | None = None


@dataclass(frozen=True, slots=True)
class Barline:
    """A barline at the left or right edge: its look, repeat and ending."""

    side: str
    style: str = ""
    repeat: str = ""
    times: int = 2
    ending: str = ""
    ending_type: str = ""


@dataclass(frozen=True, slots=True)
class Printed:
    """Where a measure stands on a page: pixels of the page's picture, which ``page`` names.

    ``first_line`` and ``last_line`` are the heights of its outer staff lines. A part of it may be
    all that is shown: ``shown`` are its edges, as shares of the width. ``landing`` is what is shown
    of the next measure, for a span that ends on its first note.
    """

    page: str
    left: int
    top: int
    right: int
    bottom: int
    first_line: int
    last_line: int
    shown: tuple[Fraction, Fraction] = (ZERO, Fraction(1))
    landing: "Printed | None" = None

    def between(self, start: Fraction, end: Fraction) -> "Printed":
        """No more of it than this."""
        return replace(self, shown=(max(self.shown[0], start), min(self.shown[1], end)))


@dataclass(frozen=True, slots=True)
class Measure:
    """One measure with everything in force at its start.

    ``length`` is what it holds, ``nominal`` what the time signature says. ``number`` is printed.
    """

    index: int
    number: str
    length: Fraction
    time: Time
    key: Key
    clefs: tuple[Clef, ...]
    tempo: Tempo | None = None
    implicit: bool = False
    notes: tuple[Note, ...] = ()
    directions: tuple[Direction, ...] = ()
    changes: tuple[Change, ...] = ()
    barlines: tuple[Barline, ...] = ()
    new_system: bool = False
    new_page: bool = False
    multi_rest: int = 0
    lead: Fraction = ZERO
    """Quarter notes of the same measure before this, its second half, where a repeat cut it."""
    transposition: Transposition | None = None
    """From written to sounding, if other than the part's: a clarinet in A for a movement."""
    printed: Printed | None = None
    """Its place on a page, where the part was brought in as pages."""

    @property
    def nominal(self) -> Fraction:
        """Quarter notes a full measure holds."""
        return self.length if self.time.is_free else self.time.length

    @property
    def rehearsal(self) -> str | None:
        """The rehearsal letter printed over this measure, if any."""
        return next((d.text for d in self.directions if d.kind == "rehearsal"), None)


@dataclass(frozen=True)
class Part:
    """The notation that one section plays."""

    id: str
    name: str
    measures: tuple[Measure, ...]
    instrument: str = ""
    transposition: Transposition = field(default_factory=Transposition)
    staves: int = 1
    staff_lines: int = 5

    @cached_property
    def starts(self) -> tuple[Fraction, ...]:
        """Quarter notes before each measure, and at last the whole length."""
        offsets = [ZERO]
        for measure in self.measures:
            offsets.append(offsets[-1] + measure.length)
        return tuple(offsets)

    @cached_property
    def by_number(self) -> Mapping[str, tuple[int, ...]]:
        """Indexes of the measures by the number they print; it may come more than once."""
        found: dict[str, tuple[int, ...]] = {}
        for measure in self.measures:
            if measure.lead:
                continue
            found[measure.number] = (*found.get(measure.number, ()), measure.index)
        return found

    @cached_property
    def main_time(self) -> Time:
        """The commonest time signature; of two the one that comes first."""
        return Counter(measure.time for measure in self.measures).most_common(1)[0][0]

    @cached_property
    def ticks(self) -> Ticks:
        """The coarsest ticks that fit all its measures, notes, marks and changes."""
        return Ticks(self._times())

    def _times(self) -> Iterator[Fraction]:
        for measure in self.measures:
            yield measure.length
            for note in measure.notes:
                yield note.at
                yield note.duration
            for direction in measure.directions:
                yield direction.at
            for change in measure.changes:
                yield change.at

    @property
    def length(self) -> Fraction:
        """Quarter notes from first to last, repeats not played out."""
        return self.starts[-1]

    def transposition_at(self, measure: Measure) -> Transposition:
        """From written to sounding in a measure."""
        return measure.transposition or self.transposition

    def each_note(self) -> Iterator[tuple[Measure, Note]]:
        """Every note and rest with its measure, in order."""
        for measure in self.measures:
            for note in measure.notes:
                yield measure, note

    @cached_property
    def attack_count(self) -> int:
        """Sounding attacks: ties merged, each chord member, no grace notes."""
        return sum([note.is_attack for measure in self.measures for note in measure.notes])

    @cached_property
    def has_notes(self) -> bool:
        """Whether there is anything to read."""
        return self.attack_count > 0

    @cached_property
    def is_blank(self) -> bool:
        """Whether it is measures alone, numbered and counted; the notes stand on paper.

        A part that is silent has rests; a blank one has not even those.
        """
        return not any(measure.notes for measure in self.measures)

    @cached_property
    def is_on_pages(self) -> bool:
        """Whether it is shown as it is printed: its measures have places on pages, and no notes."""
        return not self.has_notes and any(measure.printed for measure in self.measures)

    @property
    def is_shown(self) -> bool:
        """Whether there is anything to look at: notes, or pages."""
        return self.has_notes or self.is_on_pages

    @property
    def has_pickup(self) -> bool:
        """Whether the first measure is shorter than its time signature says."""
        return bool(self.measures) and self.measures[0].length < self.measures[0].nominal


@dataclass(frozen=True, slots=True)
class Score:
    """A piece as read: title and parts."""

    title: str
    composer: str
    parts: tuple[Part, ...]
    unread: tuple[tuple[str, str, tuple[str, ...]], ...] = ()
    """What the file holds and the model does not: part id, what, printed measure numbers."""
