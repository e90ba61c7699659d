"""The one writer of evidence: whatever says how a student played comes in here.

Load, decide, store, in one transaction: what there was is read under the student's lock, the core
decides what came in means (``core.intake``), and evidence, levels and climbs are written by one
statement. The same thing handed in twice changes nothing. It is a script (``store.pipeline``), so
that a whole class can hand in on a few connections and everything else on an ordinary session.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Doubt
from crumb.core.intake.climbs import replay_climb
from crumb.core.intake.decision import Decision, decide, in_order, place_of
from crumb.core.intake.facts import (
    Arrival,
    AssignedRepetition,
    Before,
    ClimbState,
    SentDrillFacts,
    UnassignedEvidence,
)
from crumb.core.intake.levels import (
    ChunkLevel,
    PartChanges,
    advance_levels,
    in_later_versions,
    measures_of,
    replay_levels,
)
from crumb.core.mastery.replay import standing_of
from crumb.core.score.position import Span
from crumb.core.tempo.climb import Climb
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence.part_history import part_history
from crumb.services.evidence.sent_drills import known_drills, received_drills
from crumb.services.people.signing_in import CachedSession
from crumb.store.codecs.evidence import evidence_row
from crumb.store.codecs.intake import before_from, repetitions_from
from crumb.store.codecs.mastery import climb_row, mastery_row
from crumb.store.pipeline import Script, batch, run
from crumb.store.queries import record_evidence as ask


@dataclass(slots=True)
class Recorded:
    """The changes that a hand-in made: climbs by drill, levels by chunk, doubts by id.

    A climb is told, too, where something is doubted: the device that handed it in counted it.
    """

    climbs: dict[UUID, Climb] = field(default_factory=dict)
    levels: dict[UUID, int] = field(default_factory=dict)
    doubts: dict[UUID, Doubt] = field(default_factory=dict)


def hand_in(
    session: Session,
    actor: Actor,
    repetitions: Sequence[AssignedRepetition],
    taken_back: Sequence[UUID] = (),
    unassigned: Sequence[UnassignedEvidence] = (),
) -> Recorded:
    """Store what a student played, and what was taken back; see :func:`record_evidence`."""
    arrivals: list[Arrival] = [*repetitions, *unassigned]
    return run(session, record_evidence(actor, actor.person_id, arrivals, taken_back))


def note(
    session: Session, actor: Actor, student_id: UUID, noted: Sequence[UnassignedEvidence]
) -> Recorded:
    """Store what was noted of a student outside of anything sent: in free practice, or heard.

    The caller has seen to it that ``actor`` may.
    """
    return run(session, record_evidence(actor, student_id, noted))


def take_back_of(
    session: Session, actor: Actor, student_id: UUID, taken_back: Sequence[UUID]
) -> None:
    """Take something back of a student."""
    run(session, record_evidence(actor, student_id, (), taken_back))


def store_ticks(
    session: Session, actor: Actor, student_id: UUID, ticked: Sequence[AssignedRepetition]
) -> None:
    """Store what a sheet of paper says a student played."""
    run(session, record_evidence(actor, student_id, ticked))


def record_evidence(
    actor: Actor,
    student_id: UUID,
    arrivals: Sequence[Arrival],
    taken_back: Sequence[UUID] = (),
    cached: CachedSession | None = None,
) -> Script[Recorded]:
    """The script that stores how somebody played, with the levels and climbs that follow.

    A repetition and its taking back may come together.

    Args:
        actor: whose program it is in; hands it in, unless it was noted of somebody else.
        student_id: who played.
        arrivals: repetitions of drills that were sent, and evidence that belongs to none.
        taken_back: ids of repetitions, old or of these.
        cached: ``actor``, if that is still to be proved: nothing is told or written before it is.

    Raises:
        NotSignedIn: the cached session was wrong.
        NotFound: a drill or step the student was not sent, or nothing of theirs to take back.
        NotAccepted: an id that belongs to somebody else.
    """
    items = [one.item_id for one in arrivals if isinstance(one, AssignedRepetition)]
    drills = yield from received_drills(actor.program_id, student_id, items)
    _check_steps(arrivals, drills)
    ordered, gone = in_order(arrivals), set(taken_back)
    before, spans = yield from _load(student_id, ordered, gone, drills, cached)
    _check_owner(before, student_id, gone, {one.id for one in ordered})
    decision = decide(
        ordered, gone, drills, before, now=datetime.now(UTC), zone=_zone(actor.time_zone)
    )
    changes = decision.changes
    if _reaches_further(changes, before, spans):
        before = yield from _wider(student_id, changes, before)
        changes = in_later_versions(changes, before.parts)
    levels = yield from _levels(student_id, changes, before, gone)
    climbs = yield from _climbs(student_id, decision, gone)
    level_rows = [
        mastery_row(student_id, chunk.chunk_id, state, standing_of(state, chunk.target))
        for chunk, state in levels
    ]
    yield batch(
        ask.put_all(
            evidence=_rows(actor, student_id, decision),
            mastery=level_rows,
            climbs=[climb_row(item, student_id, c.climb, c.last) for item, c in climbs.items()],
            gone=gone,
        ),
        is_last=True,
    )
    return Recorded(
        {item: state.climb for item, state in {**decision.doubted, **climbs}.items()},
        {row["chunk_id"]: row["level"] for row in level_rows},
        decision.doubts,
    )


def _check_steps(arrivals: Iterable[Arrival], drills: Mapping[UUID, SentDrillFacts]) -> None:
    for one in arrivals:
        if isinstance(one, AssignedRepetition) and one.step not in drills[one.item_id].steps:
            raise NotFound("This drill has no such step.")


def _check_owner(before: Before, student_id: UUID, gone: set[UUID], new: set[UUID]) -> None:
    if any(row.student_id != student_id for row in before.known.values()):
        raise NotAccepted("This repetition has the mark of another one; play it again.")
    if not gone <= before.known.keys() | new:
        raise NotFound("There is no such repetition to take back.")


def _load(
    student_id: UUID,
    ordered: Sequence[Arrival],
    gone: set[UUID],
    drills: Mapping[UUID, SentDrillFacts],
    cached: CachedSession | None,
) -> Script[tuple[Before, dict[UUID, set[Span]]]]:
    """State before the batch, read under the student's lock, and the chunks it touches."""
    spans: dict[UUID, set[Span]] = {}
    for one in ordered:
        part_id, span = place_of(one, drills)
        spans.setdefault(part_id, set()).add(span)
    roots = {facts.root_id for facts in drills.values()}
    unassigned = [one.part_id for one in ordered if isinstance(one, UnassignedEvidence)]
    if gone or unassigned:
        (more,) = yield batch(ask.roots_of(unassigned, gone))
        roots |= {row[0] for row in more}
    proof = () if cached is None else (cached.ask,)
    *proved, _, rows = yield batch(
        *proof,
        ask.locks(student_id, roots),
        ask.facts_of(
            student_id,
            items=list(drills),
            ids=list(dict.fromkeys([*(one.id for one in ordered), *gone])),
            gone=list(gone),
            moments=[one.at for one in ordered],
            ranges=measures_of(spans),
        ),
    )
    if cached is not None:
        cached.prove(proved[0])
    return before_from(rows[0][0]), spans


