"""Any file that can be brought in, told by its content, into the score model."""

from dataclasses import dataclass, replace

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Score
from crumb.formats.converting import to_musicxml
from crumb.formats.midi_reading import read_midi
from crumb.formats.musicxml.container import MAX_FILE_BYTES, plain_xml
from crumb.formats.musicxml.reader import Progress, read_score

MAX_TEXT_BYTES = 4_000_000  # ABC and MEI are read by a slower library


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
    """What is plainly no music is refused before anybody waits for it.

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
    if kind == "mei" and b"<!ENTITY" in data:
        raise UnreadableFile(
            "This file defines XML entities, which no score needs; it is not read."
        )
    if kind == "musicxml":
        plain_xml(data)


def read_music(data: bytes, progress: Progress | None = None) -> Reading:
    """The score in a file.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    refuse_at_once(data)
    kind = kind_of(data)
    if kind == "midi":
        remark = "A MIDI file holds no notation: rhythms were drawn onto a grid, and spelling, "
        remark += "slurs and dynamics are not in it. Compare it with the printed part."
        return Reading(read_midi(data), "MIDI", (remark,))
    if kind in ("abc", "mei"):
        remark = f"Read from {kind.upper()} by way of MusicXML: layout and lines are not kept."
        score = read_score(to_musicxml(data, kind))
        # ABC prints no measure numbers, so they are counted as musicians count.
        return Reading(_counted(score) if kind == "abc" else score, kind.upper(), (remark,))
    return Reading(read_score(data, progress), "MusicXML")


def _counted(score: Score) -> Score:
    """Measures numbered from 1, a pickup 0."""
    parts = []
    for part in score.parts:
        first = 0 if part.has_pickup else 1
        measures = (replace(m, number=str(m.index + first)) for m in part.measures)
        parts.append(replace(part, measures=tuple(measures)))
    return replace(score, parts=tuple(parts))
