"""Assignments: preview, send, list, take back."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api import views
from crumb.api.deps import Db, Director, Today
from crumb.api.schemas import (
    AssignedItem,
    AssignIn,
    AssignmentOut,
    AssignPreview,
    ItemGotOut,
    StudentGetsOut,
)
from crumb.core.drills import drill_kind
from crumb.services import assigning

router = APIRouter(tags=["assignments"])


def _wish(body: AssignIn) -> assigning.Wish:
    return assigning.Wish(
        part_id=body.part_id,
        section_id=body.section_id,
        due_on=body.due_on,
        minutes_a_day=body.minutes_a_day,
        left_out=frozenset(body.left_out),
        items=tuple(
            assigning.ItemWish(
                item.chunk_id, item.drill, item.settings, views.ladder_in(item.ladder)
            )
            for item in body.items
        ),
    )


@router.post("/assignments/preview", operation_id="previewAssignment")
def preview_assignment(body: AssignIn, who: Director, session: Db, today: Today) -> AssignPreview:
    """What each student will get, before anything is sent."""
    made = assigning.preview(session, who, _wish(body), today)
    return AssignPreview(
        climb_seconds=made.climb_seconds,
        available_seconds=made.available_seconds,
        days=made.days,
        students=[
            StudentGetsOut(
                student_id=student.student_id,
                name=student.name,
                is_left_out=student.is_left_out,
                items=[
                    ItemGotOut(
                        chunk=got.chunk.label,
                        drill=drill_kind(got.drill).title,
                        seconds=got.seconds,
                        level=got.level,
                    )
                    for got in student.items
                ],
            )
            for student in made.students
        ],
    )


@router.post("/assignments", operation_id="sendAssignment", status_code=201)
def send_assignment(
    body: AssignIn, who: Director, session: Db, today: Today
) -> list[AssignmentOut]:
    """Send it; the list of all assignments comes back, newest first."""
    assigning.send(session, who, _wish(body), today)
    return list_assignments(who, session)


@router.get("/assignments", operation_id="listAssignments")
def list_assignments(who: Director, session: Db) -> list[AssignmentOut]:
    """All assignments, newest first."""
    return [
        AssignmentOut(
            id=view.assignment.id,
            title=view.title,
            part=view.part_name,
            part_id=view.assignment.part_id,
            section=view.section_name,
            section_id=view.assignment.section_id,
            due_on=view.assignment.due_on,
            minutes_a_day=view.assignment.minutes_a_day,
            sent_at=view.assignment.sent_at,
            withdrawn=view.assignment.withdrawn_at is not None,
            students=view.students,
            items=[
                AssignedItem(chunk=chunk, drill=drill_kind(drill).title)
                for chunk, drill in view.items
            ],
        )
        for view in assigning.list_assignments(session, who)
    ]


@router.post("/assignments/{assignment_id}/withdraw", operation_id="withdrawAssignment")
def withdraw_assignment(assignment_id: UUID, who: Director, session: Db) -> list[AssignmentOut]:
    """Take it back; what was played on it stays."""
    assigning.withdraw(session, who, assignment_id)
    return list_assignments(who, session)


@router.post("/assignments/{assignment_id}/restore", operation_id="restoreAssignment")
def restore_assignment(assignment_id: UUID, who: Director, session: Db) -> list[AssignmentOut]:
    """Bring a withdrawn assignment back."""
    assigning.withdraw(session, who, assignment_id, back=True)
    return list_assignments(who, session)
