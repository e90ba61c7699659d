"""Codec of import reports."""

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any


class Said(StrEnum):
    """The topic of a report's line."""

    READ = "read"
    REMARK = "remark"
    NOT_KEPT = "not-kept"
    MOVED = "moved"


@dataclass(frozen=True, slots=True)
class ReportLine:
    """One thing said about an import, of one part or (no part) of all of it."""

    kind: Said
    part: str
    text: str


def report_to_json(lines: Iterable[ReportLine]) -> list[dict[str, Any]]:
    """A report."""
    return [{"kind": line.kind, "part": line.part, "text": line.text} for line in lines]


def report_from_json(kept: Iterable[dict[str, Any]]) -> list[ReportLine]:
    """A report read again."""
    return [ReportLine(Said(row["kind"]), row["part"], row["text"]) for row in kept]
