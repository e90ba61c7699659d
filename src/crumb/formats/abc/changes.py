"""Changes inside of a tune: key, meter, unit, tempo, and parts by letter."""

import re

from crumb.core.score.model import Change, Direction
from crumb.formats.abc.fields import key_field, meter_field, tempo_field, unit_field, unit_of
from crumb.formats.abc.tune import Tune
from crumb.formats.abc.voice import Voice


def change(tune: Tune, voice: Voice, letter: str, value: str) -> None:
    """Apply a field inside of the tune: ``K``, ``M``, ``L``, ``Q`` or ``P``."""
    match letter:
        case "K":
            voice.key = key_field(value)
            voice.said = {}
            _changed(voice, Change(voice.at, key=voice.key.key))
            if voice.key.clef and voice.key.clef != voice.clef:
                voice.clef = voice.key.clef
                _changed(voice, Change(voice.at, clef=voice.clef))
        case "M":
            voice.meter = meter_field(value)
            if voice.meter is not None:
                _changed(voice, Change(voice.at, time=voice.meter))
            if tune.unit is None:
                voice.unit = unit_of(voice.meter)
        case "L":
            voice.unit = unit_field(value)
        case "Q":
            set_tempo(voice, value)
        case "P":
            voice.directions.append(Direction(voice.at, "rehearsal", value[:8]))


def _changed(voice: Voice, change: Change) -> None:
    if voice.row:
        voice.changes.append(change)
    # At the barline it is part of what is in force there.


def set_tempo(voice: Voice, text: str) -> None:
    """Apply a tempo field, words and number, from here on."""
    words = re.search(r'"([^"]*)"', text)
    if words and words[1].strip():
        voice.directions.append(Direction(voice.at, "words", words[1].strip()[:200]))
    tempo = tempo_field(text, voice.unit)
    if tempo is None:
        return
    voice.tempo = tempo
    if not voice.row:
        voice.tempo_at_start = tempo
    voice.directions.append(Direction(voice.at, "tempo", tempo=tempo))
