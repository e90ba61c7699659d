"""Mend the measures of a page by hand: each act can be undone."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.pages import edits
from crumb.core.pages.model import Area, PageMeasure
from crumb.core.pages.numbering import Numbered, numbered
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.pages.page_sets import get_page, get_set
from crumb.store.codecs.pages import measures_from_json, measures_to_json
from crumb.store.queries import pages as ask
from crumb.store.tables import PageRow

_MOST_UNDONE = 60


@dataclass(frozen=True, slots=True)
class Act:
    """What is done to a page; which fields are read depends on ``op``."""

    op: str
    place: int = 0
    x: int = 0
    area: Area | None = None
    number: int | None = None
    text: str = ""
    quarters: Fraction | None = None
    opens: bool = False
    closes: bool = False


@dataclass(frozen=True, slots=True)
class PageView:
    """A page with its measures and their numbers, and its neighbours in its part."""

    row: PageRow
    part_name: str
    measures: tuple[PageMeasure, ...]
    numbers: tuple[Numbered, ...]
    times: tuple[str, ...]
    """The meter in force in each measure."""


Measures = tuple[PageMeasure, ...]

_ACTS: Mapping[str, Callable[[Measures, Act], Measures]] = {
    "split": lambda m, a: edits.split(m, a.place, a.x),
    "join": lambda m, a: edits.join(m, a.place),
    "move": lambda m, a: edits.move(m, a.place, a.x),
    "delete": lambda m, a: edits.delete(m, a.place),
    "add": lambda m, a: edits.add(m, a.area or Area(0, 0, 0, 0)),
    "number": lambda m, a: edits.say_number(m, a.place, a.number),
    "letter": lambda m, a: edits.say_letter(m, a.place, a.text),
    "rests": lambda m, a: edits.say_rests(m, a.place, a.number or 1),
    "time": lambda m, a: edits.say_time(m, a.place, a.text),
    "length": lambda m, a: edits.say_length(m, a.place, a.quarters),
    "repeat": lambda m, a: edits.say_repeat(m, a.place, opens=a.opens, closes=a.closes),
    "ending": lambda m, a: edits.say_ending(m, a.place, a.text),
}
OPS = (*_ACTS, "undo", "redo")


def act(session: Session, actor: Actor, page_id: UUID, wanted: Act) -> PageView:
    """Do an act, or undo or redo one.

    Raises:
        NotFound: no such page.
        BadSetting: the act does not fit; says why.
        NotAccepted: the page is being read, or there is nothing to undo.
    """
    page = get_page(session, actor, page_id, for_change=True)
    if page.measures is None:
        raise NotAccepted("This page is still being read.")
    if wanted.op == "undo":
        _step(page, back=True)
    elif wanted.op == "redo":
        _step(page, back=False)
    else:
        mended = _ACTS[wanted.op](measures_from_json(page.measures), wanted)
        page.earlier = [*page.earlier, page.measures][-_MOST_UNDONE:]
        page.later = []
        page.measures = measures_to_json(mended)
    session.flush()
    return view(session, actor, page_id)


def _step(page: PageRow, *, back: bool) -> None:
    kept = page.earlier if back else page.later
    if not kept:
        raise NotAccepted("There is nothing to undo." if back else "There is nothing to redo.")
    other = [*(page.later if back else page.earlier), page.measures]
    page.measures = kept[-1]
    if back:
        page.earlier, page.later = kept[:-1], other
    else:
        page.later, page.earlier = kept[:-1], other


def view(session: Session, actor: Actor, page_id: UUID) -> PageView:
    """A page as it stands, its measures numbered as those of its part.

    Raises:
        NotFound: no such page.
    """
    page = get_page(session, actor, page_id)
    get_set(session, actor, page.set_id)
    own, name = part_around(ask.pages_of(session, page.set_id), page)
    rows = [(one, m) for one in own for m in measures_from_json(one.measures or [])]
    numbers = numbered([m for _, m in rows])
    times = _times([m for _, m in rows])
    mine = [k for k, (one, _) in enumerate(rows) if one.id == page.id]
    return PageView(
        page,
        name,
        tuple(rows[k][1] for k in mine),
        tuple(numbers[k] for k in mine),
        tuple(times[k] for k in mine),
    )


def _times(measures: Sequence[PageMeasure]) -> list[str]:
    first = next((m.time for m in measures if m.time), "4/4")
    found, now = [], first
    for measure in measures:
        now = measure.time or now
        found.append(now)
    return found


def part_around(pages: Sequence[PageRow], page: PageRow) -> tuple[list[PageRow], str]:
    """The pages of the part that a page belongs to, and the part's name."""
    for name, own in parts_of(pages):
        if any(one.id == page.id for one in own):
            return own, name
    return [page], ""


def parts_of(pages: Sequence[PageRow]) -> list[tuple[str, list[PageRow]]]:
    """The parts of a set: a name, and the pages that are not left out."""
    found: list[tuple[str, list[PageRow]]] = []
    for page in pages:
        if page.is_left_out:
            continue
        if page.begins is not None or not found:
            name = page.begins["name"] if page.begins else "Part 1"
            found.append((name, []))
        found[-1][1].append(page)
    return found
