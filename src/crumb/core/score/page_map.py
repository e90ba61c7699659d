"""Lines and pages as they stand in the player's own print, where the file says none or others."""

import re
from dataclasses import dataclass, replace

from crumb.core.errors import BadSetting
from crumb.core.score.half_measures import home
from crumb.core.score.model import Part
from crumb.core.score.written import parse_span

_BETWEEN = re.compile(r"[,;\s]+")
_MOST = 400


@dataclass(frozen=True, slots=True)
class PageMap:
    """Indexes of the measures that start a line, and of those that start a page."""

    lines: tuple[int, ...] = ()
    pages: tuple[int, ...] = ()


def read_page_map(part: Part, lines: str, pages: str) -> PageMap:
    """Lines and pages by the measures they start with, as they are typed: ``1, 5, 9, R``.

    Raises:
        BadSetting: too many of them.
        BadAddress: no such measure.
    """
    return PageMap(_indexes(part, lines), _indexes(part, pages))


def _indexes(part: Part, text: str) -> tuple[int, ...]:
    names = [name for name in _BETWEEN.split(text.strip()) if name]
    if len(names) > _MOST:
        raise BadSetting(f"That is more than {_MOST} lines.")
    return tuple(sorted({home(part, parse_span(part, name).start.index) for name in names}))


def with_page_map(part: Part, page_map: PageMap) -> Part:
    """The part with these lines and pages and no others."""
    lines, pages = set(page_map.lines), set(page_map.pages)
    return replace(
        part,
        measures=tuple(
            replace(m, new_system=m.index in lines, new_page=m.index in pages)
            for m in part.measures
        ),
    )


def page_map_of(part: Part) -> PageMap:
    """The page map of a part's lines and pages."""
    return PageMap(
        tuple(m.index for m in part.measures if m.new_system),
        tuple(m.index for m in part.measures if m.new_page),
    )
