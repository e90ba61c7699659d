"""Build a plan: schedule it, weigh it, add offers where it does not hold."""

from crumb.core.plan.days import practice_days
from crumb.core.plan.forecast import LIKELY, forecast
from crumb.core.plan.model import BuiltPlan, PlanAsk
from crumb.core.plan.offers import minutes_that_do, offers_for
from crumb.core.plan.rates import start_of
from crumb.core.plan.scheduler import schedule


def make_plan(ask: PlanAsk) -> BuiltPlan:
    """The plan for one student and part. The same ask has the same plan, on any machine."""
    ready = forecast(ask)
    feasible = ready.chance >= LIKELY
    wanted = None if feasible else minutes_that_do(ask)
    short = 0
    if not feasible:
        a_day = (wanted or 2 * max(ask.minutes_a_day, 1)) - ask.minutes_a_day
        short = max(a_day, 1) * max(len(practice_days(ask)), 1)
    offers = () if feasible else offers_for(ask, wanted)
    return BuiltPlan(schedule(ask), feasible, short, bottleneck_of(ask), ready, offers)


def bottleneck_of(ask: PlanAsk) -> str | None:
    """The chunk that sets the part's tempo: the slowest against its goal."""
    if not ask.chunks:
        return None
    return min(ask.chunks, key=lambda c: start_of(c) / float(c.goal)).id
