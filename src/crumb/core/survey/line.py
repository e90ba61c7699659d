"""A part as the player meets it: attacks in order, in seconds at goal tempo."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from crumb.core.score.meter import beats_of, lead_of
from crumb.core.score.model import Measure, Note, Part, Time
from crumb.core.score.pitch import key_alter
from crumb.core.score.position import Position


@dataclass(slots=True)
class Stroke:
    """One attack: its highest note, what sounds with it, when and where in the measure.

    ``start`` is quarter notes from the start of the part (an estimate is enough here), ``gap`` the
    seconds since the attack before (0 for the first), ``rest`` the seconds of silence before it.
    """

    measure: Measure
    note: Note
    start: float
    midi: int
    height: int  # letters above C0
    altered: int  # half steps against the key in force
    beat: int  # counted from 0
    is_on_beat: bool
    others: tuple[int, ...] = ()
    slurred_into: bool = False
    gap: float = 0.0
    rest: float = 0.0

    @property
    def position(self) -> Position:
        """Its place."""
        return Position(self.measure.index, self.note.at)


def strokes(part: Part, *, quarters: Fraction) -> list[Stroke]:
    """Every attack of a part; grace and cue notes apart, chords as one.

    Args:
        part: what is played.
        quarters: goal tempo in quarter notes a minute.
    """
    found: list[Stroke] = []
    second = 60.0 / float(quarters)
    ended = 0.0
    slurs_open: set[tuple[int, int]] = set()
    places = Places(part.measures[0])
    lasts: dict[int, float] = {}  # durations as numbers, by identity: the part keeps them
    ticks, gone = part.ticks, 0
    for measure in part.measures:
        begin = gone / ticks.per_quarter
        gone += ticks(measure.length)
        if not places.are_for(measure):
            places = Places(measure)
        row = [n for n in measure.notes if not (n.is_rest or n.grace or n.cue)]
        if len(row) > 1 and (row[0].staff, row[0].voice) != (row[-1].staff, row[-1].voice):
            row.sort(key=lambda n: n.at)
        fifths = None if any(change.key for change in measure.changes) else measure.key.fifths
        last_start = -1.0
        for note in row:
            at, length = note.at, note.duration
            offset, place, is_on, _ = places.of(at)
            start = begin + offset
            lasting = lasts.get(id(length))
            if lasting is None:
                lasting = lasts[id(length)] = length.numerator / length.denominator
            end = start + lasting
            inside = bool(slurs_open)
            for slur in note.slurs:
                # By its number: the slur of a grace note ends here without having begun.
                name = (slur.number, note.staff)
                if slur.end == "start":
                    slurs_open.add(name)
                else:
                    slurs_open.discard(name)
            tie = note.tie
            if tie is not None and tie != "start":
                ended = max(ended, end)
                continue
            pitch = note.pitch
            where = pitch or note.place
            midi, height = (where.midi, where.diatonic) if where is not None else (60, 35)
            if start == last_start:
                _add_to_chord(found[-1], note, midi, height)
                ended = max(ended, end)
                continue
            last_start = start
            altered = 0
            if pitch is not None:
                altered = pitch.whole_alter - _key_alter(
                    pitch.step, fifths if fifths is not None else _fifths_at(measure, at)
                )
            if found:
                before = found[-1].start
                gap, rest = (start - before) * second, max(start - ended, 0.0) * second
            else:
                gap = rest = 0.0
            found.append(
                Stroke(
                    measure, note, start, midi, height, altered, place, is_on, (), inside, gap, rest
                )
            )
            ended = end
    return found


def _add_to_chord(stroke: Stroke, note: Note, midi: int, height: int) -> None:
    if midi >= stroke.midi:
        stroke.note, stroke.height = note, height
    stroke.midi, stroke.others = max(stroke.midi, midi), (*stroke.others, min(stroke.midi, midi))


def _fifths_at(measure: Measure, at: Fraction) -> int:
    """The key in force at an offset, where it changes inside the measure."""
    fifths = measure.key.fifths
    for change in measure.changes:
        if change.key and change.at <= at:
            fifths = change.key.fifths
    return fifths


_key_alter = lru_cache(maxsize=256)(key_alter)


class Places:
    """Offsets in one meter: as a number, which beat they fall in and whether they are on it.

    The same few come over and over, so they are found by identity, and kept.
    """

    def __init__(self, measure: Measure) -> None:
        self._time, self._lead = measure.time, lead_of(measure)
        self._known: dict[int, tuple[float, int, bool, Fraction]] = {}

    def are_for(self, measure: Measure) -> bool:
        """Whether they hold in a measure; what they do not hold for may be equal all the same."""
        return measure.time is self._time and lead_of(measure) is self._lead

    def of(self, at: Fraction) -> tuple[float, int, bool, Fraction]:
        """The offset as a number, its beat counted from 0, whether it is on it; and itself."""
        place = self._known.get(id(at))
        if place is None:
            beat, is_on = self._place(at)
            place = self._known[id(at)] = (at.numerator / at.denominator, beat, is_on, at)
        return place

    def _place(self, at: Fraction) -> tuple[int, bool]:
        lead = self._lead
        return _known_place(
            at.numerator, at.denominator, self._time, lead.numerator, lead.denominator
        )


@lru_cache(maxsize=8192)
def _known_place(a: int, b: int, time: Time, e: int, f: int) -> tuple[int, bool]:
    """Which beat an offset falls in, and whether it is on it; a pickup's first beat is 0 too."""
    beats, lead = beats_of(time), Fraction(e, f)
    place, start, _ = beats.slot(Fraction(a, b) + lead)
    return place - beats.slot(lead)[0], start == Fraction(a, b) + lead


def beat_count(measure: Measure) -> int:
    """How many beats a measure holds, a first or last short one included."""
    lead, length = lead_of(measure), measure.length
    return _counted(
        measure.time, lead.numerator, lead.denominator, length.numerator, length.denominator
    )


@lru_cache(maxsize=1024)
def _counted(time: Time, a: int, b: int, c: int, d: int) -> int:
    beats, lead, length = beats_of(time), Fraction(a, b), Fraction(c, d)
    first, (last, start, _) = beats.slot(lead)[0], beats.slot(lead + length)
    return max(last - first + (start < lead + length), 1)
