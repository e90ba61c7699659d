"""A part as the player meets it: attacks in order, in seconds at goal tempo."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from crumb.core.score.model import Measure, Note, Part
from crumb.core.score.pitch import STEPS, Pitch, key_alter
from crumb.core.score.position import Position, lead_of


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
        """Where it stands."""
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
    slurs_open = 0
    for measure in part.measures:
        begin = float(part.starts[measure.index])
        beat, lead = measure.time.beat, lead_of(measure)
        row = [n for n in measure.notes if not (n.is_rest or n.grace or n.cue)]
        if len(row) > 1 and (row[0].staff, row[0].voice) != (row[-1].staff, row[-1].voice):
            row.sort(key=lambda n: n.at)
        last_at: Fraction | None = None
        for note in row:
            start = begin + _as_float(note.at.numerator, note.at.denominator)
            end = start + _as_float(note.duration.numerator, note.duration.denominator)
            inside = slurs_open > 0
            for slur in note.slurs:
                slurs_open = max(slurs_open + (1 if slur.end == "start" else -1), 0)
            if note.tie in ("stop", "continue"):
                ended = max(ended, end)
                continue
            where = note.pitch or note.place
            midi, height = _heights(where) if where is not None else (60, 35)
            if last_at is not None and note.at == last_at:
                _add_to_chord(found[-1], note, midi, height)
                ended = max(ended, end)
                continue
            last_at = note.at
            altered = _against_key(measure, note) if note.pitch is not None else 0
            place, is_on = _place(note.at, beat, lead)
            made = Stroke(measure, note, start, midi, height, altered, place, is_on)
            made.slurred_into = inside
            if found:
                made.gap = (start - found[-1].start) * second
                made.rest = max(start - ended, 0.0) * second
            found.append(made)
            ended = end
    return found


def _add_to_chord(stroke: Stroke, note: Note, midi: int, height: int) -> None:
    if midi >= stroke.midi:
        stroke.note, stroke.height = note, height
    stroke.midi, stroke.others = max(stroke.midi, midi), (*stroke.others, min(stroke.midi, midi))


# The same few pitches and places come tens of thousands of times, and fractions are slow to hash:
# they are looked up by plain numbers.


@lru_cache(maxsize=4096)
def _as_float(numerator: int, denominator: int) -> float:
    return numerator / denominator


def _heights(pitch: Pitch) -> tuple[int, int]:
    return _known_heights(pitch.step, pitch.alter.numerator, pitch.alter.denominator, pitch.octave)


@lru_cache(maxsize=1024)
def _known_heights(step: str, numerator: int, denominator: int, octave: int) -> tuple[int, int]:
    pitch = Pitch(step, Fraction(numerator, denominator), octave)
    return pitch.midi, octave * 7 + STEPS.index(step)


def _against_key(measure: Measure, note: Note) -> int:
    pitch = note.pitch
    assert pitch is not None
    fifths = measure.key.fifths
    for change in measure.changes:
        if change.key and change.at <= note.at:
            fifths = change.key.fifths
    return pitch.alter.numerator // pitch.alter.denominator - _key_alter(pitch.step, fifths)


_key_alter = lru_cache(maxsize=256)(key_alter)


def _place(at: Fraction, beat: Fraction, lead: Fraction) -> tuple[int, bool]:
    return _known_place(
        at.numerator,
        at.denominator,
        beat.numerator,
        beat.denominator,
        lead.numerator,
        lead.denominator,
    )


@lru_cache(maxsize=8192)
def _known_place(a: int, b: int, c: int, d: int, e: int, f: int) -> tuple[int, bool]:
    """Which beat an offset falls in, and whether it is on it; a pickup's first beat is 0 too."""
    at, beat, lead = Fraction(a, b), Fraction(c, d), Fraction(e, f)
    return int((at + lead) / beat) - int(lead / beat), at % beat == (-lead) % beat


def beat_index(measure: Measure, at: Fraction) -> int:
    """Which beat of a measure an offset falls in, counted from 0."""
    return _place(at, measure.time.beat, lead_of(measure))[0]


def beat_count(measure: Measure) -> int:
    """How many beats a measure holds, a last short one included."""
    beat = measure.time.beat
    length = measure.length
    return max(-(-length.numerator * beat.denominator // (length.denominator * beat.numerator)), 1)
