"""Instruments by name: family, transposition and written range.

Transpositions (half steps from written to sounding) are those of any orchestration book, such as
Adler, The Study of Orchestration (from memory); ranges are what school players are asked for,
common practice, no source.
"""

import re
from dataclasses import dataclass

from crumb.core.score.model import Part


@dataclass(frozen=True, slots=True)
class Instrument:
    """What the survey must know.

    ``low`` and ``high`` bound the comfortable written range (MIDI numbers); ``tongue`` is how many
    notes a second a steady single tongue of a school player manages, 0 where nothing is tongued.
    """

    name: str
    family: str
    transpose: int
    low: int
    high: int
    tongue: float = 0.0


# A steady single tongue runs out at sixteenths of about 120 to 132 for many school players: eight
# to nine notes a second (common practice, no source).
_TONGUE = 8.4
_BRASS_TONGUE = 8.0
_LOW_TONGUE = 7.2

INSTRUMENTS: tuple[Instrument, ...] = (
    Instrument("Piccolo", "flute", 12, 62, 91, _TONGUE),
    Instrument("Flute", "flute", 0, 60, 91, _TONGUE),
    Instrument("Oboe", "oboe", 0, 60, 86, _TONGUE),
    Instrument("English horn", "oboe", -7, 60, 84, _TONGUE),
    Instrument("E♭ clarinet", "clarinet", 3, 52, 86, _TONGUE),
    Instrument("Alto clarinet", "clarinet", -9, 52, 84, _TONGUE),
    Instrument("Bass clarinet", "clarinet", -14, 52, 82, _LOW_TONGUE),
    Instrument("A clarinet", "clarinet", -3, 52, 86, _TONGUE),
    Instrument("Clarinet", "clarinet", -2, 52, 86, _TONGUE),
    Instrument("Bassoon", "bassoon", 0, 36, 67, _LOW_TONGUE),
    Instrument("Soprano saxophone", "saxophone", -2, 60, 86, _TONGUE),
    Instrument("Alto saxophone", "saxophone", -9, 60, 86, _TONGUE),
    Instrument("Tenor saxophone", "saxophone", -14, 60, 86, _TONGUE),
    Instrument("Baritone saxophone", "saxophone", -21, 60, 86, _LOW_TONGUE),
    Instrument("Horn", "horn", -7, 53, 77, _BRASS_TONGUE),
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
    Instrument("Voice", "voice", 0, 53, 79),
    Instrument("Instrument", "other", 0, 36, 84),
)
_BY_NAME = {instrument.name: instrument for instrument in INSTRUMENTS}

# First match wins; names as notation programs print them, in the languages scores come in.
_PATTERNS: tuple[tuple[str, str], ...] = (
    (r"picc|ottavino|flautin", "Piccolo"),
    (r"flügel|flugel", "Flugelhorn"),
    (r"fl[uöûa]|traverso", "Flute"),
    (r"english horn|cor anglais|englisch", "English horn"),
    (r"ob\b|oboe|hautb", "Oboe"),
    (r"bass cl|clarinet.*bass|bass-?klarinette|clarinetto basso|clarinette basse", "Bass clarinet"),
    (r"alto cl", "Alto clarinet"),
    (r"(e\s?[♭b]|eflat|e-flat)\s*cl|cl\w*[. ]*(in )?e\s?([♭b]|flat)", "E♭ clarinet"),
    (r"cl\w*[. ]*(in )?a\b|\ba cl", "A clarinet"),
    (r"clar|klarinet|\bcl\b", "Clarinet"),
    (r"soprano sax|sax.*soprano", "Soprano saxophone"),
    (r"(tenor|ten\.?)\s*sax|sax.*tenor|t\.? ?sax", "Tenor saxophone"),
    (r"bari\w*\.?\s*sax|sax.*bari|b\.? ?sax", "Baritone saxophone"),
    (r"sax", "Alto saxophone"),
    (r"bassoon|fagot|basson|\bbsn|\bfg\b", "Bassoon"),
    (r"bass trombone|bass tbn|bassposaune|trombone basso", "Bass trombone"),
    (r"trombon|posaune|\btbn|\btrb\b", "Trombone"),
    (r"cornet", "Cornet"),
    (r"trumpet in c\b|c trumpet|trompete in c\b", "C trumpet"),
    (r"trump|tromp|tromba\b|clarino|\btpt", "Trumpet"),
    (r"euph|baritone|bariton horn", "Euphonium"),
    (r"tuba|sousa", "Tuba"),
    (r"horn|corn[oi]\b|\bcor\b|\bhn\b", "Horn"),
    (r"violoncell|'?cell|\bvc\b", "Cello"),
    (
        r"contrabass|double bass|string bass|kontrabass|contrebasse|upright|\bbass[ei]s?\b",
        "Double bass",
    ),
    (r"violas?\b|bratsche|\bvlas?\b|alto$", "Viola"),
    (r"violin|viol\.?|geige|fiddle|\bvln\b|\bvn\b", "Violin"),
    (r"glock|bells|lyra", "Glockenspiel"),
    (r"xylo", "Xylophone"),
    (r"marimba", "Marimba"),
    (r"vibra", "Vibraphone"),
    (r"mallet|chimes", "Mallets"),
    (r"timp|pauken|kettle", "Timpani"),
    (r"snare|side drum|kleine trommel", "Snare drum"),
    (r"drum|perc|cymb|triang|tambour|wood ?block|tom", "Percussion"),
    (r"piano|klavier|organ|harpsi|cembalo|keyboard|celesta", "Piano"),
    (r"harp|arpa", "Harp"),
    (r"guit|gitarre|banjo|lute|ukulele|mandolin", "Guitar"),
    (r"voice|sopran|alto|tenor|bass\b|cantus|choir|chor|voc", "Voice"),
)
_COMPILED = tuple((re.compile(pattern, re.IGNORECASE), name) for pattern, name in _PATTERNS)


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
    for pattern, name in _COMPILED:
        if pattern.search(text):
            if name == "Euphonium" and transpose == -14:
                name = "Euphonium in B♭"
            return _BY_NAME[name]
    return _BY_NAME["Instrument"]


def instrument_of(part: Part) -> Instrument:
    """What a part is played on, by its instrument's name, else its own."""
    transpose = part.transposition.chromatic
    found = instrument_named(part.instrument, transpose=transpose)
    return found if found.family != "other" else instrument_named(part.name, transpose=transpose)
