"""Claims about two stretches, in words, checked against the notes one by one.

*53 is 33 a step lower*, *53–54 = 33–34 an octave up*, *R is 9*.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import zip_longest

from crumb.core.errors import BadAddress, BadSetting
from crumb.core.score.address import find_span
from crumb.core.score.half_measures import is_barline
from crumb.core.score.model import Part
from crumb.core.similarity.fingerprints import STROKE, height_of, sketch
from crumb.core.similarity.model import Attack, Difference, Relation, Sketch, Stretch
from crumb.core.similarity.words import interval_said, letters_said

_LETTERS = {
    "step": 1,
    "second": 1,
    "third": 2,
    "fourth": 3,
    "fifth": 4,
    "sixth": 5,
    "seventh": 6,
    "octave": 7,
}
_HALF_STEPS = {
    "half step": 1,
    "semitone": 1,
    "minor second": 1,
    "whole step": 2,
    "whole tone": 2,
    "major second": 2,
    "minor third": 3,
    "major third": 4,
    "perfect fourth": 5,
    "tritone": 6,
    "perfect fifth": 7,
    "minor sixth": 8,
    "major sixth": 9,
    "minor seventh": 10,
    "major seventh": 11,
    "perfect octave": 12,
}
_INTERVAL = "|".join(sorted([*_HALF_STEPS, *_LETTERS], key=len, reverse=True))
_CLAIM = re.compile(
    r"^(?P<b>.+?)\s*(?:=|\bis(?: the same as| like)?\b|\blike\b)\s*(?P<a>.+?)"
    rf"(?:,?\s+(?:an? )?(?P<interval>{_INTERVAL})"
    r" (?P<way>higher|lower|up|down|above|below))?\s*\.?$",
    re.IGNORECASE,
)
_DOWN = ("lower", "down", "below")


@dataclass(frozen=True, slots=True)
class Claim:
    """``b`` is ``a``, so many letters or half steps away; neither: note for note."""

    a: Stretch
    b: Stretch
    letters: int | None = None
    half_steps: int | None = None


@dataclass(frozen=True, slots=True)
class Verdict:
    """Whether a claim holds, how (as of :class:`Kin`), or what first differs."""

    claim: Claim
    relation: Relation
    interval: int
    steps: int
    first: Difference | None
    said: str

    @property
    def holds(self) -> bool:
        """Whether every note is as claimed."""
        return self.first is None


def read_claim(part: Part, text: str) -> Claim:
    """A claim in words.

    Raises:
        BadSetting: it is none.
        BadAddress: a place that is not there, or no whole measures.
    """
    match = _CLAIM.match(" ".join(text.split()))
    if match is None:
        raise BadSetting("Say it like this: 53 is 33 a step lower.")
    a, b = (_measures(part, match[name]) for name in ("a", "b"))
    if a == b:
        raise BadSetting("These are the same measures.")
    word = (match["interval"] or "").casefold()
    sign = -1 if (match["way"] or "").casefold() in _DOWN else 1
    if word in _HALF_STEPS:
        return Claim(a, b, half_steps=sign * _HALF_STEPS[word])
    return Claim(a, b, letters=sign * _LETTERS[word]) if word else Claim(a, b, half_steps=0)


def _measures(part: Part, text: str) -> Stretch:
    span = find_span(part, text)
    if not (is_barline(part, span.start) and is_barline(part, span.end)):
        raise BadAddress(f"“{text}”: say whole measures here.")
    return Stretch(0, span.start.index, span.end.index - 1)


def judged(part: Part, claim: Claim) -> Verdict:
    """A claim held against the notes: pitch, moment and length of each."""
    made = sketch(part)
    one, two = _row(made, claim.a), _row(made, claim.b)
    found = _first_difference(one, two, claim)
    interval = two[0].midi - one[0].midi if one and two else 0
    relation = (
        Relation.SEQUENCE
        if claim.letters
        else Relation.TRANSPOSED
        if claim.half_steps
        else Relation.IDENTICAL
    )
    steps = claim.letters or 0
    said = letters_said(steps) if claim.letters else interval_said(claim.half_steps or 0)
    if found is None:
        return Verdict(claim, relation, interval, steps, None, f"Yes: every note is {said}.")
    first, is_high = found
    why = _refused(part, claim, first, said, is_high=is_high)
    return Verdict(claim, relation, interval, steps, first, why)


def _row(made: Sketch, stretch: Stretch) -> list[Attack]:
    """The attacks of a stretch, from its start."""
    row: list[Attack] = []
    at = 0
    for index in range(stretch.first, stretch.last + 1):
        row.extend(a._replace(at=a.at + at) for a in made.attacks[index])
        at += made.lengths[index]
    return row


def _first_difference(
    one: Sequence[Attack], two: Sequence[Attack], claim: Claim
) -> tuple[Difference, bool] | None:
    """The first note that is not as claimed, and whether its height is."""
    for index, (a, b) in enumerate(zip_longest(one, two)):
        is_high = a is not None and b is not None and _is_so_high(a, b, claim)
        if not is_high or a is None or b is None or (a.at, a.length) != (b.at, b.length):
            return Difference(index, a.name if a else None, b.name if b else None), is_high
    return None


def _is_so_high(a: Attack, b: Attack, claim: Claim) -> bool:
    if claim.letters is None:
        return b.midi - a.midi == claim.half_steps
    if STROKE in (a.name, b.name):
        return a.name == b.name
    return height_of(b.name) - height_of(a.name) == claim.letters


def _refused(part: Part, claim: Claim, first: Difference, how: str, *, is_high: bool) -> str:
    a, b = (part.measures[s.first].number for s in (claim.a, claim.b))
    where = f"Not quite: note {first.index + 1}"
    if first.a is None:
        return f"{where} of {b}, {first.b}, has nothing in {a}."
    if first.b is None:
        return f"{where} of {a}, {first.a}, has nothing in {b}."
    here = f"{where} is {first.a} in {a} and {first.b} in {b}"
    if is_high:
        return f"{here}, but not at the same moment or not as long."
    return f"{here}." if how == interval_said(0) else f"{here}, which is not {how}."
