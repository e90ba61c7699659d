"""Key, time, clef and transposition: what <attributes> says of the measures that follow."""

import re
from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import FREE, Clef, Key, Time
from crumb.core.score.pitch import Transposition
from crumb.formats.musicxml.numbers import small, text_of, whole

_MOST_ACCIDENTALS = 14
_BEAT_UNITS = (1, 2, 4, 8, 16, 32, 64, 128)
_TIME_BEATS = re.compile(r"[0-9]{1,3}(\s*\+\s*[0-9]{1,3}){0,11}")


def key_of(element: etree._Element, where: str) -> Key | None:
    """A <key> element; None where it is of another staff than the first, or names single signs.

    Raises:
        UnreadableFile: more accidentals than any key has.
    """
    fifths = element.findtext("fifths")
    if fifths is None or element.get("number") not in (None, "1"):
        return None
    count = whole(fifths, where)
    if abs(count) > _MOST_ACCIDENTALS:
        raise UnreadableFile(f"{where}: a key of {count} accidentals.")
    return Key(count, text_of(element, "mode"))


def time_of(element: etree._Element, where: str) -> Time | None:
    """A <time> element; None where it has no beats. Several fractions become one of the finest.

    Raises:
        UnreadableFile: a signature that makes no sense.
    """
    if element.find("senza-misura") is not None and element.findtext("beats") is None:
        return Time("1", 4, FREE)
    if element.findtext("beats") is None:
        return None
    pairs = list(zip(element.findall("beats"), element.findall("beat-type"), strict=False))
    units = {whole(unit.text, where) for _, unit in pairs}
    beats = [(b.text or "").strip() for b, _ in pairs]
    if not all(_TIME_BEATS.fullmatch(b) for b in beats) or not units or min(units) < 1:
        raise UnreadableFile(f"{where}: a time signature that makes no sense.")
    unit = max(units)
    if unit not in _BEAT_UNITS:
        raise UnreadableFile(f"{where}: a time signature over {unit}.")
    counts = [
        str(sum(int(x) for x in b.split("+")) * unit // whole(u.text, where))
        if len(pairs) > 1
        else b.replace(" ", "")
        for b, (_, u) in zip(beats, pairs, strict=True)
    ]
    signature = Time("+".join(counts), unit, element.get("symbol") or "")
    if signature.numerator < 1:
        raise UnreadableFile(f"{where}: a time signature of no beats.")
    return signature


def clef_of(element: etree._Element, where: str) -> tuple[int, Clef]:
    """A <clef> element: its staff, from 1, and the clef.

    Raises:
        UnreadableFile: a number that is none.
    """
    staff = small(element.get("number"), most=8, otherwise=1)
    sign = text_of(element, "sign") or "G"
    line, octave = element.findtext("line"), element.findtext("clef-octave-change")
    usual = {"G": 2, "F": 4, "C": 3}.get(sign, 3)
    return staff, Clef(
        sign, whole(line, where) if line else usual, whole(octave, where) if octave else 0
    )


def transposition_of(element: etree._Element, label: str) -> Transposition:
    """A <transpose> element: from written to sounding.

    Raises:
        UnreadableFile: a number that is none.
    """
    where = f"Transposition of {label}"
    octaves = whole(element.findtext("octave-change") or "0", where)
    chromatic = whole(element.findtext("chromatic") or "0", where) + 12 * octaves
    diatonic_text = element.findtext("diatonic")
    if diatonic_text is None:
        diatonic = round(Fraction(chromatic * 7, 12))
    else:
        diatonic = whole(diatonic_text, where) + 7 * octaves
    return Transposition(diatonic, chromatic)
