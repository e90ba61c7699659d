"""A chunk projected to the days of a plan, if each day goes as expected."""

from dataclasses import dataclass, field
from datetime import date, timedelta
from math import exp

from crumb.core.mastery.levels import AT_TEMPO, NEW, STEADY
from crumb.core.plan import rates
from crumb.core.plan.model import ChunkState

_STEADY_FROM = 0.66
_AT_TEMPO_FROM = 0.985
_FIRST_CHECK, _GROWING = 3, 2.5
"""Days to the first cold check, and by how much each next wait is longer."""


@dataclass(slots=True)
class Projected:
    """A chunk on its way: what the plan expects of it so far.

    ``goal`` is in beats a minute, ``beats`` how many it is long, ``cost`` the minutes for a gain of
    one in the logarithm of its tempo.
    """

    chunk: ChunkState
    goal: float
    beats: float
    cost: float
    secure: float
    level: int
    last: date | None
    due: date | None
    wait: float = _FIRST_CHECK
    done: list[tuple[str, date]] = field(default_factory=list)
    today: float = 0.0
    """Minutes that it had on the day in hand."""
    morning: float = 0.0
    """What was secure when that day began."""

    @property
    def share(self) -> float:
        """Of goal, that is secure."""
        return self.secure / self.goal

    @property
    def is_new(self) -> bool:
        """Whether it was never played."""
        return self.level == NEW and self.last is None and self.chunk.minutes <= 0

    @property
    def low(self) -> float:
        """The tempo that is secure nine times of ten, as far as is known: in beats a minute."""
        known, low = self.chunk.secure, self.chunk.low
        return self.secure if known is None or low is None else self.secure * min(low / known, 1.0)

    def pass_seconds(self, tempo: float) -> float:
        """Seconds of one pass."""
        return rates.beats_seconds(self.beats, tempo)

    def begin(self) -> None:
        """A new day."""
        self.today, self.morning = 0.0, self.secure

    def left(self) -> float:
        """Fresh minutes that it still takes."""
        return rates.left_at(self.goal, self.secure, self.level, self.cost)

    def after(self, minutes: float) -> float:
        """The tempo that some minutes more today should make secure."""
        grown = rates.effect(self.today + minutes) - rates.effect(self.today)
        return min(self.secure * exp(grown / self.cost), max(self.goal, self.secure))

    def gets_there(self, minutes: float) -> bool:
        """Whether some minutes more today should bring what is steady to its goal."""
        return self.level >= STEADY and self.after(minutes) >= _AT_TEMPO_FROM * self.goal

    def practised(self, minutes: float, drill: str, day: date) -> None:
        """Take minutes of a drill as done."""
        self.secure = self.after(minutes)
        self.today += minutes
        self.last = day
        self.done.append((drill, day))
        if self.share >= _AT_TEMPO_FROM:
            if self.level < AT_TEMPO:
                self.due = day + timedelta(days=_FIRST_CHECK)
            self.level = max(self.level, AT_TEMPO)
        elif self.share >= _STEADY_FROM:
            self.level = max(self.level, STEADY)
        elif self.level < STEADY - 1:
            self.level += 1

    def checked(self, day: date) -> None:
        """A cold check that went well."""
        self.wait *= _GROWING
        self.due = day + timedelta(days=round(self.wait))
        self.last = day

    def confirmed(self, tempo: float, day: date) -> None:
        """One clean pass at a kin chunk's tempo."""
        self.secure = max(self.secure, min(tempo * 0.9, self.goal))
        self.level = max(self.level, STEADY)
        self.last = day


def projected(chunk: ChunkState, cost: float) -> Projected:
    """A chunk as it stands today."""
    return Projected(
        chunk,
        float(chunk.goal),
        float(chunk.quarters / chunk.beat),
        cost,
        rates.start_of(chunk),
        chunk.level,
        chunk.last,
        chunk.due,
        done=list(chunk.drills),
        morning=rates.start_of(chunk),
    )
