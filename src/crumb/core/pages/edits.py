"""Acts by which a person mends the measures of a page; each gives a new list, or says why not."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.errors import BadSetting
from crumb.core.pages.model import Area, PageMeasure
from crumb.core.score.numbered import time_said

Measures = tuple[PageMeasure, ...]

NARROWEST = 8
"""Pixels. A measure of less was cut by a slip of the hand."""
MOST_RESTS = 400
MOST_ON_A_PAGE = 400


def split(measures: Measures, place: int, x: int) -> Measures:
    """A barline inside a measure.

    Raises:
        BadSetting: there is no such measure, or the barline is not inside it.
    """
    one = _at(measures, place)
    if not one.area.left + NARROWEST <= x <= one.area.right - NARROWEST:
        raise BadSetting("Put the barline inside the measure.")
    if len(measures) >= MOST_ON_A_PAGE:
        raise BadSetting(f"A page has at most {MOST_ON_A_PAGE} measures.")
    left = replace(
        one.between(one.area.left, x), closes_repeat=False, closes=False, stands_for=1, quarters=""
    )
    right = replace(
        one.between(x, one.area.right),
        number=None,
        letter="",
        time="",
        opens_repeat=False,
        ending="",
        stands_for=1,
        quarters="",
    )
    return (*measures[:place], left, right, *measures[place + 1 :])


def join(measures: Measures, place: int) -> Measures:
    """No barline between a measure and the next one of its system.

    Raises:
        BadSetting: nothing follows it in its system.
    """
    one = _at(measures, place)
    if place + 1 >= len(measures) or measures[place + 1].system != one.system:
        raise BadSetting("This is the last measure of its line: nothing follows to join it with.")
    after = measures[place + 1]
    whole = replace(
        one.between(one.area.left, after.area.right),
        closes_repeat=after.closes_repeat,
        closes=after.closes,
        stands_for=max(one.stands_for, after.stands_for),
    )
    return (*measures[:place], whole, *measures[place + 2 :])


def move(measures: Measures, place: int, x: int) -> Measures:
    """The barline at the end of a measure, elsewhere.

    Raises:
        BadSetting: there it would leave no room for a measure.
    """
    one = _at(measures, place)
    after = measures[place + 1] if place + 1 < len(measures) else None
    follows = after is not None and after.system == one.system
    if x < one.area.left + NARROWEST or (follows and after and x > after.area.right - NARROWEST):
        raise BadSetting("Between two barlines there must be room for a measure.")
    moved = one.between(one.area.left, x)
    if not follows or after is None:
        return (*measures[:place], moved, *measures[place + 1 :])
    return (*measures[:place], moved, after.between(x, after.area.right), *measures[place + 2 :])


def delete(measures: Measures, place: int) -> Measures:
    """Without a measure: what is there is no music of this part.

    Raises:
        BadSetting: there is no such measure.
    """
    _at(measures, place)
    return (*measures[:place], *measures[place + 1 :])


def add(measures: Measures, area: Area) -> Measures:
    """A measure where none was found.

    Beside a system it is as high as that system is; elsewhere it is a system of its own.

    Raises:
        BadSetting: it is too small, or lies on another measure.
    """
    if area.width < NARROWEST or area.height < NARROWEST:
        raise BadSetting("Draw a measure that is large enough to be seen.")
    if len(measures) >= MOST_ON_A_PAGE:
        raise BadSetting(f"A page has at most {MOST_ON_A_PAGE} measures.")
    middle = (area.top + area.bottom) // 2
    row = [m for m in measures if m.area.top <= middle < m.area.bottom]
    if any(m.area.left < area.right and area.left < m.area.right for m in row):
        raise BadSetting("There is a measure already: split it, or move its barline.")
    if row:
        made = replace(
            PageMeasure(area, row[0].first_line, row[0].last_line, row[0].system),
            area=replace(area, top=row[0].area.top, bottom=row[0].area.bottom),
        )
    else:
        quarter = area.height // 4
        made = PageMeasure(area, area.top + quarter, area.bottom - quarter, 0)
    return _in_order((*measures, made), is_new_row=not row)


def _in_order(measures: Sequence[PageMeasure], *, is_new_row: bool) -> Measures:
    """Rows from the top down, each from left to right, systems counted anew."""
    if is_new_row:
        *others, made = measures
        keyed = [((m.first_line, m.system), m) for m in others] + [((made.first_line, -1), made)]
    else:
        keyed = [((m.first_line, m.system), m) for m in measures]
    rows = {key: place for place, key in enumerate(sorted({key for key, _ in keyed}))}
    placed = [replace(m, system=rows[key]) for key, m in keyed]
    return tuple(sorted(placed, key=lambda m: (m.system, m.area.left)))


def say_number(measures: Measures, place: int, number: int | None) -> Measures:
    """The number of a measure, from which counting goes on; None: as it is counted."""
    if number is not None and not 0 <= number <= 9999:
        raise BadSetting("A measure's number lies between 0 and 9999.")
    return _with(measures, place, number=number)


def say_letter(measures: Measures, place: int, letter: str) -> Measures:
    """The rehearsal letter over a measure; empty for none."""
    return _with(measures, place, letter=letter.strip()[:8])


def say_rests(measures: Measures, place: int, count: int) -> Measures:
    """How many measures it stands for."""
    if not 1 <= count <= MOST_RESTS:
        raise BadSetting(f"A rest lasts between 1 and {MOST_RESTS} measures.")
    return _with(measures, place, stands_for=count)


def say_time(measures: Measures, place: int, time: str) -> Measures:
    """The meter from a measure on; empty: as before it."""
    return _with(measures, place, time=time_said(time).text if time.strip() else "")


def say_length(measures: Measures, place: int, quarters: Fraction | None) -> Measures:
    """How many quarter notes a measure holds; None: as many as its meter says."""
    if quarters is not None and not 0 < quarters <= 64:
        raise BadSetting("A measure holds between a fraction of a quarter note and 64 of them.")
    return _with(measures, place, quarters="" if quarters is None else str(quarters))


def say_repeat(measures: Measures, place: int, *, opens: bool, closes: bool) -> Measures:
    """Whether a repeat begins or ends at a measure."""
    return _with(measures, place, opens_repeat=opens, closes_repeat=closes)


def say_ending(measures: Measures, place: int, ending: str) -> Measures:
    """The ending that begins at a measure; empty for none."""
    plain = ending.strip()
    if plain and not all(n.strip().isdigit() and len(n.strip()) < 3 for n in plain.split(",")):
        raise BadSetting("Write an ending by its number: 1, or 1, 2.")
    return _with(measures, place, ending=plain[:20])


def _with(measures: Measures, place: int, **said: object) -> Measures:
    one = replace(_at(measures, place), **said)  # type: ignore[arg-type]
    return (*measures[:place], one, *measures[place + 1 :])


def _at(measures: Measures, place: int) -> PageMeasure:
    if not 0 <= place < len(measures):
        raise BadSetting("There is no such measure on this page.")
    return measures[place]
