"""The state that each planned day changes for the days after it."""

from collections.abc import Sequence
from datetime import date

from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan import rates
from crumb.core.plan.learning_order import in_order
from crumb.core.plan.model import PlanAsk
from crumb.core.plan.projection import Projected, projected


class PlanState:
    """A part's chunks as they are expected to stand, and the seams between them."""

    def __init__(self, ask: PlanAsk, days: Sequence[date]) -> None:
        """As they stand today; ``days`` are the practice days to the date."""
        self.ask, self.days = ask, days
        cost = rates.costs(ask)
        self.chunks = [projected(chunk, cost[chunk.id]) for chunk in ask.chunks]
        self.by_id = {one.chunk.id: one for one in self.chunks}
        self.seams = [
            a.seam_out and b.seam_in for a, b in zip(ask.chunks, ask.chunks[1:], strict=False)
        ]
        """Whether each chunk was linked to the next one."""
        self.follows_on = [chunk.follows for chunk in ask.chunks[1:]]
        self.rank = {id_: place for place, id_ in enumerate(in_order(ask))}

    def minutes(self, place: int) -> int:
        """Minutes of a day, by its place among the days."""
        is_today = self.days[place] == self.ask.today
        if is_today and self.ask.today_minutes is not None:
            return self.ask.today_minutes
        return self.ask.minutes_a_day

    def days_left(self, place: int) -> int:
        """Practice days from this one to the date, both counted."""
        return len(self.days) - place

    def unfinished(self, day: date) -> list[Projected]:
        """Chunks that may be worked on and are not at tempo."""
        held = self.ask.held
        return [
            one
            for one in self.chunks
            if one.level < AT_TEMPO and held.get(one.chunk.id, day) <= day
        ]

    def kin_of(self, one: Projected) -> list[Projected]:
        """Chunks of this part that are like a chunk."""
        return [self.by_id[id_] for id_ in one.chunk.kin if id_ in self.by_id]
