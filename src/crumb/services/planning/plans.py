"""Plans of sections: made from a part and a date, looked at, sent, changed and withdrawn."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from statistics import median_low
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.plan.build import bottleneck_of, make_plan
from crumb.core.plan.forecast import LIKELY, chance_of, forecast
from crumb.core.plan.model import BuiltPlan, PlanAsk, Ready
from crumb.core.plan.variants import towards
from crumb.core.plan.weeks import Week, weeks_of
from crumb.core.score.position import Span
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import PartInHand, get_piece, load_part
from crumb.services.maps import edits, versions
from crumb.services.maps.chunks import get_chunk
from crumb.services.people.roster import SectionView, get_section
from crumb.services.planning.plan_requests import asks_of, music_for
from crumb.services.planning.plan_settings import PlanSettings, checked, row_values, settings_of
from crumb.services.planning.planner_inputs import Music
from crumb.store.queries import planning as ask
from crumb.store.tables import PlanRow


@dataclass(frozen=True, slots=True)
class StudentPlan:
    """How a student stands against the date, as it follows from their evidence today."""

    student_id: UUID
    name: str
    asked: PlanAsk
    ready: Ready
    bottleneck: str | None
    """The chunk that holds them up."""
    bottleneck_tempo: float | None
    """What is secure there; None where nothing was counted."""

    @property
    def is_likely(self) -> bool:
        """Whether they are likely to be ready."""
        return self.ready.chance >= LIKELY


@dataclass(frozen=True, slots=True)
class Goal:
    """A tempo to be ready for, ``floor``, ``goal`` or ``festival``, and the chance of it."""

    name: str
    tempo: float
    chance: float


@dataclass(frozen=True, slots=True)
class PlanView:
    """A plan before or after it is sent: how everybody stands, and one's days in full.

    ``shown`` is the middle student (or who was asked for), ``made`` their plan.
    """

    wish: PlanSettings
    title: str
    part_name: str
    section: SectionView
    music: Music
    students: tuple[StudentPlan, ...]
    shown: StudentPlan
    made: BuiltPlan
    weeks: tuple[Week, ...] = ()
    goals: tuple[Goal, ...] = ()
    passages: tuple[tuple[UUID, Span, int | None], ...] = ()
    why_split: str = ""

    @property
    def likely(self) -> int:
        """How many of them are likely to be ready."""
        return sum(one.is_likely for one in self.students)


def preview(
    session: Session, actor: Actor, wish: PlanSettings, today: date, student_id: UUID | None = None
) -> PlanView:
    """Preview a plan for everybody; a part that is not split yet is split by load for it.

    Nothing is sent. The split is kept, and can be undone like any other.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    wish = checked(wish, today)
    hand = load_part(session, actor, wish.part_id)
    section = get_section(session, actor, wish.section_id)
    if not section.students:
        raise NotAccepted(f"There is nobody in {section.name} yet.")
    music = music_for(session, hand, wish)
    why_split = ""
    if not music.chunks:
        versions.apply(
            session,
            actor,
            wish.part_id,
            music.map.version,
            edits.propose("load"),
            music.map.section_id,
        )
        hand = load_part(session, actor, wish.part_id)
        music = music_for(session, hand, wish)
        why_split = f"Split by load into {len(music.chunks)} chunks."
    return _viewed(session, actor, wish, music, section, today, student_id, why_split=why_split)


def _viewed(
    session: Session,
    actor: Actor,
    wish: PlanSettings,
    music: Music,
    section: SectionView,
    today: date,
    student_id: UUID | None,
    *,
    kept: PlanRow | None = None,
    why_split: str = "",
) -> PlanView:
    students = _students(session, actor, wish, music, section, today, kept=kept)
    shown = _shown(students, student_id)
    hand = music.hand
    return PlanView(
        wish=wish,
        title=get_piece(session, actor, hand.row.piece_id).title,
        part_name=hand.row.name,
        section=section,
        music=music,
        students=tuple(students),
        shown=shown,
        made=make_plan(shown.asked),
        weeks=_weeks(wish, shown.asked, kept.starts_on if kept is not None else today),
        goals=_goals(hand, shown.asked),
        passages=tuple(
            (one.chunk_id, get_chunk(session, hand, one.chunk_id).span, one.goal)
            for one in wish.passages
        ),
        why_split=why_split,
    )


def _students(
    session: Session,
    actor: Actor,
    wish: PlanSettings,
    music: Music,
    section: SectionView,
    today: date,
    *,
    kept: PlanRow | None,
) -> list[StudentPlan]:
    """How everybody of a section stands."""
    names = dict(section.students)
    # Of whom the same is asked, stands the same: in a new section that is everybody.
    known: list[tuple[PlanAsk, Ready]] = []
    found = []
    asks = asks_of(session, actor, list(names), wish, music, today, kept=kept)
    for student_id, asked in asks.items():
        if not asked.chunks:
            raise NotAccepted("Nothing is left to plan: take something in again.")
        ready = next((ready for same, ready in known if same == asked), None)
        if ready is None:
            ready = forecast(asked)
            known.append((asked, ready))
        neck = bottleneck_of(asked)
        secure = next((c.secure for c in asked.chunks if c.id == neck), None)
        found.append(StudentPlan(student_id, names[student_id], asked, ready, neck, secure))
    return found


