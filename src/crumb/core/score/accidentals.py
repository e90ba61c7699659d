"""Accidentals to print: those that the key and the measure so far do not say.

An accidental holds for its staff line until the barline, whatever voice or grace note it stands at;
a tied note needs none, and what it keeps beyond the barline holds for itself alone. A reminder is
printed where another sign on that letter was in force a moment ago: at another octave of the
measure, or in the measure before (Gould, Behind Bars, from memory; MusicXML 4.0, ``<accidental>``:
what a file shows is the file's choice, ``<alter>`` is the pitch).
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache

from crumb.core.score.model import Measure, Note
from crumb.core.score.pitch import STEPS, Pitch, alter_code, key_alter

NAMES = {
    Fraction(-3): "triple-flat",
    Fraction(-2): "flat-flat",
    Fraction(-3, 2): "three-quarters-flat",
    Fraction(-1): "flat",
    Fraction(-1, 2): "quarter-flat",
    Fraction(0): "natural",
    Fraction(1, 2): "quarter-sharp",
    Fraction(1): "sharp",
    Fraction(3, 2): "three-quarters-sharp",
    Fraction(2): "double-sharp",
    Fraction(3): "triple-sharp",
}
ALTERS: Mapping[str, Fraction] = {
    **{name: alter for alter, name in NAMES.items()},
    "sharp-sharp": Fraction(2),
    "double-flat": Fraction(-2),
    "natural-sharp": Fraction(1),
    "natural-flat": Fraction(-1),
}
"""What the signs of MusicXML 4.0 say that have a fixed meaning in half steps."""

_Line = tuple[int, str, int]
_Letter = tuple[int, str]


_CODES = {name: alter_code(alter) for name, alter in ALTERS.items()}
_BY_CODE = {alter_code(alter): name for alter, name in NAMES.items()}


@lru_cache(maxsize=64)
def _signature(fifths: int) -> Mapping[str, int]:
    """Alterations of the key, by letter."""
    return {step: alter_code(Fraction(key_alter(step, fifths))) for step in STEPS}


@dataclass(slots=True)
class _Signs:
    """Accidentals in force while the measures of a part go by.

    ``lines`` holds what the measure has said so far; ``lately`` and ``before`` what was heard last
    on a letter that left the key, in this measure and in the one before.
    """

    keep: bool
    fifths: int | None = None
    lines: dict[_Line, int] = field(default_factory=dict)
    lately: dict[_Letter, int] = field(default_factory=dict)
    before: dict[_Letter, int] = field(default_factory=dict)
    forms: dict[tuple[int, str], Note] = field(default_factory=dict)

    def measure(self, measure: Measure) -> Measure:
        """The next measure with the signs it needs."""
        self.lines = {}
        self.before, self.lately = self.lately, {}
        if measure.key.fifths != self.fifths:
            self.before, self.fifths = {}, measure.key.fifths
        key = _signature(measure.key.fifths)
        if not self.before and _is_plain(measure, key):
            return measure
        changes = sorted((c for c in measure.changes if c.key), key=lambda c: c.at)
        wanted: dict[int, str] = {}
        for place in sorted(range(len(measure.notes)), key=lambda i: measure.notes[i].at):
            note = measure.notes[place]
            while changes and changes[0].at <= note.at:
                new = changes.pop(0).key
                assert new is not None
                key, self.fifths = _signature(new.fifths), new.fifths
                self.lines, self.lately, self.before = {}, {}, {}
            sign = self._sign(note, key)
            if sign != note.accidental:
                wanted[place] = sign
        if not wanted:
            return measure
        notes = tuple(
            self._signed(note, wanted[place]) if place in wanted else note
            for place, note in enumerate(measure.notes)
        )
        return replace(measure, notes=notes)

    def _signed(self, note: Note, sign: str) -> Note:
        """Notes that were alike in all but their places stay so."""
        if note.form is None:
            return note.signed(sign)
        known = self.forms.get((id(note.form), sign))
        made = note.signed(sign, known)
        if known is None:
            self.forms[id(note.form), sign] = made
        return made

    def _sign(self, note: Note, key: Mapping[str, int]) -> str:
        pitch = note.pitch
        if pitch is None or note.hidden:
            return note.accidental if self.keep and pitch is None else ""
        own = note.accidental
        if own and not (self.keep and _agrees(own, pitch)):
            own = ""
        letter, line = (note.staff, pitch.step), (note.staff, pitch.step, pitch.octave)
        if note.tie in ("continue", "stop") and not note.grace:
            # What the tie keeps holds for this note alone, but a reader remembers hearing it.
            self._hear(letter, pitch, key)
            if own:
                self.lines[line] = pitch.alter_code
            return own
        said = self.lines.get(line, key[pitch.step])
        reminder = self.lately.get(letter, self.before.pop(letter, said))
        self._hear(letter, pitch, key)
        if said == pitch.alter_code == reminder:
            if own:
                self.lines[line] = pitch.alter_code
            return own
        self.lines[line] = pitch.alter_code
        return own or _BY_CODE.get(pitch.alter_code, "")

    def _hear(self, letter: _Letter, pitch: Pitch, key: Mapping[str, int]) -> None:
        if pitch.alter_code != key[pitch.step] or letter in self.lately:
            self.lately[letter] = pitch.alter_code


def _agrees(sign: str, pitch: Pitch) -> bool:
    """Whether a sign that a file shows says what the pitch is; of the rare ones nobody can tell."""
    return _CODES.get(sign, pitch.alter_code) == pitch.alter_code


def _is_plain(measure: Measure, key: Mapping[str, int]) -> bool:
    """Whether there is no sign in a measure and it needs none: nearly all are like this."""
    for note in measure.notes:
        pitch = note.pitch
        if note.accidental or (pitch is not None and pitch.alter_code != key[pitch.step]):
            return False
    return not any(change.key for change in measure.changes)


def with_accidentals(measures: Iterable[Measure], *, keep: bool = False) -> tuple[Measure, ...]:
    """Measures in order with every accidental they need.

    Args:
        measures: of one part, in order; nothing is known of what came before the first.
        keep: leave what else is shown (a composer's own reminders), where it is true.
    """
    signs = _Signs(keep)
    return tuple(signs.measure(measure) for measure in measures)
