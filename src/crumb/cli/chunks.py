"""``crumb chunks``: a part split into chunks."""

import argparse

from crumb.cli.common import Row, WrongCall, chosen_part, load_score, surveyed
from crumb.core.score.model import Part
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position
from crumb.core.split import proposals
from crumb.core.split.nested import Edge, NestedMap, split_at_edges


def _position_row(part: Part, position: Position) -> Row:
    numbered = position.index < len(part.measures)
    return {
        "index": position.index,
        "number": part.measures[position.index].number if numbered else None,
        "at": str(position.at),
    }


def _edges(part: Part, by: str) -> list[Edge]:
    how, _, size = by.partition(":")
    if how == "measures" and size.isdecimal() and len(size) < 6:
        return proposals.every(part, int(size))
    if by == "load":
        return proposals.by_load(part, surveyed(part, None, None))
    ways = {
        "phrases": proposals.by_phrases,
        "lines": proposals.by_lines,
        "marks": proposals.by_marks,
    }
    if by not in ways:
        raise WrongCall("Say --by phrases, lines, marks, load or measures:N, such as measures:2.")
    return ways[by](part)


def run(args: argparse.Namespace) -> list[Row]:
    """The chunks of a part with the reasons of their edges."""
    part = chosen_part(load_score(args.file), args.part)
    made = split_at_edges(part, NestedMap(), _edges(part, str(args.by)))
    return [
        {
            "label": span_label(part, span),
            "start": _position_row(part, span.start),
            "end": _position_row(part, span.end),
            "landing": span.landing,
            "reasons": list(made.reasons_at(span.start)) or ["the start"],
        }
        for span in made.level(part, 0).spans
    ]
