"""Music21's reading of a score in the same terms as ours, for comparison.

Source of the scores and of the second reading: the music21 package and the corpus it ships.
"""

from fractions import Fraction
from pathlib import Path

import music21
from music21 import chord, harmony, note, stream

from crumb.core.score.model import Measure, Score

CORPUS = Path(music21.__file__).parent / "corpus"

Row = tuple[Fraction, Fraction, str | None]
"""Offset in the measure, duration, spelled pitch (None for an unpitched stroke)."""


def exact(value: float | Fraction) -> Fraction:
    """Music21 keeps tuplets as fractions and plain values as floats; both become fractions."""
    return Fraction(value).limit_denominator(5040)


def parse(path: Path) -> stream.Score:
    """Music21's own reading, never from its cache."""
    found = music21.converter.parse(path, forceSource=True)
    assert isinstance(found, stream.Score)
    return found


def measure_rows(measure: stream.Measure) -> list[Row]:
    """Each sounding written note, grace notes and chord symbols apart, sorted."""
    found: list[Row] = []
    for element in measure.recurse().notes:
        if element.duration.isGrace or isinstance(element, harmony.Harmony):
            continue
        at = exact(element.getOffsetInHierarchy(measure))
        length = exact(element.duration.quarterLength)
        if isinstance(element, chord.Chord):
            found.extend((at, length, name(p)) for p in element.pitches)
        elif isinstance(element, note.Note):
            found.append((at, length, name(element.pitch)))
        else:
            strokes = getattr(element, "notes", (element,))
            found.extend((at, length, None) for _ in strokes)
    return sorted(found, key=_order)


def our_rows(measure: Measure) -> list[Row]:
    """The same of ours."""
    return sorted(
        (
            (n.at, n.duration, n.pitch.name if n.pitch else None)
            for n in measure.notes
            if n.sounds and not n.grace
        ),
        key=_order,
    )


def _order(row: Row) -> tuple[Fraction, str, Fraction]:
    return (row[0], row[2] or "", row[1])


def name(pitch: music21.pitch.Pitch) -> str:
    """A pitch spelled our way."""
    alter = int(pitch.accidental.alter) if pitch.accidental else 0
    return f"{pitch.step}{'#' * alter if alter > 0 else 'b' * -alter}{pitch.octave}"


def measures_by_part(score: stream.Score, ours: Score) -> list[list[list[stream.Measure]]]:
    """For each of our parts, music21's measures: it makes a part of every staff, we do not."""
    staves = [list(part.getElementsByClass(stream.Measure)) for part in score.parts]
    grouped = []
    for part in ours.parts:
        mine, staves = staves[: part.staves], staves[part.staves :]
        grouped.append([list(row) for row in zip(*mine, strict=True)])
    assert not staves, "music21 found more staves than we did"
    return grouped


def printed_number(measure: stream.Measure) -> str:
    """The number as printed, with its letter."""
    return f"{measure.number}{measure.numberSuffix or ''}"
