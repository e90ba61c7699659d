"""Plans of sections: made from a part and a date, looked at, sent, changed and withdrawn."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from statistics import median_low
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.plan.making import make_plan
from crumb.core.plan.model import ChunkState, Made
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import PartInHand, get_piece, load_part
from crumb.services.maps import edits, versions
from crumb.services.people.roster import SectionView, get_section
from crumb.services.planning.knowing import Music, music_of, states_of
from crumb.services.planning.wishes import PlanWish, ask_for, checked, row_values, wish_of
from crumb.services.who import Who
from crumb.store.queries import planning as ask
from crumb.store.tables import PlanRow


@dataclass(frozen=True, slots=True)
class StudentPlan:
    """A student's plan as it follows from their evidence today."""

    student_id: UUID
    name: str
    made: Made
    bottleneck_tempo: float | None
    """What is secure on the chunk that holds them up; None where nothing was counted there."""


@dataclass(frozen=True, slots=True)
class PlanView:
    """A plan before or after it is sent: everybody's, and one to read in full.

    ``shown`` is the middle student's (or who was asked for).
    """

    wish: PlanWish
    title: str
    part_name: str
    section: SectionView
    music: Music
    students: tuple[StudentPlan, ...]
    shown: StudentPlan
    why_split: str = ""

    @property
    def likely(self) -> int:
        """How many of them are likely to be ready."""
        return sum(one.made.feasible for one in self.students)


def preview(
    session: Session, who: Who, wish: PlanWish, today: date, student_id: UUID | None = None
) -> PlanView:
    """What a wish would ask of everybody; a part that is not split yet is split by load for it.

    Nothing is sent. The split is kept, and can be undone like any other.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    wish = checked(wish, today)
    hand = load_part(session, who, wish.part_id)
    section = get_section(session, who, wish.section_id)
    if not section.students:
        raise NotAccepted(f"There is nobody in {section.name} yet.")
    music = music_of(session, hand, wish.section_id)
    why_split = ""
    if not music.chunks:
        versions.apply(
            session,
            who,
            wish.part_id,
            music.map.version,
            edits.propose("load"),
            music.map.section_id,
        )
        hand = load_part(session, who, wish.part_id)
        music = music_of(session, hand, wish.section_id)
        why_split = f"Split by load into {len(music.chunks)} chunks."
    return _viewed(session, who, wish, hand, music, section, today, student_id, why_split)


def _viewed(
    session: Session,
    who: Who,
    wish: PlanWish,
    hand: PartInHand,
    music: Music,
    section: SectionView,
    today: date,
    student_id: UUID | None,
    why_split: str = "",
) -> PlanView:
    students = []
    # Who has the same states has the same plan: in a new section that is everybody.
    known: list[tuple[tuple[ChunkState, ...], Made]] = []
    for one, name in section.students:
        states = states_of(session, music, one, today)
        made = next((made for same, made in known if same == states), None)
        if made is None:
            made = make_plan(ask_for(wish, music, states, today))
            known.append((states, made))
        holding = next((s for s in states if s.id == made.bottleneck), None)
        students.append(StudentPlan(one, name, made, holding.secure if holding else None))
    return PlanView(
        wish=wish,
        title=get_piece(session, who, hand.row.piece_id).title,
        part_name=hand.row.name,
        section=section,
        music=music,
        students=tuple(students),
        shown=_shown(students, student_id),
        why_split=why_split,
    )


def _shown(students: Sequence[StudentPlan], student_id: UUID | None) -> StudentPlan:
    """Who was asked for, or who stands in the middle."""
    for one in students:
        if one.student_id == student_id:
            return one
    if student_id is not None:
        raise NotFound("This student is not in the section.")
    middle = median_low([one.made.ready.chance for one in students])
    return next(one for one in students if one.made.ready.chance == middle)


def send(session: Session, who: Who, wish: PlanWish, today: date) -> UUID:
    """Keep a plan: from now on its students' days come from it.

    Another plan of the section for the same part ends with it.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    wish = checked(wish, today)
    hand = load_part(session, who, wish.part_id)
    get_section(session, who, wish.section_id)
    if not music_of(session, hand, wish.section_id).chunks:
        raise NotAccepted("Split the part first, or let the plan do it.")
    before = ask.in_force(session, wish.part_id, wish.section_id, today)
    if before is not None:
        before.withdrawn_at = datetime.now(UTC)
    row = PlanRow(
        id=uuid4(),
        program_id=who.program_id,
        part_id=wish.part_id,
        section_id=wish.section_id,
        starts_on=today,
        made_at=datetime.now(UTC),
        **row_values(wish),
    )
    session.add(row)
    session.commit()
    return row.id


def view(
    session: Session, who: Who, plan_id: UUID, today: date, student_id: UUID | None = None
) -> tuple[PlanRow, PlanView]:
    """A kept plan as it stands today.

    Raises:
        NotFound: not here, or no such student in it.
    """
    row = _row(session, who, plan_id)
    hand = load_part(session, who, row.part_id)
    section = get_section(session, who, row.section_id)
    if not section.students:
        raise NotAccepted(f"There is nobody in {section.name} any more.")
    music = music_of(session, hand, row.section_id)
    found = _viewed(session, who, wish_of(row), hand, music, section, today, student_id)
    return row, found


def change(session: Session, who: Who, plan_id: UUID, wish: PlanWish, today: date) -> None:
    """Other settings or changes by hand; what nobody has begun today follows them.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    wish = checked(wish, today)
    row = _row(session, who, plan_id)
    for name, value in row_values(wish).items():
        setattr(row, name, value)
    ask.lay_out_anew(session, row.id, today)
    session.commit()


def withdraw(session: Session, who: Who, plan_id: UUID, *, back: bool = False) -> None:
    """End a plan, or bring it back; what was played stays evidence.

    Raises:
        NotFound: not here.
    """
    row = _row(session, who, plan_id)
    row.withdrawn_at = None if back else datetime.now(UTC)
    session.commit()


def listed(session: Session, who: Who) -> list[tuple[PlanRow, str, str, str]]:
    """Every plan with the titles of its piece and part, and its section's name."""
    found = []
    for row in ask.plans_of(session, who.program_id):
        try:
            hand = load_part(session, who, row.part_id)
            title = get_piece(session, who, hand.row.piece_id).title
        except NotFound:  # its piece was taken away
            continue
        section = get_section(session, who, row.section_id)
        found.append((row, title, hand.row.name, section.name))
    return found


def _row(session: Session, who: Who, plan_id: UUID) -> PlanRow:
    row = ask.plan_row(session, who.program_id, plan_id)
    if row is None:
        raise NotFound("There is no such plan.")
    return row
