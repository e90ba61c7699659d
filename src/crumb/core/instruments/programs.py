"""General MIDI programs of instruments (GM 1 sound set, numbered from 0; from memory)."""

from collections.abc import Mapping

from crumb.core.instruments.table import instrument_of
from crumb.core.score.model import Part

_BY_NAME: Mapping[str, int] = {
    "Piccolo": 72,
    "English horn": 69,
    "Soprano saxophone": 64,
    "Alto saxophone": 65,
    "Tenor saxophone": 66,
    "Baritone saxophone": 67,
    "Glockenspiel": 9,
    "Vibraphone": 11,
    "Marimba": 12,
    "Xylophone": 13,
    "Timpani": 47,
    "Harp": 46,
    "Guitar": 24,
    "Electric bass": 33,
}
_BY_FAMILY: Mapping[str, int] = {
    "flute": 73,
    "oboe": 68,
    "clarinet": 71,
    "bassoon": 70,
    "saxophone": 65,
    "horn": 60,
    "trumpet": 56,
    "trombone": 57,
    "euphonium": 57,
    "tuba": 58,
    "violin": 40,
    "viola": 41,
    "cello": 42,
    "bass": 43,
    "mallets": 12,
    "keyboard": 0,
    "voice": 52,
}


def program_of(part: Part) -> int:
    """The program of who plays a part; a piano where nobody can be told."""
    instrument = instrument_of(part)
    return _BY_NAME.get(instrument.name, _BY_FAMILY.get(instrument.family, 0))
