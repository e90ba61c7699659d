"""A chunk or a drill as a file: MusicXML, MIDI, SVG, PDF."""

from collections.abc import Mapping

from crumb.core.drill_names import DrillName
from crumb.core.score.joining import joined
from crumb.core.score.model import Part
from crumb.core.score.slicing import slice_span
from crumb.formats.engraver import engravers
from crumb.formats.layout import SNIPPET
from crumb.formats.midi import Piece, write_pieces
from crumb.formats.musicxml.writer import write_part
from crumb.services.drills.bench import LadderSettings, Worked, drawn, work_out
from crumb.services.errors import NotAccepted
from crumb.services.library.drawing import drawing
from crumb.services.library.pieces import PartInHand
from crumb.services.maps.chunks import ChunkView

MEDIA_TYPES: Mapping[str, str] = {
    "musicxml": "application/vnd.recordare.musicxml+xml",
    "mid": "audio/midi",
    "svg": "image/svg+xml",
    "pdf": "application/pdf",
}


def export(
    hand: PartInHand,
    chunk: ChunkView,
    drill: str,
    settings: Mapping[str, object],
    tempo: LadderSettings,
    form: str,
) -> bytes:
    """The chunk as written (no drill named), or a drill on it, all steps on one sheet.

    Raises:
        NotAccepted: no such form of file.
        CrumbError: the drill does not fit.
    """
    if form not in MEDIA_TYPES:
        raise NotAccepted(f"A file is one of {', '.join(MEDIA_TYPES)}.")
    worked = work_out(hand, chunk.span, drill or DrillName.ALONE, settings, tempo)
    title = f"{hand.row.name}, {chunk.label}"
    sheet = slice_span(hand.part, chunk.span) if not drill else _sheet(worked)
    if form == "musicxml":
        return write_part(sheet, title=title).encode()
    if form == "mid":
        pieces = [Piece(sheet, worked.goal)]
        if drill:
            pieces = [Piece(s.part, worked.rungs[0] * s.pace) for s in worked.drill.steps]
        return write_pieces(pieces, beat=worked.beat)
    if form == "svg":
        return drawing(sheet, SNIPPET).encode()
    if not drill:
        return engravers.set_page(title, [("As written", drawing(sheet, SNIPPET))])
    steps = worked.drill.steps
    drawings = drawn(steps, SNIPPET)
    named = [(s.name, svg or "") for s, svg in zip(steps, drawings, strict=True)]
    return engravers.set_page(title, named)


def _sheet(worked: Worked) -> Part:
    steps = worked.drill.steps
    return joined([s.part for s in steps], [s.name for s in steps])


def usual_ladder(hand: PartInHand) -> LadderSettings:
    """The ladder of a part for which none was set: only its goal matters for a file."""
    return LadderSettings(hand.row.goal_bpm, hand.row.goal_bpm, None)