def _weeks(wish: PlanSettings, asked: PlanAsk, begins: date) -> tuple[Week, ...]:
    if wish.due_weekday is None:
        return ()
    return weeks_of(asked, begins, wish.due_weekday)


def _goals(hand: PartInHand, asked: PlanAsk) -> tuple[Goal, ...]:
    """The chance to be ready for each of the tempos a part can be performed at."""
    row = hand.row
    tempos = (("floor", row.floor_bpm), ("goal", row.goal_bpm), ("festival", row.festival_bpm))
    if row.floor_bpm is None and row.festival_bpm is None:
        return ()
    return tuple(
        Goal(name, float(tempo), chance_of(towards(asked, round(tempo))))
        for name, tempo in tempos
        if tempo is not None
    )


def _shown(students: Sequence[StudentPlan], student_id: UUID | None) -> StudentPlan:
    """The student asked for, or the one in the middle of the section."""
    for one in students:
        if one.student_id == student_id:
            return one
    if student_id is not None:
        raise NotFound("This student is not in the section.")
    middle = median_low([one.ready.chance for one in students])
    return next(one for one in students if one.ready.chance == middle)


def send(session: Session, actor: Actor, wish: PlanSettings, today: date) -> UUID:
    """Keep a plan: from now on its students' days come from it.

    Another plan of the section for the same part ends with it.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    wish = checked(wish, today)
    hand = load_part(session, actor, wish.part_id)
    get_section(session, actor, wish.section_id)
    if not music_for(session, hand, wish).chunks:
        raise NotAccepted("Split the part first, or let the plan do it.")
    before = ask.in_force(session, wish.part_id, wish.section_id, today)
    if before is not None:
        before.withdrawn_at = datetime.now(UTC)
    row = PlanRow(
        id=uuid4(),
        program_id=actor.program_id,
        part_id=wish.part_id,
        section_id=wish.section_id,
        starts_on=today,
        made_at=datetime.now(UTC),
        **row_values(wish),
    )
    session.add(row)
    return row.id


def view(
    session: Session, actor: Actor, plan_id: UUID, today: date, student_id: UUID | None = None
) -> tuple[PlanRow, PlanView]:
    """A kept plan as it stands today.

    Raises:
        NotFound: not here, or no such student in it.
    """
    row = _row(session, actor, plan_id)
    wish, music, section = _kept(session, actor, row)
    found = _viewed(session, actor, wish, music, section, today, student_id, kept=row)
    return row, found


def _kept(session: Session, actor: Actor, row: PlanRow) -> tuple[PlanSettings, Music, SectionView]:
    """Part, section and date of a saved plan."""
    hand = load_part(session, actor, row.part_id)
    section = get_section(session, actor, row.section_id)
    if not section.students:
        raise NotAccepted(f"There is nobody in {section.name} any more.")
    wish = settings_of(row)
    return wish, music_for(session, hand, wish), section


def change(session: Session, actor: Actor, plan_id: UUID, wish: PlanSettings, today: date) -> None:
    """Other settings or changes by hand; what nobody has begun today follows them.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    wish = checked(wish, today)
    row = _row(session, actor, plan_id)
    for name, value in row_values(wish).items():
        setattr(row, name, value)
    ask.lay_out_anew(session, row.id, today)


def withdraw(session: Session, actor: Actor, plan_id: UUID, *, back: bool = False) -> None:
    """End a plan, or bring it back; what was played stays evidence.

    Raises:
        NotFound: not here.
    """
    row = _row(session, actor, plan_id)
    row.withdrawn_at = None if back else datetime.now(UTC)


def listed(session: Session, actor: Actor) -> list[tuple[PlanRow, str, str, str]]:
    """Every plan with the titles of its piece and part, and its section's name."""
    return ask.plans_of(session, actor.program_id)


@dataclass(frozen=True, slots=True)
class Outlook:
    """How the plans in force stand.

    Each with how many are likely, of how many, and what holds most of them up; and everybody once,
    likely where all of their plans are.
    """

    plans: tuple[tuple[UUID, int, int, str], ...]
    likely: int
    students: int


def outlook(session: Session, actor: Actor, today: date) -> Outlook:
    """The chance of the whole ensemble, as its plans stand today."""
    lines = []
    ready: dict[UUID, bool] = {}
    for row, *_ in listed(session, actor):
        if row.withdrawn_at is not None or row.ends_on <= today:
            continue
        try:
            wish, music, section = _kept(session, actor, row)
            students = _students(session, actor, wish, music, section, today, kept=row)
        except CrumbError:  # nobody plays in it any more
            continue
        for one in students:
            ready[one.student_id] = ready.get(one.student_id, True) and one.is_likely
        held = Counter(one.bottleneck for one in students if not one.is_likely)
        most = next((name for name, _ in held.most_common(1) if name is not None), None)
        label = "" if most is None else music.chunk(most).label
        likely = sum(one.is_likely for one in students)
        lines.append((row.id, likely, len(students), label))
    return Outlook(tuple(lines), sum(ready.values()), len(ready))


def _row(session: Session, actor: Actor, plan_id: UUID) -> PlanRow:
    row = ask.plan_row(session, actor.program_id, plan_id)
    if row is None:
        raise NotFound("There is no such plan.")
    return row
