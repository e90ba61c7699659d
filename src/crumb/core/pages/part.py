"""Measures of pages as a part without notes, each with the place where it is printed."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from crumb.core.errors import BadSetting
from crumb.core.pages.model import PageMeasure
from crumb.core.pages.numbering import numbered
from crumb.core.score.model import (
    ZERO,
    Barline,
    Clef,
    Direction,
    Key,
    Measure,
    Part,
    Printed,
    Tempo,
    Time,
)
from crumb.core.score.numbered import MOST_MEASURES, time_said


@dataclass(frozen=True, slots=True)
class OfPage:
    """A measure, and the page that it is on: the key of its picture, and its place in the part."""

    measure: PageMeasure
    page: str
    place: int


def part_of_pages(
    name: str, *, instrument: str, measures: Sequence[OfPage], goal: Fraction
) -> Part:
    """A part of measures as they are printed.

    A rest of several measures becomes as many; each has its share of the place.

    Raises:
        BadSetting: there is no measure, or there are too many.
    """
    total = sum(one.measure.stands_for for one in measures)
    if not 1 <= total <= MOST_MEASURES:
        raise BadSetting(f"A part has between 1 and {MOST_MEASURES} measures; this has {total}.")
    numbers = numbered([one.measure for one in measures])
    time = time_said(next((one.measure.time for one in measures if one.measure.time), "4/4"))
    made: list[Measure] = []
    before: OfPage | None = None
    for one, number in zip(measures, numbers, strict=True):
        time = time_said(one.measure.time) if one.measure.time else time
        made.extend(_measures(one, number.number, time, len(made), before))
        before = one
    made[0] = _opened(made[0], Tempo(made[0].time.beat, goal))
    made[-1] = _closed(made[-1])
    return Part(id="P1", name=name, measures=_with_endings(made, measures), instrument=instrument)


def _measures(
    one: OfPage, number: int, time: Time, index: int, before: OfPage | None
) -> list[Measure]:
    seen, count = one.measure, one.measure.stands_for
    area = seen.area
    is_pickup = index == 0 and number == 0
    length = Fraction(seen.quarters) if seen.quarters else _usual(time, is_pickup=is_pickup)
    new_page = before is not None and before.place != one.place
    new_system = new_page or (before is not None and before.measure.system != seen.system)
    found = []
    for k in range(count):
        first, last = k == 0, k == count - 1
        found.append(
            Measure(
                index=index + k,
                number=str(number + k),
                length=length,
                time=time,
                key=Key(0),
                clefs=(Clef("G", 2),),
                implicit=is_pickup,
                directions=(Direction(ZERO, "rehearsal", seen.letter),)
                if first and seen.letter
                else (),
                barlines=_barlines(seen, first=first, last=last),
                new_system=first and new_system,
                new_page=first and new_page,
                multi_rest=count if first and count > 1 else 0,
                printed=Printed(
                    page=one.page,
                    left=area.left + area.width * k // count,
                    top=area.top,
                    right=area.left + area.width * (k + 1) // count,
                    bottom=area.bottom,
                    first_line=seen.first_line,
                    last_line=seen.last_line,
                ),
            )
        )
    return found


def _usual(time: Time, *, is_pickup: bool) -> Fraction:
    """A pickup whose length nobody said is a beat long."""
    return min(time.beat, time.length) if is_pickup and time.length > time.beat else time.length


def _barlines(seen: PageMeasure, *, first: bool, last: bool) -> tuple[Barline, ...]:
    found = []
    if first and seen.opens_repeat:
        found.append(Barline("left", "heavy-light", "forward"))
    if last and seen.closes_repeat:
        found.append(Barline("right", "light-heavy", "backward"))
    elif last and seen.closes:
        found.append(Barline("right", "light-light"))
    return tuple(found)


def _opened(measure: Measure, tempo: Tempo) -> Measure:
    return replace(
        measure,
        tempo=tempo,
        directions=(Direction(ZERO, "tempo", tempo=tempo), *measure.directions),
    )


def _closed(measure: Measure) -> Measure:
    if any(line.side == "right" and line.repeat for line in measure.barlines):
        return measure
    kept = tuple(line for line in measure.barlines if line.side != "right")
    return replace(measure, barlines=(*kept, Barline("right", "light-heavy")))


def _with_endings(made: Sequence[Measure], measures: Sequence[OfPage]) -> tuple[Measure, ...]:
    """Each ending from its measure to the next barline that repeats or closes."""
    found = list(made)
    index = 0
    for one in measures:
        if one.measure.ending:
            last = next(
                (
                    m.index
                    for m in made[index:]
                    if any(b.side == "right" and (b.repeat or b.style) for b in m.barlines)
                ),
                index,
            )
            start, stop = (
                Barline(side, ending=one.measure.ending, ending_type=kind)
                for side, kind in (("left", "start"), ("right", "stop"))
            )
            found[index] = _joined(found[index], start)
            found[last] = _joined(found[last], stop)
        index += one.measure.stands_for
    return tuple(found)


def _joined(measure: Measure, ending: Barline) -> Measure:
    """The measure with an ending at a side, on the barline that is there if there is one."""
    lines = list(measure.barlines)
    for place, line in enumerate(lines):
        if line.side == ending.side:
            lines[place] = replace(line, ending=ending.ending, ending_type=ending.ending_type)
            break
    else:
        lines.append(ending)
    return replace(measure, barlines=tuple(sorted(lines, key=lambda line: line.side)))


def with_printed(part: Part, places: Sequence[Printed | None]) -> Part:
    """The part with the place of each measure; a part of other measures stays without."""
    if len(places) != len(part.measures):
        return part
    return replace(
        part,
        measures=tuple(
            replace(measure, printed=place)
            for measure, place in zip(part.measures, places, strict=True)
        ),
    )
