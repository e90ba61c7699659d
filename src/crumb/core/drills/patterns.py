"""Patterns of rhythm variations: their values, how they scale, the meter they are read in.

Values are exact quarter notes. The patterns and the burst arithmetic are common practice, no
source; so is what a pattern is laid out in: a meter whose beat it fits, so that nothing is tied
over a barline and no pattern starts inside a beat.
"""

from collections.abc import Callable, Mapping, Sequence
from fractions import Fraction
from itertools import product
from math import lcm

from crumb.core.drills.runs import Run
from crumb.core.errors import BadSetting, NotNotatable
from crumb.core.score.model import Time
from crumb.core.score.notating import values_of

Pattern = tuple[Fraction, ...]
PatternOf = Callable[[Run], Pattern]


def _pattern(text: str) -> Pattern:
    return tuple(Fraction(value) for value in text.split())


PATTERNS: Mapping[str, Pattern] = {
    "long-short": _pattern("3/4 1/4"),
    "short-long": _pattern("1/4 3/4"),
    "long-short-short": _pattern("1/2 1/4 1/4"),
    "short-short-long": _pattern("1/4 1/4 1/2"),
    "short-long-short": _pattern("1/4 1/2 1/4"),
    "even-threes": _pattern("1/3 1/3 1/3"),
    "long-quick-three": _pattern("1/2 1/6 1/6 1/6"),
    "quick-three-long": _pattern("1/6 1/6 1/6 1/2"),
    "sway-a": _pattern("1/2 1/2 1/4 1/4"),
    "sway-b": _pattern("1/2 1/4 1/4 1/2"),
    "sway-c": _pattern("1/4 1/4 1/2 1/2"),
    "sway-quick-four": _pattern("1/2 1/2 1/8 1/8 1/8 1/8"),
    "fives": _pattern("1/5 1/5 1/5 1/5 1/5"),
}
EVEN = _pattern("1/4")
TITLES = {
    "long-short": "Long-short",
    "short-long": "Short-long",
    "long-short-short": "Long-short-short",
    "short-short-long": "Short-short-long",
    "short-long-short": "Short-long-short",
    "even-threes": "Even triplets",
    "long-quick-three": "Long and quick three",
    "quick-three-long": "Quick three and long",
    "sway-a": "Sway, longs first",
    "sway-b": "Sway, longs outside",
    "sway-c": "Sway, longs last",
    "sway-quick-four": "Sway with quick four",
    "fives": "Fives",
}
_MOST_VALUES = 16


def hold_pattern(*, hold: int, group: int, held_units: int, unit: Fraction) -> Pattern:
    """Hold the ``hold``-th of every ``group`` notes for ``held_units`` units, the rest for one."""
    return tuple(unit * (held_units if i == hold else 1) for i in range(1, group + 1))


def rotated(pattern: Pattern, by: int) -> Pattern:
    """The pattern begun ``by`` notes later."""
    by %= len(pattern)
    return pattern[by:] + pattern[:by]


def comes_round_after(pattern_notes: int, group: int) -> int:
    """Notes until a pattern starts on the first of a group again."""
    return lcm(pattern_notes, group)


def long_short_ways(notes: int) -> tuple[tuple[bool, ...], ...]:
    """Every way to make some of ``notes`` long and the others short: 2ⁿ − 2 of them.

    Those with one long note come first, then two, and so on; True is long.
    """
    ways = [way for way in product((True, False), repeat=notes) if 0 < sum(way) < notes]
    return tuple(sorted(ways, key=lambda way: (sum(way), tuple(not long for long in way))))


