"""Definitions in force on each staff: clef, key, meter, transposition, tempo (MEI 5.0, shared)."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import FREE, Clef, Key, Tempo, Time
from crumb.core.score.pitch import Transposition
from crumb.formats.mei.tree import children, count_of, first, id_of, named, tag_of, words
from crumb.formats.musicxml.numbers import exact, whole

_KEY = re.compile(r"(?P<count>[0-9]{1,2})(?P<sign>[sf])")
_TIME = re.compile(r"[0-9]{1,3}(\+[0-9]{1,3}){0,11}")
_UNITS = (1, 2, 4, 8, 16, 32, 64, 128)
_SYMBOLS = {"common": Time("4", 4, "common"), "cut": Time("2", 2, "cut")}


@dataclass(slots=True)
class Staff:
    """One staff: the number that its music says, and what is in force on it."""

    n: str
    part: str = ""
    name: str = ""
    place: int = 1
    """Which staff of its part, from 1."""
    clef: Clef = field(default_factory=lambda: Clef("G", 2))
    key: Key = field(default_factory=lambda: Key(0))
    time: Time = field(default_factory=lambda: Time("4", 4))
    transposition: Transposition = field(default_factory=Transposition)
    lines: int = 5


@dataclass(frozen=True, slots=True)
class Said:
    """A staff's definition; None where it says nothing."""

    clef: Clef | None = None
    key: Key | None = None
    time: Time | None = None
    transposition: Transposition | None = None
    lines: int | None = None

    def set(self, staff: Staff) -> None:
        """Put it in force."""
        staff.clef = self.clef or staff.clef
        staff.key = self.key or staff.key
        staff.time = self.time or staff.time
        staff.transposition = self.transposition or staff.transposition
        staff.lines = staff.lines if self.lines is None else self.lines


def said_by(element: etree._Element, where: str) -> Said:
    """The definition in a <scoreDef>, <staffDef> or <layerDef>.

    Raises:
        UnreadableFile: a value that cannot be.
    """
    lines = element.get("lines")
    moved = (element.get("trans.diat"), element.get("trans.semi"))
    return Said(
        clef=_clef_in(element, where),
        key=_key_in(element, where),
        time=_time_in(element, where),
        transposition=Transposition(*(whole(n or "0", where) for n in moved))
        if any(moved)
        else None,
        lines=None if lines is None else min(max(whole(lines, where), 0), 12),
    )


def _clef_in(element: etree._Element, where: str) -> Clef | None:
    child = first(element, "clef")
    if child is not None:
        return clef_of(child, where)
    return clef_of(element, where, "clef.") if element.get("clef.shape") else None


def clef_of(element: etree._Element, where: str, prefix: str = "") -> Clef:
    """A <clef>, or the attributes of one."""
    shape = (element.get(f"{prefix}shape") or "G").upper()
    if shape == "PERC":
        return Clef("percussion", 2)
    sign = {"GG": "G"}.get(shape, shape)
    if sign not in ("G", "F", "C", "TAB"):
        raise UnreadableFile(f"{where}: a clef called {shape[:10]}.")
    usual = {"G": 2, "F": 4, "C": 3}.get(sign, 5)
    octaves = {"8": 1, "15": 2, "22": 3}.get(element.get(f"{prefix}dis") or "", 0)
    down = element.get(f"{prefix}dis.place") == "below"
    moved = -octaves if down else octaves
    if shape == "GG":
        moved = -1
    return Clef(sign, whole(element.get(f"{prefix}line") or str(usual), where), moved)


def _key_in(element: etree._Element, where: str) -> Key | None:
    child = first(element, "keySig")
    if child is not None:
        return key_of(child, where)
    text = element.get("keysig") or element.get("key.sig")
    return None if text is None else _key(text, element.get("key.mode") or "", where)


def key_of(element: etree._Element, where: str) -> Key:
    """A <keySig>."""
    text = element.get("sig") or element.get("keysig")
    if text is None:
        signs = [one.get("accid") for one in named(element, "keyAccid")]
        if signs and len(set(signs)) > 1:
            raise UnreadableFile(f"{where}: a key of mixed signs, which is not read yet.")
        text = f"{len(signs)}{signs[0]}" if signs else "0"
    return _key(text, element.get("mode") or "", where)


def _key(text: str, mode: str, where: str) -> Key:
    if text == "0":
        return Key(0, mode)
    match = _KEY.fullmatch(text)
    if match is None or int(match["count"]) > 14:
        raise UnreadableFile(f"{where}: a key called “{text[:20]}”, which is not read yet.")
    count = int(match["count"])
    return Key(count if match["sign"] == "s" else -count, mode)


