"""Simulated students with a hidden truth: what they can do, how they learn, forget and lapse.

Stated models, drawn from a seed. Their ranges are ours (invented); the rules under test know
neither the ranges nor which student they have before them.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from fractions import Fraction
from math import exp, log
from random import Random

from crumb.core.mastery.secure import after, clean_at, prior, secure_of

GOAL = Fraction(100)


@dataclass
class Student:
    """``theta`` is the tempo at which this student is clean nine times of ten, lapses aside."""

    random: Random
    theta: float
    slope: float
    lapse: float
    gain: float
    fade: float
    ceiling: float
    day_effect: float = 0.0
    """How much one day is better or worse than another, as a logarithm."""
    today: float = 0.0

    def chance(self, tempo: float) -> float:
        """How likely the next pass at a tempo is clean."""
        rising = (log(self.theta) + self.today - log(tempo)) / self.slope + log(9)
        return (1 - self.lapse) / (1 + exp(-rising))

    def play(self, tempo: float) -> bool:
        """One pass; who practises learns, most where it is neither too easy nor too hard."""
        chance = self.chance(tempo)
        is_clean = self.random.random() < chance
        challenge = 4 * chance * (1 - chance) + 0.3
        self.theta *= exp(self.gain * challenge * (log(self.ceiling) - log(self.theta)))
        return is_clean

    def sleep(self, days: int) -> None:
        """Days without playing take a little away."""
        self.theta *= exp(-self.fade * days)


def a_student(seed: int, goal: float = float(GOAL)) -> Student:
    """Some student."""
    random = Random(seed)
    return Student(
        random=random,
        theta=goal * exp(random.gauss(log(0.6), 0.3)),
        slope=exp(random.uniform(log(0.06), log(0.22))),
        lapse=random.uniform(0.0, 0.06),
        gain=random.uniform(0.0, 0.02),
        fade=random.uniform(0.0, 0.012),
        ceiling=goal * random.uniform(1.0, 1.3),
    )


@dataclass(frozen=True)
class Pass:
    """One repetition and what was true when it was played."""

    at: datetime
    day: date
    tempo: Fraction
    is_clean: bool
    truth: float


def practised(student: Student, *, days: int, a_day: int) -> list[Pass]:
    """Days of practice on a ladder: up after three clean in a row, down after two slips."""
    random = student.random
    tempo = max(30.0, round(float(GOAL) * 0.6))
    day = date(2026, 9, 7)
    found: list[Pass] = []
    for _ in range(days):
        at = datetime(day.year, day.month, day.day, 16, tzinfo=UTC)
        student.today = random.gauss(0.0, student.day_effect) if student.day_effect else 0.0
        clean = slips = 0
        for place in range(random.randint(max(a_day // 2, 1), a_day)):
            is_clean = student.play(tempo)
            when = at + timedelta(seconds=20 * place)
            found.append(Pass(when, day, Fraction(round(tempo)), is_clean, student.theta))
            clean, slips = (clean + 1, 0) if is_clean else (0, slips + 1)
            if clean == 3:
                tempo, clean = min(tempo + random.choice((2, 4, 7)), float(GOAL)), 0
            if slips == 2:
                tempo, slips = max(tempo - 5, 20.0), 0
        gap = random.choice((1, 1, 1, 2, 3))
        student.sleep(gap)
        day += timedelta(days=gap)
        tempo = max(30.0, tempo - random.choice((0, 6, 12)))
    return found


FAMILIES: Mapping[str, Mapping[str, float | Callable[[Random], float]]] = {
    "usual": {},
    "above goal": {"theta": lambda random: 100 * exp(random.gauss(log(1.1), 0.15)), "ceiling": 160},
    "narrow slope": {"slope": 0.05},
    "wide slope": {"slope": 0.25},
    "plateau": {"gain": 0.0},
    "lapses in 10 % of passes": {"lapse": 0.1},
    "marks 15 % of slips as clean": {},
    "marks 50 % of slips as clean": {},
    "fast learner": {"gain": 0.05},
    "forgets 3 % a day": {"fade": 0.03},
    "sparse": {},
    "day effect of 8 %": {},
    "day effect of 15 %": {},
    "marks 30 % of slips as clean": {},
    "lapses in 6 % of passes, wide slope": {"lapse": 0.06, "slope": 0.25},
    "begins at a third of goal": {"theta": lambda random: 33 * exp(random.gauss(0.0, 0.15))},
}
IN_SIGHT = frozenset(list(FAMILIES)[:12])
"""The families in sight while constants were chosen. The others were written afterwards."""
_FLATTERY = {
    "marks 15 % of slips as clean": 0.15,
    "marks 30 % of slips as clean": 0.3,
    "marks 50 % of slips as clean": 0.5,
}
_DAY_EFFECT = {"day effect of 8 %": 0.08, "day effect of 15 %": 0.15}


def of_family(name: str, seed: int) -> Student:
    """Some student of a family."""
    student = a_student(seed)
    for field, value in FAMILIES[name].items():
        setattr(student, field, value(student.random) if callable(value) else value)
    return student


@dataclass(frozen=True)
class Judged:
    """Of a student after their practice: whether the interval holds the truth, and how far off.

    ``squares`` is the sum of squared misses over ``passes``; ``bias`` a logarithm;
    ``above_tried`` the median as a multiple of the fastest tempo that was tried.
    """

    is_held: bool
    squares: float
    passes: int
    bias: float
    above_tried: float


def judged(case: tuple[str, int]) -> Judged:
    """A student of a family, by what they marked."""
    family, seed = case
    student, random = of_family(family, seed), Random(seed + 9999)
    flattery = _FLATTERY.get(family, 0.0)
    a_day = 2 if family == "sparse" else random.choice((6, 12, 20))
    student.day_effect = _DAY_EFFECT.get(family, 0.0)
    passes = practised(student, days=random.randint(1, 15), a_day=a_day)
    belief, squares = prior(GOAL), 0.0
    for one in passes:
        squares += (clean_at(belief, one.tempo, one.day) - one.is_clean) ** 2
        is_marked = one.is_clean or (flattery > 0 and random.random() < flattery)
        belief = after(belief, tempo=one.tempo, is_clean=is_marked, day=one.day)
    told, truth = secure_of(belief, GOAL), passes[-1].truth
    fastest = max(float(one.tempo) for one in passes)
    is_held = told.low <= truth <= told.high
    return Judged(is_held, squares, len(passes), log(told.median / truth), told.median / fastest)