def _rows(actor: Actor, student_id: UUID, decision: Decision) -> list[dict[str, Any]]:
    return [
        evidence_row(
            entry.evidence,
            program_id=actor.program_id,
            student_id=student_id,
            part_id=entry.part_id,
            zone=_zone(actor.time_zone),
            item_id=entry.item_id,
            step=entry.step,
            step_name=entry.step_name,
            by_id=entry.by_id,
            reason=entry.reason,
        )
        for entry in decision.entries
    ]


@lru_cache(maxsize=64)
def _zone(name: str) -> ZoneInfo:
    return ZoneInfo(name)


def _reaches_further(
    changes: Mapping[UUID, PartChanges], before: Before, spans: Mapping[UUID, set[Span]]
) -> bool:
    """Whether chunks are concerned that were not read: of later versions, or of what is gone."""
    has_later = any(part.replaces in changes for part in before.parts.values())
    return has_later or any(here.gone or part not in spans for part, here in changes.items())


def _wider(student_id: UUID, changes: Mapping[UUID, PartChanges], before: Before) -> Script[Before]:
    """The state before, with all chunks concerned, in all versions of their parts."""
    parts = dict(before.parts)
    while True:
        everything = in_later_versions(changes, parts)
        ranges = measures_of({part_id: here.spans for part_id, here in everything.items()})
        (rows,) = yield batch(ask.facts_of(student_id, ranges=ranges))
        found = before_from(rows[0][0])
        if found.parts.keys() <= parts.keys():
            return replace(before, parts=parts, chunks=found.chunks)
        parts |= found.parts


def _levels(
    student_id: UUID, changes: Mapping[UUID, PartChanges], before: Before, gone: set[UUID]
) -> Script[list[ChunkLevel]]:
    """The levels that change; a history is read only where one must be replayed."""
    made = advance_levels(changes, before.chunks)
    levels = list(made.advanced)
    for part_id, chunks in made.to_replay.items():
        history = yield from part_history(part_id, student_id)
        levels += replay_levels(chunks, history, changes[part_id], gone)
    return levels


def _climbs(
    student_id: UUID, decision: Decision, gone: set[UUID]
) -> Script[dict[UUID, ClimbState]]:
    """The climbs that change; those with something late or taken back are replayed."""
    climbs = dict(decision.climbs)
    for item_id in sorted(decision.late):
        drills = yield from known_drills([item_id])
        (rows,) = yield batch(ask.on_item(item_id, student_id))
        stored = [one for one in repetitions_from(rows) if UUID(int=one.id) not in gone]
        came = decision.repetitions.get(item_id, ())
        climbs[item_id] = replay_climb(drills[item_id].drill.plan, (*stored, *came))
    return climbs
