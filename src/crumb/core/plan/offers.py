"""Offers where a plan misses its date: each is tried before it is made."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date, timedelta
from fractions import Fraction
from math import ceil, floor

from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan.forecast import LIKELY, chance_of, date_for
from crumb.core.plan.model import ChunkState, Offer, PlanAsk
from crumb.core.plan.rates import costs, left_of, start_of
from crumb.core.plan.variants import capped, left_out

MOST_MINUTES = 120
"""More a day is no offer to make to anybody's hands or lips (our own choice)."""
LONGEST_DELAY = 300
_SURE = LIKELY + 0.05
"""An offer must be a little likelier than the plan has to be."""
_LEAST_GOAL = 0.5
_LEAST_OFFERS, _MOST_OFFERS = 3, 4
_MOST_LEFT = 0.5
"""A share of the chunks. An offer that leaves more of them gives way to others."""


def offers_for(ask: PlanAsk, minutes: int | None) -> tuple[Offer, ...]:
    """Offers, the gentlest first: minutes, days, a tempo, chunks left as they are, a later date."""
    found: list[Offer] = []
    if minutes is not None:
        say = f"{minutes} minutes a day instead of {ask.minutes_a_day}."
        found.append(Offer("minutes", say, minutes))
    leave = _leave(ask)
    found += [o for o in (_every_day(ask), _goal(ask), leave, _date(ask)) if o is not None]
    if leave is not None and len(found) > _LEAST_OFFERS and _left_share(ask, leave) > _MOST_LEFT:
        found.remove(leave)
    if len(found) < _LEAST_OFFERS and (both := _both(ask)) is not None:
        found.append(both)
    return tuple(sorted(found, key=lambda offer: _change(ask, offer))[:_MOST_OFFERS])


def _change(ask: PlanAsk, offer: Offer) -> float:
    """The size of an offer's change (our own scale).

    Half as many minutes again, a goal slower by half, half of the piece or four weeks are each 1.
    """
    value = offer.value
    if offer.kind == "minutes" and isinstance(value, int):
        return 2 * (value / max(ask.minutes_a_day, 1) - 1)
    if offer.kind == "goal" and isinstance(value, int):
        return 2 * (1 - value / float(max(c.goal for c in ask.chunks)))
    if offer.kind == "leave":
        return 2 * _left_share(ask, offer)
    if offer.kind == "date" and isinstance(value, str):
        return (date.fromisoformat(value) - ask.on).days / 28
    return 0.5 if offer.kind == "days" else 3.0


def _left_share(ask: PlanAsk, offer: Offer) -> float:
    """The share of the chunks that an offer leaves as they are."""
    return len(offer.value) / len(ask.chunks) if isinstance(offer.value, list) else 0.0


def minutes_that_do(ask: PlanAsk) -> int | None:
    """The fewest minutes a day that make the date; None if no sensible number does."""
    low = ask.minutes_a_day + 1

    def holds(minutes: int) -> bool:
        return _holds(replace(ask, minutes_a_day=minutes))

    return _least(low, MOST_MINUTES, holds)


def _holds(ask: PlanAsk) -> bool:
    return chance_of(ask) >= _SURE


def _least(low: int, high: int, holds: Callable[[int], bool]) -> int | None:
    """The smallest number that holds, where each larger one does, too."""
    if low > high or not holds(high):
        return None
    while low < high:
        middle = (low + high) // 2
        low, high = (low, middle) if holds(middle) else (middle + 1, high)
    return high


def _every_day(ask: PlanAsk) -> Offer | None:
    if not ask.weekdays_off:
        return None
    if not _holds(replace(ask, weekdays_off=frozenset())):
        return None
    return Offer("days", "No days off in the week until then.", [])


def _goal(ask: PlanAsk) -> Offer | None:
    """A goal for all: no chunk is asked to go faster than this."""
    fastest = max((c.goal for c in ask.chunks), default=None)
    if fastest is None:
        return None
    top = ceil(fastest) - 1

    def holds(slower: int) -> bool:
        return _holds(capped(ask, top - slower))

    slower = _least(0, top - max(ceil(fastest * Fraction(_LEAST_GOAL)), 10), holds)
    if slower is None:
        return None
    tempo = top - slower
    return Offer("goal", f"{tempo} as the goal for now instead of {floor(fastest)}.", tempo)


def _leave(ask: PlanAsk) -> Offer | None:
    """Chunks that stay at the tempo they have, as few as do; new ones are left out."""
    left = _fewest_left(ask)
    if not left:
        return None
    said = _leaving(ask, left)
    return Offer("leave", f"{said[0].upper()}{said[1:]} for this date.", _value_of(left))


def _both(ask: PlanAsk) -> Offer | None:
    """More minutes, and still something left."""
    minutes = min(max(2 * ask.minutes_a_day, 30), MOST_MINUTES)
    if minutes <= ask.minutes_a_day:
        return None
    left = _fewest_left(replace(ask, minutes_a_day=minutes))
    if not left:
        return None
    say = f"{minutes} minutes a day, and {_leaving(ask, left)}."
    return Offer("both", say, {"minutes": minutes, "leave": _value_of(left)})


def _fewest_left(ask: PlanAsk) -> list[ChunkState]:
    cost = costs(ask)
    hardest = sorted(ask.chunks, key=lambda c: -left_of(c, cost[c.id]))
    hardest = [c for c in hardest if c.level < AT_TEMPO]

    def holds(count: int) -> bool:
        return _holds(left_out(ask, _kept(hardest[:count])))

    count = _least(1, min(len(hardest), len(ask.chunks) - 1), holds)
    left = [] if count is None else hardest[:count]
    return [chunk for chunk in ask.chunks if chunk in left]  # as they stand in the part


def _kept(left: Sequence[ChunkState]) -> dict[str, int | None]:
    return {chunk.id: _kept_at(chunk) for chunk in left}


def _value_of(left: Sequence[ChunkState]) -> list[dict[str, object]]:
    return [{"chunk": chunk, "tempo": tempo} for chunk, tempo in _kept(left).items()]


def _leaving(ask: PlanAsk, left: Sequence[ChunkState]) -> str:
    """What is left as it is, or, where that is most of the part, what is played at goal."""
    if len(left) > _MOST_LEFT * len(ask.chunks):
        at_goal = [chunk.name for chunk in ask.chunks if chunk not in left]
        return f"only {_listed(at_goal)} at goal"
    tempos = ((chunk.name, _kept_at(chunk)) for chunk in left)
    return (
        f"leave {_listed([f'{name} out' if t is None else f'{name} at {t}' for name, t in tempos])}"
    )


def _listed(names: Sequence[str]) -> str:
    """Names as a sentence lists them."""
    return " and ".join([", ".join(names[:-1]), names[-1]]) if len(names) > 1 else names[0]


def _kept_at(chunk: ChunkState) -> int | None:
    """The tempo that a chunk has; None if it was never played."""
    if chunk.secure is None:
        return None
    return max(min(floor(start_of(chunk) * 0.95), ceil(chunk.goal) - 1), 10)


def _date(ask: PlanAsk) -> Offer | None:
    later = date_for(ask, _SURE, ask.on + timedelta(days=LONGEST_DELAY))
    if later is None or later <= ask.on:
        return None
    days = (later - ask.on).days
    unit = "day" if days == 1 else "days"
    say = f"{days} {unit} later, on {later:%b} {later.day}."
    return Offer("date", say, later.isoformat())
