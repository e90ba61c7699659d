"""Learners that differ, who practise what a plan says: what is hidden, the plan never sees.

Four models, stated: *steady* (the more passes of a chunk in a day, the less each adds),
*forgetful* (each day without a chunk takes a twentieth of what was gained on it), *lending* (kin
learn from each other), *tiring* (the longer the day, the less sticks and the more slips). Their
numbers are ours (invented), drawn from a seed. Everybody climbs in the same way: three clean in a
row go up, two slips in a row go down.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from fractions import Fraction
from math import exp, log
from random import Random

from crumb.core.mastery import chunk as mastery
from crumb.core.mastery.chunk import ChunkEvidence, Where
from crumb.core.plan.drill_choice import IN_CONTEXT
from crumb.core.plan.forecast import forecast
from crumb.core.plan.ladders import climb, rungs_in
from crumb.core.plan.model import Category, ChunkState, PlanAsk
from crumb.core.plan.rates import start_of
from crumb.core.plan.scheduler import schedule
from crumb.core.tempo.ladder import start_tempo

MODELS = ("steady", "forgetful", "lending", "tiring")
START = date(2026, 9, 7)
MINUTES = 20
MOST_DAYS = 120
BREATH = 2.0


@dataclass
class Skill:
    """Of a chunk: the tempo clean nine times of ten, how steep, how fast it grows."""

    theta: float
    old: float
    """What it was this morning: a night takes a tenth of a day's gain."""
    first: float
    slope: float
    gain: float
    passes_today: int = 0


@dataclass
class Learner:
    """Somebody with a part of chunks, whose kin are every third (by threes apart)."""

    model: str
    seed: int
    chunks: int = 8
    goal: float = 96.0
    random: Random = field(init=False)

    def __post_init__(self) -> None:
        random = self.random = Random(f"{self.model} {self.seed}")
        quick = exp(random.gauss(0.0, 0.35))
        self.loads = [random.choice((1.0, 1.5, 2.0, 3.0, 5.0)) for _ in range(self.chunks)]
        self.quarters = [random.choice((8, 12, 16)) for _ in range(self.chunks)]
        self.slope = exp(random.uniform(log(0.07), log(0.18)))
        self.lapse = random.uniform(0.0, 0.03)
        self.skills = []
        for load in self.loads:
            theta = self.goal * exp(random.gauss(log(0.62) - 0.05 * load, 0.12))
            gain = 0.008 * quick * load**-0.7 * exp(random.gauss(0.0, 0.25))
            self.skills.append(Skill(theta, theta, theta, self.slope, gain))
        self.seams = [self.goal * random.uniform(0.45, 0.75) for _ in range(self.chunks - 1)]
        self.spent = 0.0

    def kin(self, place: int) -> list[int]:
        """Kin of a chunk."""
        return [other for other in range(self.chunks) if other != place and other % 3 == place % 3]

    def chance(self, place: int, tempo: float) -> float:
        """Of a clean pass."""
        skill = self.skills[place]
        lapse = self.lapse + (0.004 * max(self.spent - 10, 0) if self.model == "tiring" else 0.0)
        rising = (log(skill.theta) - log(tempo)) / skill.slope + log(9)
        return (1 - lapse) / (1 + exp(-min(max(rising, -60.0), 60.0)))

    def play(self, place: int, tempo: float, *, alone: bool = True) -> bool:
        """One pass of a chunk, and what it leaves behind; a run-through teaches less."""
        seconds = self.quarters[place] * 60 / tempo + BREATH
        self.spent += seconds / 60
        skill = self.skills[place]
        chance = self.chance(place, tempo)
        fresh = exp(-skill.passes_today / 50)
        if self.model == "tiring":
            fresh *= exp(-max(self.spent - 10, 0) / 20)
        skill.passes_today += 1
        # Most is learned where most passes are clean, but not all.
        grown = skill.gain * fresh * (0.3 + 5.5 * chance**2 * (1 - chance))
        if not alone:
            grown *= 0.4
        skill.theta *= exp(grown)
        if self.model == "lending":
            for kin_place in self.kin(place):
                other = self.skills[kin_place]
                if other.theta < skill.theta:
                    other.theta *= exp(0.3 * grown)
        return self.random.random() < chance

    def seam(self, place: int, tempo: float) -> bool:
        """One pass over the seam after a chunk: eight quarters."""
        self.spent += (8 * 60 / tempo + BREATH) / 60
        self.seams[place] *= exp(0.06)
        known = min(self.seams[place], *(s.theta for s in self.skills[place : place + 2]))
        rising = (log(known) - log(tempo)) / self.slope + log(9)
        return self.random.random() < 1 / (1 + exp(-rising))

    def sleep(self) -> None:
        """A night."""
        for skill in self.skills:
            skill.theta = skill.old * exp(0.9 * log(skill.theta / skill.old))
            if self.model == "forgetful" and not skill.passes_today:
                skill.theta = skill.first * exp(0.95 * log(skill.theta / skill.first))
            skill.old = skill.theta
            skill.passes_today = 0
        self.spent = 0.0


