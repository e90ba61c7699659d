"""Music21's reading of a score in the same terms as ours, for comparison."""

from fractions import Fraction
from pathlib import Path

import music21
from music21 import chord, note, stream

CORPUS = Path(music21.__file__).parent / "corpus"

# Chosen for variety: eras, scorings, pickups, tuplets, several voices and staves.
SAMPLE = (
    "bach/bwv57.8.mxl",
    "bach/bwv66.6.mxl",
    "bach/bwv248.42-4.mxl",
    "bach/bwv1.6.mxl",
    "bach/bwv101.7.mxl",
    "bach/bwv10.7.mxl",
    "bach/bwv108.6.mxl",
    "bach/bwv112.5.mxl",
    "bach/bwv114.7.mxl",
    "bach/bwv125.6.mxl",
    "bach/bwv13.6.mxl",
    "bach/bwv144.6.mxl",
)


def exact(value: float | Fraction) -> Fraction:
    """Music21 keeps tuplets as fractions and plain values as floats; both become fractions."""
    return Fraction(value).limit_denominator(5040)


def measure_notes(measure: stream.Measure) -> list[tuple[Fraction, Fraction, str | None]]:
    """(offset, duration, pitch) of each sounding written note, grace notes apart, sorted."""
    found = []
    for element in measure.recurse().notes:
        if element.duration.isGrace:
            continue
        at = exact(element.getOffsetInHierarchy(measure))
        length = exact(element.duration.quarterLength)
        if isinstance(element, chord.Chord):
            found.extend((at, length, _name(p)) for p in element.pitches)
        elif isinstance(element, note.Note):
            found.append((at, length, _name(element.pitch)))
        else:
            found.append((at, length, None))
    return sorted(found, key=lambda row: (row[0], row[2] or "", row[1]))


def _name(pitch: music21.pitch.Pitch) -> str:
    accidental = pitch.accidental
    alter = int(accidental.alter) if accidental else 0
    return f"{pitch.step}{'#' * alter if alter > 0 else 'b' * -alter}{pitch.octave}"


def parts_by_id(score: stream.Score) -> list[list[stream.Measure]]:
    """The measures of each part."""
    return [list(part.getElementsByClass(stream.Measure)) for part in score.parts]
