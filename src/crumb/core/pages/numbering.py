"""Measure numbers: counted from the first measure on, and overruled by what is printed."""

from collections.abc import Sequence
from dataclasses import dataclass

from crumb.core.pages.model import PageMeasure


@dataclass(frozen=True, slots=True)
class Numbered:
    """The number of a measure; ``counted`` is the one that counting gives where that differs."""

    number: int
    counted: int | None = None


def numbered(measures: Sequence[PageMeasure]) -> list[Numbered]:
    """A number for each measure of a part, in order.

    A printed number overrules counting, unless the printed numbers before and after it agree with
    each other and not with it: then it was misread, or is no measure's number. Where nothing is
    printed on the first measure, the first printed number says whether the part begins with a
    pickup, which is measure 0.
    """
    before = _counts(measures)
    trusted = _trusted(measures, before)
    found: list[Numbered] = []
    number = _first(measures, before, trusted)
    for place, measure in enumerate(measures):
        printed = measure.number if place in trusted else None
        differs = printed is not None and printed != number
        found.append(Numbered(number if printed is None else printed, number if differs else None))
        number = found[-1].number + measure.stands_for
    return found


def _counts(measures: Sequence[PageMeasure]) -> list[int]:
    """How many measures come before each."""
    counts, total = [], 0
    for measure in measures:
        counts.append(total)
        total += measure.stands_for
    return counts


def _trusted(measures: Sequence[PageMeasure], before: Sequence[int]) -> set[int]:
    places = [place for place, measure in enumerate(measures) if measure.number is not None]
    starts = {place: (measures[place].number or 0) - before[place] for place in places}
    kept = set(places)
    for at, place in enumerate(places):
        around = {
            starts[other] for other in (*places[max(at - 1, 0) : at], *places[at + 1 : at + 2])
        }
        has_both = 0 < at < len(places) - 1
        if has_both and len(around) == 1 and starts[place] not in around:
            kept.discard(place)
    return kept


def _first(measures: Sequence[PageMeasure], before: Sequence[int], trusted: set[int]) -> int:
    first = min(trusted, default=None)
    if first is None:
        return 1
    start = (measures[first].number or 0) - before[first]
    return 0 if start <= 0 and first > 0 else 1
