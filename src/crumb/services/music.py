"""Bringing music in, and having it engraved."""

import gzip
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from pathlib import PurePath
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.errors import UnreadableFile
from crumb.core.score.glance import findings, goal_of, main_beat
from crumb.core.score.model import Part, Score
from crumb.formats.engraving import Layout, engrave, engraving_key
from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.who import Who
from crumb.store.files import FileStore
from crumb.store.tables import Drawing, Piece, PiecePart


@dataclass(frozen=True, slots=True)
class PartInHand:
    """A stored part with its notation read."""

    row: PiecePart
    part: Part

    @property
    def beat(self) -> Fraction:
        """The beat the goal tempo counts, in quarter notes: that of the first full measure."""
        return main_beat(self.part)


@lru_cache(maxsize=256)
def _read(notation: str) -> Part:
    return read_score(notation.encode()).parts[0]


def facts_of(part: Part) -> dict[str, Any]:
    """What a director wants to see of a part at a glance."""
    first = part.measures[0]
    tempo = next((m.tempo for m in part.measures if m.tempo), None)
    return {
        "key_fifths": first.key.fifths,
        "mode": first.key.mode,
        "time": first.time.text,
        "tempo": float(tempo.per_minute) if tempo else None,
        "tempo_beat": str(tempo.beat) if tempo else None,
        "measures": len(part.measures),
        "last_number": part.measures[-1].number,
        "has_pickup": part.has_pickup,
        "notes": part.attack_count,
        "findings": findings(part),
    }


def import_piece(
    session: Session, files: FileStore, who: Who, *, file_name: str, data: bytes
) -> Piece:
    """Read an uploaded file and keep it: the upload, and each part normalised.

    Raises:
        UnreadableFile: nothing is stored then.
    """
    score = read_score(data)
    return store_score(session, files, who, score=score, file_name=file_name, data=data)


def store_score(
    session: Session, files: FileStore, who: Who, *, score: Score, file_name: str, data: bytes
) -> Piece:
    """Keep a score that was read."""
    playable = [part for part in score.parts if part.attack_count]
    if not playable:
        raise UnreadableFile("There is no note in this file.")
    plain_name = PurePath(file_name.replace("\\", "/")).name[:200] or "upload"
    piece = Piece(
        id=uuid4(),
        program_id=who.program_id,
        title=(score.title or PurePath(plain_name).stem.replace("_", " ") or "Untitled")[:200],
        composer=score.composer[:200],
        file_name=plain_name,
        file_key=files.save(data),
    )
    session.add(piece)
    session.flush()
    for place, part in enumerate(playable):
        session.add(
            PiecePart(
                id=uuid4(),
                program_id=who.program_id,
                piece_id=piece.id,
                place=place,
                name=part.name[:120],
                instrument=part.instrument[:120],
                notation=write_part(part),
                facts=facts_of(part),
                goal_bpm=goal_of(part),
            )
        )
    session.commit()
    return piece


def list_pieces(session: Session, who: Who) -> list[tuple[Piece, list[PiecePart]]]:
    """All pieces of the program, newest first, each with its parts in score order."""
    pieces = session.scalars(
        select(Piece).where(Piece.program_id == who.program_id).order_by(Piece.created_at.desc())
    ).all()
    parts = session.scalars(
        select(PiecePart).where(PiecePart.program_id == who.program_id).order_by(PiecePart.place)
    ).all()
    by_piece: dict[UUID, list[PiecePart]] = {}
    for part in parts:
        by_piece.setdefault(part.piece_id, []).append(part)
    return [(piece, by_piece.get(piece.id, [])) for piece in pieces]


def get_piece(session: Session, who: Who, piece_id: UUID) -> Piece:
    """A piece of the program.

    Raises:
        NotFound: not here.
    """
    piece = session.scalar(
        select(Piece).where(Piece.id == piece_id, Piece.program_id == who.program_id)
    )
    if piece is None:
        raise NotFound("There is no such piece.")
    return piece


def load_part(session: Session, who: Who, part_id: UUID, *, for_change: bool = False) -> PartInHand:
    """A part of the program, locked until the transaction ends if it is to be changed.

    Raises:
        NotFound: not here.
    """
    query = select(PiecePart).where(PiecePart.id == part_id, PiecePart.program_id == who.program_id)
    row = session.scalar(query.with_for_update() if for_change else query)
    if row is None:
        raise NotFound("There is no such part.")
    return PartInHand(row, _read(row.notation))


def check_goal(goal: Fraction) -> Fraction:
    """A goal tempo somebody can play.

    Raises:
        NotAccepted: outside 20 to 300.
    """
    if not 20 <= goal <= 300:
        raise NotAccepted("A goal tempo lies between 20 and 300 beats a minute.")
    return goal


def drawing(session: Session, part: Part, layout: Layout) -> str:
    """The engraving of some notation, drawn once and kept."""
    key = engraving_key(part, layout)
    kept = session.get(Drawing, key)
    if kept is not None:
        return gzip.decompress(kept.svg).decode()
    svg = engrave(part, layout)
    packed = gzip.compress(svg.encode(), 6)
    session.execute(insert(Drawing).values(key=key, svg=packed).on_conflict_do_nothing())
    session.commit()
    return svg
