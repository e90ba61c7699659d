"""Spelled pitches and transposition."""

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

STEPS = "CDEFGAB"
_HALF_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_SHARP_ORDER = "FCGDAEB"


def alter_code(alter: Fraction) -> int:
    """A whole number that is an alteration's own."""
    return alter.numerator * 1024 + alter.denominator


@dataclass(frozen=True)
class Pitch:
    """A written pitch: letter, alteration in half steps, octave (C4 is middle C).

    The notes of a score share few pitches and ask them often, so the answers are kept.
    """

    step: str
    alter: Fraction
    octave: int

    @cached_property
    def whole_alter(self) -> int:
        """Half steps, a quarter tone rounded down."""
        return self.alter.numerator // self.alter.denominator

    @cached_property
    def alter_code(self) -> int:
        """The alteration as one whole number, for fractions are slow to compare."""
        return alter_code(self.alter)

    @cached_property
    def midi(self) -> int:
        """MIDI key number; a quarter tone rounds down to the key below it."""
        return (self.octave + 1) * 12 + _HALF_STEPS[self.step] + self.whole_alter

    @cached_property
    def diatonic(self) -> int:
        """Staff position counted in letters from C0."""
        return self.octave * 7 + STEPS.index(self.step)

    @cached_property
    def name(self) -> str:
        """Spelled name such as ``C#5``, ``Bb4``, ``F##4``; a quarter tone adds ``+``."""
        whole = self.whole_alter
        sign = "#" * whole if whole > 0 else "b" * -whole
        quarter = "+" if self.alter % 1 else ""
        return f"{self.step}{sign}{quarter}{self.octave}"


@dataclass(frozen=True, slots=True)
class Transposition:
    """From written to sounding: letters and half steps, octaves included."""

    diatonic: int = 0
    chromatic: int = 0

    def sounding(self, written: Pitch) -> Pitch:
        """The pitch heard when ``written`` is played."""
        return moved(written, diatonic=self.diatonic, chromatic=self.chromatic)


def moved(pitch: Pitch, *, diatonic: int, chromatic: int) -> Pitch:
    """The pitch ``diatonic`` letters and ``chromatic`` half steps above."""
    if diatonic == 0 and chromatic == 0:
        return pitch
    octave, letter = divmod(pitch.diatonic + diatonic, 7)
    step = STEPS[letter]
    target = (pitch.octave + 1) * 12 + _HALF_STEPS[pitch.step] + pitch.alter + chromatic
    return Pitch(step, target - ((octave + 1) * 12 + _HALF_STEPS[step]), octave)


def key_alter(step: str, fifths: int) -> int:
    """Half steps the key signature adds to a letter (fifths > 0: sharps)."""
    if fifths >= 0:
        return (fifths + 6 - _SHARP_ORDER.index(step)) // 7
    return -((-fifths + _SHARP_ORDER.index(step)) // 7)


def parse_pitch(text: str) -> Pitch:
    """Read ``C#5``, ``Bb4``, ``F##4``.

    Raises:
        ValueError: the text names no pitch.
    """
    head = text[:1].upper()
    rest = text[1:]
    accidentals = rest.rstrip("-0123456789")
    octave = rest[len(accidentals) :]
    if head not in _HALF_STEPS or set(accidentals) - {"#", "b"} or not octave:
        raise ValueError(f"not a pitch: {text!r}")
    alter = accidentals.count("#") - accidentals.count("b")
    return Pitch(head, Fraction(alter), int(octave))
