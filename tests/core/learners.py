"""Learners that differ, who practise what a plan says: what is hidden, the plan never sees.

Models that the plan was built beside: *steady* (the more passes of a chunk in a day, the less each
adds), *forgetful* (each day without a chunk takes a twentieth of what was gained on it), *lending*
(kin learn from each other), *tiring* (the longer the day, the less sticks and the more slips).

*plateau* (above three quarters of goal, gains shrink to a third), *sprinter* (learns half as fast
again, and each day without a chunk takes an eighth of what was gained), *flattering 15* and
*flattering 50* (so many slips of a hundred are marked clean), *irregular* (misses two days of five,
and plays three quarters of the minutes on the others). The plan's constants were chosen with all of
these in sight.

Held out, written down when those constants stood, and run once: *overnight* (half of a gain comes
by day, and the night doubles it), *careful* (only clean passes teach), *weak seams* (seams begin
low and grow a third as fast), *bad days* (each day is up to a tenth better or worse).

Their numbers are ours (invented), drawn from a seed. Everybody climbs in the same way: three clean
in a row go up, two slips in a row go down.
"""

from collections.abc import Callable, Sequence
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

FAMILIAR = (
    *("steady", "forgetful", "lending", "tiring", "plateau", "sprinter"),
    *("flattering 15", "flattering 50", "irregular"),
)
HELD_OUT = ("overnight", "careful", "weak seams", "bad days")
MODELS = (*FAMILIAR, *HELD_OUT)
_FLATTERY = {"flattering 15": 0.15, "flattering 50": 0.5}
_FORGETS = {"forgetful": 0.05, "sprinter": 0.125}
"""Of what was gained on a chunk, that a day without it takes."""
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
            gain *= 1.5 if self.model == "sprinter" else 1.0
            self.skills.append(Skill(theta, theta, theta, self.slope, gain))
        low, high = (0.3, 0.5) if self.model == "weak seams" else (0.45, 0.75)
        self.seams = [self.goal * random.uniform(low, high) for _ in range(self.chunks - 1)]
        self.spent = 0.0
        self.today = 0.0
        """How much better this day is than others, as a logarithm."""

    def kin(self, place: int) -> list[int]:
        """Kin of a chunk."""
        return [other for other in range(self.chunks) if other != place and other % 3 == place % 3]

    def chance(self, place: int, tempo: float) -> float:
        """Of a clean pass."""
        skill = self.skills[place]
        lapse = self.lapse + (0.004 * max(self.spent - 10, 0) if self.model == "tiring" else 0.0)
        rising = (log(skill.theta) + self.today - log(tempo)) / skill.slope + log(9)
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
        teaches = 0.3 + 5.5 * chance**2 * (1 - chance)
        if self.model == "careful":
            teaches = 1.4 * chance**3
        grown = skill.gain * fresh * teaches * (0.5 if self.model == "overnight" else 1.0)
        if self.model == "plateau" and skill.theta > 0.75 * self.goal:
            grown *= 0.34
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
        self.seams[place] *= exp(0.02 if self.model == "weak seams" else 0.06)
        known = min(self.seams[place], *(s.theta for s in self.skills[place : place + 2]))
        rising = (log(known) - log(tempo)) / self.slope + log(9)
        return self.random.random() < 1 / (1 + exp(-rising))

    def comes(self) -> bool:
        """Whether they practise today."""
        return self.model != "irregular" or self.random.random() >= 0.4

    @property
    def staying(self) -> float:
        """Of the minutes that were meant, how many are played."""
        return 0.75 if self.model == "irregular" else 1.0

    def marks(self, *, is_clean: bool) -> bool:
        """Whether a pass is marked clean."""
        flattery = _FLATTERY.get(self.model, 0.0)
        return is_clean or (flattery > 0 and self.random.random() < flattery)

    def sleep(self) -> None:
        """A night."""
        for skill in self.skills:
            stays = 1.8 if self.model == "overnight" else 0.9
            skill.theta = skill.old * exp(stays * log(skill.theta / skill.old))
            if not skill.passes_today:
                held = 1 - _FORGETS.get(self.model, 0.0)
                skill.theta = skill.first * exp(held * log(skill.theta / skill.first))
            skill.old = skill.theta
            skill.passes_today = 0
        self.spent = 0.0
        self.today = self.random.uniform(-0.1, 0.1) if self.model == "bad days" else 0.0


