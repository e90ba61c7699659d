"""The map of slips of a part: what students named, and what was heard of them."""

from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.ensemble.trouble import Trouble, trouble
from crumb.core.score.position import Position
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
    told = ask.told_on(session, part_id, students)
    heard = [
        Position(int(slip["index"]), Fraction(slip["at"]))
        for slips in ask.heard_on(session, part_id, students)
        for slip in slips
    ]
    return hand, trouble(hand.part, [*told, *heard], hand.beat)


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
