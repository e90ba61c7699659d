"""What a plan asks of one student: by where they stand, and beside their other plans."""

from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.plan.dealing import dealt
from crumb.core.plan.model import PlanAsk
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.people.roster import sections_of
from crumb.services.planning.knowing import Music, music_of, states_of
from crumb.services.planning.wishes import PlanWish, ask_for, wish_of
from crumb.services.who import Who
from crumb.store.queries import planning as ask
from crumb.store.tables import PlanRow


def music_for(session: Session, hand: PartInHand, wish: PlanWish) -> Music:
    """The part as a plan wants it.

    Raises:
        NotFound: a passage that is not of the part.
    """
    passages = [(one.chunk_id, one.goal) for one in wish.passages]
    return music_of(session, hand, wish.section_id, passages)


def ask_of(
    session: Session,
    who: Who,
    student_id: UUID,
    wish: PlanWish,
    music: Music,
    today: date,
    *,
    kept: PlanRow | None = None,
    today_minutes: int | None = None,
) -> PlanAsk:
    """What a wish (of a plan that is kept, or of one that is tried) asks of a student today.

    Minutes that several plans share are dealt out by what each still takes, more where it slips.
    """
    states = states_of(session, music, student_id, today)
    begins = kept.starts_on if kept is not None else today
    asked = ask_for(wish, music, states, today, begins=begins, today_minutes=today_minutes)
    if not wish.shares:
        return asked
    return dealt(asked, _others(session, who, student_id, wish, today))


def _others(
    session: Session, who: Who, student_id: UUID, wish: PlanWish, today: date
) -> list[PlanAsk]:
    """What the student's other plans ask, of those that share their minutes."""
    found = []
    for row in ask.plans_for(session, sections_of(session, student_id), today):
        other = wish_of(row)
        is_same = (row.part_id, row.section_id) == (wish.part_id, wish.section_id)
        if is_same or not other.shares:
            continue
        try:
            hand = load_part(session, who, row.part_id)
            music = music_for(session, hand, other)
        except CrumbError:  # its piece was taken away meanwhile
            continue
        states = states_of(session, music, student_id, today)
        found.append(ask_for(other, music, states, today, begins=row.starts_on))
    return found
