"""Reading music by its printed signs alone, as a player does: an oracle for what we print.

It shares nothing with the code that decides what is printed but the names of the signs.
"""

from fractions import Fraction

from crumb.core.score.accidentals import ALTERS
from crumb.core.score.model import Note, Part

Read = tuple[Note, Fraction]
Line = tuple[int, str, int]

SHARPS = "FCGDAEB"


def signature(fifths: int) -> dict[str, Fraction]:
    """What a key signature says of each letter."""
    order = SHARPS if fifths >= 0 else SHARPS[::-1]
    counts = {step: Fraction(0) for step in SHARPS}
    for place in range(abs(fifths)):
        counts[order[place % 7]] += 1 if fifths > 0 else -1
    return counts


def read_by_signs(part: Part) -> list[Read]:
    """Every visible pitched note with what its printed signs alone say of it, in half steps.

    Nothing is taken from the pitches but their letters and octaves: key signature, accidentals and
    ties are read as a player reads them.
    """
    found: list[Read] = []
    tied: dict[tuple[Line, str], Fraction] = {}
    for measure in part.measures:
        key = signature(measure.key.fifths)
        changes = sorted((c for c in measure.changes if c.key), key=lambda c: c.at)
        lines: dict[Line, Fraction] = {}
        goes_on: dict[tuple[Line, str], Fraction] = {}
        for note in sorted(measure.notes, key=lambda n: n.at):
            while changes and changes[0].at <= note.at:
                new = changes.pop(0).key
                assert new is not None
                key, lines = signature(new.fifths), {}
            pitch = note.pitch
            if pitch is None or note.hidden:
                continue
            line = (note.staff, pitch.step, pitch.octave)
            if note.accidental:
                lines[line] = read = ALTERS.get(note.accidental, pitch.alter)
            elif note.tie in ("continue", "stop") and (line, note.voice) in tied and not note.grace:
                read = tied[line, note.voice]
            else:
                read = lines.get(line, key[pitch.step])
            if note.tie in ("continue", "start") and not note.grace:
                tied[line, note.voice] = goes_on[line, note.voice] = read
            found.append((note, read))
        tied = {**goes_on}
    return found


def wrongly_signed(part: Part) -> list[Read]:
    """Notes whose printed signs say another pitch than the one that is meant."""
    return [
        (note, read)
        for note, read in read_by_signs(part)
        if note.pitch and read != note.pitch.alter
    ]
