"""Marks of a <direction>, for the model."""

from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple

from lxml import etree

from crumb.core.score.model import Tempo
from crumb.formats.musicxml.tempos import metronome_of, tempo_said

UNREAD = "unread"
"""The kind of a mark that the model has no place for; its text is its plain name."""


class Mark(NamedTuple):
    """A mark of a direction, and the tempo that it sets."""

    kind: str
    text: str
    tempo: Tempo | None = None


def read_marks(element: etree._Element) -> Iterator[Mark]:
    """Read each mark of a direction, in order."""
    for mark in element.findall("direction-type/*"):
        tag = str(mark.tag)
        if reader := _READERS.get(tag):
            yield from reader(mark)
        elif tag not in _FOR_THE_EYE:
            yield _unread(tag)


def _unread(name: str) -> Mark:
    return Mark(UNREAD, f"a mark called {name[:30]}")


def _rehearsal(mark: etree._Element) -> Iterator[Mark]:
    yield Mark("rehearsal", (mark.text or "").strip())


def _words(mark: etree._Element) -> Iterator[Mark]:
    if words := (mark.text or "").strip():
        yield Mark("words", words, tempo_said(words))


def _dynamics(mark: etree._Element) -> Iterator[Mark]:
    if len(mark):
        level = mark[0]
        named = (level.text or "") if level.tag == "other-dynamics" else str(level.tag)
        yield Mark("dynamic", named)


def _wedge(mark: etree._Element) -> Iterator[Mark]:
    if mark.get("type") in ("crescendo", "diminuendo", "stop"):
        yield Mark("wedge", mark.get("type") or "")


def _octave_shift(mark: etree._Element) -> Iterator[Mark]:
    if mark.get("type") in ("up", "down", "stop"):
        yield Mark("octave", f"{mark.get('type')} {mark.get('size') or '8'}")


def _place(mark: etree._Element) -> Iterator[Mark]:
    yield Mark(str(mark.tag), str(mark.tag))


def _pedal(mark: etree._Element) -> Iterator[Mark]:
    if mark.get("type") in ("start", "stop", "change"):
        yield Mark("pedal", mark.get("type") or "")
    else:
        yield _unread("pedal")


def _mute(mark: etree._Element) -> Iterator[Mark]:
    if mark.get("type") in ("on", "off"):
        yield Mark("words", "con sord." if mark.get("type") == "on" else "senza sord.")
    else:
        yield _unread("string-mute")


def _metronome(mark: etree._Element) -> Iterator[Mark]:
    if tempo := metronome_of(mark):
        yield Mark("tempo", "", tempo)


_READERS: Mapping[str, Callable[[etree._Element], Iterator[Mark]]] = {
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
