"""Notes, rests, chords and graces of a tune, each at its place in its voice."""

import re
from fractions import Fraction

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import ZERO, Note
from crumb.core.score.pitch import Pitch
from crumb.formats.abc.fields import SIGNS
from crumb.formats.abc.marks import marked
from crumb.formats.abc.measures import close_measure
from crumb.formats.abc.tokens import INNER, MOST_IN_MEASURE, MOST_MEASURES, MOST_NOTES, times
from crumb.formats.abc.tune import Tune
from crumb.formats.abc.voice import Struck, Voice, sounding


def read_note(tune: Tune, voice: Voice, found: re.Match[str]) -> None:
    """Read a note, a rest, or whole measures of rest."""
    step = found["step"]
    if step in "ZX":
        return _bars_of_rest(tune, voice, int(found["num"] or 1))
    length = voice.unit * times(found["num"], found["den"])
    if step in "zx":
        rest = Note("", ZERO, ZERO, is_rest=True, hidden=step == "x")
        return _strike(tune, voice, [rest], length)
    pitch = _pitch(tune, voice, found["acc"], step, found["oct"])
    return _strike(tune, voice, [Note("", ZERO, ZERO, pitch=pitch)], length)


def read_chord(tune: Tune, voice: Voice, found: re.Match[str]) -> None:
    """Read a chord; its first note gives its length."""
    notes, first, ties = [], None, False
    place = 0
    inside = "".join(found["inside"].split())
    while place < len(inside):
        one = INNER.match(inside, place)
        if one is None:
            place += 1  # a mark inside a chord
            continue
        place = one.end()
        ties |= bool(one["tie"])
        if first is None:
            first = times(one["num"], one["den"])
        if one["step"] not in "zx":
            pitch = _pitch(tune, voice, one["acc"], one["step"], one["oct"])
            notes.append(Note("", ZERO, ZERO, pitch=pitch))
    if not notes:
        return
    notes.sort(key=lambda n: n.pitch.midi if n.pitch else 0)
    length = voice.unit * (first or 1) * times(found["cnum"], found["cden"])
    _strike(tune, voice, notes, length)
    voice.row[-1].ties = ties


def read_graces(tune: Tune, voice: Voice, text: str, *, is_slashed: bool) -> None:
    """Read graces: they wait for the note that they belong to."""
    for one in INNER.finditer("".join(text.split())):
        if one["step"] in "zx":
            continue
        pitch = _pitch(tune, voice, one["acc"], one["step"], one["oct"])
        grace = "slashed" if is_slashed else "grace"
        voice.graces.append(Note("", ZERO, ZERO, pitch=pitch, grace=grace, type="eighth"))


def lengthen_and_shorten(voice: Voice, signs: str) -> None:
    """Read ``>`` or ``<``: the note before and the next one share their time unevenly."""
    if not voice.row:
        return
    short = Fraction(1, 2 ** len(signs))
    first, second = (2 - short, short) if signs[0] == ">" else (short, 2 - short)
    last = voice.row[-1]
    before = sounding(last)
    last.written *= first
    voice.at += sounding(last) - before
    voice.broken = second


def read_slur(voice: Voice, sign: str) -> None:
    """Read the start or the end of a slur."""
    if sign == "(":
        voice.slurs.append("start")
    elif voice.row:
        voice.row[-1].slurs.append("stop")


def _bars_of_rest(tune: Tune, voice: Voice, count: int) -> None:
    length = voice.meter.length if voice.meter else Fraction(4)
    for place in range(min(max(count, 1), MOST_MEASURES)):
        if place:
            close_measure(tune, voice, "|")
        rest = Note("", ZERO, ZERO, is_rest=True)
        voice.row.append(Struck(length, [rest]))
        voice.at += length


def _strike(tune: Tune, voice: Voice, notes: list[Note], length: Fraction) -> None:
    if not 0 < length <= 64:
        raise UnreadableFile(f"A note of {length} quarter notes makes no sense.")
    if voice.broken is not None:
        length, voice.broken = length * voice.broken, None
    struck = Struck(length, marked(tune, voice, notes), slurs=voice.slurs)
    voice.slurs = []
    if voice.tuplet is not None:
        p, q, left = voice.tuplet
        struck.tuplet = (p, q)
        before = voice.row[-1] if voice.row else None
        struck.starts_tuplet = before is None or before.tuplet is None or before.stops_tuplet
        struck.stops_tuplet = left == 1
        voice.tuplet = None if left == 1 else (p, q, left - 1)
    voice.row.append(struck)
    if not notes[0].is_rest:
        voice.line.append((len(voice.measures), len(voice.row) - 1))
    voice.at += sounding(struck)
    tune.struck += len(notes)
    if len(voice.row) > MOST_IN_MEASURE:
        raise UnreadableFile("A measure of this tune holds more than a measure of music does.")
    if tune.struck > MOST_NOTES:
        raise UnreadableFile(f"This tune has more than {MOST_NOTES} notes.")


def _pitch(tune: Tune, voice: Voice, acc: str | None, step: str, octaves: str) -> Pitch:
    letter = step.upper()
    octave = 5 if step.islower() else 4
    octave += octaves.count("'") - octaves.count(",")
    if not 0 <= octave <= 9:
        raise UnreadableFile(f"A note {step}{octaves} is out of all reach.")
    name = letter if tune.holds == "pitch" else f"{letter}{octave}"
    if acc:
        if tune.holds != "not":
            voice.said[name] = SIGNS[acc]
        alter = Fraction(SIGNS[acc])
    elif (letter, octave) in voice.tied and not voice.row:
        # Tied over the barline it keeps its sign; the sign holds for this note alone.
        alter = voice.tied[letter, octave]
    else:
        alter = Fraction(voice.said.get(name, voice.key.letters[letter]))
    return Pitch(letter, alter, octave)
