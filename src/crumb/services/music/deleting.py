"""Taking a piece away: what hangs on it is said first, a week long it can be brought back."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID

from sqlalchemy import Select, delete, func, or_, select, text, update
from sqlalchemy.orm import Session

from crumb.services.errors import NotFound
from crumb.services.library.pieces import get_piece
from crumb.services.who import Who
from crumb.store.files import FileStore
from crumb.store.queries import locks
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

KEPT_FOR = timedelta(days=7)


@dataclass(frozen=True, slots=True)
class Hanging:
    """What hangs on a piece, earlier versions of it included."""

    parts: int
    chunks: int
    marks: int
    assignments: int
    students: int
    repetitions: int


def what_hangs(session: Session, who: Who, piece_id: UUID) -> Hanging:
    """What would go, or be kept, with a piece.

    Raises:
        NotFound: not here.
    """
    get_piece(session, who, piece_id)
    parts = _parts(session, [piece_id, *_earlier(session, piece_id)])

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


def _parts(session: Session, pieces: list[UUID]) -> list[UUID]:
    return list(session.scalars(select(PiecePart.id).where(PiecePart.piece_id.in_(pieces))))


def _earlier(session: Session, piece_id: UUID) -> list[UUID]:
    """The versions that a piece replaced."""
    found: list[UUID] = []
    todo = [piece_id]
    while todo:
        todo = list(session.scalars(select(Piece.id).where(Piece.replaced_by_id.in_(todo))))
        found += todo
    return found


def take_away(session: Session, who: Who, piece_id: UUID, *, erase_evidence: bool) -> None:
    """Take a piece and its earlier versions away; within a week it can be brought back.

    Args:
        session: the request's.
        who: the director.
        piece_id: which.
        erase_evidence: whether what was played on it goes with it after that week.

    Raises:
        NotFound: not here.
    """
    get_piece(session, who, piece_id)
    session.execute(
        update(Piece)
        .where(Piece.id.in_([piece_id, *_earlier(session, piece_id)]))
        .values(deleted_at=datetime.now(UTC), erases_evidence=erase_evidence)
    )
    session.commit()


def bring_back(session: Session, who: Who, piece_id: UUID) -> None:
    """Bring a piece back that was taken away.

    Raises:
        NotFound: it is not there any more.
    """
    piece = session.scalar(
        select(Piece).where(
            Piece.id == piece_id,
            Piece.program_id == who.program_id,
            Piece.deleted_at > datetime.now(UTC) - KEPT_FOR,
            Piece.file_key != "",
        )
    )
    if piece is None:
        raise NotFound("This piece cannot be brought back any more.")
    session.execute(
        update(Piece)
        .where(Piece.id.in_([piece_id, *_earlier(session, piece_id)]))
        .values(deleted_at=None, erases_evidence=False)
    )
    session.commit()


def taken_away(session: Session, who: Who) -> list[Piece]:
    """What can still be brought back, latest first."""
    return list(
        session.scalars(
            select(Piece)
            .where(
                Piece.program_id == who.program_id,
                Piece.replaced_by_id.is_(None),
                Piece.deleted_at > datetime.now(UTC) - KEPT_FOR,
                Piece.file_key != "",
            )
            .order_by(Piece.deleted_at.desc())
        )
    )


def erase_old(
    session: Session, files: FileStore, takes: FileStore, *, now: datetime | None = None
) -> int:
    """Erase what was taken away more than a week ago; how many pieces that were.

    Where evidence is kept, so are the names of the piece and its parts, the chunks and what was
    sent: all that evidence points at. The music itself goes in any case.
    """
    before = (now or datetime.now(UTC)) - KEPT_FOR
    gone = session.scalars(
        select(Piece)
        .where(Piece.deleted_at < before, Piece.file_key != "")
        .order_by(Piece.id)
        .with_for_update(skip_locked=True)
    ).all()
    for piece in gone:
        parts = _parts(session, [piece.id])
        locks.have_parts(session, parts)
        key = piece.file_key
        sounds = _erase_takes(session, parts)
        _erase_music(session, piece, parts)
        if piece.erases_evidence:
            _erase_evidence(session, piece, parts)
        session.commit()
        for sound in sounds:
            takes.forget(sound)
        if not _is_used(session, key):
            files.forget(key)
    session.commit()
    return len(gone)


def _is_used(session: Session, key: str) -> bool:
    """Whether the same file was brought in as something else, too."""
    piece = select(Piece.id).where(Piece.file_key == key).limit(1)
    waiting = select(Job.id).where(Job.file_key == key, Job.state.in_(("waiting", "working")))
    return session.scalar(piece) is not None or session.scalar(waiting.limit(1)) is not None


def _erase_takes(session: Session, parts: list[UUID]) -> Sequence[str]:
    """Takes go with their music, and what asked for them; the keys of their sounds."""
    session.execute(delete(TakeChoice).where(TakeChoice.part_id.in_(parts)))
    session.execute(delete(StyleBrief).where(StyleBrief.part_id.in_(parts)))
    return session.scalars(delete(Take).where(Take.part_id.in_(parts)).returning(Take.sound)).all()


def _erase_music(session: Session, piece: Piece, parts: list[UUID]) -> None:
    maps = select(PartMap.id).where(PartMap.part_id.in_(parts))
    session.execute(delete(ChunkMapVersion).where(ChunkMapVersion.map_id.in_(maps)))
    session.execute(delete(PartMap).where(PartMap.part_id.in_(parts)))
    session.execute(delete(KinLink).where(KinLink.piece_id == piece.id))
    session.execute(delete(Mark).where(Mark.part_id.in_(parts)))
    session.execute(delete(PartSection).where(PartSection.part_id.in_(parts)))
    session.execute(
        update(PiecePart)
        .where(PiecePart.id.in_(parts))
        .values(notation="", survey=None, is_set_aside=True)
    )
    piece.file_key, piece.report = "", []
    session.flush()


def _erase_evidence(session: Session, piece: Piece, parts: list[UUID]) -> None:
    # The one place where evidence is erased: a director said so, and had a week to think of it.
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
