"""Hearings: who is to be heard, what was judged, faults that several have."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Hearer, Sender, Today, Watcher
from crumb.api.once import answered_once
from crumb.api.schemas.hearing import (
    ChecklistLineOut,
    CureAllIn,
    CuredOut,
    FaultKindOut,
    FaultOut,
    FaultStudent,
    JudgedIn,
    JudgedOut,
    JudgesSheetOut,
    WaitingOut,
)
from crumb.api.views.hearing import last_hearing_out
from crumb.api.views.places import chunk_out, position_in
from crumb.api.views.takes import style_out, take_out
from crumb.api.views.wall import cure_out
from crumb.core.evidence.slips import LABELS
from crumb.core.hearing import checklist
from crumb.services import hearing
from crumb.services.hearing import Judged, SlipHeard, Waiting

router = APIRouter(tags=["hearing"])


@router.get(
    "/hearing/{part_id}/{section_id}/{chunk_id}",
    operation_id="getJudgesSheet",
)
def get_sheet(
    part_id: UUID, section_id: UUID, chunk_id: UUID, actor: Watcher, session: Db, today: Today
) -> JudgesSheetOut:
    """A chunk with those who wait to be heard on it."""
    found = hearing.sheet(session, actor, part_id, section_id, chunk_id, today)
    return JudgesSheetOut(
        chunk=chunk_out(found.chunk),
        waiting=[_waiting(one, found.least_seconds) for one in found.waiting],
        kinds=[FaultKindOut(key=key, label=label) for key, label in LABELS.items()],
        checklist=[
            ChecklistLineOut(line=line, judged_at=level)
            for line, level in checklist(has_style=bool(found.style))
        ],
        watch=list(found.watch),
        style=[style_out(one) for one in found.style],
    )


def _waiting(one: Waiting, least: int) -> WaitingOut:
    return WaitingOut(
        student_id=one.student_id,
        name=one.name,
        level=one.cell.level,
        why=one.cell.why,
        due_on=one.cell.due_on,
        last=last_hearing_out(one.last),
        takes=[take_out(take, least) for take in one.takes],
    )


@router.post("/hearing/{part_id}", operation_id="judge", status_code=201)
def judge(part_id: UUID, body: JudgedIn, actor: Hearer, session: Db) -> JudgedOut:
    """Keep what was heard: it sets the level, up, or down with a reason."""
    row = hearing.judge(
        session,
        actor,
        part_id,
        Judged(
            id=body.id,
            student_id=body.student_id,
            chunk_id=body.chunk_id,
            level=body.level,
            reason=body.reason,
            went_well=body.went_well,
            one_thing=body.one_thing,
            missing=tuple(body.missing),
            slips=tuple(SlipHeard(position_in(one.at), one.what) for one in body.slips),
            cure=body.cure,
            take_id=body.take_id,
        ),
    )
    level, why = hearing.level_after(session, row)
    return JudgedOut(id=row.id, level=level, before=row.before, why=why)


@router.delete("/hearing/taken/{hearing_id}", operation_id="takeHearingBack", status_code=204)
def take_back(hearing_id: UUID, actor: Hearer, session: Db) -> None:
    """Take a hearing back; the record of it stays."""
    hearing.take_back(session, actor, hearing_id)


@router.get("/hearing/{part_id}/faults", operation_id="listFaults")
def list_faults(part_id: UUID, actor: Watcher, session: Db) -> list[FaultOut]:
    """Faults that two or more have on one chunk."""
    return [
        FaultOut(
            chunk=chunk_out(fault.chunk),
            cure=cure_out(fault.cure),
            students=[FaultStudent(id=student, name=name) for student, name in fault.students],
        )
        for fault in hearing.faults(session, actor, part_id)
    ]


@router.post("/hearing/{part_id}/cure", operation_id="cureAll", status_code=201)
def cure_all(part_id: UUID, body: CureAllIn, actor: Sender, session: Db, today: Today) -> CuredOut:
    """Send the cure of a fault to everybody who has it, in one act."""
    wish = hearing.CureRequest(body.chunk_id, body.symptom, body.due_on, body.minutes_a_day)

    def cure() -> CuredOut:
        drill, students = hearing.cure_all(session, actor, part_id, wish, today)
        return CuredOut(drill=drill, students=students)

    return answered_once(session, actor, body.id, "cure", cure, CuredOut)
