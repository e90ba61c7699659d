"""Codec of chunk maps: edges with depth and reasons, and edges without a landing."""

from collections.abc import Iterable
from fractions import Fraction
from typing import Any

from crumb.core.score.position import Position
from crumb.core.split.nested import Edge


def edges_to_json(edges: Iterable[Edge]) -> list[dict[str, Any]]:
    """Edges."""
    return [{"depth": e.depth, **_place_to_json(e.at), "reasons": list(e.reasons)} for e in edges]


def edges_from_json(kept: Iterable[dict[str, Any]]) -> list[Edge]:
    """Edges read again."""
    return [Edge(_place(row), int(row["depth"]), tuple(row["reasons"])) for row in kept]


def quiet_to_json(quiet: Iterable[tuple[int, Position]]) -> list[dict[str, Any]]:
    """Ends of chunks (depth and place) that do not land."""
    return [{"depth": depth, **_place_to_json(at)} for depth, at in sorted(quiet)]


def quiet_from_json(kept: Iterable[dict[str, Any]]) -> frozenset[tuple[int, Position]]:
    """They, read again."""
    return frozenset((int(row["depth"]), _place(row)) for row in kept)


def _place_to_json(at: Position) -> dict[str, Any]:
    return {"index": at.index, "at": str(at.at)}


def _place(row: dict[str, Any]) -> Position:
    return Position(int(row["index"]), Fraction(row["at"]))
