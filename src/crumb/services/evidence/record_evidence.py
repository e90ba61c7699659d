"""The one writer of evidence: whatever says how a student played comes in here.

In one transaction it is stored and the levels and climbs that follow from it are brought up to
date. The same thing handed in twice changes nothing. The writing is a plan (``store.pipeline``), so
that a whole class can hand in on a few connections and everything else on an ordinary session.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from fractions import Fraction
from functools import lru_cache, partial
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Doubt, Evidence, Kind, Rhythm, Source, What
from crumb.core.evidence.plausibility import ExpectedPass, Neighbours, doubt_of
from crumb.core.score.position import Span
from crumb.core.tempo.climb import Climb, advance, is_jump, start_climb
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence.climbs import played
from crumb.services.evidence.level_changes import (
    PartChanges,
    in_later_versions,
    levels_after,
    ranges_of,
)
from crumb.services.evidence.sent_drills import SentDrillFacts, known_drills, received_drills
from crumb.services.people.signing_in import CachedSession
from crumb.store.codecs.evidence import evidence_row, exact
from crumb.store.codecs.mastery import climb_row
from crumb.store.pipeline import Script, batch, run
from crumb.store.queries import record_evidence as ask
from crumb.store.queries.record_evidence import ClimbState, State, StoredEvidence


@dataclass(frozen=True, slots=True)
class AssignedRepetition:
    """A repetition of a step that was sent. ``tempo`` is None without a click."""

    id: UUID
    item_id: UUID
    step: int
    tempo: Fraction | None
    is_clean: bool
    at: datetime
    reason: str = ""
    source: Source = Source.SELF


@dataclass(frozen=True, slots=True)
class UnassignedEvidence:
    """A repetition or a hearing of a span of a part that belongs to nothing that was sent."""

    id: UUID
    part_id: UUID
    span: Span
    at: datetime
    tempo: Fraction | None = None
    is_clean: bool | None = True
    kind: Kind = Kind.PROVE
    as_written: bool = True
    is_aided: bool = False
    rhythm: Rhythm = Rhythm.WRITTEN
    source: Source = Source.SELF
    level: int | None = None
    by_id: UUID | None = None
    reason: str = ""
    asked: ExpectedPass | None = None
    """What one pass is, where it can be told: what nobody can play is doubted."""


@dataclass(slots=True)
class Recorded:
    """What handing in changed, and nothing else: climbs by drill, levels by chunk, doubts by id.

    A climb is told, too, where something is doubted: the device that handed it in counted it.
    """

    climbs: dict[UUID, Climb] = field(default_factory=dict)
    levels: dict[UUID, int] = field(default_factory=dict)
    doubts: dict[UUID, Doubt] = field(default_factory=dict)


def hand_in(
    session: Session,
    actor: Actor,
    handed_in: Sequence[AssignedRepetition],
    taken_back: Sequence[UUID] = (),
    noted: Sequence[UnassignedEvidence] = (),
) -> Recorded:
    """Store what a student played, and what was taken back of it; see :func:`record_evidence`."""
    return run(session, record_evidence(actor, actor.person_id, handed_in, noted, taken_back))


def note(
    session: Session, actor: Actor, student_id: UUID, noted: Sequence[UnassignedEvidence]
) -> Recorded:
    """Store what was noted of a student outside of anything sent: in free practice, or heard.

    The caller has seen to it that ``actor`` may.
    """
    return run(session, record_evidence(actor, student_id, (), noted))


def take_back_of(
    session: Session, actor: Actor, student_id: UUID, taken_back: Sequence[UUID]
) -> None:
    """Take something back of a student."""
    run(session, record_evidence(actor, student_id, (), (), taken_back))


def store_ticks(
    session: Session, actor: Actor, student_id: UUID, handed_in: Sequence[AssignedRepetition]
) -> None:
    """Store what a sheet of paper says a student played."""
    run(session, record_evidence(actor, student_id, handed_in))


def record_evidence(
    actor: Actor,
    student_id: UUID,
    handed_in: Sequence[AssignedRepetition],
    noted: Sequence[UnassignedEvidence] = (),
    taken_back: Sequence[UUID] = (),
    guess: CachedSession | None = None,
) -> Script[Recorded]:
    """The script that stores how somebody played, with the levels and climbs that follow.

    What a step was is read from what was sent, not from the device. What cannot be is kept all the
    same, but proves nothing (``core.evidence.plausibility``). A repetition and its taking back may
    come together.

    Args:
        actor: whose program it is in; hands it in, unless it was noted of somebody else.
        student_id: who played.
        handed_in: repetitions of drills that were sent.
        noted: repetitions and hearings that belong to none.
        taken_back: ids of repetitions, old or of these.
        guess: ``actor``, if that is still to be proved: nothing is told or written before it is.

    Raises:
        NotSignedIn: the guess was wrong.
        NotFound: a drill or step the student was not sent, or nothing of theirs to take back.
        NotAccepted: an id that belongs to somebody else.
    """
    drills = yield from received_drills(
        actor.program_id, student_id, [one.item_id for one in handed_in]
    )
    _check_steps(handed_in, drills)
    gone = set(taken_back)
    everything: list[AssignedRepetition | UnassignedEvidence] = [*handed_in, *noted]
    in_order = sorted(everything, key=lambda one: (one.at, one.id.int))
    spans: dict[UUID, set[Span]] = {}
    for one in in_order:
        part_id, span = _where(one, drills)
        spans.setdefault(part_id, set()).add(span)
    ids = list(dict.fromkeys([*(one.id for one in in_order), *taken_back]))
    items = list(drills)
    roots = {known.root_id for known in drills.values()}
    if gone or noted:
        (more,) = yield batch(ask.roots_of((one.part_id for one in noted), gone))
        roots |= {row[0] for row in more}
    proof = () if guess is None else (guess.ask,)
    *proved, _, rows = yield batch(
        *proof,
        ask.locks(student_id, roots),
        ask.state_of(
            student_id,
            items=items,
            ids=ids,
            gone=list(gone),
            moments=[one.at for one in in_order],
            ranges=ranges_of(spans),
        ),
    )
    if guess is not None:
        guess.prove(proved[0])
    state = ask.read_state(rows[0][0])
    _check_owner(state, student_id, gone, {one.id for one in in_order})
    made = _Made(actor, student_id, drills, state, gone, datetime.now(UTC))
    for one, near in zip(in_order, state.around, strict=True):
        if one.id not in state.known:
            made.take(one, near)
    old = [row for row in state.known.values() if row.id in gone]
    touched = made.touched(old)
    if _reaches_further(touched, state, spans):
        state = yield from _wider(student_id, touched, state)
        touched = in_later_versions(touched, state.parts)
    levels = yield from levels_after(student_id, touched, state, gone)
    climbs = yield from _climbs_anew(made, old, student_id, gone)
    yield batch(
        ask.put_all(
            evidence=made.rows,
            mastery=levels,
            climbs=[climb_row(i, student_id, c.climb, c.last) for i, c in climbs.items()],
            gone=gone,
        ),
        is_last=True,
    )
    told = {**made.where_doubted(), **climbs}
    return Recorded(
        {item_id: place.climb for item_id, place in told.items()},
        {row["chunk_id"]: row["level"] for row in levels},
        made.doubts,
    )


def _check_steps(
    handed_in: Sequence[AssignedRepetition], drills: Mapping[UUID, SentDrillFacts]
) -> None:
    for one in handed_in:
        if one.step not in drills[one.item_id].steps:
            raise NotFound("This drill has no such step.")


def _where(
    one: AssignedRepetition | UnassignedEvidence, drills: Mapping[UUID, SentDrillFacts]
) -> tuple[UUID, Span]:
    if isinstance(one, UnassignedEvidence):
        return one.part_id, one.span
    drill = drills[one.item_id]
    return drill.part_id, drill.steps[one.step].span


def _check_owner(state: State, student_id: UUID, gone: set[UUID], new: set[UUID]) -> None:
    if any(row.student_id != student_id for row in state.known.values()):
        raise NotAccepted("This repetition has the mark of another one; play it again.")
    if not gone <= state.known.keys() | new:
        raise NotFound("There is no such repetition to take back.")


class _Made:
    """Rows, climbs and doubts as one thing after the other is taken in."""

    def __init__(
        self,
        actor: Actor,
        student_id: UUID,
        drills: Mapping[UUID, SentDrillFacts],
        state: State,
        gone: set[UUID],
        now: datetime,
    ) -> None:
        self._actor, self._student_id, self._drills = actor, student_id, drills
        self._gone, self._now = gone, now
        self._zone = _zone(actor.time_zone)
        self._nearest: datetime | None = None
        self._doubted: set[UUID] = set()
        self._places = {
            item_id: state.climbs.get(item_id) or ClimbState(start_climb(known.drill.plan), None)
            for item_id, known in drills.items()
        }
        self.rows: list[dict[str, Any]] = []
        self.evidence: list[tuple[UUID, Evidence]] = []
        self.doubts: dict[UUID, Doubt] = {}
        self.climbs: dict[UUID, ClimbState] = {}
        self.late: set[UUID] = set()
        self.on_items: dict[UUID, list[tuple[datetime, int, AssignedRepetition]]] = {}

    def take(self, one: AssignedRepetition | UnassignedEvidence, near: Neighbours) -> None:
        """Take in one thing, no earlier than those before it."""
        before = max((at for at in (near.before, self._nearest) if at is not None), default=None)
        doubt = self._doubt(one, Neighbours(before, near.after))
        row, evidence = self._row(one, doubt)
        self.rows.append(row)
        if one.id in self._gone:
            return
        part_id, _ = _where(one, self._drills)
        self.evidence.append((part_id, evidence))
        if doubt:
            self.doubts[one.id] = doubt
        if doubt not in (Doubt.NONE, Doubt.JUMP):
            if isinstance(one, AssignedRepetition):
                self._doubted.add(one.item_id)
            return
        if one.source is Source.SELF:
            self._nearest = one.at
        if isinstance(one, AssignedRepetition):
            self._climb(one)

    def _climb(self, one: AssignedRepetition) -> None:
        order = (one.at, one.id.int)
        place = self._places[one.item_id]
        self.on_items.setdefault(one.item_id, []).append((*order, one))
        if place.last is not None and order < place.last:
            self.late.add(one.item_id)
            return
        plan = self._drills[one.item_id].drill.plan
        after = advance(
            plan, place.climb, played(one.step, one.tempo, one.is_clean, one.at, one.source)
        )
        self._places[one.item_id] = self.climbs[one.item_id] = ClimbState(after, order)

    def _doubt(self, one: AssignedRepetition | UnassignedEvidence, near: Neighbours) -> Doubt:
        if one.source is Source.PAPER:
            return Doubt.NONE  # a day's ticks have no moments of their own
        if isinstance(one, UnassignedEvidence):
            if one.asked is None or one.source not in (Source.SELF, Source.HELPER):
                return Doubt.NONE
            return doubt_of(one.asked, tempo=one.tempo, at=one.at, around=near, now=self._now)
        known = self._drills[one.item_id]
        step = known.steps[one.step]
        asked = ExpectedPass(
            step.quarters, step.attacks, known.drill.beat, known.drill.goal, known.sent_at
        )
        climb = self._places[one.item_id].climb
        leaps = one.tempo is not None and is_jump(known.drill.plan, climb, one.tempo)
        return doubt_of(
            asked, tempo=one.tempo, at=one.at, around=near, now=self._now, is_jump=leaps
        )

    def _row(
        self, one: AssignedRepetition | UnassignedEvidence, doubt: Doubt
    ) -> tuple[dict[str, Any], Evidence]:
        part_id, span = _where(one, self._drills)
        evidence = Evidence(
            span=span,
            at=one.at,
            id=one.id.int,
            tempo=one.tempo,
            is_clean=bool(one.is_clean),
            source=one.source,
            doubt=doubt,
            day=one.at.astimezone(self._zone).date(),
        )
        row = partial(
            evidence_row,
            program_id=self._actor.program_id,
            student_id=self._student_id,
            part_id=part_id,
            zone=self._zone,
            reason=one.reason,
        )
        if isinstance(one, AssignedRepetition):
            step = self._drills[one.item_id].steps[one.step]
            evidence = replace(
                evidence,
                kind=step.kind,
                as_written=step.as_written,
                is_aided=step.is_aided,
                rhythm=step.rhythm,
            )
            return row(evidence, item_id=one.item_id, step=one.step, step_name=step.name), evidence
        if one.level is not None and one.by_id is None:
            raise NotAccepted("A hearing is somebody's: say whose.")
        evidence = replace(
            evidence,
            what=What.REPETITION if one.level is None else What.HEARING,
            kind=one.kind,
            as_written=one.as_written,
            is_aided=one.is_aided,
            rhythm=one.rhythm,
            level=one.level,
        )
        return row(evidence, by_id=one.by_id), evidence

    def where_doubted(self) -> dict[UUID, ClimbState]:
        """Where the climbs stand on which something was doubted."""
        return {item_id: self._places[item_id] for item_id in self._doubted}

    def touched(self, old: Sequence[StoredEvidence]) -> dict[UUID, PartChanges]:
        """What happened, by part."""
        new: dict[UUID, list[Evidence]] = {}
        for part_id, one in self.evidence:
            new.setdefault(part_id, []).append(one)
        gone: dict[UUID, list[Span]] = {}
        for row in old:
            gone.setdefault(row.part_id, []).append(row.span)
        return {
            part_id: PartChanges(tuple(new.get(part_id, ())), tuple(gone.get(part_id, ())))
            for part_id in {**new, **gone}
        }


@lru_cache(maxsize=64)
def _zone(name: str) -> ZoneInfo:
    return ZoneInfo(name)


def _reaches_further(
    touched: Mapping[UUID, PartChanges], state: State, spans: Mapping[UUID, set[Span]]
) -> bool:
    """Whether chunks are concerned that were not read: of later versions, or of what is gone."""
    has_later = any(part.replaces in touched for part in state.parts.values())
    return has_later or any(what.gone or part not in spans for part, what in touched.items())


def _wider(student_id: UUID, touched: Mapping[UUID, PartChanges], state: State) -> Script[State]:
    """The state with all the chunks concerned, in however many versions of their parts."""
    parts = dict(state.parts)
    while True:
        everything = in_later_versions(touched, parts)
        ranges = ranges_of({part_id: what.spans for part_id, what in everything.items()})
        (rows,) = yield batch(ask.state_of(student_id, ranges=ranges))
        found = ask.read_state(rows[0][0])
        if found.parts.keys() <= parts.keys():
            return State(state.known, state.climbs, state.around, parts, found.folds)
        parts |= found.parts


def _climbs_anew(
    made: _Made, old: Sequence[StoredEvidence], student_id: UUID, gone: set[UUID]
) -> Script[dict[UUID, ClimbState]]:
    """The climbs that changed; those with something late or taken back worked out anew."""
    climbs = dict(made.climbs)
    again = made.late | {row.item_id for row in old if row.item_id is not None}
    for item_id in sorted(again):
        drills = yield from known_drills([item_id])
        plan = drills[item_id].drill.plan
        (rows,) = yield batch(ask.on_item(item_id, student_id))
        reps = [
            (
                row[3],
                row[4].int,
                played(
                    row[0] or 0,
                    None if row[1] is None else exact(row[1]),
                    bool(row[2]),
                    row[3],
                    Source(row[5]),
                ),
            )
            for row in rows
            if row[4] not in gone
        ]
        reps += [
            (at, number, played(one.step, one.tempo, one.is_clean, one.at, one.source))
            for at, number, one in made.on_items.get(item_id, ())
        ]
        place = ClimbState(start_climb(plan), None)
        for at, number, rep in sorted(reps, key=lambda r: r[:2]):
            place = ClimbState(advance(plan, place.climb, rep), (at, number))
        climbs[item_id] = place
    return climbs
