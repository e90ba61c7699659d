"""Which accidentals have to be printed: what the key and the measure so far do not say already.

An accidental holds for its staff line until the barline; a tied note needs none (common practice,
as in Gould, Behind Bars, from memory).
"""

from dataclasses import replace
from fractions import Fraction

from crumb.core.score.model import Measure, Note
from crumb.core.score.pitch import key_alter

NAMES = {
    Fraction(-2): "flat-flat",
    Fraction(-3, 2): "three-quarters-flat",
    Fraction(-1): "flat",
    Fraction(-1, 2): "quarter-flat",
    Fraction(0): "natural",
    Fraction(1, 2): "quarter-sharp",
    Fraction(1): "sharp",
    Fraction(3, 2): "three-quarters-sharp",
    Fraction(2): "double-sharp",
}


def with_accidentals(measure: Measure, *, keep: bool = False) -> Measure:
    """The measure with every accidental it needs; ``keep`` leaves those it has (courtesy)."""
    fifths = measure.key.fifths
    in_force: dict[tuple[int, str, int], Fraction] = {}
    changes = sorted((c for c in measure.changes if c.key), key=lambda c: c.at)
    printed: dict[int, str] = {}
    for place in sorted(range(len(measure.notes)), key=lambda i: measure.notes[i].at):
        note = measure.notes[place]
        while changes and changes[0].at <= note.at:
            key = changes.pop(0).key
            assert key is not None
            fifths, in_force = key.fifths, {}
        printed[place] = _needed(note, fifths, in_force, keep=keep)
    if all(note.accidental == printed[i] for i, note in enumerate(measure.notes)):
        return measure
    return replace(
        measure,
        notes=tuple(
            note if note.accidental == printed[i] else replace(note, accidental=printed[i])
            for i, note in enumerate(measure.notes)
        ),
    )


def _needed(
    note: Note, fifths: int, in_force: dict[tuple[int, str, int], Fraction], *, keep: bool
) -> str:
    pitch = note.pitch
    if pitch is None or note.hidden:
        return note.accidental if keep else ""
    if note.tie in ("continue", "stop") and not note.grace:
        return ""
    line = (note.staff, pitch.step, pitch.octave)
    said = in_force.get(line, key_alter(pitch.step, fifths))
    in_force[line] = pitch.alter
    if said != pitch.alter:
        return NAMES.get(pitch.alter, "")
    return note.accidental if keep else ""
