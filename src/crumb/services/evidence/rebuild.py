"""Rebuild levels and climbs from evidence, and name every difference to what was stored."""

from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.intake.climbs import climb_of, replay_climb
from crumb.services.evidence import levels
from crumb.store.codecs.mastery import climb_row
from crumb.store.queries import evidence as kept
from crumb.store.queries import locks, mastery
from crumb.store.queries.sending import drill_of
from crumb.store.tables import AssignmentItem


@dataclass(frozen=True, slots=True)
class Difference:
    """Something stored that its evidence does not say."""

    what: str
    student_id: UUID
    of: UUID
    """The chunk of a level, the sent drill of a climb."""
    stored: str
    true: str


def rebuild_levels(session: Session, part_id: UUID) -> list[Difference]:
    """Work the levels of a part out anew, store them, and say where what was stored differed."""
    locks.have_part(session, part_id)
    return _levels(session, part_id)


def rebuild_climbs(session: Session, item_id: UUID) -> list[Difference]:
    """Work the climbs of a drill that was sent out anew; see :func:`rebuild_levels`."""
    return _climbs(session, session.get_one(AssignmentItem, item_id))


def _levels(session: Session, part_id: UUID) -> list[Difference]:
    part = levels.graded(session, part_id)
    chunks = levels.chunks_of_part(session, part)
    before = _stored(session, part_id)
    levels.refold(session, part, chunks)
    session.flush()
    after = _stored(session, part_id)
    nothing = "level 0, nothing folded in"
    return [
        Difference("level", *key, before.get(key, nothing), told)
        for key, told in after.items()
        if before.get(key, nothing) != told
    ]


def _stored(session: Session, part_id: UUID) -> dict[tuple[UUID, UUID], str]:
    said = {}
    for row in mastery.stored_levels(session, part_id):
        told = f"level {row.level}, nothing folded in"
        if row.last_id is not None:
            counts = f"{row.proved_bpm}, {row.clean}, {row.slips}"
            told = f"level {row.level}, {counts}, {row.last_id}, {sorted(row.fold.items())}"
        said[row.student_id, row.chunk_id] = told
    return said


def _climbs(session: Session, item: AssignmentItem) -> list[Difference]:
    if item.frozen is None:
        return []
    plan = drill_of(item).plan
    players = sorted(kept.players_of(session, item.id))
    for student_id in players:
        locks.have_student(session, student_id)
    stored, played = kept.climbs_on(session, item.id), kept.played_on(session, item.id)
    found, rows = [], []
    for student_id in players:
        before = climb_of(plan, stored.get(student_id))
        true = replay_climb(plan, played.get(student_id, ()))
        if before != true:
            found.append(Difference("climb", student_id, item.id, str(before), str(true)))
            rows.append(climb_row(item.id, student_id, true.climb, true.last))
    kept.put(session, climbs=rows)
    return found
