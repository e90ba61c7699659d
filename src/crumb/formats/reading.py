"""Any file that can be brought in, told by its content, into the score model."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Protocol, TypeVar

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Score
from crumb.formats.abc.reader import read_abc
from crumb.formats.mei.reader import read_mei
from crumb.formats.midi_reading import read_midi
from crumb.formats.musicxml.container import MAX_FILE_BYTES, refuse_other_kinds
from crumb.formats.musicxml.cutting import NotCuttable
from crumb.formats.musicxml.reader import (
    Opened,
    PartRead,
    PartText,
    open_score,
    score_of,
)

T = TypeVar("T")
PartSource = PartText | PartRead


class Each(Protocol):
    """Does some work for each of many things; the results come in their order."""

    def __call__(
        self, work: Callable[[PartSource], T], parts: Iterable[PartSource], /
    ) -> Iterator[T]:
        """What the work makes of each part."""


MAX_TEXT_BYTES = 3_000_000  # ABC, MEI: longer than any piece


@dataclass(frozen=True, slots=True)
class Reading:
    """A score, the kind of file it came from, and what that kind cannot hold."""

    score: Score
    kind: str
    remarks: tuple[str, ...] = ()


def kind_of(data: bytes) -> str:
    """``musicxml``, ``midi``, ``abc`` or ``mei``; what is none of them counts as the first."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n")
    if head.startswith(b"MThd"):
        return "midi"
    if head.startswith(b"<") and b"<mei" in head:
        return "mei"
    if head.startswith((b"X:", b"%abc")) or (b"\nX:" in head and b"\nK:" in data[:8192]):
        return "abc"
    return "musicxml"


def refuse_at_once(data: bytes) -> None:
    """Refuse a file that is plainly no music, before anybody waits for it.

    Only the first bytes are looked at: this runs in the server itself.

    Raises:
        UnreadableFile: says why.
    """
    if not data:
        raise UnreadableFile("This file is empty.")
    if len(data) > MAX_FILE_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_FILE_BYTES // 1_000_000} MB.")
    kind = kind_of(data)
    if kind in ("abc", "mei") and len(data) > MAX_TEXT_BYTES:
        raise UnreadableFile("This file is longer than any piece.")
    if kind == "musicxml" and not data.startswith(b"PK"):
        refuse_other_kinds(data[:4096])


def _refuse_entities(data: bytes) -> None:
    if b"<!ENTITY" in data:
        raise UnreadableFile(
            "This file defines XML entities, which no score needs; it is not read."
        )


@dataclass(frozen=True, slots=True)
class OpenedMusic:
    """A file that was opened: its parts are read, or can be read one by one."""

    score: Opened
    kind: str
    remarks: tuple[str, ...] = ()


def open_music(data: bytes, *, plainly: bool = True) -> OpenedMusic:
    """Title and parts of a file that was not refused at once.

    Args:
        data: the file.
        plainly: as of ``open_score``.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    kind = kind_of(data)
    if kind == "mei":
        _refuse_entities(data)
    if kind == "midi":
        remark = "A MIDI file holds no notation: rhythms were drawn onto a grid, and spelling, "
        remark += "slurs and dynamics are not in it. Compare it with the printed part."
        return opened_already(read_midi(data), "MIDI", remark)
    if kind == "abc":
        score, tunes = read_abc(data)
        remark = f"There are {tunes} tunes in this file; the first was read." if tunes > 1 else ""
        return opened_already(score, "ABC", remark)
    if kind == "mei":
        score, found = read_mei(data)
        remark = f"There are {found} pieces in this file; the first was read." if found > 1 else ""
        return opened_already(score, "MEI", remark)
    return OpenedMusic(open_score(data, plainly=plainly), "MusicXML")


def read_music(data: bytes) -> Reading:
    """The score in a file.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    refuse_at_once(data)
    opened = open_music(data)
    try:
        reads = [part.read() for part in opened.score.parts]
    except NotCuttable:
        opened = open_music(data, plainly=False)
        reads = [part.read() for part in opened.score.parts]
    return Reading(score_of(opened.score, reads), opened.kind, opened.remarks)


def opened_already(score: Score, kind: str = "MusicXML", remark: str = "") -> OpenedMusic:
    """A score that is read in whole, as if its file were open."""
    parts = []
    for part in score.parts:
        unread = tuple((what, where) for owner, what, where in score.unread if owner == part.id)
        parts.append(PartRead(part, unread))
    opened = Opened(score.title, score.composer, tuple(parts))
    return OpenedMusic(opened, kind, (remark,) if remark else ())
