"""A small shorthand for writing the demo's own music, measure by measure.

``s:0,1,2,3`` is four sixteenths on the first four degrees above the tonic; ``w h q e s`` are the
values, ``t`` triplet eighths, a dot follows the letter; ``r`` is a rest; ``#``, ``b`` and ``n``
alter a degree; ``0+5`` is a double stop; ``>`` and ``'`` are accent and staccato; ``(`` opens a
slur before a degree and ``)`` closes it after; ``~`` ties to the next note of the same pitch.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from crumb.core.score.meter import beams_of
from crumb.core.score.model import (
    Barline,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Part,
    Slur,
    Tempo,
    Time,
    Tuplet,
)
from crumb.core.score.notating import beam, bracket_tuplets
from crumb.core.score.pitch import STEPS, Pitch, Transposition, key_alter

_VALUES = {v: Fraction(4, 2**i) for i, v in enumerate("whqes")} | {"t": Fraction(1, 3)}
_TYPES = {"w": "whole", "h": "half", "q": "quarter", "e": "eighth", "s": "16th", "t": "eighth"}
_DEGREE = re.compile(r"^(\()?(r|-?\d+)([#bn]?)((?:\+-?\d+)*)([>']?)(~?)(\)?)$")
_ALTER = {"#": 1, "b": -1, "n": 0}


@dataclass
class Sketch:
    """A part being written down."""

    name: str
    instrument: str
    transposition: Transposition
    tonic: Pitch
    key: Key
    time: Time
    tempo: Tempo
    clef: Clef = field(default_factory=lambda: Clef("G", 2))
    measures: list[Measure] = field(default_factory=list)
    is_tied: bool = False

    def add(self, text: str, *, dynamic: str = "", letter: str = "", words: str = "") -> None:
        """Write one measure."""
        index = len(self.measures)
        at = Fraction(0)
        notes: list[Note] = []
        for group in text.split():
            value, _, degrees = group.partition(":")
            for degree in degrees.split(","):
                struck = self._struck(degree, value, at, f"{index}-{len(notes)}")
                notes += struck
                at += struck[0].duration
        directions = []
        if letter:
            directions.append(Direction(Fraction(0), "rehearsal", letter))
        if index == 0:
            directions.append(Direction(Fraction(0), "tempo", tempo=self.tempo))
        if words:
            directions.append(Direction(Fraction(0), "words", words))
        if dynamic:
            directions.append(Direction(Fraction(0), "dynamic", dynamic, above=False))
        lead = self.time.length - at if index == 0 else Fraction(0)
        self.measures.append(
            Measure(
                index=index,
                number=str(index),
                length=at,
                time=self.time,
                key=self.key,
                clefs=(self.clef,),
                tempo=self.tempo,
                implicit=index == 0,
                notes=beam(bracket_tuplets(notes), beams_of(self.time), lead),
                directions=tuple(directions),
            )
        )

    def strain(
        self, measures: Sequence[str], *, dynamic: str = "", letter: str = "", words: str = ""
    ) -> None:
        """Write measures; what is given stands over or under the first."""
        first, *others = measures
        self.add(first, dynamic=dynamic, letter=letter, words=words)
        for text in others:
            self.add(text)

    def _struck(self, text: str, value: str, at: Fraction, serial: str) -> list[Note]:
        """A note, and what sounds with it."""
        match = _DEGREE.match(text)
        if not match:
            raise ValueError(f"cannot read {text!r}")
        opens, degree, sign, others, mark, tied, closes = match.groups()
        base, dots = value[0], value.count(".")
        duration = _VALUES[base] * (2 - Fraction(1, 2**dots))
        pitch = None if degree == "r" else self._pitch(int(degree), sign)
        tie = None
        if pitch:
            tie = {(True, True): "continue", (True, False): "stop", (False, True): "start"}.get(
                (self.is_tied, bool(tied))
            )
            self.is_tied = bool(tied)
        ends = [Slur(1, "start")] if opens else []
        ends += [Slur(1, "stop")] if closes else []
        note = Note(
            id=f"n{serial}",
            at=at,
            duration=duration,
            pitch=pitch,
            is_rest=pitch is None,
            type=_TYPES[base],
            dots=dots,
            tuplet=Tuplet(3, 2) if base == "t" else None,
            tie=tie,
            slurs=tuple(ends),
            articulations={">": ("accent",), "'": ("staccato",)}.get(mark, ()),
        )
        above = [self._pitch(int(other), "") for other in others.split("+")[1:]]
        with_it = (
            replace(note, id=f"{note.id}-{i}", pitch=one, in_chord=True, slurs=(), articulations=())
            for i, one in enumerate(above)
        )
        return [note, *with_it]

    def _pitch(self, degree: int, sign: str) -> Pitch:
        octave, letter = divmod(self.tonic.diatonic + degree, 7)
        step = STEPS[letter]
        natural = Fraction(key_alter(step, self.key.fifths))
        alter = Fraction(0) if sign == "n" else natural + _ALTER.get(sign, 0)
        return Pitch(step, alter, octave)

    def degree(self, degree: int) -> Pitch:
        """The pitch so many steps above the tonic, as the key has it."""
        return self._pitch(degree, "")

    def turn(self, *, tonic: Pitch, key: Key) -> None:
        """Go on in another key."""
        self.tonic, self.key = tonic, key
        last = self.measures[-1]
        double = Barline("right", "light-light")
        self.measures[-1] = replace(last, barlines=(*last.barlines, double))

    def part(self) -> Part:
        """The part as written, closed by a final barline."""
        last = self.measures[-1]
        final = replace(last, barlines=(*last.barlines, Barline("right", "light-heavy")))
        return Part(
            id="P1",
            name=self.name,
            instrument=self.instrument,
            transposition=self.transposition,
            measures=(*self.measures[:-1], final),
        )
