"""Eight invented weeks of practice, played by the same rules that real practice follows."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from fractions import Fraction
from random import Random
from uuid import UUID

from crumb.core.drills.sent import SentDrill
from crumb.core.tempo.climb import Climb, Played, advance, start_climb
from crumb.core.tempo.ladder import seconds_of


@dataclass(frozen=True, slots=True)
class Player:
    """How a demo student practises."""

    secure: float
    """The tempo, as a share of goal, at which half the repetitions come out clean."""
    days: float
    """Share of days with practice."""
    idle_since: int = 0
    """Days since the last practice; 0 for none in particular."""
    gain: float = 0.0025
    """How much ``secure`` grows with each day of practice; 0 for a student who is stuck."""
    fading: int = 0
    """Days at the end on which it sinks again: what was shown does not go any more."""


@dataclass(frozen=True, slots=True)
class Invented:
    """One invented repetition."""

    step: int
    tempo: Fraction
    is_clean: bool
    at: datetime


def player(place: int) -> Player:
    """The players of a section, from strong to weak, with a stuck, a fading and an idle one."""
    if place == 3:
        return Player(secure=0.80, days=0.7, gain=0.0)
    if place == 5:
        return Player(secure=1.04, days=0.7, fading=12)
    if place == 8:
        return Player(secure=0.95, days=0.4, idle_since=23)
    return Player(secure=1.06 - 0.03 * place, days=0.62 - 0.03 * place)


def practice(
    drill: SentDrill, actor: Player, start: datetime, days: int, random: Random
) -> Iterator[Invented]:
    """Repetitions of one drill over some days, in the afternoon, until its climb is finished.

    Args:
        drill: as it was sent.
        actor: how they practise.
        start: three in the afternoon of the first day.
        days: how many.
        random: what is left to chance.
    """
    state = start_climb(drill.plan)
    secure = actor.secure
    for day in range(days - actor.idle_since):
        if random.random() > actor.days:
            continue
        secure += -0.02 if day >= days - actor.fading else actor.gain
        at = start + timedelta(days=day, minutes=random.randrange(210))
        for _ in range(random.randrange(8, 22)):
            made, state = _repetition(drill, state, secure, at, random)
            at = made.at
            yield made
            if state.is_finished:
                return


def _repetition(
    drill: SentDrill, state: Climb, secure: float, after: datetime, random: Random
) -> tuple[Invented, Climb]:
    step = drill.steps[state.step]
    share = float(state.tempo / drill.goal)
    chance = 1 / (1 + (share / secure) ** 14)
    length = seconds_of(step.quarters, tempo=state.tempo, beat=drill.beat)
    at = after + timedelta(seconds=round(float(length), 3) + random.uniform(1.5, 5))
    is_clean = random.random() < 0.35 + 0.64 * chance
    played = Played(state.step, state.tempo, is_clean, Fraction(int(at.timestamp() * 1000), 1000))
    return Invented(state.step, state.tempo, is_clean, at), advance(drill.plan, state, played)


def repetition_id(random: Random, at: datetime) -> UUID:
    """A version 7 UUID as a browser would make it, but repeatable."""
    milliseconds = int(at.timestamp() * 1000)
    value = (milliseconds << 80) | random.getrandbits(80)
    value = (value & ~(0xF << 76)) | (0x7 << 76)
    return UUID(int=(value & ~(0x3 << 62)) | (0x2 << 62))
