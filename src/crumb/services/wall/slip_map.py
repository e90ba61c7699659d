"""Slip maps of a part and of a whole piece: named by students, tapped by judges."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.score.position import Position
from crumb.core.score_overview.passages import ScorePassage, passages
from crumb.core.score_overview.slip_map import SlipMap, by_passage, slip_map
from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.people.roster import get_section, get_student, list_sections
from crumb.services.score_overview.overview import hands_of
from crumb.store.queries import slip_map as ask


def of_part(
    session: Session,
    actor: Actor,
    part_id: UUID,
    *,
    section_id: UUID | None = None,
    student_id: UUID | None = None,
) -> tuple[PartInHand, SlipMap]:
    """Slips of a student, of a section, or of everybody (that one may see) on a part.

    Raises:
        NotFound: no such part, section or student.
    """
    hand = load_part(session, actor, part_id)
    students = _whose(session, actor, section_id, student_id)
    slips = [at for _, at in _slips(session, [part_id], students)]
    return hand, slip_map(hand.part, slips, hand.beat)


@dataclass(frozen=True, slots=True)
class PassageSlips:
    """A passage of a piece with its slips by part, that with most of them first."""

    passage: ScorePassage
    parts: tuple[tuple[UUID, str, int], ...]


def of_piece(session: Session, actor: Actor, piece_id: UUID) -> list[PassageSlips]:
    """Slips of everybody (that one may see) on a whole piece, passage by passage.

    Raises:
        NotFound: no such piece.
    """
    hands = hands_of(session, actor, piece_id)
    names = {hand.row.id: hand.row.name for hand in hands}
    slips = _slips(session, list(names), _whose(session, actor, None, None))
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
    session: Session, actor: Actor, section_id: UUID | None, student_id: UUID | None
) -> list[UUID]:
    if student_id is not None:
        return [get_student(session, actor, student_id).id]
    sections = (
        list_sections(session, actor)
        if section_id is None
        else [get_section(session, actor, section_id)]
    )
    return sorted({student for section in sections for student, _ in section.students})
