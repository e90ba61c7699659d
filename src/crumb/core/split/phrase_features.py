"""Features of phrase starts: one row of numbers for each place between two notes.

The rows feed the table of ``phrase_weights``. Grouping by rests, long notes and leaps follows the
preference rules of Lerdahl and Jackendoff (A Generative Theory of Tonal Music, 1983, chapter 3) and
the local boundaries of Cambouropoulos (ICMC 2001); parallel openings and regular lengths are the
larger-scale rules of the same book (named from memory). Estimates, so floats; time itself is exact.
"""

import math
from collections import defaultdict
from fractions import Fraction

from crumb.core.split.melody import Melody
from crumb.core.split.phrase_shapes import reaches_goal, returning_openings, runs_on

NAMES = (
    "rest",
    "rest_length",
    "length",
    "longer_than_before",
    "longer_than_after",
    "longest_of_8",
    "not_shorter_of_8",
    "longest_of_16",
    "not_shorter_of_16",
    "leap",
    "widest_step",
    "same_pitch",
    "up",
    "up_a_fourth",
    "into_falling",
    "starts_like_the_first",
    "downbeat",
    "on_beat",
    "last_on_downbeat",
    "last_on_beat",
    "last_in_the_middle",
    "place_follows_long",
    "place_follows_longest",
    "whole_measures",
    "two_measures",
    "four_measures",
    "near_the_end",
    "near_the_start",
    "rather_near_the_end",
    "rather_near_the_start",
    "last_on_tonic",
    "last_on_fifth",
    "last_on_second",
    "last_on_third",
    "first_pitch_again",
    "figure_again",
    "opening_again",
    "rhythm_again",
    "opening_rhythm_again",
    "opening_start_again",
    "goal_of_a_run",
    "inside_a_run",
    "two_measures_again",
)
_FIGURE = 4  # notes that make a figure recognisable


def rows(melody: Melody) -> list[tuple[float, ...]]:
    """One row per place before note 1, 2, …; columns as in ``NAMES``."""
    return [] if len(melody) < 2 else _Reader(melody).rows()


