"""Rebuild levels and climbs from evidence, and name every difference to what was stored."""

from dataclasses import dataclass
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.intake.climbs import climb_of, replay_climb
from crumb.services.evidence import levels
from crumb.store.codecs.mastery import climb_row
from crumb.store.queries import evidence as kept
from crumb.store.queries import locks
from crumb.store.queries.sending import drill_of
from crumb.store.tables import AssignmentItem, Chunk, Mastery


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
    rows = session.execute(
        select(
            Mastery.student_id,
            Mastery.chunk_id,
            Mastery.level,
            Mastery.proved_bpm,
            Mastery.clean,
            Mastery.slips,
            Mastery.last_id,
            Mastery.fold,
        )
        .join(Chunk, Chunk.id == Mastery.chunk_id)
        .where(Chunk.part_id == part_id)
    )
    said = {}
    for student, chunk, level, proved, clean, slips, last, fold in rows:
        if last is None:
            said[student, chunk] = f"level {level}, nothing folded in"
        else:
            more = sorted(fold.items())
            said[student, chunk] = f"level {level}, {proved}, {clean}, {slips}, {last}, {more}"
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
