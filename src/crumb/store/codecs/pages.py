"""Codec of pages: measures as they were read and mended, and the places of a part's measures."""

from collections.abc import Sequence
from typing import Any

from crumb.core.pages.model import Area, PageMeasure
from crumb.core.score.model import Part, Printed

_SAID = (
    "number",
    "letter",
    "time",
    "quarters",
    "opens_repeat",
    "closes_repeat",
    "ending",
    "closes",
)
"""What a measure may have said of it; what is as usual is not written down."""


def measures_to_json(measures: Sequence[PageMeasure]) -> list[dict[str, Any]]:
    """The measures of a page."""
    return [_measure_to_json(measure) for measure in measures]


def _measure_to_json(measure: PageMeasure) -> dict[str, Any]:
    area = measure.area
    kept: dict[str, Any] = {
        "area": [area.left, area.top, area.right, area.bottom],
        "lines": [measure.first_line, measure.last_line],
        "system": measure.system,
    }
    if measure.stands_for != 1:
        kept["stands_for"] = measure.stands_for
    kept.update(
        (name, getattr(measure, name))
        for name in _SAID
        if getattr(measure, name) not in (None, "", False)
    )
    return kept


def measures_from_json(kept: Sequence[dict[str, Any]]) -> tuple[PageMeasure, ...]:
    """The measures of a page, read again."""
    return tuple(
        PageMeasure(
            Area(*one["area"]),
            first_line=one["lines"][0],
            last_line=one["lines"][1],
            system=one["system"],
            stands_for=one.get("stands_for", 1),
            **{name: one[name] for name in _SAID if name in one},
        )
        for one in kept
    )


def places_to_json(part: Part) -> dict[str, Any] | None:
    """Where a part's measures are printed; None where they are not."""
    if not any(measure.printed for measure in part.measures):
        return None
    keys = list(dict.fromkeys(m.printed.page for m in part.measures if m.printed))
    number = {key: place for place, key in enumerate(keys)}
    return {
        "pages": keys,
        "measures": [
            m.printed and [number[m.printed.page], *_edges(m.printed)] for m in part.measures
        ],
    }


def _edges(printed: Printed) -> list[int]:
    return [
        printed.left,
        printed.top,
        printed.right,
        printed.bottom,
        printed.first_line,
        printed.last_line,
    ]


def places_from_json(kept: dict[str, Any]) -> list[Printed | None]:
    """The places, one for each measure."""
    pages = kept["pages"]
    return [row and Printed(pages[row[0]], *row[1:7]) for row in kept["measures"]]
