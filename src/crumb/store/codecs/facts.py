"""Codec of the facts that a director sees of a part."""

from dataclasses import asdict, dataclass, field, fields
from typing import Any


@dataclass(frozen=True, slots=True)
class PartFacts:
    """A part at a glance. Numbers here are shown, never reckoned with."""

    key_fifths: int = 0
    mode: str = ""
    time: str = ""
    tempo: float | None = None
    tempo_beat: str | None = None
    measures: int = 0
    last_number: str = ""
    has_pickup: bool = False
    notes: int = 0
    findings: list[str] = field(default_factory=list)
    transpose: int = 0
    playing_seconds: float = 0.0
    measures_played: int = 0


_NAMES = frozenset(f.name for f in fields(PartFacts))


def facts_to_json(facts: PartFacts) -> dict[str, Any]:
    """Facts."""
    return asdict(facts)


def facts_from_json(kept: dict[str, Any]) -> PartFacts:
    """Facts read again; those that a part from an earlier time does not have are plain."""
    return PartFacts(**{name: value for name, value in kept.items() if name in _NAMES})
