"""The lines of a kept rehearsal as JSON and back.

A plan is stored whole, so that levels of later days do not rewrite what was planned; a line that
works on a passage keeps its measures beside its name.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from crumb.core.rehearsal.planner import Meanwhile, RehearsalItem
from crumb.core.rehearsal.room_drills import ROOM_DRILLS
from crumb.core.score_overview.passages import ScorePassage


@dataclass(frozen=True, slots=True)
class KeptItem:
    """A line of a rehearsal with the passage it works on, if on any."""

    item: RehearsalItem
    passage: ScorePassage | None


def items_to_json(
    items: Iterable[RehearsalItem], passages: Sequence[ScorePassage]
) -> list[dict[str, Any]]:
    """Lines of a plan on a score of these passages."""
    return [_to_json(item, passages) for item in items]


def _to_json(item: RehearsalItem, passages: Sequence[ScorePassage]) -> dict[str, Any]:
    passage = None if item.passage is None else passages[item.passage]
    return {
        "kind": item.kind,
        "name": item.name,
        "minutes": item.minutes,
        "why": item.why,
        "do": item.do,
        "tempo": item.tempo,
        "drill": None if item.drill is None else item.drill.key,
        "measures": None if passage is None else [passage.first, passage.last],
        "sections": list(item.sections),
        "meanwhile": [[one.section, one.say] for one in item.meanwhile],
        "written": [list(one) for one in item.written],
    }


def items_from_json(rows: Iterable[Mapping[str, Any]]) -> tuple[KeptItem, ...]:
    """Lines as they were kept."""
    return tuple(_from_json(row) for row in rows)


def _from_json(row: Mapping[str, Any]) -> KeptItem:
    drill, measures = row["drill"], row["measures"]
    item = RehearsalItem(
        kind=row["kind"],
        name=row["name"],
        minutes=row["minutes"],
        why=row["why"],
        do=row["do"],
        sections=tuple(row["sections"]),
        tempo=row["tempo"],
        drill=None if drill is None else ROOM_DRILLS[drill],
        meanwhile=tuple(Meanwhile(section, say) for section, say in row["meanwhile"]),
        written=tuple((section, key) for section, key in row["written"]),
    )
    if measures is None:
        return KeptItem(item, None)
    first, last = measures
    return KeptItem(item, ScorePassage(first, last, row["name"]))