class Practice:
    """A learner, what was noted of them, and the minutes they spent."""

    def __init__(self, learner: Learner) -> None:
        self.learner = learner
        self.goal = Fraction(round(learner.goal))
        self.day = START
        self.folds = [mastery.empty(self.goal) for _ in range(learner.chunks)]
        self.drills: list[list[tuple[str, date]]] = [[] for _ in range(learner.chunks)]
        self.minutes = [0.0] * learner.chunks
        self.total = 0.0
        self.days = 0
        self.idle = 0.0
        """Minutes of the days that the plan left empty."""

    def standing(self, place: int) -> mastery.Standing:
        """Of a chunk today."""
        return mastery.standing(self.folds[place], self.goal, self.day)

    def note(self, place: int, tempo: float, is_clean: bool, where: Where = Where.CHUNK) -> bool:
        """Something that was played; whether it was marked clean."""
        told = self.learner.marks(is_clean=is_clean)
        self._fold(place, tempo, told, where)
        return told

    def _fold(self, place: int, tempo: float, is_clean: bool, where: Where) -> None:
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
            is_clean = self.note(place, tempo, learner.play(place, tempo))
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
            is_clean = self.note(place, tempo, is_clean, Where.SEAM_OUT)
            self._fold(place + 1, tempo, is_clean, Where.SEAM_IN)
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
            # In a run-through, seams on both sides are played, too.
            slips += not self.note(place, tempo, is_clean, Where.WIDER)
            if place > row[0]:
                weak = self.learner.model == "weak seams"
                self.learner.seams[place - 1] *= exp(0.013 if weak else 0.04)
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
        self.days += 1

    # What the plan sees -----------------------------------------------------------------------

    def states(self) -> tuple[ChunkState, ...]:
        """The chunks as the plan knows them."""
        found = []
        last = len(self.folds) - 1
        for place, fold in enumerate(self.folds):
            now = self.standing(place)
            played = fold.repetitions > 0
            secure = now.secure.median if played else None
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
                    gained=now.gained,
                )
            )
        return tuple(found)

    def ask(self, on: date, minutes: int = MINUTES) -> PlanAsk:
        """What is asked of the plan today."""
        return PlanAsk(self.day, on, self.states(), minutes_a_day=minutes)

    def follow(self, ask: PlanAsk) -> None:
        """Do what today's plan says."""
        sessions = schedule(ask, 1)
        planned = sum(item.minutes for session in sessions for item in session.items)
        self.idle += max(ask.minutes_a_day - planned, 0)
        staying = self.learner.staying
        for session in sessions:
            for item in session.items:
                start, end, minutes = float(item.start), float(item.end), item.minutes * staying
                if item.category is Category.RUN_THROUGH:
                    self.run(start)
                elif item.category is Category.LINK and item.drill == IN_CONTEXT:
                    until = self.learner.spent + minutes
                    while self.learner.spent < until:
                        self.run(start, [int(here) for here in item.chunks])
                elif item.category is Category.LINK:
                    for here in item.chunks[:-1]:
                        self.link(int(here), start, end, minutes / (len(item.chunks) - 1))
                else:
                    place = int(item.chunks[0])
                    before = self.learner.spent
                    self.work(place, start, end, minutes)
                    self.minutes[place] += self.learner.spent - before
                    self.drills[place].append((item.drill, self.day))


@dataclass(frozen=True, slots=True)
class Outcome:
    """What it took until a learner was ready: days, minutes played, and minutes left empty."""

    days: float
    minutes: float
    idle: float


