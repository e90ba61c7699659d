"""School English of the US, in which everything is written here, and of the UK where it differs.

The pairs are those of any dictionary of music (from memory): measure and bar, quarter note and
crotchet, half step and semitone.
"""

import re
from collections.abc import Mapping

from crumb.core.vocabulary import SchoolWords

US, UK = SchoolWords.US, SchoolWords.UK
_UK: Mapping[str, str] = {
    "measure": "bar",
    "measures": "bars",
    "whole note": "semibreve",
    "whole notes": "semibreves",
    "half note": "minim",
    "half notes": "minims",
    "quarter note": "crotchet",
    "quarter notes": "crotchets",
    "quarters": "crotchets",
    "dotted quarter": "dotted crotchet",
    "eighth note": "quaver",
    "eighth notes": "quavers",
    "an eighth": "a quaver",
    "eighth": "quaver",
    "eighths": "quavers",
    "sixteenth note": "semiquaver",
    "sixteenth notes": "semiquavers",
    "sixteenth": "semiquaver",
    "sixteenths": "semiquavers",
    "thirty-second": "demisemiquaver",
    "thirty-seconds": "demisemiquavers",
    "half step": "semitone",
    "half steps": "semitones",
    "whole step": "tone",
    "whole steps": "tones",
    "stand partner": "desk partner",
}
_WORD = re.compile(
    r"\b(" + "|".join(sorted(map(re.escape, _UK), key=len, reverse=True)) + r")\b", re.IGNORECASE
)


def said_in(words: str, text: str) -> str:
    """A sentence of ours in the words of a school.

    Args:
        words: ``us`` or ``uk``.
        text: in US English.
    """
    return _WORD.sub(_british, text) if words == UK else text


def _british(found: re.Match[str]) -> str:
    word = found[0]
    other = _UK[word.lower()]
    return other[0].upper() + other[1:] if word[0].isupper() else other
