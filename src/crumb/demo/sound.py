"""A player who is not there: notes of a span as sound, with faults where they were planted.

It stands in for a microphone in the demo and in tests: what it plays is known to the note.
"""

import io
import wave
from collections.abc import Iterator, Mapping
from enum import StrEnum
from fractions import Fraction

import numpy as np
from numpy.typing import NDArray

from crumb.core.score.model import Part
from crumb.core.score.position import Span, absolute, sounds
from crumb.core.tempo.ladder import seconds_of

RATE = 22_050
_SILENCE = 0.6
"""Seconds before the first note: nobody begins with the click of the button."""
_PARTIALS = (1.0, 0.45, 0.3, 0.12, 0.06)
_LATE = 0.22
_WRONG = 1
"""Half steps."""


class Fault(StrEnum):
    """What goes wrong at a note."""

    WRONG = "wrong"
    LATE = "late"
    LEFT_OUT = "left out"


def played(
    part: Part,
    span: Span,
    *,
    tempo: Fraction,
    beat: Fraction,
    faults: Mapping[int, Fault] | None = None,
) -> bytes:
    """A WAV of a span at a tempo; ``faults`` are by the place of the note in it, from 0."""
    line = np.zeros(0)
    late = 0.0
    for place, (begin, length, midi) in enumerate(_notes(part, span, tempo, beat)):
        fault = (faults or {}).get(place)
        late += _LATE if fault is Fault.LATE else 0.0
        if fault is Fault.LEFT_OUT:
            continue
        at = int((_SILENCE + begin + late) * RATE)
        tone = _tone(midi + (_WRONG if fault is Fault.WRONG else 0), length)
        if line.size < at + tone.size:
            line = np.pad(line, (0, at + tone.size - line.size))
        line[at : at + tone.size] += tone
    return _wav(np.pad(line, (0, RATE // 2)))


def _notes(
    part: Part, span: Span, tempo: Fraction, beat: Fraction
) -> Iterator[tuple[float, float, int]]:
    start, end = absolute(part, span.start), absolute(part, span.end)
    for sound in sounds(part):
        if sound.midi is not None and start <= sound.at < end:
            begin = seconds_of(sound.at - start, tempo=tempo, beat=beat)
            yield (
                float(begin),
                float(seconds_of(sound.duration, tempo=tempo, beat=beat)),
                sound.midi,
            )


def _tone(midi: int, seconds: float) -> NDArray[np.float64]:
    time = np.arange(int(max(seconds, 0.05) * 0.92 * RATE)) / RATE
    pitch = 440 * 2 ** ((midi - 69) / 12)
    tone = sum(
        share * np.sin(2 * np.pi * pitch * number * time)
        for number, share in enumerate(_PARTIALS, 1)
    )
    edge = np.minimum(1, np.minimum(time, time[::-1]) / 0.012)
    faded: NDArray[np.float64] = tone * edge * 0.25
    return faded


def _wav(line: NDArray[np.float64]) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes((np.clip(line, -1, 1) * 30_000).astype("<i2").tobytes())
    return out.getvalue()