def read_pattern(text: str) -> Pattern:
    """A pattern as written down: fractions of a quarter note between spaces or commas.

    Raises:
        BadSetting: not fractions, none, too many, or of a length nobody could write or play.
    """
    values = []
    for word in text.replace(",", " ").replace("·", " ").split():
        top, _, bottom = word.partition("/")
        # Only plain digits: a raised ² counts as a digit to Python and is no number to it.
        is_plain = top.isdecimal() and len(top) <= 3 and (not bottom or bottom.isdecimal())
        if not is_plain or (bottom and not 0 < int(bottom[:4]) <= 256):
            raise BadSetting(f"“{word[:20]}” is no value: write quarters such as 1/2 1/4 1/4.")
        value = Fraction(int(top), int(bottom or 1))
        if not 0 < value <= 8:
            raise BadSetting("A value of a pattern is more than 0 and at most 8 quarter notes.")
        values.append(value)
    if not 1 <= len(values) <= _MOST_VALUES:
        raise BadSetting(f"A pattern has between 1 and {_MOST_VALUES} values.")
    try:
        for value in values:
            values_of(value)
    except NotNotatable as error:
        raise BadSetting(error.message) from error
    return tuple(values)


def written_unit(unit: Fraction) -> Fraction:
    """The plain value that patterns on a run are built of: its own, or the next shorter plain one.

    Triplet eighths are varied in sixteenths, so that no triplet is ever tied.
    """
    if unit.numerator == 1 and unit.denominator & (unit.denominator - 1) == 0:
        return unit
    found = Fraction(8)
    while found > unit:
        found /= 2
    return found


def scaled(pattern: Pattern, unit: Fraction) -> Pattern:
    """A pattern of the table, which is written for sixteenths, for a run of another unit."""
    by = written_unit(unit) / EVEN[0]
    return tuple(value * by for value in pattern)


def natural_group(unit: Fraction, meter: Time) -> int:
    """How many notes of a run are felt as one: as many as the beat or the measure holds.

    Threes and sixes in compound time and of triplets, fours of what divides in two.
    """
    is_in_pairs = (meter.length / (meter.beat * 2)).denominator == 1
    pair = meter.beat * 2 if is_in_pairs else meter.length
    for whole in (meter.beat, pair, meter.length, Fraction(1)):
        notes = whole / unit
        if notes.denominator == 1 and notes in (3, 4, 6):
            return int(notes)
    return 6 if (meter.beat / unit) % 3 == 0 else 4


def fits_a_beat(length: Fraction) -> bool:
    """Whether a pattern so long is read in a common meter: beats of a quarter, half or three."""
    if length <= 1:
        return length == Fraction(3, 4) or length.numerator == 1
    return length in (Fraction(3, 2), 2, 3, 4, 6, 8)


def fitting_hold(group: int, unit: Fraction) -> int:
    """For how many units one note of a group is held, so that a group fits a beat."""
    return next((h for h in (2, 3, 4) if fits_a_beat((h + group - 1) * unit)), 2)


def drill_meter(time: Time, lengths: Sequence[Fraction]) -> Time:
    """A meter whose beats and barlines fall where the patterns come round.

    The part's own where it does; otherwise one of quarters, halves or three eighths. Only lengths
    that fit none of these (five sixteenths, asked for) get a signature of their own.
    """
    longest = max(lengths)
    if all(_is_held_by(time, length) for length in lengths):
        return time
    if all(length.denominator == 1 or 1 / length in (2, 4) for length in lengths):
        quarters = max(lcm(*(max(1, int(length)) for length in lengths)), 2)
        if quarters == 2 and time.length == 3 and longest == 1:
            return Time("3", 4)
        return Time(str(quarters), 4) if quarters <= 4 else _halves(quarters, longest)
    if all((Fraction(3, 2) / length).denominator == 1 for length in lengths):
        return Time("3", 8)
    for unit in (4, 8, 16, 32, 64, 128):
        beats = longest * unit / 4
        if beats.denominator == 1:
            return Time(str(beats), unit)
    return time


def _is_held_by(time: Time, length: Fraction) -> bool:
    if time.is_uneven or time.is_free or time.length < 2 or (time.length / length).denominator != 1:
        return False
    return (length / time.beat).denominator == 1 or (time.beat / length).denominator == 1


def _halves(quarters: int, longest: Fraction) -> Time:
    whole = quarters if quarters <= 8 else int(longest)
    return Time(str(whole // 2), 2) if whole % 2 == 0 and whole > 4 else Time(str(whole), 4)