class _Reader:
    """Holds what all places of one melody share."""

    def __init__(self, melody: Melody) -> None:
        self.melody = melody
        count = len(melody)
        gaps = [melody.onsets[i + 1] - melody.onsets[i] for i in range(count - 1)]
        self.gaps = [float(gap) for gap in (*gaps, melody.ends[-1] - melody.onsets[-1])]
        median = sorted(self.gaps)[count // 2] or 1.0
        self.sizes = [math.log2(max(gap, 1e-6) / median) for gap in self.gaps]
        pitches = melody.pitches
        self.steps = [pitches[i + 1] - pitches[i] for i in range(count - 1)]
        self.figures: dict[object, list[int]] = defaultdict(list)
        self.rhythms: dict[object, list[int]] = defaultdict(list)
        for i in range(count - _FIGURE):
            self.figures[self._figure(i)].append(i)
            self.rhythms[self._rhythm(i)].append(i)
        by_phase: dict[Fraction, list[float]] = defaultdict(list)
        for i in range(1, count):
            by_phase[melody.phases[i]].append(self.sizes[i - 1])
        mean = sum(self.sizes) / count
        self.phase_sizes = {p: sum(s) / len(s) - mean for p, s in by_phase.items()}
        self.longest_phase = max(self.phase_sizes.values())
        self.returns = returning_openings(melody)

    def _figure(self, i: int) -> object:
        return tuple(self.gaps[i : i + _FIGURE]), tuple(self.steps[i : i + _FIGURE])

    def _rhythm(self, i: int) -> object:
        return tuple(self.gaps[i : i + _FIGURE]), self.melody.phases[i]

    def rows(self) -> list[tuple[float, ...]]:
        return [
            (
                *self._lengths(i),
                *self._pitches(i),
                *self._meter(i),
                *self._extent(i),
                *self._scale(i),
                *self._likeness(i),
                *self._shapes(i),
            )
            for i in range(1, len(self.melody))
        ]

    def _lengths(self, i: int) -> tuple[float, ...]:
        last, gaps = i - 1, self.gaps
        rest = float(self.melody.onsets[i] - self.melody.ends[last])
        before = self.sizes[last] - self.sizes[last - 1] if last else 0.0
        near = gaps[max(0, last - 4) : last] + gaps[i : i + 4]
        wide = gaps[max(0, last - 8) : last] + gaps[i : i + 8]
        return (
            float(rest > 0),
            min(2 * rest / float(self.melody.measure), 1.0),
            _within(self.sizes[last], 2.0),
            _within(before, 2.0),
            _within(self.sizes[last] - self.sizes[i], 2.0),
            float(gaps[last] > max(near)),
            float(gaps[last] >= max(near)),
            float(gaps[last] > max(wide)),
            float(gaps[last] >= max(wide)),
        )

    def _pitches(self, i: int) -> tuple[float, ...]:
        step = self.steps[i - 1]
        before = self.steps[i - 2] if i > 1 else 0
        after = self.steps[i] if i < len(self.steps) else 0
        return (
            min(abs(step), 12) / 12,
            float(abs(step) > max(abs(before), abs(after))),
            float(step == 0),
            float(step > 0),
            float(step >= 5),
            float(before < 0),
        )

    def _meter(self, i: int) -> tuple[float, ...]:
        phases, beat = self.melody.phases, self.melody.beat
        place, last = phases[i], phases[i - 1]
        return (
            float(place == phases[0]),
            float(place == 0),
            float((place / beat).denominator == 1),
            float(last == 0),
            float((last / beat).denominator == 1),
            float(2 * last == self.melody.measure),
            _within(self.phase_sizes[place], 1.5),
            float(self.phase_sizes[place] == self.longest_phase),
        )

    def _extent(self, i: int) -> tuple[float, ...]:
        gone = (self.melody.onsets[i] - self.melody.onsets[0]) / self.melody.measure
        left = len(self.melody) - i
        is_whole = gone.denominator == 1
        return (
            float(is_whole),
            float(is_whole and gone % 2 == 0),
            float(is_whole and gone % 4 == 0),
            float(left < 4),
            float(i < 4),
            float(left in (4, 5)),
            float(i in (4, 5)),
        )

    def _scale(self, i: int) -> tuple[float, ...]:
        """How the last note stands to the closing note, taken for the tonic."""
        degree = (self.melody.pitches[i - 1] - self.melody.pitches[-1]) % 12
        return (float(degree == 0), float(degree == 7), float(degree == 2), float(degree in (3, 4)))

    def _likeness(self, i: int) -> tuple[float, ...]:
        """Whether what starts here was or will be heard elsewhere, after something different."""
        pitches, gaps, steps = self.melody.pitches, self.gaps, self.steps
        figure = figure_first = rhythm = rhythm_first = False
        if i < len(self.melody) - _FIGURE:
            came = (gaps[i - 1], steps[i - 1])
            for j in self.figures[self._figure(i)]:
                figure = figure or (j != i and (j == 0 or (gaps[j - 1], steps[j - 1]) != came))
                figure_first = figure_first or j == 0
            for j in self.rhythms[self._rhythm(i)]:
                rhythm = rhythm or (j != i and (j == 0 or gaps[j - 1] != gaps[i - 1]))
                rhythm_first = rhythm_first or j == 0
        return (
            float(pitches[i] == pitches[0]),
            float(figure),
            float(figure_first),
            float(rhythm),
            float(rhythm_first),
            float(gaps[i : i + 3] == gaps[:3]),
        )

    def _shapes(self, i: int) -> tuple[float, ...]:
        melody = self.melody
        return (
            float(reaches_goal(melody, i)),
            float(runs_on(melody, i)),
            float(i in self.returns),
        )


def _within(value: float, bound: float) -> float:
    return max(-bound, min(bound, value))
