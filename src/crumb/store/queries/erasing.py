"""Queries that erase a piece: first the rows that point at it, then the piece."""

from collections.abc import Sequence
from typing import NamedTuple
from uuid import UUID

from sqlalchemy import Select, delete, func, or_, select, text, update
from sqlalchemy.orm import Session

from crumb.store.queries import pages
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Chunk,
    ChunkMapVersion,
    ChunkTag,
    ClimbRow,
    Diary,
    Evidence,
    Heard,
    Hearing,
    Job,
    KinLink,
    Mark,
    Mastery,
    PartMap,
    PartSection,
    Piece,
    PiecePart,
    PlanDay,
    PlanRow,
    RehearsalRow,
    Retraction,
    SentStep,
    Sheet,
    SlipPlace,
    StyleBrief,
    Take,
    TakeChoice,
    WayRating,
)


class Hanging(NamedTuple):
    """Counts of what depends on a piece, earlier versions included."""

    parts: int
    chunks: int
    marks: int
    assignments: int
    students: int
    repetitions: int


def parts_of(session: Session, piece_ids: Sequence[UUID]) -> list[UUID]:
    """The parts of some pieces."""
    return list(session.scalars(select(PiecePart.id).where(PiecePart.piece_id.in_(piece_ids))))


def hanging_on(session: Session, piece_ids: Sequence[UUID]) -> Hanging:
    """Counts of what depends on some pieces."""
    parts = parts_of(session, piece_ids)

    def count(query: Select[int]) -> int:
        return session.scalar(query) or 0

    sent = select(Assignment.id).where(Assignment.part_id.in_(parts))
    return Hanging(
        parts=len(parts),
        chunks=count(select(func.count()).select_from(Chunk).where(Chunk.part_id.in_(parts))),
        marks=count(
            select(func.count())
            .select_from(Mark)
            .where(Mark.part_id.in_(parts), Mark.removed_at.is_(None))
        ),
        assignments=count(
            select(func.count(Assignment.sending_id.distinct())).where(
                Assignment.part_id.in_(parts)
            )
        ),
        students=count(
            select(func.count(AssignmentStudent.student_id.distinct())).where(
                AssignmentStudent.assignment_id.in_(sent)
            )
        ),
        repetitions=count(
            select(func.count()).select_from(Evidence).where(Evidence.part_id.in_(parts))
        ),
    )


def erase_takes(session: Session, parts: list[UUID]) -> Sequence[str]:
    """Takes go with their music, and what asked for them; the keys of their sounds."""
    session.execute(delete(TakeChoice).where(TakeChoice.part_id.in_(parts)))
    session.execute(delete(StyleBrief).where(StyleBrief.part_id.in_(parts)))
    return session.scalars(delete(Take).where(Take.part_id.in_(parts)).returning(Take.sound)).all()


def erase_music(session: Session, piece: Piece, parts: list[UUID]) -> None:
    """The music of a piece and all that was written into it; its names and chunks stay."""
    maps = select(PartMap.id).where(PartMap.part_id.in_(parts))
    session.execute(delete(ChunkMapVersion).where(ChunkMapVersion.map_id.in_(maps)))
    session.execute(delete(PartMap).where(PartMap.part_id.in_(parts)))
    session.execute(delete(KinLink).where(KinLink.piece_id == piece.id))
    session.execute(delete(Mark).where(Mark.part_id.in_(parts)))
    session.execute(delete(PartSection).where(PartSection.part_id.in_(parts)))
    session.execute(
        update(PiecePart)
        .where(PiecePart.id.in_(parts))
        .values(notation="", survey=None, on_pages=None, is_set_aside=True)
    )
    pages.delete_sets_of_piece(session, piece.id)
    piece.file_key, piece.report = "", []
    session.flush()


def erase_evidence(session: Session, piece: Piece, parts: list[UUID]) -> None:
    """Delete evidence on a piece and all that led to it.

    The one place where evidence is erased: a director said so, and had a week to think of it.
    """
    session.execute(text("select set_config('crumb.erasing', 'on', true)"))
    played = select(Evidence.id).where(Evidence.part_id.in_(parts))
    sent = select(Assignment.id).where(Assignment.part_id.in_(parts))
    items = select(AssignmentItem.id).where(AssignmentItem.assignment_id.in_(sent))
    chunks = select(Chunk.id).where(Chunk.part_id.in_(parts))
    session.execute(delete(Hearing).where(Hearing.part_id.in_(parts)))
    session.execute(delete(Retraction).where(Retraction.evidence_id.in_(played)))
    session.execute(delete(SlipPlace).where(SlipPlace.evidence_id.in_(played)))
    session.execute(delete(Diary).where(Diary.item_id.in_(items)))
    session.execute(delete(Evidence).where(Evidence.part_id.in_(parts)))
    session.execute(text("select set_config('crumb.erasing', 'off', true)"))
    session.execute(delete(Mastery).where(Mastery.chunk_id.in_(chunks)))
    session.execute(delete(ClimbRow).where(ClimbRow.item_id.in_(items)))
    session.execute(delete(WayRating).where(WayRating.item_id.in_(items)))
    session.execute(delete(SentStep).where(SentStep.item_id.in_(items)))
    session.execute(delete(Sheet).where(Sheet.assignment_id.in_(sent)))
    session.execute(delete(AssignmentItem).where(AssignmentItem.assignment_id.in_(sent)))
    session.execute(delete(AssignmentStudent).where(AssignmentStudent.assignment_id.in_(sent)))
    session.execute(delete(Assignment).where(Assignment.part_id.in_(parts)))
    plans = select(PlanRow.id).where(PlanRow.part_id.in_(parts))
    session.execute(delete(PlanDay).where(PlanDay.plan_id.in_(plans)))
    session.execute(delete(PlanRow).where(PlanRow.part_id.in_(parts)))
    session.execute(delete(Heard).where(Heard.part_id.in_(parts)))
    session.execute(delete(RehearsalRow).where(RehearsalRow.piece_id == piece.id))
    session.execute(delete(ChunkTag).where(ChunkTag.chunk_id.in_(chunks)))
    session.execute(delete(Chunk).where(Chunk.part_id.in_(parts)))
    of_piece = or_(Job.piece_id == piece.id, Job.replaces_id == piece.id)
    session.execute(delete(Job).where(of_piece))
    session.execute(
        update(PiecePart)
        .where(PiecePart.replaces_id.in_(parts))
        .values(replaces_id=None, carried={})
    )
    session.execute(
        update(PiecePart).where(PiecePart.version_of_id.in_(parts)).values(version_of_id=None)
    )
    session.execute(delete(PiecePart).where(PiecePart.id.in_(parts)))
    session.execute(
        update(Piece).where(Piece.replaced_by_id == piece.id).values(replaced_by_id=None)
    )
    session.delete(piece)
    session.flush()
