"""A part rewritten for another instrument, so that a mixed class reads the same music.

The sound stays but for whole octaves; what is written follows the instrument: transposition, key,
clef, comfortable range. Drums get the rhythm with a sticking. Clefs and stickings are common
practice, no source.
"""

from collections.abc import Sequence
from dataclasses import replace
from statistics import median

from crumb.core.errors import NotForInstrument
from crumb.core.instruments.table import Instrument
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.meter import beat_starts
from crumb.core.score.model import Change, Clef, Key, Measure, Note, Part
from crumb.core.score.pitch import Pitch, Transposition, moved, parse_pitch
from crumb.core.score.position import Position, Span, absolute

_BASS = frozenset({"bassoon", "trombone", "euphonium", "tuba", "cello", "bass"})
_DRUM_PLACE = parse_pitch("C5")
_LETTERS = (0, 1, 1, 2, 2, 3, 3, 4, 5, 5, 6, 6)
"""Letters spanned by an interval of so many half steps, as instruments transpose."""
_CHORDS = frozenset({"keyboard", "mallets", "violin", "viola", "cello", "bass"})
_MOST_SIGNS = 6


def transposition_of(instrument: Instrument) -> Transposition:
    """From written to sounding for an instrument."""
    octaves, rest = divmod(abs(instrument.transpose), 12)
    letters = octaves * 7 + _LETTERS[rest]
    return Transposition(letters if instrument.transpose >= 0 else -letters, instrument.transpose)


def clef_of(instrument: Instrument) -> Clef:
    """The clef an instrument usually reads."""
    if not instrument.has_pitch:
        return Clef("percussion", 2)
    if instrument.family in _BASS or instrument.name == "Timpani":
        return Clef("F", 4)
    return Clef("C", 3) if instrument.family == "viola" else Clef("G", 2)


def written_name(sounding: Pitch, instrument: Instrument) -> Pitch:
    """The written pitch for a sounding pitch, with the instrument's own octaves."""
    there = transposition_of(instrument)
    return moved(sounding, diatonic=-there.diatonic, chromatic=-there.chromatic)


def is_version_needed(part: Part, mine: Instrument, theirs: Instrument) -> bool:
    """Whether players of another instrument cannot read the part as it is."""
    if "other" in (mine.family, theirs.family):
        return False
    same = (mine.family, mine.transpose) == (theirs.family, theirs.transpose)
    return not same and not (
        mine.transpose == theirs.transpose
        and clef_of(mine) == clef_of(theirs)
        and _fits(part, theirs)
    )


def _fits(part: Part, instrument: Instrument) -> bool:
    heights = _heights(part)
    return bool(heights) and instrument.low <= min(heights) and max(heights) <= instrument.high


def _heights(part: Part) -> list[int]:
    return [n.pitch.midi for _, n in part.each_note() if n.is_attack and n.pitch is not None]


def version_for(part: Part, instrument: Instrument) -> Part:
    """The part as players of the instrument read it.

    Raises:
        NotForInstrument: strokes without pitch for an instrument that plays pitches.
    """
    if not instrument.has_pitch:
        return _for_drums(part, instrument)
    if any(n.is_attack and n.pitch is None for _, n in part.each_note()):
        raise NotForInstrument(f"There are no pitches here that a {instrument.name} could play.")
    there = transposition_of(instrument)
    letters, half_steps, fifths = _way(part, there)
    octaves = _octaves(part, instrument, half_steps)
    letters, half_steps = letters + 7 * octaves, half_steps + 12 * octaves
    clef, way = clef_of(instrument), (fifths, letters, half_steps)
    measures = with_accidentals(
        _rewritten(m, clef, *_from_there(part, m, way), instrument.family in _CHORDS)
        for m in part.measures
    )
    return Part(
        id=part.id,
        name=instrument.name,
        measures=measures,
        instrument=instrument.name,
        transposition=there,
    )


def _way(part: Part, there: Transposition) -> tuple[int, int, int]:
    """Letters and half steps from the old written pitch to the new, and what keys gain.

    Of two spellings the one that needs fewer signs in the part's first key.
    """
    letters = part.transposition.diatonic - there.diatonic
    half_steps = part.transposition.chromatic - there.chromatic
    first = part.measures[0].key.fifths
    ways = [(letters + d, half_steps) for d in (0, 1, -1)]
    gains = [(7 * c - 12 * d, d) for d, c in ways]
    gain, chosen = min(
        ((g, d) for g, d in gains),
        key=lambda way: (abs(first + way[0]) > _MOST_SIGNS, abs(way[1] - letters)),
    )
    return chosen, half_steps, gain


def _from_there(part: Part, measure: Measure, way: tuple[int, int, int]) -> tuple[int, int, int]:
    """The way from what is written in a measure, which may be for another instrument."""
    here, usual = part.transposition_at(measure), part.transposition
    letters, half_steps = here.diatonic - usual.diatonic, here.chromatic - usual.chromatic
    fifths = 7 * half_steps - 12 * letters
    return way[0] + fifths, way[1] + letters, way[2] + half_steps