class Practice:
    """A learner, what was noted of them, and the minutes they spent."""

    def __init__(self, learner: Learner) -> None:
        self.learner = learner
        self.goal = Fraction(round(learner.goal))
        self.day = START
        self.folds = [mastery.empty(self.goal) for _ in range(learner.chunks)]
        self.drills: list[list[tuple[str, date]]] = [[] for _ in range(learner.chunks)]
        self.minutes = [0.0] * learner.chunks
        self.first: list[float | None] = [None] * learner.chunks
        self.total = 0.0

    def standing(self, place: int) -> mastery.Standing:
        """Of a chunk today."""
        return mastery.standing(self.folds[place], self.goal, self.day)

    def note(self, place: int, tempo: float, is_clean: bool, where: Where = Where.CHUNK) -> None:
        """Something that was played."""
        one = ChunkEvidence(self.day, tempo=Fraction(round(tempo)), is_clean=is_clean, where=where)
        self.folds[place] = mastery.noted(self.folds[place], one, self.goal)

    def work(
        self,
        place: int,
        start: float,
        end: float,
        minutes: float,
        *,
        to_the_end: bool = False,
    ) -> None:
        """A ladder on a chunk for some minutes, or until it is shown at goal."""
        learner = self.learner
        until = learner.spent + minutes
        tempo, clean, slips = start, 0, 0
        rungs = rungs_in(self.state(place), minutes, start)
        step = max((end - start) / max(rungs - 1, 1), 1.0)
        while learner.spent < until:
            is_clean = learner.play(place, tempo)
            self.note(place, tempo, is_clean)
            clean, slips = (clean + 1, 0) if is_clean else (0, slips + 1)
            if clean == 3:
                if tempo >= end and end >= float(self.goal) and not to_the_end:
                    break
                tempo, clean = min(tempo + step, end), 0
            if slips == 2:
                tempo, slips = max(tempo * 0.95, 20.0), 0

    def state(self, place: int) -> ChunkState:
        """A chunk as music alone."""
        return ChunkState(str(place), Fraction(self.learner.quarters[place]), self.goal)

    def link(self, place: int, start: float, end: float, minutes: float) -> None:
        """Three clean in a row over the seam after a chunk."""
        until = self.learner.spent + minutes
        tempo, clean = start, 0
        while self.learner.spent < until:
            is_clean = self.learner.seam(place, tempo)
            self.note(place, tempo, is_clean, Where.SEAM_OUT)
            self.note(place + 1, tempo, is_clean, Where.SEAM_IN)
            clean = clean + 1 if is_clean else 0
            if clean == 3:
                if tempo >= end:
                    break
                tempo, clean = min(tempo + 6, end), 0

    def run(self, tempo: float, places: Sequence[int] | None = None) -> int:
        """Once through all of it, or some neighbours, without stopping; how often it slipped."""
        slips = 0
        row = places or range(self.learner.chunks)
        for place in row:
            is_clean = self.learner.play(place, tempo, alone=False)
            slips += not is_clean
            # In a run-through, seams on both sides are played, too.
            self.note(place, tempo, is_clean, Where.WIDER)
            if place > row[0]:
                self.learner.seams[place - 1] *= exp(0.04)
        return slips

    @property
    def is_ready(self) -> bool:
        """The truth, which no plan sees: on the next morning every chunk goes at goal, and seams.

        At goal each chunk is clean four times of five or more.
        """
        learner = self.learner
        chunks = all(learner.chance(p, learner.goal) >= 0.8 for p in range(learner.chunks))
        return chunks and min(learner.seams) >= 0.75 * learner.goal

    def end(self) -> None:
        """The day is over."""
        self.total += self.learner.spent
        self.learner.sleep()
        self.day += timedelta(days=1)

    # What the plan sees -----------------------------------------------------------------------

    def states(self) -> tuple[ChunkState, ...]:
        """The chunks as the plan knows them."""
        found = []
        last = len(self.folds) - 1
        for place, fold in enumerate(self.folds):
            now = self.standing(place)
            played = fold.repetitions > 0
            secure = now.secure.median if played else None
            if played and self.first[place] is None:
                self.first[place] = min(secure or 0.0, float(start_tempo(self.goal)))
            before = self.first[place]
            found.append(
                ChunkState(
                    id=str(place),
                    quarters=Fraction(self.learner.quarters[place]),
                    goal=self.goal,
                    load=self.learner.loads[place],
                    level=now.level,
                    secure=secure,
                    low=now.secure.low if played else None,
                    high=now.secure.high if played else None,
                    seam_in=place == 0 or now.seam_in,
                    seam_out=place == last or now.seam_out,
                    kin=tuple(str(k) for k in self.learner.kin(place)),
                    last=fold.last,
                    due=now.due,
                    drills=tuple(self.drills[place]),
                    minutes=self.minutes[place],
                    gained=0.0 if before is None else max((secure or 0.0) - before, 0.0),
                )
            )
        return tuple(found)

    def ask(self, on: date, minutes: int = MINUTES) -> PlanAsk:
        """What is asked of the plan today."""
        return PlanAsk(self.day, on, self.states(), minutes_a_day=minutes)

    def follow(self, ask: PlanAsk) -> None:
        """Do what today's plan says."""
        for session in schedule(ask, 1):
            for item in session.items:
                start, end = float(item.start), float(item.end)
                if item.category is Category.RUN_THROUGH:
                    self.run(start)
                elif item.category is Category.LINK and item.drill == IN_CONTEXT:
                    until = self.learner.spent + item.minutes
                    while self.learner.spent < until:
                        self.run(start, [int(here) for here in item.chunks])
                elif item.category is Category.LINK:
                    for here in item.chunks[:-1]:
                        self.link(int(here), start, end, item.minutes / (len(item.chunks) - 1))
                else:
                    place = int(item.chunks[0])
                    before = self.learner.spent
                    self.work(place, start, end, item.minutes)
                    self.minutes[place] += self.learner.spent - before
                    self.drills[place].append((item.drill, self.day))


