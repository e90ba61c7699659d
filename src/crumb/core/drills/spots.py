"""Spots of a passage for a drill: the change that trips, the leap, the sudden change."""

import re
from collections.abc import Sequence
from fractions import Fraction

from crumb.core.drills.passage import Passage
from crumb.core.score.model import Measure, Note
from crumb.core.score.position import Position, absolute
from crumb.core.similarity.compare import are_near, commonest_shift, differences
from crumb.core.similarity.model import Attack
from crumb.core.survey.fingers import CHARTS, change
from crumb.core.survey.slide import path as slide_path
from crumb.core.survey.strings import OPEN
from crumb.core.survey.strings import path as string_path
from crumb.core.survey.strings import step as string_step

_CHANGE_WORDS = re.compile(r"pizz|arco|mute|sord|subito|\bsub\.", re.IGNORECASE)
OCTAVE = 12


def top(notes: tuple[Note, ...]) -> int | None:
    """The MIDI number of the highest written pitch."""
    pitches = [note.pitch.midi for note in notes if note.pitch is not None]
    return max(pitches, default=None)


def _way(passage: Passage, place: int) -> Fraction:
    """How far it is from one attack to the next, in half steps; with the hand's way, by family."""
    one, two = top(passage.struck[place]), top(passage.struck[place + 1])
    if one is None or two is None:
        return Fraction(0)
    leap = Fraction(abs(one - two))
    family = passage.instrument.family
    if family in CHARTS:
        leap += Fraction(round(change(family, one, two)[0] * 6))
    elif family == "trombone":
        sounding = passage.part.transposition.chromatic
        before, after = slide_path([one + sounding, two + sounding])
        leap += abs(before - after) if before and after else 0
    elif family in OPEN:
        before_place, after_place = string_path(family, [one, two])
        if before_place and after_place:
            leap += Fraction(round(string_step(family, before_place, after_place)[0] * 6))
    return leap


def hardest_pair(passage: Passage) -> int:
    """The attack whose way to the next is the longest for the hand, and quick besides."""
    best, found = Fraction(-1), 0
    for place in range(len(passage.attacks) - 1):
        start, end = passage.attacks[place], passage.attacks[place + 1]
        had = absolute(passage.part, end) - absolute(passage.part, start)
        cost = (_way(passage, place) + 1) / max(had, Fraction(1, 16))
        if cost > best:
            best, found = cost, place
    return found


def widest_leap(passage: Passage) -> int | None:
    """The attack that a leap of a fourth or more arrives on: the widest; None without one."""
    best, found = 4, None
    for place in range(len(passage.attacks) - 1):
        one, two = top(passage.struck[place]), top(passage.struck[place + 1])
        if one is not None and two is not None and abs(one - two) > best:
            best, found = abs(one - two), place + 1
    return found


_LOUDNESS = {
    mark: step for step, mark in enumerate(("ppp", "pp", "p", "mp", "mf", "f", "ff", "fff"))
}
_ALWAYS_SUDDEN = frozenset({"fp", "sf", "sfz", "sfp", "ffz", "fz", "rf", "rfz"})
_SUDDEN = 2
"""Steps of loudness, p to mf for one, that need setting up (common practice, no source)."""


def sudden_change(passage: Passage) -> int | None:
    """The attack at the widest change of loudness or of tool, or a leap of an octave.

    A mark that says again how loud it is, or that a hairpin leads to, is no sudden change.
    """
    found = _changes(passage)
    if found:
        return max(found, key=lambda place: (found[place], -place))
    for place in range(1, len(passage.attacks)):
        one, two = top(passage.struck[place - 1]), top(passage.struck[place])
        if one is not None and two is not None and abs(one - two) >= OCTAVE:
            return place
    return None


def _changes(passage: Passage) -> dict[int, int]:
    """Attacks after the first at a sudden change, and by how many steps of loudness."""
    attacks = {position: place for place, position in enumerate(passage.attacks)}
    found: dict[int, int] = {}
    loud: int | None = None
    led: set[Position] = set()
    last = min(passage.span.end.index + 1, len(passage.part.measures))
    for measure in passage.part.measures[:last]:
        for mark in sorted(measure.directions, key=lambda d: d.at):
            where = Position(measure.index, mark.at)
            if mark.kind == "wedge" and mark.text == "stop":
                led |= (
                    {where, Position(measure.index + 1, Fraction(0))}
                    if (mark.at == measure.length)
                    else {where}
                )
            place = attacks.get(where, 0)
            if mark.kind == "words" and _CHANGE_WORDS.search(mark.text) and place:
                found[place] = max(found.get(place, 0), _SUDDEN + 1)
            if mark.kind != "dynamic":
                continue
            now = _LOUDNESS.get(mark.text)
            jump = abs(now - loud) if now is not None and loud is not None else 0
            if mark.text in _ALWAYS_SUDDEN:
                jump = _SUDDEN + 1
            if place and jump >= _SUDDEN and where not in led:
                found[place] = max(found.get(place, 0), jump)
            loud = loud if now is None else now
    return found


def kin_differences(passage: Passage) -> list[int]:
    """The notes (from 0) in which this chunk differs from its nearest kin in the part."""
    rows = [_tops(measure) for measure in passage.part.measures]
    count = passage.span.end.index - passage.span.start.index + (passage.span.end.at > 0)
    mine = _attacks(passage, rows, 0)
    best: list[int] = []
    for first in range(len(rows) - count + 1):
        shift = first - passage.span.start.index
        if shift == 0:
            continue
        other = _attacks(passage, rows, shift)
        if len(other) != len(mine):
            continue
        found = differences(mine, other, commonest_shift(mine, other))
        if are_near(mine, found) and (not best or len(found) < len(best)):
            best = sorted({difference.index for difference in found})
    return best


_TICKS = 55440
"""To a quarter note: every division up to twelve falls on one."""


def _tops(measure: Measure) -> list[Attack]:
    """The highest note of each attack of a measure, in order, times in ticks."""
    found: dict[int, Attack] = {}
    for note in measure.notes:
        if not note.is_attack:
            continue
        at, midi = int(note.at * _TICKS), note.pitch.midi if note.pitch else 0
        if at not in found or midi > found[at].midi:
            found[at] = Attack(at, int(note.duration * _TICKS), midi, "")
    return [found[at] for at in sorted(found)]


def _attacks(passage: Passage, rows: Sequence[Sequence[Attack]], shift: int) -> list[Attack]:
    """Highest notes of the span moved by whole measures, counted from its start."""
    part, span = passage.part, passage.span
    start = span.start.index + shift
    origin = int((part.starts[start] + span.start.at) * _TICKS)
    length = int(passage.quarters * _TICKS)
    found = []
    for index in range(start, min(span.end.index + shift + 1, len(rows))):
        begin = int(part.starts[index] * _TICKS) - origin
        found += [a._replace(at=begin + a.at) for a in rows[index] if 0 <= begin + a.at < length]
    return found