def _octaves(part: Part, instrument: Instrument, half_steps: int) -> int:
    """Whole octaves to move by: inside the comfortable range if it can be, near its middle."""
    heights = [height + half_steps for height in _heights(part)]
    if not heights:
        return 0
    centre = (instrument.low + instrument.high) / 2

    def cost(octaves: int) -> tuple[int, float]:
        moved_by = 12 * octaves
        outside = sum(
            not instrument.low <= height + moved_by <= instrument.high for height in heights
        )
        return outside, abs(median(heights) + moved_by - centre)

    return min(range(-5, 6), key=cost)


def _rewritten(
    measure: Measure, clef: Clef, fifths: int, letters: int, half_steps: int, chords: bool
) -> Measure:
    notes = [
        _moved_note(note, letters, half_steps)
        for note in measure.notes
        if note.staff == 1 and (chords or not note.in_chord)
    ]
    return replace(
        measure,
        transposition=None,
        key=Key(measure.key.fifths + fifths, measure.key.mode),
        clefs=(clef,),
        notes=tuple(notes),
        directions=tuple(d for d in measure.directions if d.kind != "octave" and d.staff == 1),
        changes=tuple(_key_only(measure.changes, fifths)),
    )


def _key_only(changes: Sequence[Change], fifths: int) -> list[Change]:
    """Keys and times that change inside a measure; clefs are the instrument's own."""
    return [
        replace(c, clef=None, key=Key(c.key.fifths + fifths, c.key.mode) if c.key else None)
        for c in changes
        if c.key or c.time
    ]


def _moved_note(note: Note, letters: int, half_steps: int) -> Note:
    if note.pitch is None:
        return replace(note, place=None) if note.place else note
    pitch = moved(note.pitch, diatonic=letters, chromatic=half_steps)
    if abs(pitch.alter) > 1 and pitch.alter.denominator == 1:
        pitch = _plainer(pitch)
    # Fingerings, strings and positions belong to the instrument they were written for.
    return replace(note, pitch=pitch, technical=())


def _plainer(pitch: Pitch) -> Pitch:
    near = [moved(pitch, diatonic=d, chromatic=0) for d in (-1, 0, 1)]
    return min(near, key=lambda p: abs(p.alter))


def _for_drums(part: Part, instrument: Instrument) -> Part:
    """The rhythm on one line, right and left in turn from each beat."""
    clef = Clef("percussion", 2)
    measures = []
    hand = 0
    for measure in part.measures:
        row: list[Note] = []
        voices = sorted({n.voice for n in measure.notes if n.staff == 1})
        on = beat_starts(measure)
        for note in measure.notes:
            if note.in_chord or note.staff != 1 or note.voice != (voices[0] if voices else "1"):
                continue
            if not note.sounds or note.grace:
                row.append(
                    replace(note, pitch=None, place=None) if note.is_rest else _stroke(note, "")
                )
                continue
            if note.at in on:
                hand = 0
            is_struck = note.tie in (None, "start")
            row.append(_stroke(note, "RL"[hand] if is_struck else ""))
            hand = 1 - hand if is_struck else hand
        measures.append(
            replace(
                measure,
                key=Key(0),
                clefs=(clef,),
                notes=tuple(row),
                directions=tuple(
                    d for d in measure.directions if d.kind != "octave" and d.staff == 1
                ),
                changes=tuple(replace(c, clef=None, key=None) for c in measure.changes if c.time),
            )
        )
    return Part(
        id=part.id, name=instrument.name, measures=tuple(measures), instrument=instrument.name
    )


def _stroke(note: Note, hand: str) -> Note:
    return replace(
        note,
        pitch=None,
        place=_DRUM_PLACE,
        accidental="",
        slurs=(),
        technical=(),
        gestures=(),
        lyric=hand,
    )


def octave_away(part: Part, span: Span, way: int, instrument: Instrument) -> Part:
    """The part with one stretch of it an octave higher (1) or lower (-1); the rest as it was.

    Raises:
        NotForInstrument: no pitches there, or they leave the instrument's comfortable range.
    """
    start, end = absolute(part, span.start), absolute(part, span.end)
    held: dict[tuple[int, str, Pitch], bool] = {}
    measures: list[Measure] = []
    heights: list[int] = []
    for measure in part.measures:
        row = []
        for note in measure.notes:
            pitch = note.pitch
            if pitch is None:
                row.append(note)
                continue
            at = absolute(part, Position(measure.index, note.at))
            key = (note.staff, note.voice, pitch)
            # What is held sounds as it was struck, on whichever side of the edge.
            moves = held.get(key, False) if note.tie in ("continue", "stop") else start <= at < end
            held[key] = moves
            if moves:
                made = replace(pitch, octave=pitch.octave + way)
                heights.append(made.midi)
                note = replace(note, pitch=made, technical=())
            row.append(note)
        measures.append(replace(measure, notes=tuple(row)))
    if not heights:
        raise NotForInstrument("There are no pitches here that could be an octave away.")
    if min(heights) < instrument.low or max(heights) > instrument.high:
        raise NotForInstrument(
            f"An octave away it leaves the comfortable range of the {instrument.name}."
        )
    return replace(part, measures=with_accidentals(measures))
