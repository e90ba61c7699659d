"""Plans as they go over the wire."""

from dataclasses import asdict
from uuid import UUID

from crumb.api.schemas.planning import (
    ChangeIn,
    GoalChanceOut,
    LeftIn,
    MyPlanOut,
    OfferOut,
    PassageGoalIn,
    PlanChunkOut,
    PlanDayOut,
    PlanIn,
    PlanItemOut,
    PlannedItemOut,
    PlanOut,
    PlanPassageOut,
    StudentPlanOut,
    WeekOut,
)
from crumb.api.views.practice import today_out
from crumb.core.drills import drill_kind
from crumb.core.plan.model import WHOLE, Item, Order, Session
from crumb.core.plan.weeks import Week
from crumb.core.score.naming import span_label
from crumb.core.score.position import Span
from crumb.core.vocabulary import PlayerLevel
from crumb.services.planning.days import PlannedDay
from crumb.services.planning.plan_settings import Change, PassageWish, PlanSettings
from crumb.services.planning.planner_inputs import Music
from crumb.services.planning.plans import PlanView, StudentPlan
from crumb.store.tables import PlanRow


def wish_in(body: PlanIn) -> PlanSettings:
    """The request of a plan."""
    return PlanSettings(
        part_id=body.part_id,
        section_id=body.section_id,
        on=body.on,
        minutes_a_day=body.minutes_a_day,
        sessions_a_day=body.sessions_a_day,
        warm_up_minutes=body.warm_up_minutes,
        weekdays_off=frozenset(body.weekdays_off),
        days_off=frozenset(body.days_off),
        order=Order(body.order),
        player=body.player,
        changes=tuple(Change(c.kind, c.chunk_id, c.day, c.drill) for c in body.changes),
        left={one.chunk_id: one.tempo for one in body.left},
        goal=body.goal,
        passages=tuple(PassageWish(one.chunk_id, one.goal) for one in body.passages),
        due_weekday=body.due_weekday,
        shares=body.shares,
    )


def wish_out(wish: PlanSettings) -> PlanIn:
    """The same, to be changed."""
    return PlanIn(
        part_id=wish.part_id,
        section_id=wish.section_id,
        on=wish.on,
        minutes_a_day=wish.minutes_a_day,
        sessions_a_day=wish.sessions_a_day,
        warm_up_minutes=wish.warm_up_minutes,
        weekdays_off=sorted(wish.weekdays_off),
        days_off=sorted(wish.days_off),
        order=wish.order,
        player=PlayerLevel(wish.player),
        changes=[
            ChangeIn(kind=c.kind, chunk_id=c.chunk_id, day=c.day, drill=c.drill)  # type: ignore[arg-type]
            for c in wish.changes
        ],
        left=[LeftIn(chunk_id=chunk, tempo=tempo) for chunk, tempo in wish.left.items()],
        goal=wish.goal,
        passages=[PassageGoalIn(chunk_id=p.chunk_id, goal=p.goal) for p in wish.passages],
        due_weekday=wish.due_weekday,
        shares=wish.shares,
    )


def plan_out(found: PlanView, row: PlanRow | None = None) -> PlanOut:
    """A plan in full."""
    made = found.made
    return PlanOut(
        id=row.id if row else None,
        is_withdrawn=row is not None and row.withdrawn_at is not None,
        title=found.title,
        part=found.part_name,
        section=found.section.name,
        wish=wish_out(found.wish),
        goal_bpm=float(found.music.hand.row.goal_bpm),
        chunks=[PlanChunkOut(id=c.id, label=c.label) for c in found.music.chunks],
        why_split=found.why_split,
        likely=found.likely,
        students=[_student(found.music, one) for one in found.students],
        shown=_student(found.music, found.shown),
        short_by_minutes=made.short_by,
        offers=[OfferOut(kind=o.kind, say=o.say, value=o.value) for o in made.offers],
        days=[day_out(found.music, one) for one in made.sessions],
        weeks=[week_out(found.music, week) for week in found.weeks],
        goals=[GoalChanceOut.model_validate(asdict(goal)) for goal in found.goals],
        passages=[
            PlanPassageOut(chunk_id=i, label=span_label(found.music.hand.part, span), goal=goal)
            for i, span, goal in found.passages
        ],
    )


def week_out(music: Music, week: Week) -> WeekOut:
    """A week of the class."""
    focus, upkeep = (
        [music.chunk(name).label.replace("→", "") for name in names]
        for names in (week.focus, week.upkeep)
    )
    return WeekOut(first=week.first, due=week.due, focus=focus, upkeep=upkeep)


def _student(music: Music, one: StudentPlan) -> StudentPlanOut:
    holding = None if one.bottleneck is None else music.chunk(one.bottleneck)
    return StudentPlanOut(
        student_id=one.student_id,
        name=one.name,
        chance=one.ready.chance,
        feasible=one.is_likely,
        first=one.ready.first,
        last=one.ready.last,
        bottleneck="" if holding is None else holding.label,
        bottleneck_bpm=None if one.bottleneck_tempo is None else round(one.bottleneck_tempo),
    )


def day_out(music: Music, session: Session) -> PlanDayOut:
    """A sitting."""
    items = [_item(music, item) for item in session.items]
    return PlanDayOut(day=session.day, session=session.number, items=items)


def _item(music: Music, item: Item) -> PlanItemOut:
    single = item.chunks[0] if len(item.chunks) == 1 and item.chunks != (WHOLE,) else None
    return PlanItemOut(
        place=place_of(music, item),
        chunk_id=None if single is None else UUID(single),
        category=item.category,
        drill=item.drill,
        drill_title=drill_kind(item.drill).title,
        from_bpm=item.start,
        to_bpm=item.end,
        minutes=item.minutes,
        why=item.why,
    )


def place_of(music: Music, item: Item) -> str:
    """Which chunks, in words."""
    if item.chunks == (WHOLE,):
        return "One passage in turn" if music.passages else "The whole part"
    first, last = music.chunk(item.chunks[0]), music.chunk(item.chunks[-1])
    if first is last:
        return first.label
    return span_label(music.hand.part, Span(first.span.start, last.span.end))


def my_plan_out(day: PlannedDay, title: str) -> MyPlanOut:
    """A student's own day."""
    return MyPlanOut(
        plan_id=day.plan.id,
        title=title,
        part=day.music.hand.row.name,
        on=day.plan.ends_on,
        minutes_a_day=day.minutes_a_day,
        minutes_today=day.minutes,
        is_laid_out=day.is_laid_out,
        is_whole=not day.music.passages,
        week=None if day.week is None else week_out(day.music, day.week),
        items=[
            PlannedItemOut(
                item=today_out(one.line),
                category=one.category,  # type: ignore[arg-type]
                session=one.session,
                minutes=one.minutes,
                why=one.why,
                is_break_after=one.is_break_after,
            )
            for one in day.items
        ],
        ahead=[day_out(day.music, sitting) for sitting in day.ahead],
    )
