"""The invented weeks of a section, stored as evidence."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from random import Random
from typing import Any
from uuid import UUID, uuid4
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentStep
from crumb.core.evidence.model import Evidence
from crumb.demo.history import Invented, Player, practice, repetition_id
from crumb.services.access import Actor
from crumb.services.planning.plan_settings import PlanSettings, row_values
from crumb.store.codecs.evidence import evidence_row
from crumb.store.queries import evidence, sending
from crumb.store.tables import Assignment, AssignmentItem, PlanRow

DAYS_OF_HISTORY = 56


def long_over(
    session: Session, actor: Actor, sending_id: UUID, begun: datetime, ended: date
) -> Assignment:
    """What was sent, as if it had been asked for by a plan of before that is over."""
    sent = select(Assignment).where(Assignment.sending_id == sending_id)
    assignment = session.scalars(sent).one()
    wish = PlanSettings(
        assignment.part_id, assignment.section_id, ended, weekdays_off=frozenset({6})
    )
    plan = PlanRow(
        id=uuid4(),
        program_id=actor.program_id,
        part_id=assignment.part_id,
        section_id=assignment.section_id,
        starts_on=begun.date(),
        made_at=begun,
        withdrawn_at=datetime.now(UTC),
        **row_values(wish),
    )
    session.add(plan)
    session.flush()
    assignment.sent_at, assignment.due_on, assignment.plan_id = begun, ended, plan.id
    session.flush()
    return assignment


def play(
    session: Session,
    actor: Actor,
    assignment: Assignment,
    players: dict[UUID, Player],
    begun: datetime,
    apart: int = 4,
    at_most: int = DAYS_OF_HISTORY,
    salt: str = "",
) -> None:
    """Everybody's weeks on what was sent; each next thing is begun some days after the last.

    Nobody stays with one thing for longer than ``at_most`` days. ``salt`` tells one part's chances
    from another's.
    """
    for item in sending.items_of(session, [assignment.id])[assignment.id]:
        drill = replace(sending.drill_of(item), steps=tuple(sending.steps_of(session, item.id)))
        rows: list[dict[str, Any]] = []
        for place, (student, how) in enumerate(players.items()):
            random = Random(f"{salt}{item.place} {place}")  # noqa: S311 - invented history
            start = _afternoon(begun, actor) + timedelta(days=apart * item.place)
            days = min(DAYS_OF_HISTORY - apart * item.place - 1, at_most)
            rows += (
                _row(actor, assignment, item, student, drill.steps[made.step], made, random)
                for made in practice(drill, how, start, days, random)
            )
        evidence.put(session, evidence=rows)
    session.flush()


def _afternoon(day: datetime, actor: Actor) -> datetime:
    """Three o'clock where the school is."""
    here = day.astimezone(ZoneInfo(actor.time_zone))
    return here.replace(hour=15, minute=0, second=0, microsecond=0).astimezone(UTC)


def _row(
    actor: Actor,
    assignment: Assignment,
    item: AssignmentItem,
    student: UUID,
    step: SentStep,
    made: Invented,
    random: Random,
) -> dict[str, Any]:
    played = Evidence(
        span=step.covers,
        at=made.at,
        id=repetition_id(random, made.at).int,
        tempo=made.tempo,
        is_clean=made.is_clean,
        kind=step.kind,
        as_written=step.as_written,
        is_aided=step.is_aided,
        rhythm=step.rhythm,
    )
    return evidence_row(
        played,
        program_id=actor.program_id,
        student_id=student,
        part_id=assignment.part_id,
        zone=ZoneInfo(actor.time_zone),
        item_id=item.id,
        step=made.step,
        step_name=step.name,
    )
