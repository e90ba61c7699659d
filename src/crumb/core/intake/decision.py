"""The decision about a hand-in: evidence as it is stored, doubts, climbs, and what levels follow.

Pure: whoever calls has loaded what was there (:class:`~crumb.core.intake.facts.Before`) and stores
what comes out. What a step was is read from what was sent, not from the device. What cannot be is
kept all the same, but proves nothing (``core.evidence.plausibility``).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, tzinfo
from uuid import UUID

from crumb.core.evidence.model import Doubt, Evidence, Source, What
from crumb.core.evidence.plausibility import ExpectedPass, Neighbour, Neighbours, doubt_of
from crumb.core.intake.climbs import ClimbRepetition, advance_climb, climb_of
from crumb.core.intake.facts import (
    Arrival,
    AssignedRepetition,
    Before,
    ClimbState,
    SentDrillFacts,
    SentStepFacts,
    UnassignedEvidence,
)
from crumb.core.intake.levels import PartChanges
from crumb.core.score.position import Span
from crumb.core.tempo.climb import is_jump

_COUNTED = (Doubt.NONE, Doubt.JUMP)
"""What is doubted otherwise moves no climb."""


@dataclass(frozen=True, slots=True)
class Entry:
    """Evidence as it is to be stored, with where it belongs."""

    evidence: Evidence
    part_id: UUID
    item_id: UUID | None = None
    step: int | None = None
    step_name: str = ""
    by_id: UUID | None = None
    reason: str = ""


@dataclass(slots=True)
class Decision:
    """The effects of a hand-in.

    ``climbs`` moved by one step for each repetition; those of ``late`` must be replayed, with what
    came in (``repetitions``). ``doubted`` are drills whose device counted what is not counted.
    """

    entries: list[Entry] = field(default_factory=list)
    changes: dict[UUID, PartChanges] = field(default_factory=dict)
    doubts: dict[UUID, Doubt] = field(default_factory=dict)
    climbs: dict[UUID, ClimbState] = field(default_factory=dict)
    doubted: dict[UUID, ClimbState] = field(default_factory=dict)
    late: set[UUID] = field(default_factory=set)
    repetitions: dict[UUID, list[ClimbRepetition]] = field(default_factory=dict)


def in_order(arrivals: Sequence[Arrival]) -> list[Arrival]:
    """Arrivals in the order in which they were played."""
    return sorted(arrivals, key=lambda one: (one.at, one.id.int))


def place_of(one: Arrival, drills: Mapping[UUID, SentDrillFacts]) -> tuple[UUID, Span]:
    """The part that something was played on, and where."""
    if isinstance(one, UnassignedEvidence):
        return one.part_id, one.span
    drill = drills[one.item_id]
    return drill.part_id, drill.steps[one.step].span


def decide(
    arrivals: Sequence[Arrival],
    gone: set[UUID],
    drills: Mapping[UUID, SentDrillFacts],
    before: Before,
    *,
    now: datetime,
    zone: tzinfo,
) -> Decision:
    """Decide what some arrivals of one student change.

    Args:
        arrivals: in the order in which they were played; what is stored already is left out.
        gone: ids of what is taken back, stored or among the arrivals.
        drills: those that the repetitions are of.
        before: what there was; its neighbours are those of the arrivals.
        now: the server's clock.
        zone: the program's, which says on which day something was.
    """
    intake = _Intake(gone, drills, before, now, zone)
    for one, neighbours in zip(arrivals, before.neighbours, strict=True):
        if one.id not in before.known:
            intake.take(one, neighbours)
    return intake.decision()


class _Intake:
    """Takes in one arrival after the other, no earlier than those before it."""

    def __init__(
        self,
        gone: set[UUID],
        drills: Mapping[UUID, SentDrillFacts],
        before: Before,
        now: datetime,
        zone: tzinfo,
    ) -> None:
        self._gone, self._drills, self._before = gone, drills, before
        self._now, self._zone = now, zone
        self._nearest: Neighbour | None = None
        self._climbs = {
            item: climb_of(facts.drill.plan, before.climbs.get(item))
            for item, facts in drills.items()
        }
        self._new: dict[UUID, list[Evidence]] = {}
        self._doubted: set[UUID] = set()
        self._made = Decision()

    def take(self, one: Arrival, near: Neighbours) -> None:
        """One arrival."""
        earlier = [it for it in (near.before, self._nearest) if it is not None]
        last = max(earlier, key=lambda it: it.at, default=None)
        doubt = self._doubt(one, Neighbours(last, near.after))
        entry = self._entry(one, doubt)
        self._made.entries.append(entry)
        if one.id in self._gone:
            return
        self._new.setdefault(entry.part_id, []).append(entry.evidence)
        if doubt:
            self._made.doubts[one.id] = doubt
        if doubt in _COUNTED:
            if one.source is Source.SELF:
                self._nearest = Neighbour(one.at, bool(one.is_clean))
            if isinstance(one, AssignedRepetition):
                self._climb(one)
        elif isinstance(one, AssignedRepetition):
            self._doubted.add(one.item_id)

    def _climb(self, one: AssignedRepetition) -> None:
        repetition = ClimbRepetition(
            one.at, one.id.int, one.step, one.tempo, one.is_clean, one.source
        )
        state = self._climbs[one.item_id]
        self._made.repetitions.setdefault(one.item_id, []).append(repetition)
        if state.last is not None and repetition.order < state.last:
            self._made.late.add(one.item_id)
            return
        plan = self._drills[one.item_id].drill.plan
        after = advance_climb(plan, state, repetition)
        self._climbs[one.item_id] = self._made.climbs[one.item_id] = after

    def _doubt(self, one: Arrival, near: Neighbours) -> Doubt:
        if one.source is Source.PAPER:
            return Doubt.NONE  # a day's ticks have no moments of their own
        if isinstance(one, UnassignedEvidence):
            if one.expected is None or one.source not in (Source.SELF, Source.HELPER):
                return Doubt.NONE
            return self._doubt_of(one, one.expected, near)
        facts, step = self._drills[one.item_id], self._step_of(one)
        drill = facts.drill
        expected = ExpectedPass(step.quarters, step.attacks, drill.beat, drill.goal, facts.sent_at)
        climb = self._climbs[one.item_id].climb
        leaps = one.tempo is not None and is_jump(drill.plan, climb, one.tempo)
        return self._doubt_of(one, expected, near, is_jump=leaps)

    def _doubt_of(
        self, one: Arrival, expected: ExpectedPass, near: Neighbours, *, is_jump: bool = False
    ) -> Doubt:
        return doubt_of(
            expected,
            tempo=one.tempo,
            is_clean=bool(one.is_clean),
            at=one.at,
            around=near,
            now=self._now,
            is_jump=is_jump,
        )

    def _entry(self, one: Arrival, doubt: Doubt) -> Entry:
        part_id, span = place_of(one, self._drills)
        level = None if isinstance(one, AssignedRepetition) else one.level
        of = self._step_of(one) if isinstance(one, AssignedRepetition) else one
        evidence = Evidence(
            span=span,
            at=one.at,
            id=one.id.int,
            what=What.REPETITION if level is None else What.HEARING,
            tempo=one.tempo,
            is_clean=bool(one.is_clean),
            kind=of.kind,
            as_written=of.as_written,
            is_aided=of.is_aided,
            rhythm=of.rhythm,
            source=one.source,
            level=level,
            doubt=doubt,
            day=one.at.astimezone(self._zone).date(),
        )
        if isinstance(one, AssignedRepetition):
            name = self._step_of(one).name
            return Entry(evidence, part_id, one.item_id, one.step, name, None, one.reason)
        return Entry(evidence, part_id, by_id=one.by_id, reason=one.reason)

    def _step_of(self, one: AssignedRepetition) -> SentStepFacts:
        return self._drills[one.item_id].steps[one.step]

    def decision(self) -> Decision:
        """The decision on all arrivals, with retractions of what was stored."""
        made = self._made
        old = [row for row in self._before.known.values() if row.id in self._gone]
        gone: dict[UUID, list[Span]] = {}
        for row in old:
            gone.setdefault(row.part_id, []).append(row.span)
            if row.item_id is not None:
                made.late.add(row.item_id)
        made.changes = {
            part: PartChanges(tuple(self._new.get(part, ())), tuple(gone.get(part, ())))
            for part in {**self._new, **gone}
        }
        made.doubted = {item: self._climbs[item] for item in self._doubted}
        return made
