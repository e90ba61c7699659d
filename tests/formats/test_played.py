"""The player who is not there plays what was planted, to the note."""

import io
import wave
from fractions import Fraction

import numpy as np
import pytest

from crumb.core.score.position import Position, Span
from crumb.demo.etude import clarinet_etude
from crumb.demo.sound import RATE, Fault, played

PART = clarinet_etude()
SPAN = Span(Position(1, Fraction(0)), Position(3, Fraction(0)))
BEAT = Fraction(1)
FIRST = 0.6
"""Seconds to the first note."""


def line(**how: object) -> np.ndarray:
    data = played(PART, SPAN, tempo=Fraction(60), beat=BEAT, **how)  # type: ignore[arg-type]
    with wave.open(io.BytesIO(data)) as file:
        return np.frombuffer(file.readframes(file.getnframes()), dtype="<i2") / 32768


def pitch(sound: np.ndarray, at: float) -> float:
    """The strongest frequency in a third of a second, in hertz."""
    piece = sound[int(at * RATE) : int((at + 0.3) * RATE)]
    spectrum = np.abs(np.fft.rfft(piece * np.hanning(piece.size), 2**16))
    return float(np.argmax(spectrum) * RATE / 2**16)


def test_it_plays_the_notes_as_they_sound():
    # Measure 1 begins on written G4 for clarinet in B flat: it sounds F4, 349.2 Hz (A4 = 440, equal
    # temperament).
    assert pitch(line(), FIRST + 0.05) == pytest.approx(349.2, rel=0.01)


def test_a_wrong_note_is_a_half_step_away():
    wrong = line(faults={0: Fault.WRONG})
    ratio = pitch(wrong, FIRST + 0.05) / pitch(line(), FIRST + 0.05)
    assert ratio == pytest.approx(2 ** (1 / 12), rel=0.01)


def test_a_note_that_is_left_out_is_silence_and_a_late_one_makes_it_longer():
    silent = line(faults={0: Fault.LEFT_OUT})
    assert np.abs(silent[: int((FIRST + 0.4) * RATE)]).max() == 0
    late = line(faults={3: Fault.LATE})
    assert late.size - line().size == pytest.approx(0.22 * RATE, abs=2)