def _time_in(element: etree._Element, where: str) -> Time | None:
    group = first(element, "meterSigGrp")
    if group is not None:
        raise UnreadableFile(f"{where}: meters by turns, which are not read yet.")
    child = first(element, "meterSig")
    if child is not None:
        return time_of(child, where)
    return time_of(element, where, "meter.") if _says_time(element) else None


def _says_time(element: etree._Element) -> bool:
    return any(element.get(f"meter.{name}") for name in ("count", "unit", "sym"))


def time_of(element: etree._Element, where: str, prefix: str = "") -> Time | None:
    """A <meterSig>, or the attributes of one; None where it says no measure."""
    symbol = element.get(f"{prefix}sym") or ""
    count = (element.get(f"{prefix}count") or "").replace(" ", "")
    if symbol == "open":
        return Time("1", 4, FREE)
    if not count:
        return _SYMBOLS.get(symbol)
    unit = whole(element.get(f"{prefix}unit") or "4", where)
    if not _TIME.fullmatch(count) or unit not in _UNITS or sum(map(int, count.split("+"))) < 1:
        raise UnreadableFile(f"{where}: a time signature that makes no sense.")
    return Time(count, unit, symbol if symbol in _SYMBOLS else "")


def tempo_of(element: etree._Element, where: str) -> Tempo | None:
    """The tempo of a <tempo> or <scoreDef>: ``mm`` of a value, or quarters by ``midi.bpm``."""
    minute = element.get("mm")
    if minute is not None:
        unit = _written(element.get("mm.unit") or "4", count_of(element.get("mm.dots"), most=3))
        per = exact(minute, where)
        return Tempo(unit, per) if unit and per > 0 else None
    quarters = element.get("midi.bpm")
    if quarters is None:
        return None
    per = exact(quarters, where)
    return Tempo(Fraction(1), per) if per > 0 else None


def _written(name: str, dots: int) -> Fraction | None:
    length = {"breve": Fraction(8), "long": Fraction(16)}.get(name)
    if length is None and name.isdecimal() and int(name) in (*_UNITS, 256):
        length = Fraction(4, int(name))
    return length if length is None else length * (2 - Fraction(1, 2**dots))


def written_length(name: str, dots: int, where: str) -> Fraction:
    """A written value in quarter notes.

    Raises:
        UnreadableFile: there is no such value.
    """
    length = _written(name, dots)
    if length is None:
        raise UnreadableFile(f"{where}: a note value called “{name[:20]}”, which is not read.")
    return length


def staves_of(score_def: etree._Element) -> list[Staff]:
    """The staves of a score in order, each with the part that it belongs to.

    A brace over two or three staves is one player's, as on keyboard and harp.

    Raises:
        UnreadableFile: there is none.
    """
    common = said_by(score_def, "The start")
    found: list[Staff] = []
    parts = 0
    for group, is_one in _groups(score_def):
        named_by = group[0]
        for place, (element, label) in enumerate(group[1], start=1):
            if place == 1 or not is_one:
                parts += 1
            staff = Staff(element.get("n") or str(len(found) + 1))
            staff.part = (id_of(group[1][0][0] if is_one else element)) or f"P{parts}"
            staff.name = (named_by if is_one else "") or label or f"Part {parts}"
            staff.place = place if is_one else 1
            common.set(staff)
            said_by(element, f"Staff {staff.n}").set(staff)
            found.append(staff)
    if not found:
        raise UnreadableFile("This MEI file names no staff.")
    return found


_Group = tuple[str, list[tuple[etree._Element, str]]]


def _groups(element: etree._Element) -> Iterator[tuple[_Group, bool]]:
    """Staves that stand alone, and those that one brace holds together."""
    for child in children(element):
        tag = tag_of(child)
        if tag == "staffDef":
            yield ("", [(child, _label(child))]), False
        elif tag == "staffGrp":
            staves = [(one, _label(one)) for one in named(child, "staffDef")]
            symbols = [child.get("symbol"), *(g.get("symbol") for g in named(child, "grpSym"))]
            if "brace" in symbols and 2 <= len(staves) <= 3 and _are_one(child, staves):
                yield (_label(child), staves), True
            else:
                yield from _groups(child)


def _are_one(group: etree._Element, staves: list[tuple[etree._Element, str]]) -> bool:
    """Whether a brace is over one instrument: its staves have no names of their own."""
    names = {name for _, name in staves if name}
    return len(names) <= 1 and bool(_label(group) or len(names) <= 1)


def _label(element: etree._Element) -> str:
    child = first(element, "label")
    return (words(child) if child is not None else element.get("label") or "")[:120]
