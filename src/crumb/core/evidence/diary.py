"""A student's diary of practice: what is no repetition and still worth telling.

Minutes are counted by category; how it feels, a tone experiment, the stamina of slow work and two
lines a week are the student's own words, for the student and the teacher.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum


class DiaryKind(StrEnum):
    """The kind of a diary line; its shape is that of its class on the wire."""

    MINUTES = "minutes"
    FEELING = "feeling"
    TONE = "tone"
    STAMINA = "stamina"
    JOURNAL = "journal"
    BOOKMARK = "bookmark"
    REFUSED = "refused"


class Feeling(StrEnum):
    """A report of the body while playing."""

    TIRED = "tired"
    TIGHT = "tight"
    HURTS = "hurts"


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a diary."""

    at: datetime
    day: date
    kind: DiaryKind
    said: Mapping[str, object]


def seconds_by_category(lines: Iterable[Line]) -> dict[str, int]:
    """Seconds of practice and of playing, by category, in the order that they first came."""
    found: dict[str, int] = {}
    for line in lines:
        if line.kind is DiaryKind.MINUTES:
            category = str(line.said["category"])
            found[category] = found.get(category, 0) + int(str(line.said["seconds"]))
    return found
