"""Learn the table of phrase weights: ``.venv/bin/python tools/learn_phrases.py`` (some minutes).

Places are learned by logistic regression (Newton's method), sizes and likeness by an averaged
structured perceptron (Collins, EMNLP 2002) on the same songs; the bias is then set where the F1 on
songs of the learning files that the perceptron did not see is best. Held-out files are not touched.
"""

import random
import sys
from dataclasses import replace
from pathlib import Path

import numpy as np

from crumb.core.split.phrase_features import NAMES, rows
from crumb.core.split.phrasing import (
    LONGEST,
    MEASURES,
    Weights,
    clock_of,
    likeness,
    local_scores,
    measures_of,
    phrase_starts,
    size_of,
)
from folk_songs import FolkSong, boundary_f1, learned_from, songs

TARGET = Path(__file__).parent.parent / "src/crumb/core/split/phrase_weights.py"
_PERCEPTRON_SONGS = 2500
_TUNING_SONGS = 600
_RATE = 0.2


def local_weights(known: list[FolkSong]) -> tuple[float, tuple[float, ...]]:
    """Bias and weights of the places."""
    table, marks = [], []
    for song in known:
        for i, row in enumerate(rows(song.melody), 1):
            table.append((*row, 1.0))
            marks.append(float(i in song.starts))
    x, y = np.array(table), np.array(marks)
    w = np.zeros(x.shape[1])
    for _ in range(30):
        p = 1 / (1 + np.exp(-x @ w))
        hessian = (x * (p * (1 - p))[:, None]).T @ x + np.eye(len(w))
        step = np.linalg.solve(hessian, x.T @ (y - p) - w)
        w += step
        if np.abs(step).max() < 1e-5:
            break
    return float(w[-1]), tuple(float(v) for v in w[:-1])


def _counts(song: FolkSong, starts: list[int]) -> np.ndarray:
    """How often each size and likeness occurs in a way of cutting a song."""
    clock = clock_of(song.melody)
    total = np.zeros(LONGEST + len(MEASURES) + 3)
    cuts = [0, *starts, len(song.melody)]
    for k in range(1, len(cuts)):
        a, b = cuts[k - 1], cuts[k]
        total[size_of(clock, a, b) - 1] += 1
        total[LONGEST + measures_of(clock, a, b)] += 1
        if k > 1:
            total[-3:] += likeness(clock, cuts[k - 2], a, b)
    return total


def _with(weights: Weights, values: np.ndarray) -> Weights:
    numbers = [float(v) for v in values]
    equal, double, rhythm = numbers[-3:]
    return replace(
        weights,
        notes=tuple(numbers[:LONGEST]),
        measures=tuple(numbers[LONGEST:-3]),
        alike=(equal, double, rhythm),
    )


def whole_weights(known: list[FolkSong], weights: Weights) -> Weights:
    """Sizes and likeness on top of the places."""
    values = np.zeros(LONGEST + len(MEASURES) + 3)
    total = np.zeros_like(values)
    for _ in range(2):
        for song in known:
            scores = local_scores(song.melody, weights)
            found = phrase_starts(
                song.melody, _with(weights, values), scores=scores, keep=song.starts
            )
            if set(found) != song.starts:
                values += _RATE * (_counts(song, sorted(song.starts)) - _counts(song, found))
            total += values
    return _with(weights, total / (2 * len(known)))


def tuned(known: list[FolkSong], weights: Weights) -> Weights:
    """The bias with the best mean F1."""
    tries = [replace(weights, bias=weights.bias + 0.25 * k) for k in range(-1, 7)]
    return max(tries, key=lambda w: mean_f1(known, w))


def mean_f1(known: list[FolkSong], weights: Weights) -> float:
    """Mean over songs of the boundary F1."""
    return sum(
        boundary_f1(frozenset(phrase_starts(s.melody, weights)), s.starts) for s in known
    ) / len(known)


def write(weights: Weights) -> None:
    """The table as a module."""

    def numbers(values: tuple[float, ...]) -> str:
        return "".join(f"        {v:.3f},\n" for v in values)

    def named(names: tuple[str, ...], values: tuple[float, ...]) -> str:
        return "".join(f"        {v:.3f},  # {n}\n" for n, v in zip(names, values, strict=True))

    TARGET.write_text(
        '"""Weights for finding phrases, made by tools/learn_phrases.py; do not edit by hand.\n\n'
        "Learned from two thirds of the files of the Essen folk-song collection in ABC (as the\n"
        'music21 package ships it); log-odds, larger speaks more for a phrase.\n"""\n\n'
        "from crumb.core.split.phrasing import Weights\n\n"
        f"WEIGHTS = Weights(\n    bias={weights.bias:.3f},\n    local=(\n"
        f"{named(NAMES, weights.local)}    ),\n    notes=(\n{numbers(weights.notes)}    ),\n"
        f"    measures=(\n{named(MEASURES, weights.measures)}    ),\n"
        f"    alike=({', '.join(f'{v:.3f}' for v in weights.alike)}),\n)\n"
    )


def main() -> None:
    """Learn and write."""
    known = [song for path in learned_from() for song in songs(path)]
    random.Random(1).shuffle(known)  # noqa: S311 - an order, not a secret
    bias, local = local_weights(known)
    weights = Weights(bias, local, (0.0,) * LONGEST, (0.0,) * len(MEASURES), (0.0, 0.0, 0.0))
    weights = whole_weights(known[:_PERCEPTRON_SONGS], weights)
    weights = tuned(known[-_TUNING_SONGS:], weights)
    write(weights)
    sys.stdout.write(f"{len(known)} songs; F1 of the last {_TUNING_SONGS}: ")
    sys.stdout.write(f"{mean_f1(known[-_TUNING_SONGS:], weights):.3f}\n")


if __name__ == "__main__":
    main()
