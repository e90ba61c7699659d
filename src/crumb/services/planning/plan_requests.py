"""Planner requests for each student, with the minutes that their other plans take."""

from collections.abc import Mapping, Sequence
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.plan.model import PlanAsk
from crumb.core.plan.plan_shares import dealt
from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.people.roster import sections_by_student
from crumb.services.planning.plan_settings import PlanSettings, ask_for, settings_of
from crumb.services.planning.planner_inputs import Music, music_of, states_of
from crumb.store.queries import planning as ask
from crumb.store.tables import PlanRow


def music_for(session: Session, hand: PartInHand, wish: PlanSettings) -> Music:
    """The part as a plan wants it.

    Raises:
        NotFound: a passage that is not of the part.
    """
    passages = [(one.chunk_id, one.goal) for one in wish.passages]
    return music_of(session, hand, wish.section_id, passages)


def ask_of(
    session: Session,
    actor: Actor,
    student_id: UUID,
    wish: PlanSettings,
    music: Music,
    today: date,
    *,
    kept: PlanRow | None = None,
    today_minutes: int | None = None,
) -> PlanAsk:
    """The plan request of one student today, who may have other minutes; see :func:`asks_of`."""
    minutes = {} if today_minutes is None else {student_id: today_minutes}
    found = asks_of(session, actor, [student_id], wish, music, today, kept=kept, minutes=minutes)
    return found[student_id]


def asks_of(
    session: Session,
    actor: Actor,
    students: Sequence[UUID],
    wish: PlanSettings,
    music: Music,
    today: date,
    *,
    kept: PlanRow | None = None,
    minutes: Mapping[UUID, int] | None = None,
) -> dict[UUID, PlanAsk]:
    """What a wish (of a plan that is kept, or of one that is tried) asks of students today.

    Minutes that several plans share are dealt out by what each still takes, more where it slips.
    ``minutes`` are today's of those who said that they have others than usual.
    """
    begins = kept.starts_on if kept is not None else today
    asked = {
        student: ask_for(
            wish, music, states, today, begins=begins, today_minutes=(minutes or {}).get(student)
        )
        for student, states in states_of(session, music, students, today).items()
    }
    if not wish.shares:
        return asked
    others = _others(session, actor, students, wish, today)
    return {student: dealt(mine, others[student]) for student, mine in asked.items()}


def _others(
    session: Session, actor: Actor, students: Sequence[UUID], wish: PlanSettings, today: date
) -> dict[UUID, list[PlanAsk]]:
    """Requests of the students' other plans that share their minutes."""
    found: dict[UUID, list[PlanAsk]] = {student: [] for student in students}
    sections = sections_by_student(session, students)
    everywhere = {section for each in sections.values() for section in each}
    for row in ask.plans_for(session, sorted(everywhere), today):
        other = settings_of(row)
        is_same = (row.part_id, row.section_id) == (wish.part_id, wish.section_id)
        if is_same or not other.shares:
            continue
        try:
            hand = load_part(session, actor, row.part_id)
            music = music_for(session, hand, other)
        except CrumbError:  # its piece was taken away meanwhile
            continue
        theirs = [student for student in students if row.section_id in sections[student]]
        for student, states in states_of(session, music, theirs, today).items():
            asked = ask_for(other, music, states, today, begins=row.starts_on)
            found[student].append(asked)
    return found
