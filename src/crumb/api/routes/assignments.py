"""Assignments: preview, send, list, change, take back."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Sender, Today, only_asks
from crumb.api.once import answered_once
from crumb.api.schemas.assignments import (
    AssignedItem,
    AssignIn,
    AssignmentOut,
    AssignPreview,
    ChangeAssignment,
    ItemGotOut,
    StudentGetsOut,
    WishedItem,
)
from crumb.api.views.drills import ladder_in
from crumb.core.drills import drill_kind
from crumb.services.sending import assignment_request, assignments, changes, lists, preview

router = APIRouter(tags=["assignments"])


def _wished(item: WishedItem) -> assignment_request.RequestedItem:
    return assignment_request.RequestedItem(
        item.chunk_id, item.drill, item.settings, ladder_in(item.ladder), item.role, item.every
    )


def _wish(body: AssignIn) -> assignment_request.AssignmentRequest:
    return assignment_request.AssignmentRequest(
        part_id=body.part_id,
        section_ids=tuple(dict.fromkeys(body.section_ids)),
        due_on=body.due_on,
        minutes_a_day=body.minutes_a_day,
        left_out=frozenset(body.left_out),
        only=None if body.only is None else frozenset(body.only),
        exceptions=body.exceptions,
        items=tuple(_wished(item) for item in body.items),
    )


@router.post("/assignments/preview", operation_id="previewAssignment")
@only_asks
def preview_assignment(body: AssignIn, actor: Sender, session: Db, today: Today) -> AssignPreview:
    """Preview what each student gets, before anything is sent."""
    made = preview.preview(session, actor, _wish(body), today)
    return AssignPreview(
        climb_seconds=made.climb_seconds,
        available_seconds=made.available_seconds,
        days=made.days,
        students=[_gets(student) for student in made.students],
    )


def _gets(student: preview.StudentGets) -> StudentGetsOut:
    return StudentGetsOut(
        student_id=student.student_id,
        name=student.name,
        section=student.section,
        part=student.part,
        is_left_out=student.is_left_out,
        exception=student.exception,
        due_on=student.due_on,
        why_nothing=student.why_nothing,
        plays=student.plays,
        items=[
            ItemGotOut(
                chunk=line.chunk,
                drill=drill_kind(line.drill).title,
                seconds=line.seconds,
                level=line.level,
                role=line.role,  # type: ignore[arg-type]
                note=line.note,
            )
            for line in student.lines
        ],
    )


@router.post("/assignments", operation_id="sendAssignment", status_code=201)
def send_assignment(
    body: AssignIn, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Send it; the list of what is on students' lists comes back, newest first."""
    wish = _wish(body)
    answered_once(
        session, actor, body.id, "send", lambda: assignments.send(session, actor, wish, today), UUID
    )
    return list_assignments(actor, session, today)


@router.get("/assignments", operation_id="listAssignments")
def list_assignments(actor: Sender, session: Db, today: Today) -> list[AssignmentOut]:
    """Assignments on students' lists, newest first."""
    return [_out(view) for view in lists.list_assignments(session, actor, today)]


@router.get("/assignments/older", operation_id="listOlderAssignments")
def list_older_assignments(actor: Sender, session: Db, today: Today) -> list[AssignmentOut]:
    """List assignments that have left students' lists, the newest first."""
    return [_out(view) for view in lists.list_older(session, actor, today)]


def _out(view: lists.AssignmentView) -> AssignmentOut:
    return AssignmentOut(
        id=view.assignment.id,
        sending_id=view.assignment.sending_id,
        exception=view.assignment.exception,
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
            AssignedItem(
                id=item.id,
                chunk=item.chunk,
                drill=item.title,
                role=item.role,  # type: ignore[arg-type]
                every=item.every,
                note=item.note,
                removed=item.is_removed,
            )
            for item in view.items
        ],
    )


@router.patch("/assignments/{assignment_id}", operation_id="changeAssignment")
def change_assignment(
    assignment_id: UUID, body: ChangeAssignment, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Another date, other minutes, for everything sent with it."""
    changes.change(
        session,
        actor,
        assignment_id,
        due_on=body.due_on,
        minutes_a_day=body.minutes_a_day,
        today=today,
    )
    return list_assignments(actor, session, today)


@router.post("/assignments/{assignment_id}/withdraw", operation_id="withdrawAssignment")
def withdraw_assignment(
    assignment_id: UUID, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Take it back, with all that was sent with it; what was played on it stays."""
    changes.withdraw(session, actor, assignment_id)
    return list_assignments(actor, session, today)


@router.post("/assignments/{assignment_id}/restore", operation_id="restoreAssignment")
def restore_assignment(
    assignment_id: UUID, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Bring a withdrawn assignment back."""
    changes.withdraw(session, actor, assignment_id, back=True)
    return list_assignments(actor, session, today)


@router.post("/assignments/{assignment_id}/items", operation_id="addAssignedDrill")
def add_assigned_drill(
    assignment_id: UUID, body: WishedItem, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Add a drill to an assignment."""
    changes.add_item(session, actor, assignment_id, _wished(body))
    return list_assignments(actor, session, today)


@router.post("/assignments/items/{item_id}/remove", operation_id="removeAssignedDrill")
def remove_assigned_drill(
    item_id: UUID, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Take one drill out of an assignment; its repetitions stay."""
    changes.drop_item(session, actor, item_id)
    return list_assignments(actor, session, today)


@router.post("/assignments/items/{item_id}/restore", operation_id="restoreAssignedDrill")
def restore_assigned_drill(
    item_id: UUID, actor: Sender, session: Db, today: Today
) -> list[AssignmentOut]:
    """Bring it back."""
    changes.drop_item(session, actor, item_id, back=True)
    return list_assignments(actor, session, today)
