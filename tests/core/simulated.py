"""Simulated students with a hidden truth: what they can do, how they learn, forget and lapse.

Stated models, drawn from a seed. Their ranges are ours (invented); the rules under test know
neither the ranges nor which student they have before them.
"""

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from fractions import Fraction
from math import exp, log
from random import Random

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

    def chance(self, tempo: float) -> float:
        """How likely the next pass at a tempo is clean."""
        rising = (log(self.theta) - log(tempo)) / self.slope + log(9)
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
