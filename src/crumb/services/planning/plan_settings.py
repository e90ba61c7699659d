"""A director's settings of a plan: checked, stored, turned into a planner request."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any
from uuid import UUID

from crumb.core.drills import CATALOGUE
from crumb.core.drills.model import INTERMEDIATE, LEVELS
from crumb.core.plan.model import ChunkState, Order, Pin, PlanAsk
from crumb.core.plan.variants import capped, left_out, towards
from crumb.core.plan.weeks import paced, weeks_of
from crumb.services.errors import NotAccepted
from crumb.services.planning.planner_inputs import Music
from crumb.services.sending.assignment_request import check_minutes
from crumb.store.tables import PlanRow

MOST_DAYS = 366
_NAMES = frozenset(kind.name for kind in CATALOGUE)


@dataclass(frozen=True, slots=True)
class Change:
    """Something a director changed by hand.

    ``pin`` puts a chunk on a day (with a drill or the best that fits), ``hold`` keeps it back until
    a day, ``drop`` takes a drill away from it.
    """

    kind: str
    chunk_id: UUID
    day: date | None = None
    drill: str | None = None


@dataclass(frozen=True, slots=True)
class PassageWish:
    """A stretch of the part that is asked for, and the tempo it is asked at (None: the goal)."""

    chunk_id: UUID
    goal: int | None = None


@dataclass(frozen=True, slots=True)
class PlanSettings:
    """A plan for a section and a part. ``left`` are chunks left at a tempo, or out (None).

    ``passages`` are all of the part that it is for, each perhaps with a goal of its own; none: the
    whole part. ``due_weekday`` gives the class a weekly rhythm. ``shares``: the minutes are for all
    plans of the section that share.
    """

    part_id: UUID
    section_id: UUID
    on: date
    minutes_a_day: int = 20
    sessions_a_day: int = 1
    warm_up_minutes: int = 4
    weekdays_off: frozenset[int] = frozenset()
    days_off: frozenset[date] = frozenset()
    order: Order = Order.HARDEST
    player: str = INTERMEDIATE
    changes: tuple[Change, ...] = ()
    left: Mapping[UUID, int | None] = field(default_factory=dict)
    goal: int | None = None
    passages: tuple[PassageWish, ...] = ()
    due_weekday: int | None = None
    shares: bool = False


def checked(wish: PlanSettings, today: date) -> PlanSettings:
    """The wish, if it can be.

    Raises:
        NotAccepted: says what cannot.
    """
    if wish.on <= today:
        raise NotAccepted("The date has to lie ahead: a plan needs days.")
    if (wish.on - today).days > MOST_DAYS:
        raise NotAccepted("The date is more than a year away.")
    check_minutes(wish.minutes_a_day)
    if not 1 <= wish.sessions_a_day <= 3:
        raise NotAccepted("A day has one to three sessions.")
    if not 0 <= wish.warm_up_minutes <= 15:
        raise NotAccepted("A warm-up takes up to 15 minutes.")
    if len(wish.weekdays_off) > 6:
        raise NotAccepted("One day of the week has to be left to practice on.")
    if wish.due_weekday is not None and not 0 <= wish.due_weekday <= 6:
        raise NotAccepted("A week is due on one of seven days.")
    if wish.player not in LEVELS:
        raise NotAccepted(f"A player is {', '.join(LEVELS)}.")
    for change in wish.changes:
        _check(change)
    return wish


def _check(change: Change) -> None:
    if change.kind not in ("pin", "hold", "drop"):
        raise NotAccepted("A plan is changed by putting a chunk on a day, holding or dropping it.")
    if change.kind != "drop" and change.day is None:
        raise NotAccepted("Say on which day.")
    if change.drill is not None and change.drill not in _NAMES:
        raise NotAccepted("There is no such drill.")
    if change.kind == "drop" and change.drill is None:
        raise NotAccepted("Say which drill to leave out.")


def ask_for(
    wish: PlanSettings,
    music: Music,
    states: Sequence[ChunkState],
    today: date,
    *,
    begins: date | None = None,
    today_minutes: int | None = None,
) -> PlanAsk:
    """The plan request of one student; ``begins`` is the plan's first day, if not today."""
    pins = tuple(
        Pin(str(c.chunk_id), c.day, c.drill) for c in wish.changes if c.kind == "pin" and c.day
    )
    held = {str(c.chunk_id): c.day for c in wish.changes if c.kind == "hold" and c.day}
    dropped = frozenset(
        (str(c.chunk_id), c.drill) for c in wish.changes if c.kind == "drop" and c.drill
    )
    asked = PlanAsk(
        today=today,
        on=wish.on,
        chunks=music.within(states),
        minutes_a_day=wish.minutes_a_day,
        sessions_a_day=wish.sessions_a_day,
        days_off=wish.days_off,
        weekdays_off=wish.weekdays_off,
        warm_up_minutes=wish.warm_up_minutes,
        order=wish.order,
        by_hand=tuple(str(id_) for id_ in music.map.order.by_hand),
        player=wish.player,
        instrument=music.hand.instrument.name,
        today_minutes=today_minutes,
        pins=pins,
        held=held,
        dropped=dropped,
    )
    if wish.goal is not None:
        is_higher = wish.goal > music.hand.row.goal_bpm
        asked = towards(asked, wish.goal) if is_higher else capped(asked, wish.goal)
    asked = left_out(asked, {str(chunk): tempo for chunk, tempo in wish.left.items()})
    if wish.due_weekday is not None:
        asked = paced(asked, weeks_of(asked, begins or today, wish.due_weekday))
    return asked


