"""Tempos as MusicXML says them: a metronome mark, or words."""

import re
from fractions import Fraction

from lxml import etree

from crumb.core.score.model import Tempo
from crumb.core.score.notating import TYPES
from crumb.formats.musicxml.numbers import text_of

TYPE_LENGTHS = {**dict(TYPES), "long": Fraction(16)}
"""Quarter notes of each written value."""


def metronome_of(element: etree._Element) -> Tempo | None:
    """The tempo of a <metronome> element; None where it names two notes, or no number."""
    unit = TYPE_LENGTHS.get(text_of(element, "beat-unit"))
    minute = re.search(r"\d{1,4}(?:\.\d{1,6})?", text_of(element, "per-minute"))
    if unit is None or minute is None or Fraction(minute[0]) == 0:
        return None
    dots = len(element.findall("beat-unit-dot"))
    return Tempo(unit * (2 - Fraction(1, 2**dots)), Fraction(minute[0]))


_NOTE_SIGNS = {
    "\u2669": Fraction(1),
    "\u266a": Fraction(1, 2),
    "\u266b": Fraction(1, 2),
    "\U0001d15d": Fraction(4),
    "\U0001d15e": Fraction(2),
    "\U0001d15f": Fraction(1),
    "\U0001d160": Fraction(1, 2),
    "\U0001d161": Fraction(1, 4),
    "\ue1d2": Fraction(4),
    "\ue1d3": Fraction(2),
    "\ue1d4": Fraction(2),
    "\ue1d5": Fraction(1),
    "\ue1d6": Fraction(1),
    "\ue1d7": Fraction(1, 2),
    "\ue1d8": Fraction(1, 2),
    "half": Fraction(2),
    "quarter": Fraction(1),
    "eighth": Fraction(1, 2),
    "minim": Fraction(2),
    "crotchet": Fraction(1),
    "quaver": Fraction(1, 2),
}
"""Signs of notes as text: Unicode's musical symbols, SMuFL 1.4's metronome marks, words."""
_TEMPO_SAID = re.compile(
    r"(?P<dotted>dotted[ -])?"
    r"(?P<unit>[\u2669\u266a\u266b\ue1d2-\ue1d8\U0001d15d-\U0001d161]"
    r"|\b(?:half|quarter|eighth|minim|crotchet|quaver)\b)"
    r"(?: note)?\s*(?P<dot>[.\ue1e7\U0001d16d])?\s*=\s*(?:c(?:a|irca)?\.?\s*)?"
    r"(?P<minute>\d{2,3}(?:\.\d{1,2})?)\b",
    re.IGNORECASE,
)


def tempo_said(text: str) -> Tempo | None:
    """The tempo in words such as ``Allegro (♩ = 120)`` or ``dotted quarter = ca. 72``."""
    found = _TEMPO_SAID.search(text[:200])
    if found is None or Fraction(found["minute"]) == 0:
        return None
    unit = _NOTE_SIGNS[found["unit"].lower()]
    if found["dot"] or found["dotted"]:
        unit *= Fraction(3, 2)
    return Tempo(unit, Fraction(found["minute"]))