def _until_ready(learner: Learner, practise: Callable[[Practice], None]) -> Outcome:
    """Day after day, until they are ready or nobody waits for it any longer."""
    practice = Practice(learner)
    for _ in range(MOST_DAYS):
        if learner.comes():
            practise(practice)
        practice.end()
        if practice.is_ready:
            break
    return Outcome(practice.days, practice.total, practice.idle)


def by_plan(learner: Learner, on: date | None = None) -> Outcome:
    """Our plan, made anew each day from what was noted."""
    date_ = on or START + timedelta(days=60)

    def a_day(practice: Practice) -> None:
        practice.follow(practice.ask(max(date_, practice.day + timedelta(days=14))))

    return _until_ready(learner, a_day)


def _plainly(practice: Practice, place: int, minutes: float, *, to_the_end: bool = False) -> None:
    """Work on a chunk as a plan would have it: only where minutes go is left to plain plans."""
    chunk = practice.states()[place]
    secure = start_of(chunk)
    start, end = climb(chunk, secure, secure * 1.05, minutes)
    practice.work(place, start, end, minutes, to_the_end=to_the_end)


def _run_tempo(practice: Practice) -> float:
    """Of all of it: what the slowest chunk bears."""
    return min(min(start_of(c) for c in practice.states()), float(practice.goal))


def by_playing_through(learner: Learner) -> Outcome:
    """Play it through, every day, all the minutes."""
    tempo = 0.6 * learner.goal

    def a_day(practice: Practice) -> None:
        nonlocal tempo
        while learner.spent < MINUTES * learner.staying:
            held = practice.run(tempo) <= 2
            tempo = min(tempo * 1.03, learner.goal) if held else max(tempo * 0.98, 30.0)

    return _until_ready(learner, a_day)


def by_equal_minutes(learner: Learner) -> Outcome:
    """The same minutes for every chunk, each day, then once through."""

    def a_day(practice: Practice) -> None:
        each = (MINUTES * learner.staying - 2) / learner.chunks
        for place in range(learner.chunks):
            _plainly(practice, place, each, to_the_end=True)
        practice.run(_run_tempo(practice))

    return _until_ready(learner, a_day)


def by_front_to_back(learner: Learner) -> Outcome:
    """One chunk until it is at tempo, then the next; once through at the end of each day."""
    open_: list[int] = []

    def a_day(practice: Practice) -> None:
        most = MINUTES * learner.staying - 2
        while learner.spent < most:
            if not open_:  # from the front again
                open_.extend(range(learner.chunks))
            place = open_[0]
            _plainly(practice, place, min(most - learner.spent, 5.0))
            if practice.standing(place).level >= 5:
                open_.remove(place)
        practice.run(_run_tempo(practice))

    return _until_ready(learner, a_day)


PLAIN = {
    "play it through": by_playing_through,
    "equal minutes": by_equal_minutes,
    "front to back": by_front_to_back,
}


@dataclass(frozen=True, slots=True)
class Told:
    """A forecast: the chance that was told, what a plain guess had to go by, and what came."""

    chance: float
    share: float
    """Of goal that is secure, the mean of the chunks."""
    days: int
    open: int
    """How many chunks are not at tempo."""
    came: bool


def promised(case: tuple[str, int]) -> Told:
    """What was forecast after some days of practice for a date, and whether it came true."""
    model, seed = case
    random = Random(f"forecast {model} {seed}")
    learner = Learner(model, seed)
    practice = Practice(learner)

    def a_day(on: date) -> None:
        if learner.comes():
            practice.follow(practice.ask(on))
        practice.end()

    for _ in range(random.randint(4, 14)):
        a_day(practice.day + timedelta(days=30))
    on = practice.day + timedelta(days=random.randint(4, 24))
    ask = practice.ask(on)
    share = sum(min(start_of(c) / float(c.goal), 1.0) for c in ask.chunks) / len(ask.chunks)
    open_ = sum(c.level < 5 for c in ask.chunks)
    told = (forecast(ask).chance, share, (on - practice.day).days, open_)
    while practice.day < on and not practice.is_ready:
        a_day(on)
    return Told(*told, came=practice.is_ready)
