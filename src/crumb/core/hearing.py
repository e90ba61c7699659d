"""Hearings: who is heard first, what a judgement needs, and faults that several have."""

from collections.abc import Hashable, Iterable
from dataclasses import dataclass
from datetime import date
from typing import TypeVar

from crumb.core.errors import HearingRefused
from crumb.core.evidence.slips import CHECKLIST, STYLE
from crumb.core.mastery.levels import AT_TEMPO, KEPT
from crumb.core.plan.cures import CURES_BY_KEY
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span

_SEVERAL = 2
_JUDGED_AT = {STYLE: AT_TEMPO}
"""Lines of the checklist that are judged at one level alone: what lacks them goes no higher."""


def turn(level: int, due_on: date | None, today: date, *, has_take: bool = False) -> int:
    """When somebody is heard: who handed a take in, who can be confirmed, who is due, the others.

    Within a turn nobody comes before anybody else.
    """
    if has_take:
        return 0
    if level == AT_TEMPO:
        return 1
    return 2 if due_on is not None and due_on <= today else 3


@dataclass(frozen=True, slots=True)
class Verdict:
    """A verdict on a chunk: the level, why, what the checklist lacks, where it slipped."""

    level: int
    reason: str = ""
    missing: tuple[str, ...] = ()
    slips: tuple[Position, ...] = ()
    cure: str = ""


def checklist(*, has_style: bool) -> tuple[tuple[str, int | None], ...]:
    """The checklist of a chunk: each line with the level at which it is judged; None: at any.

    ``has_style``: whether it was said how it is to be played.
    """
    return tuple((line, _JUDGED_AT.get(line)) for line in CHECKLIST if has_style or line != STYLE)


def check_verdict(part: Part, span: Span, verdict: Verdict, *, before: int) -> None:
    """Whether a verdict can stand; ``before`` is the level until then.

    Raises:
        HearingRefused: it goes down without a reason, or says what cannot be said of this chunk.
    """
    if not 0 <= verdict.level <= KEPT:
        raise HearingRefused("Levels go from 0 to 6.")
    if verdict.level < before and not verdict.reason.strip():
        raise HearingRefused(f"It stands at {before}: say why it goes down.")
    if set(verdict.missing) - set(CHECKLIST):
        raise HearingRefused("This is not on the checklist.")
    for line in verdict.missing:
        if _JUDGED_AT.get(line, verdict.level) != verdict.level:
            raise HearingRefused(f"{line} is judged last: what lacks it stays at {AT_TEMPO}.")
    if verdict.cure and verdict.cure not in CURES_BY_KEY:
        raise HearingRefused("No cure is known for that.")
    if not all(_is_inside(part, span, at) for at in verdict.slips):
        raise HearingRefused("That place is outside of the chunk.")


def _is_inside(part: Part, span: Span, at: Position) -> bool:
    """In the chunk, or on the note it lands on."""
    if not span.start <= at or at.index >= len(part.measures):
        return False
    if at.at >= part.measures[at.index].length:
        return False
    return at <= span.end if span.landing else at < span.end


Where = TypeVar("Where", bound=Hashable)
Whose = TypeVar("Whose", bound=Hashable)


def shared_faults(
    heard: Iterable[tuple[Where, str, Whose]],
) -> list[tuple[Where, str, tuple[Whose, ...]]]:
    """Faults that two or more have in one place, those of most first: place, symptom, whose."""
    found: dict[tuple[Where, str], list[Whose]] = {}
    for where, symptom, whose in heard:
        found.setdefault((where, symptom), []).append(whose)
    several = [
        (where, symptom, tuple(dict.fromkeys(whose)))
        for (where, symptom), whose in found.items()
        if len(set(whose)) >= _SEVERAL and symptom in CURES_BY_KEY
    ]
    return sorted(several, key=lambda fault: -len(fault[2]))
