"""``crumb score``: every measure and note of a part."""

import argparse

from crumb.cli.common import Row, chosen_part, load_score, number
from crumb.core.score.model import Measure, Note, Part


def _note_row(part: Part, note: Note) -> Row:
    slurs = [slur.end for slur in note.slurs]
    return {
        "at": str(note.at),
        "duration": str(note.duration),
        "pitch": note.pitch.name if note.pitch else None,
        "midi": part.transposition.sounding(note.pitch).midi if note.pitch else None,
        "voice": note.voice,
        "staff": note.staff,
        "grace": bool(note.grace),
        "tie": note.tie,
        "articulations": list(note.articulations),
        "slur": slurs[0] if len(slurs) == 1 else slurs or None,
    }


def _measure_row(part: Part, measure: Measure) -> Row:
    return {
        "index": measure.index,
        "number": measure.number,
        "length": str(measure.length),
        "nominal": str(measure.nominal),
        "time": measure.time.text,
        "key": measure.key.fifths,
        "tempo": number(measure.tempo.per_minute) if measure.tempo else None,
        "tempo_beat": str(measure.tempo.beat) if measure.tempo else None,
        "marks": [
            {"at": str(mark.at), "kind": mark.kind, "text": mark.text}
            for mark in measure.directions
        ],
        "notes": [_note_row(part, note) for note in measure.notes if note.sounds],
    }


def run(args: argparse.Namespace) -> Row:
    """A part as JSON: its measures with their marks and notes."""
    part = chosen_part(load_score(args.file), args.part)
    return {
        "id": part.id,
        "name": part.name,
        "instrument": part.instrument,
        "transpose": part.transposition.chromatic,
        "measures": [_measure_row(part, measure) for measure in part.measures],
    }
