"""One <note> element into the score model."""

from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Note, Slur, Tuplet
from crumb.core.score.pitch import STEPS, Pitch
from crumb.formats.musicxml.numbers import exact, text_of, whole

_KEPT_TECHNICAL = ("fingering", "string", "fret", "pluck", "other-technical")
_MARK_TECHNICAL = (
    "up-bow",
    "down-bow",
    "harmonic",
    "open-string",
    "thumb-position",
    "stopped",
    "snap-pizzicato",
    "double-tongue",
    "triple-tongue",
)


def read_note(element: etree._Element, *, at: Fraction, duration: Fraction, where: str) -> Note:
    """The note as written; its id is given by the caller.

    Raises:
        UnreadableFile: a pitch or number that cannot be.
    """
    rest = element.find("rest")
    unpitched = element.find("unpitched")
    pitch = element.find("pitch")
    if rest is None and unpitched is None and pitch is None:
        raise UnreadableFile(f"{where}: a note without a pitch.")
    notations = element.findall("notations")
    staff = text_of(element, "staff")
    grace = element.find("grace")
    notehead = text_of(element, "notehead")
    return Note(
        id="",
        at=at,
        duration=duration,
        pitch=_pitch(pitch, where) if pitch is not None else None,
        place=_place(rest if rest is not None else unpitched, where),
        is_rest=rest is not None,
        hidden=element.get("print-object") == "no",
        voice=text_of(element, "voice") or "1",
        staff=int(staff) if staff.isdigit() else 1,
        grace="" if grace is None else "slashed" if grace.get("slash") == "yes" else "grace",
        cue=element.find("cue") is not None,
        in_chord=element.find("chord") is not None,
        tie=_tie(element),
        type=text_of(element, "type"),
        dots=len(element.findall("dot")),
        tuplet=_tuplet(element, notations, where),
        beams=_beams(element),
        slurs=_slurs(notations),
        articulations=_marks(notations, "articulations"),
        ornaments=_marks(notations, "ornaments"),
        technical=_technical(notations),
        fermata=any(n.find("fermata") is not None for n in notations),
        accidental=text_of(element, "accidental"),
        notehead=notehead if notehead != "normal" else "",
        lyric=text_of(element, "lyric/text")[:80],
    )


def _pitch(element: etree._Element, where: str) -> Pitch:
    step = text_of(element, "step").upper()
    if len(step) != 1 or step not in STEPS:
        raise UnreadableFile(f"{where}: “{step[:10]}” is not a note name.")
    octave = whole(element.findtext("octave"), where)
    alter = exact(element.findtext("alter") or "0", where)
    if not -1 <= octave <= 10 or abs(alter) > 4:
        raise UnreadableFile(f"{where}: a note outside what can be played.")
    return Pitch(step, alter, octave)


def _place(element: etree._Element | None, where: str) -> Pitch | None:
    if element is None:
        return None
    step, octave = text_of(element, "display-step").upper(), element.findtext("display-octave")
    if len(step) != 1 or step not in STEPS or octave is None:
        return None
    return Pitch(step, Fraction(0), whole(octave, where))


def _tie(element: etree._Element) -> str | None:
    kinds = {tie.get("type") for tie in element.findall("tie")}
    kinds |= {tied.get("type") for tied in element.findall("notations/tied")}
    if {"start", "stop"} <= kinds:
        return "continue"
    return "start" if "start" in kinds else "stop" if "stop" in kinds else None


def _tuplet(element: etree._Element, notations: list[etree._Element], where: str) -> Tuplet | None:
    modification = element.find("time-modification")
    if modification is None:
        return None
    actual = whole(modification.findtext("actual-notes"), where)
    normal = whole(modification.findtext("normal-notes"), where)
    if not 1 <= actual <= 999 or not 1 <= normal <= 999:
        raise UnreadableFile(f"{where}: a tuplet of {actual} in {normal}.")
    edges = {t.get("type") for n in notations for t in n.findall("tuplet")}
    return Tuplet(actual, normal, starts="start" in edges, stops="stop" in edges)


def _beams(element: etree._Element) -> tuple[str, ...]:
    beams = sorted(element.findall("beam"), key=lambda b: b.get("number") or "1")
    return tuple((beam.text or "").strip() for beam in beams)


def _slurs(notations: list[etree._Element]) -> tuple[Slur, ...]:
    found = []
    for notation in notations:
        for slur in notation.findall("slur"):
            number = slur.get("number") or "1"
            if slur.get("type") in ("start", "stop") and number.isdigit():
                found.append(Slur(int(number), slur.get("type") or ""))
    return tuple(found)


def _marks(notations: list[etree._Element], group: str) -> tuple[str, ...]:
    marks = []
    for notation in notations:
        for mark in notation.findall(f"{group}/*"):
            if mark.tag == "tremolo":
                strokes = (mark.text or "3").strip()
                marks.append(f"tremolo:{mark.get('type') or 'single'}:{strokes[:1] or '3'}")
            elif mark.tag != "accidental-mark":
                marks.append(str(mark.tag))
    return tuple(marks)


def _technical(notations: list[etree._Element]) -> tuple[tuple[str, str], ...]:
    found = []
    for notation in notations:
        for mark in notation.findall("technical/*"):
            tag = str(mark.tag)
            if tag in _MARK_TECHNICAL:
                found.append((tag, ""))
            elif tag in _KEPT_TECHNICAL and (mark.text or "").strip():
                found.append((tag, (mark.text or "").strip()[:20]))
    return tuple(found)