def by_plan(learner: Learner, on: date | None = None) -> float:
    """Minutes to readiness by our plan, made anew each day from what was noted."""
    practice = Practice(learner)
    date_ = on or START + timedelta(days=60)
    for _ in range(MOST_DAYS):
        horizon = max(date_, practice.day + timedelta(days=14))
        practice.follow(practice.ask(horizon))
        practice.end()
        if practice.is_ready:
            break
    return practice.total


def _plainly(practice: Practice, place: int, minutes: float, *, to_the_end: bool = False) -> None:
    """Work on a chunk as a plan would have it: only where minutes go is left to plain plans."""
    chunk = practice.states()[place]
    secure = start_of(chunk)
    start, end = climb(chunk, secure, secure * 1.05, minutes)
    practice.work(place, start, end, minutes, to_the_end=to_the_end)


def _run_tempo(practice: Practice) -> float:
    """Of all of it: what the slowest chunk bears."""
    return min(min(start_of(c) for c in practice.states()), float(practice.goal))


def by_playing_through(learner: Learner) -> float:
    """Play it through, every day, all the minutes."""
    practice = Practice(learner)
    tempo = 0.6 * learner.goal
    for _ in range(MOST_DAYS):
        while learner.spent < MINUTES:
            held = practice.run(tempo) <= 2
            tempo = min(tempo * 1.03, learner.goal) if held else max(tempo * 0.98, 30.0)
        practice.end()
        if practice.is_ready:
            break
    return practice.total


def by_equal_minutes(learner: Learner) -> float:
    """The same minutes for every chunk, each day, then once through."""
    practice = Practice(learner)
    for _ in range(MOST_DAYS):
        for place in range(learner.chunks):
            _plainly(practice, place, (MINUTES - 2) / learner.chunks, to_the_end=True)
        practice.run(_run_tempo(practice))
        practice.end()
        if practice.is_ready:
            break
    return practice.total


def by_front_to_back(learner: Learner) -> float:
    """One chunk until it is at tempo, then the next; once through at the end of each day."""
    practice = Practice(learner)
    open_: list[int] = []
    for _ in range(MOST_DAYS):
        while learner.spent < MINUTES - 2:
            if not open_:  # from the front again
                open_ = list(range(learner.chunks))
            place = open_[0]
            _plainly(practice, place, min(MINUTES - 2 - learner.spent, 5.0))
            if practice.standing(place).level >= 5:
                open_.remove(place)
        practice.run(_run_tempo(practice))
        practice.end()
        if practice.is_ready:
            break
    return practice.total


PLAIN = {
    "play it through": by_playing_through,
    "equal minutes": by_equal_minutes,
    "front to back": by_front_to_back,
}


def promised(case: tuple[str, int]) -> tuple[float, bool]:
    """What was forecast after some days of practice for a date, and whether it came true."""
    model, seed = case
    random = Random(f"forecast {model} {seed}")
    practice = Practice(Learner(model, seed))
    for _ in range(random.randint(4, 14)):
        practice.follow(practice.ask(practice.day + timedelta(days=30)))
        practice.end()
    on = practice.day + timedelta(days=random.randint(4, 24))
    chance = forecast(practice.ask(on)).chance
    while practice.day < on:
        practice.follow(practice.ask(on))
        practice.end()
        if practice.is_ready:
            return chance, True
    return chance, practice.is_ready
