"""The map of slips of a part and of a whole piece: what students named, and what was heard."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.ensemble.passages import Passage, passages
from crumb.core.ensemble.trouble import Trouble, by_passage, trouble
from crumb.core.score.position import Position
from crumb.services.ensemble.score import hands_of
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.people.roster import get_section, get_student, list_sections
from crumb.services.who import Who
from crumb.store.queries import troubles as ask


def of_part(
    session: Session,
    who: Who,
    part_id: UUID,
    *,
    section_id: UUID | None = None,
    student_id: UUID | None = None,
) -> tuple[PartInHand, Trouble]:
    """Slips of a student, of a section, or of everybody (that one may see) on a part.

    Raises:
        NotFound: no such part, section or student.
    """
    hand = load_part(session, who, part_id)
    students = _whose(session, who, section_id, student_id)
    slips = [at for _, at in _slips(session, [part_id], students)]
    return hand, trouble(hand.part, slips, hand.beat)


@dataclass(frozen=True, slots=True)
class PassageSlips:
    """A passage of a piece with its slips by part, that with most of them first."""

    passage: Passage
    parts: tuple[tuple[UUID, str, int], ...]


def of_piece(session: Session, who: Who, piece_id: UUID) -> list[PassageSlips]:
    """Slips of everybody (that one may see) on a whole piece, passage by passage.

    Raises:
        NotFound: no such piece.
    """
    hands = hands_of(session, who, piece_id)
    names = {hand.row.id: hand.row.name for hand in hands}
    slips = _slips(session, list(names), _whose(session, who, None, None))
    found = passages([hand.part for hand in hands])
    return [
        PassageSlips(passage, tuple((part, names[part], count) for part, count in parts))
        for passage, parts in zip(found, by_passage(found, slips), strict=True)
    ]


def _slips(
    session: Session, part_ids: Sequence[UUID], students: Sequence[UUID]
) -> list[tuple[UUID, Position]]:
    heard = [
        (part_id, Position(int(slip["index"]), Fraction(slip["at"])))
        for part_id, slips in ask.heard_on(session, part_ids, students)
        for slip in slips
    ]
    return [*ask.told_on(session, part_ids, students), *heard]


def _whose(
    session: Session, who: Who, section_id: UUID | None, student_id: UUID | None
) -> list[UUID]:
    if student_id is not None:
        return [get_student(session, who, student_id).id]
    sections = (
        list_sections(session, who)
        if section_id is None
        else [get_section(session, who, section_id)]
    )
    return sorted({student for section in sections for student, _ in section.students})
