"""The information fields of ABC 2.1: key, meter, unit length, tempo, voice (sections 3 and 4)."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Clef, Key, Tempo, Time
from crumb.core.score.pitch import STEPS, key_alter

_MODES = {
    "": 0,
    "maj": 0,
    "ion": 0,
    "mix": -1,
    "dor": -2,
    "m": -3,
    "min": -3,
    "aeo": -3,
    "phr": -4,
    "loc": -5,
    "lyd": 1,
}
_KEY = re.compile(r"(?P<tonic>[A-G])(?P<sign>[#b]?)\s*(?P<mode>[A-Za-z]*)")
_EXTRA = re.compile(r"(?P<sign>\^\^|\^|__|_|=)(?P<letter>[A-Ga-g])")
SIGNS = {"^^": 2, "^": 1, "=": 0, "_": -1, "__": -2}
_CLEFS = {
    "treble": Clef("G", 2),
    "bass": Clef("F", 4),
    "alto": Clef("C", 3),
    "tenor": Clef("C", 4),
    "soprano": Clef("C", 1),
    "mezzosoprano": Clef("C", 2),
    "perc": Clef("percussion", 3),
    "treble-8": Clef("G", 2, -1),
    "treble+8": Clef("G", 2, 1),
    "bass-8": Clef("F", 4, -1),
}
_CLEF = re.compile(r"(?:clef=|\b)(treble[+-]8|bass-8|treble|bass|alto|tenor|perc)\b")
_METER = re.compile(r"\(?([1-9]\d?(?:\s*\+\s*[1-9]\d?){0,11})\)?\s*/\s*([1-9]\d{0,2})")
_TEMPO = re.compile(r"((?:\d+/\d+\s*)+)=\s*(\d{1,4}(?:\.\d{1,3})?)")
_UNITS = frozenset((1, 2, 4, 8, 16, 32, 64, 128))


@dataclass(frozen=True, slots=True)
class KeyField:
    """A ``K:`` field: the signature, letters it alters besides, a clef if it names one."""

    key: Key
    letters: Mapping[str, int]
    clef: Clef | None = None


def key_field(text: str) -> KeyField:
    """The key: ``D``, ``F#m``, ``Edor``, ``D =c``, ``HP``, ``none``, with or without a clef.

    Raises:
        UnreadableFile: no such key.
    """
    clef = clef_said(text)
    if text.strip()[:2] in ("HP", "Hp"):
        # The Highland pipes: no signature, or F and C sharp with a natural G.
        key = Key(0) if text.strip().startswith("HP") else Key(2)
        return KeyField(key, {step: key_alter(step, key.fifths) for step in STEPS}, clef)
    found = _KEY.match(text.strip())
    fifths, mode = 0, "major"
    if found is not None:
        said = found["mode"].lower()
        name = "m" if said == "m" else said[:3]
        # A word that is no mode, such as "clef", leaves the key major.
        shift = _MODES.get(name, 0)
        sharps = "FCGDAEB".index(found["tonic"]) - 1
        fifths = sharps + {"#": 7, "b": -7, "": 0}[found["sign"]] + shift
        mode = "minor" if shift == -3 else "major"
        if abs(fifths) > 14:
            raise UnreadableFile(f"There is no key called {text.strip()[:20]}.")
    letters = {step: key_alter(step, fifths) for step in STEPS}
    for extra in _EXTRA.finditer(text):
        letters[extra["letter"].upper()] = SIGNS[extra["sign"]]
    return KeyField(Key(fifths, mode), letters, clef)


def clef_said(text: str) -> Clef | None:
    """The clef that a ``K:`` or ``V:`` field names."""
    found = _CLEF.search(text)
    return _CLEFS[found[1]] if found else None


def meter_field(text: str) -> Time | None:
    """The meter; None where there is none.

    Raises:
        UnreadableFile: a meter that makes no sense.
    """
    said = text.split("%")[0].strip()
    if said.lower() in ("none", ""):
        return None
    if said in ("C", "C|"):
        return Time("4", 4, "common") if said == "C" else Time("2", 2, "cut")
    found = _METER.fullmatch(said)
    if found is None or int(found[2]) not in _UNITS:
        raise UnreadableFile(f"A meter of {said[:20]} makes no sense.")
    return Time(found[1].replace(" ", ""), int(found[2]))


def unit_of(meter: Time | None) -> Fraction:
    """The unit note length where ``L:`` says none: a sixteenth in meters below 3/4."""
    if meter is not None and meter.length / 4 < Fraction(3, 4):
        return Fraction(1, 4)
    return Fraction(1, 2)


def unit_field(text: str) -> Fraction:
    """The unit note length of ``L:`` in quarter notes.

    Raises:
        UnreadableFile: it is none.
    """
    found = re.fullmatch(r"1(?:/([1-9]\d{0,2}))?", text.split("%")[0].strip())
    if found is None or int(found[1] or 1) not in _UNITS:
        raise UnreadableFile(f"A unit note length of {text.strip()[:20]} makes no sense.")
    return Fraction(4, int(found[1] or 1))


def tempo_field(text: str, unit: Fraction) -> Tempo | None:
    """The tempo of ``Q:``; a bare number counts unit lengths, as ABC once had it."""
    found = _TEMPO.search(text)
    if found is not None and Fraction(found[2]) > 0:
        parts = [Fraction(part) for part in found[1].split()]
        return Tempo(sum(parts, Fraction(0)) * 4, Fraction(found[2]))
    bare = re.fullmatch(r"\s*(\d{2,3})\s*", text)
    return Tempo(unit, Fraction(bare[1])) if bare and int(bare[1]) else None
