"""A part as the player meets it: attacks in order, in seconds at goal tempo."""

from bisect import bisect_right
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise

from crumb.core.score.model import Measure, Note, Part
from crumb.core.score.pitch import key_alter
from crumb.core.score.position import Position, lead_of


@dataclass(slots=True)
class Stroke:
    """One attack of the leading hand: its highest note, what sounds with it, when."""

    measure: Measure
    note: Note
    start: Fraction  # quarter notes from the start of the part
    midi: int
    others: tuple[int, ...] = ()
    slurred_into: bool = False
    gap: float = 0.0  # seconds since the attack before; 0 for the first
    rest: float = 0.0  # seconds of silence before it

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
        begin = part.starts[measure.index]
        row = [n for n in measure.notes if not n.is_rest and not n.grace and not n.cue]
        if any(a.at > b.at for a, b in pairwise(row)):
            row.sort(key=lambda n: n.at)
        for note in row:
            start = begin + note.at
            at = float(start)
            end = at + float(note.duration)
            inside = slurs_open > 0
            for slur in note.slurs:
                slurs_open += 1 if slur.end == "start" else -1
            slurs_open = max(slurs_open, 0)
            if note.tie in ("stop", "continue"):
                ended = max(ended, end)
                continue
            where = note.pitch or note.place
            midi = where.midi if where is not None else 60
            if found and found[-1].start == start:
                last = found[-1]
                high, low = max(last.midi, midi), min(last.midi, midi)
                if midi >= last.midi:
                    last.note = note
                last.midi, last.others = high, (*last.others, low)
                ended = max(ended, end)
                continue
            made = Stroke(measure, note, start, midi, slurred_into=inside)
            if found:
                made.gap = (at - float(found[-1].start)) * second
                made.rest = max(at - ended, 0.0) * second
            found.append(made)
            ended = end
    return found


def against_key(stroke: Stroke) -> int:
    """Half steps a note is altered against the key in force; 0 if it follows it."""
    pitch = stroke.note.pitch
    if pitch is None:
        return 0
    fifths = stroke.measure.key.fifths
    for change in stroke.measure.changes:
        if change.key and change.at <= stroke.note.at:
            fifths = change.key.fifths
    return int(pitch.alter - key_alter(pitch.step, fifths))


def beat_index(measure: Measure, at: Fraction) -> int:
    """Which beat of a measure an offset falls in, counted from 0."""
    return int((at + lead_of(measure)) / measure.time.beat) - int(
        lead_of(measure) / measure.time.beat
    )


def beat_count(measure: Measure) -> int:
    """How many beats a measure holds, a last short one included."""
    return max(-(-measure.length // measure.time.beat), 1)


def measure_at(part: Part, quarters: Fraction) -> Measure:
    """The measure that holds a place."""
    place = min(max(bisect_right(part.starts, quarters) - 1, 0), len(part.measures) - 1)
    return part.measures[place]
