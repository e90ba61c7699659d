"""Marks of a <direction>, for the model."""

from collections.abc import Callable, Iterator, Mapping

from lxml import etree

from crumb.core.score.model import Tempo
from crumb.formats.musicxml.tempos import metronome_of, tempo_said

Said = tuple[str, str, Tempo | None]
"""Kind, text, and the tempo that it sets."""


def said_by(element: etree._Element) -> Iterator[Said]:
    """Read each mark of a direction, in order.

    The kind ``unread`` is a mark that the model has no place for, with its plain name.
    """
    for mark in element.findall("direction-type/*"):
        tag = str(mark.tag)
        if reader := _READERS.get(tag):
            yield from reader(mark)
        elif tag not in _FOR_THE_EYE:
            yield _unread(tag)


def _unread(name: str) -> Said:
    return "unread", f"a mark called {name[:30]}", None


def _rehearsal(mark: etree._Element) -> Iterator[Said]:
    yield "rehearsal", (mark.text or "").strip(), None


def _words(mark: etree._Element) -> Iterator[Said]:
    if words := (mark.text or "").strip():
        yield "words", words, tempo_said(words)


def _dynamics(mark: etree._Element) -> Iterator[Said]:
    if len(mark):
        level = mark[0]
        named = (level.text or "") if level.tag == "other-dynamics" else str(level.tag)
        yield "dynamic", named, None


def _wedge(mark: etree._Element) -> Iterator[Said]:
    if mark.get("type") in ("crescendo", "diminuendo", "stop"):
        yield "wedge", mark.get("type") or "", None


def _octave_shift(mark: etree._Element) -> Iterator[Said]:
    if mark.get("type") in ("up", "down", "stop"):
        yield "octave", f"{mark.get('type')} {mark.get('size') or '8'}", None


def _place(mark: etree._Element) -> Iterator[Said]:
    yield str(mark.tag), str(mark.tag), None


def _pedal(mark: etree._Element) -> Iterator[Said]:
    if mark.get("type") in ("start", "stop", "change"):
        yield "pedal", mark.get("type") or "", None
    else:
        yield _unread("pedal")


def _mute(mark: etree._Element) -> Iterator[Said]:
    if mark.get("type") in ("on", "off"):
        yield "words", "con sord." if mark.get("type") == "on" else "senza sord.", None
    else:
        yield _unread("string-mute")


def _metronome(mark: etree._Element) -> Iterator[Said]:
    if tempo := metronome_of(mark):
        yield "tempo", "", tempo


_READERS: Mapping[str, Callable[[etree._Element], Iterator[Said]]] = {
    "rehearsal": _rehearsal,
    "words": _words,
    "dynamics": _dynamics,
    "wedge": _wedge,
    "octave-shift": _octave_shift,
    "segno": _place,
    "coda": _place,
    "pedal": _pedal,
    "string-mute": _mute,
    "metronome": _metronome,
}
_FOR_THE_EYE = frozenset(("bracket", "dashes", "eyeglasses"))