# Stored -----------------------------------------------------------------------------------------


def row_values(wish: PlanSettings) -> dict[str, Any]:
    """A wish as columns of its plan."""
    return {
        "ends_on": wish.on,
        "minutes_a_day": wish.minutes_a_day,
        "sessions_a_day": wish.sessions_a_day,
        "warm_up_minutes": wish.warm_up_minutes,
        "player": wish.player,
        "order_by": wish.order.value,
        "days_off": sorted(day.isoformat() for day in wish.days_off),
        "weekdays_off": sorted(wish.weekdays_off),
        "changes": {
            "by_hand": [
                {
                    "kind": c.kind,
                    "chunk": str(c.chunk_id),
                    "day": None if c.day is None else c.day.isoformat(),
                    "drill": c.drill,
                }
                for c in wish.changes
            ],
            "left": {str(chunk): tempo for chunk, tempo in wish.left.items()},
            "goal": wish.goal,
            "passages": [{"chunk": str(p.chunk_id), "goal": p.goal} for p in wish.passages],
            "due_weekday": wish.due_weekday,
            "shares": wish.shares,
        },
    }


def settings_of(row: PlanRow) -> PlanSettings:
    """The request of a saved plan."""
    by_hand = row.changes.get("by_hand", [])
    return PlanSettings(
        part_id=row.part_id,
        section_id=row.section_id,
        on=row.ends_on,
        minutes_a_day=row.minutes_a_day,
        sessions_a_day=row.sessions_a_day,
        warm_up_minutes=row.warm_up_minutes,
        weekdays_off=frozenset(row.weekdays_off),
        days_off=frozenset(date.fromisoformat(day) for day in row.days_off),
        order=Order(row.order_by),
        player=row.player,
        changes=tuple(
            Change(
                c["kind"],
                UUID(c["chunk"]),
                None if c["day"] is None else date.fromisoformat(c["day"]),
                c["drill"],
            )
            for c in by_hand
        ),
        left={UUID(chunk): tempo for chunk, tempo in row.changes.get("left", {}).items()},
        goal=row.changes.get("goal"),
        passages=tuple(
            PassageWish(UUID(p["chunk"]), p["goal"]) for p in row.changes.get("passages", [])
        ),
        due_weekday=row.changes.get("due_weekday"),
        shares=row.changes.get("shares", False),
    )
