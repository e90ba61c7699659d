"""Instruments by name: family, transposition and written range.

Transpositions (half steps from written to sounding) are those of any orchestration book, such as
Adler, The Study of Orchestration (from memory); ranges are what school players are asked for,
common practice, no source.
"""

from dataclasses import dataclass

from crumb.core.instruments.names import instrument_meant
from crumb.core.score.model import Part


@dataclass(frozen=True, slots=True)
class Instrument:
    """An instrument, as the survey needs it.

    ``low`` and ``high`` bound the comfortable written range (MIDI numbers); ``tongue`` is how many
    notes a second a steady single tongue of a school player manages, 0 where nothing is tongued.
    """

    name: str
    family: str
    transpose: int
    low: int
    high: int
    tongue: float = 0.0

    @property
    def has_pitch(self) -> bool:
        """Whether it plays notes, not strokes: of the drums only timpani do."""
        return self.family != "drums" or self.name == "Timpani"


# A steady single tongue runs out at sixteenths of about 120 to 132 for many school players: eight
# to nine notes a second (common practice, no source).
_TONGUE = 8.4
_BRASS_TONGUE = 8.0
_LOW_TONGUE = 7.2

INSTRUMENTS: tuple[Instrument, ...] = (
    Instrument("Piccolo", "flute", 12, 62, 91, _TONGUE),
    Instrument("Flute", "flute", 0, 60, 91, _TONGUE),
    Instrument("Alto flute", "flute", -5, 60, 86, _TONGUE),
    Instrument("Bass flute", "flute", -12, 60, 84, _LOW_TONGUE),
    Instrument("Oboe", "oboe", 0, 60, 86, _TONGUE),
    Instrument("English horn", "oboe", -7, 60, 84, _TONGUE),
    Instrument("E♭ clarinet", "clarinet", 3, 52, 86, _TONGUE),
    Instrument("Alto clarinet", "clarinet", -9, 52, 84, _TONGUE),
    Instrument("Bass clarinet", "clarinet", -14, 52, 82, _LOW_TONGUE),
    Instrument("Contra-alto clarinet", "clarinet", -21, 52, 79, _LOW_TONGUE),
    Instrument("Contrabass clarinet", "clarinet", -26, 52, 79, _LOW_TONGUE),
    Instrument("Basset horn", "clarinet", -7, 52, 84, _TONGUE),
    Instrument("A clarinet", "clarinet", -3, 52, 86, _TONGUE),
    Instrument("Clarinet", "clarinet", -2, 52, 86, _TONGUE),
    Instrument("Bassoon", "bassoon", 0, 36, 67, _LOW_TONGUE),
    Instrument("Contrabassoon", "bassoon", -12, 36, 62, _LOW_TONGUE),
    Instrument("Soprano saxophone", "saxophone", -2, 60, 86, _TONGUE),
    Instrument("Alto saxophone", "saxophone", -9, 60, 86, _TONGUE),
    Instrument("Tenor saxophone", "saxophone", -14, 60, 86, _TONGUE),
    Instrument("Baritone saxophone", "saxophone", -21, 60, 86, _LOW_TONGUE),
    Instrument("Bass saxophone", "saxophone", -26, 60, 84, _LOW_TONGUE),
    Instrument("Horn", "horn", -7, 53, 77, _BRASS_TONGUE),
    Instrument("Mellophone", "trumpet", -7, 57, 79, _BRASS_TONGUE),
    Instrument("Alto horn", "trumpet", -9, 57, 79, _BRASS_TONGUE),
    Instrument("Cornet", "trumpet", -2, 57, 79, _BRASS_TONGUE),
    Instrument("Flugelhorn", "trumpet", -2, 57, 77, _BRASS_TONGUE),
    Instrument("C trumpet", "trumpet", 0, 57, 79, _BRASS_TONGUE),
    Instrument("Trumpet", "trumpet", -2, 57, 79, _BRASS_TONGUE),
    Instrument("Bass trombone", "trombone", 0, 36, 63, _LOW_TONGUE),
    Instrument("Trombone", "trombone", 0, 41, 65, _LOW_TONGUE),
    Instrument("Euphonium", "euphonium", 0, 41, 65, _BRASS_TONGUE),
    Instrument("Euphonium in B♭", "trumpet", -14, 55, 79, _BRASS_TONGUE),
    Instrument("Tuba", "tuba", 0, 29, 53, _LOW_TONGUE),
    Instrument("Violin", "violin", 0, 55, 83),
    Instrument("Viola", "viola", 0, 48, 76),
    Instrument("Cello", "cello", 0, 36, 67),
    Instrument("Double bass", "bass", -12, 40, 62),
    Instrument("Glockenspiel", "mallets", 24, 55, 84),
    Instrument("Xylophone", "mallets", 12, 53, 84),
    Instrument("Marimba", "mallets", 0, 45, 84),
    Instrument("Vibraphone", "mallets", 0, 53, 89),
    Instrument("Mallets", "mallets", 0, 53, 84),
    Instrument("Timpani", "drums", 0, 41, 57),
    Instrument("Snare drum", "drums", 0, 0, 127),
    Instrument("Percussion", "drums", 0, 0, 127),
    Instrument("Piano", "keyboard", 0, 33, 96),
    Instrument("Harp", "keyboard", 0, 33, 96),
    Instrument("Guitar", "keyboard", -12, 52, 79),
    Instrument("Electric bass", "keyboard", -12, 40, 67),
    Instrument("Voice", "voice", 0, 53, 79),
    Instrument("Instrument", "other", 0, 36, 84),
)
_BY_NAME = {instrument.name: instrument for instrument in INSTRUMENTS}


def instrument_named(text: str, *, transpose: int | None = None) -> Instrument:
    """The instrument a part's name or a director's word means; ``Instrument`` if none is known.

    Args:
        text: such as ``2nd Clarinet in B♭``.
        transpose: half steps the part's notation transposes by, if known: a euphonium written in
            treble clef is told from one in bass clef by it.
    """
    exact = _BY_NAME.get(text)
    if exact is not None:
        return exact
    name = instrument_meant(text) or "Instrument"
    if name == "Euphonium" and transpose == -14:
        name = "Euphonium in B♭"
    return _BY_NAME[name]


def instrument_of(part: Part) -> Instrument:
    """The instrument of a part, by its instrument's name, else by its own."""
    transpose = part.transposition.chromatic
    found = instrument_named(part.instrument, transpose=transpose)
    return found if found.family != "other" else instrument_named(part.name, transpose=transpose)
