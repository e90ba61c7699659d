"""One <note> element into the score model, wherever in its measure it stands."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import ZERO, Bracket, Note, Slur, Tuplet
from crumb.core.score.pitch import STEPS, Pitch
from crumb.formats.musicxml.bounds import MOST_LETTERS, MOST_MARKS
from crumb.formats.musicxml.numbers import Ticks, exact, small, ticks, whole

_KEPT_TECHNICAL = frozenset(("fingering", "string", "fret", "pluck", "other-technical"))
_MARK_TECHNICAL = frozenset(
    (
        "up-bow",
        "down-bow",
        "harmonic",
        "open-string",
        "thumb-position",
        "stopped",
        "snap-pizzicato",
        "double-tongue",
        "triple-tongue",
        "heel",
        "toe",
        "fingernails",
        "half-muted",
        "open",
    )
)


@dataclass(slots=True)
class _Marks:
    """What the <notations> of a note hold."""

    ties: set[str] = field(default_factory=set)
    slurs: list[Slur] = field(default_factory=list)
    edges: list[tuple[str, str, Fraction, Fraction]] = field(default_factory=list)
    articulations: list[str] = field(default_factory=list)
    ornaments: list[str] = field(default_factory=list)
    technical: list[tuple[str, str]] = field(default_factory=list)
    gestures: list[str] = field(default_factory=list)
    fermata: bool = False


@dataclass(frozen=True, slots=True)
class NoteBody:
    """A note without its place: equal <note> texts share one.

    ``note`` has no id, stands at 0 and lasts 0; ``duration`` is in the file's own divisions, 0 for
    a grace note, ``None`` where a cue note says none. ``unread`` is what the model does not keep.
    """

    note: Note
    duration: Ticks | None
    unread: tuple[str, ...]


def read_note(element: etree._Element) -> NoteBody:
    """What a <note> says.

    Raises:
        UnreadableFile: a pitch or number that cannot be; where is for the caller to say.
    """
    children: dict[str, etree._Element] = {}
    for child in element:
        children.setdefault(str(child.tag), child)
    pitch = children.get("pitch")
    rest = children.get("rest")
    unpitched = children.get("unpitched")
    if pitch is None and rest is None and unpitched is None:
        raise UnreadableFile("a note without a pitch.")
    unread: list[str] = []
    marks = _marks(element, unread.append)
    for tie in element.iterchildren("tie"):
        marks.ties.add(tie.get("type") or "")
    grace = children.get("grace")
    staff = _text(children.get("staff"))
    notehead = _text(children.get("notehead"))
    tuplet, nesting = _tuplets(children.get("time-modification"), marks.edges[:MOST_MARKS])
    note = Note(
        id="",
        at=ZERO,
        duration=ZERO,
        pitch=_pitch(pitch) if pitch is not None else None,
        place=None if pitch is not None else _place(rest if rest is not None else unpitched),
        is_rest=rest is not None,
        hidden=element.get("print-object") == "no",
        voice=_text(children.get("voice"))[:8] or "1",
        staff=small(staff, most=8, otherwise=1),
        grace="" if grace is None else "slashed" if grace.get("slash") == "yes" else "grace",
        cue="cue" in children or (grace is None and _is_small(children.get("type"))),
        in_chord="chord" in children,
        tie=_tie(marks.ties),
        type=_text(children.get("type")),
        dots=min(sum(1 for _ in element.iterchildren("dot")), 4),
        tuplet=tuplet,
        nesting=nesting,
        beams=_beams(element),
        slurs=tuple(marks.slurs[:MOST_MARKS]),
        articulations=tuple(marks.articulations[:MOST_MARKS]),
        ornaments=tuple(marks.ornaments[:MOST_MARKS]),
        technical=tuple(marks.technical[:MOST_MARKS]),
        gestures=tuple(marks.gestures[:MOST_MARKS]),
        fermata=marks.fermata,
        accidental=_text(children.get("accidental")),
        notehead=notehead if notehead != "normal" else "",
        lyric=_lyric(element, unread.append) if "lyric" in children else "",
        drum=_struck(children.get("instrument")) if unpitched is not None else "",
    )
    # Placed once here, it is quick to place again.
    return NoteBody(note.placed("", ZERO, ZERO), _duration(children), tuple(unread))


def _duration(children: dict[str, etree._Element]) -> Ticks | None:
    if "grace" in children:
        return 0
    duration = children.get("duration")
    if duration is None:
        return None if "cue" in children else ticks(None, "its duration")
    return ticks(duration.text, "its duration")


def _is_small(kind: etree._Element | None) -> bool:
    """Cue notes are printed small; not every exporter says more than that."""
    return kind is not None and kind.get("size") == "cue"


def _struck(instrument: etree._Element | None) -> str:
    """The id of the instrument that is struck; its name stands in the part list."""
    return (instrument.get("id") or "")[:40] if instrument is not None else ""


def _text(element: etree._Element | None) -> str:
    return (element.text or "").strip()[:MOST_LETTERS] if element is not None else ""


@lru_cache(maxsize=512)
def _made_pitch(step: str, alter: str, octave: str) -> Pitch:
    if len(step) != 1 or step not in STEPS:
        raise UnreadableFile(f"“{step[:10]}” is not a note name.")
    height = whole(octave, "its octave")
    moved = exact(alter, "its alteration")
    if not -1 <= height <= 10 or abs(moved) > 4:
        raise UnreadableFile("a note outside what can be played.")
    return Pitch(step, moved, height)


def _pitch(element: etree._Element) -> Pitch:
    step, alter, octave = "", "0", ""
    for child in element:
        if child.tag == "step":
            step = (child.text or "").strip().upper()
        elif child.tag == "octave":
            octave = (child.text or "").strip()
        elif child.tag == "alter":
            alter = (child.text or "").strip() or "0"
    return _made_pitch(step, alter, octave)


def _place(element: etree._Element | None) -> Pitch | None:
    if element is None or not len(element):
        return None
    step = (element.findtext("display-step") or "").strip().upper()
    octave = element.findtext("display-octave")
    if len(step) != 1 or step not in STEPS or octave is None:
        return None
    return Pitch(step, Fraction(0), whole(octave, "its place"))


def _tie(kinds: set[str]) -> str | None:
    if {"start", "stop"} <= kinds:
        return "continue"
    return "start" if "start" in kinds else "stop" if "stop" in kinds else None


def _tuplets(
    modification: etree._Element | None,
    edges: list[tuple[str, str, Fraction, Fraction]],
) -> tuple[Tuplet | None, tuple[Bracket, ...]]:
    if modification is None:
        return None, ()
    actual = whole(modification.findtext("actual-notes"), "its tuplet")
    normal = whole(modification.findtext("normal-notes"), "its tuplet")
    if not 1 <= actual <= 999 or not 1 <= normal <= 999:
        raise UnreadableFile(f"a tuplet of {actual} in {normal}.")
    ends = {end for _, end, _, _ in edges}
    made = Tuplet(actual, normal, starts="start" in ends, stops="stop" in ends)
    is_nested = len(edges) > 1 or any(number != "1" for number, *_ in edges)
    if not is_nested:
        return made, ()
    nesting = tuple(
        Bracket(small(number, most=99, otherwise=1), end, int(most) or actual, int(time) or normal)
        for number, end, most, time in edges
        if number.isdecimal()
    )
    return made, nesting


def _beams(element: etree._Element) -> tuple[str, ...]:
    beams = list(element.iterchildren("beam"))
    if len(beams) > 1:
        beams.sort(key=lambda b: b.get("number") or "1")
    return tuple((beam.text or "").strip() for beam in beams)


def _lyric(element: etree._Element, unread: Callable[[str], None]) -> str:
    verses = list(element.iterchildren("lyric"))
    if len(verses) > 1:
        unread("further verses of the text")
    text = (verses[0].findtext("text") or "").strip()[:78]
    where = (verses[0].findtext("syllabic") or "").strip() if text.strip("-") else ""
    if where in ("begin", "middle", "end"):
        text = text.strip("-")
    before = "-" if where in ("middle", "end") else ""
    return f"{before}{text}-" if where in ("begin", "middle") else f"{before}{text}"


def _marks(element: etree._Element, unread: Callable[[str], None]) -> _Marks:
    marks = _Marks()
    for notations in element.iterchildren("notations"):
        for mark in notations:
            _mark(marks, mark, unread)
    return marks


def _mark(marks: _Marks, mark: etree._Element, unread: Callable[[str], None]) -> None:
    match mark.tag:
        case "tied":
            marks.ties.add(mark.get("type") or "")
        case "slur":
            slur = small(mark.get("number") or "1", most=99, otherwise=0)
            if mark.get("type") in ("start", "stop") and slur:
                marks.slurs.append(Slur(slur, mark.get("type") or ""))
        case "tuplet":
            marks.edges.append(_tuplet_edge(mark))
        case "articulations":
            marks.articulations.extend(str(child.tag) for child in mark)
        case "ornaments":
            marks.ornaments.extend(_ornaments(mark))
        case "technical":
            marks.technical.extend(_technical(mark, unread))
        case "fermata":
            marks.fermata = True
        case "arpeggiate" | "non-arpeggiate":
            marks.gestures.append(str(mark.tag))
        case "slide" | "glissando":
            if mark.get("type") in ("start", "stop"):
                number = (mark.get("number") or "1")[:2]
                marks.gestures.append(f"{mark.tag}:{mark.get('type')}:{number}")
        case "dynamics":
            unread("dynamics set at a note instead of between notes")
        case "accidental-mark" | "footnote" | "level":
            pass
        case other:
            unread(f"a sign called {str(other)[:30]}")


def _tuplet_edge(mark: etree._Element) -> tuple[str, str, Fraction, Fraction]:
    where = "its tuplet"
    actual = mark.findtext("tuplet-actual/tuplet-number")
    normal = mark.findtext("tuplet-normal/tuplet-number")
    return (
        mark.get("number") or "1",
        mark.get("type") or "",
        exact(actual or "0", where),
        exact(normal or "0", where),
    )


def _ornaments(group: etree._Element) -> Iterable[str]:
    for mark in group:
        if mark.tag == "tremolo":
            strokes = (mark.text or "3").strip()
            yield f"tremolo:{mark.get('type') or 'single'}:{strokes[:1] or '3'}"
        elif mark.tag == "wavy-line":
            if mark.get("type") in ("start", "stop"):
                yield f"wavy-line:{mark.get('type')}:{(mark.get('number') or '1')[:2]}"
        elif mark.tag != "accidental-mark":
            yield str(mark.tag)


def _technical(group: etree._Element, unread: Callable[[str], None]) -> Iterable[tuple[str, str]]:
    for mark in group:
        tag = str(mark.tag)
        if tag in _MARK_TECHNICAL:
            yield tag, ""
        elif tag in _KEPT_TECHNICAL:
            if (mark.text or "").strip():
                yield tag, (mark.text or "").strip()[:20]
        else:
            unread(f"a technical sign called {tag[:30]}")
