"""Plans: tried, sent, looked at, changed; and a student's own days in them."""

from uuid import UUID

from fastapi import APIRouter, Response

from crumb.api.deps import Db, Member, Player, Sender, Today
from crumb.api.once import answered_once
from crumb.api.schemas.common import Secret
from crumb.api.schemas.planning import (
    CalendarOut,
    Made,
    MinutesIn,
    MyPlanOut,
    OutlookLineOut,
    OutlookOut,
    PlanIn,
    PlanLineOut,
    PlanOut,
)
from crumb.api.views.planning import my_plan_out, plan_out, wish_in
from crumb.services.library.pieces import get_piece
from crumb.services.planning import calendars, days, plans

router = APIRouter(tags=["plans"])


@router.post("/plans/preview", operation_id="previewPlan")
def preview_plan(
    body: PlanIn, actor: Sender, session: Db, today: Today, student_id: UUID | None = None
) -> PlanOut:
    """Preview a plan before it is sent; a part that nobody split is split."""
    return plan_out(plans.preview(session, actor, wish_in(body), today, student_id))


@router.get("/plans", operation_id="listPlans")
def list_plans(actor: Sender, session: Db) -> list[PlanLineOut]:
    """Every plan, the next date first."""
    return [
        PlanLineOut(
            id=row.id,
            title=title,
            part=part,
            part_id=row.part_id,
            section=section,
            on=row.ends_on,
            minutes_a_day=row.minutes_a_day,
            is_withdrawn=row.withdrawn_at is not None,
        )
        for row, title, part, section in plans.listed(session, actor)
    ]


@router.post("/plans", operation_id="sendPlan", status_code=201)
def send_plan(body: PlanIn, actor: Sender, session: Db, today: Today) -> Made:
    """Send a plan: from now on its students' days come from it."""
    wish = wish_in(body)
    return answered_once(
        session,
        actor,
        body.id,
        "plan",
        lambda: Made(id=plans.send(session, actor, wish, today)),
        Made,
    )


@router.get("/plans/outlook", operation_id="getOutlook")
def get_outlook(actor: Sender, session: Db, today: Today) -> OutlookOut:
    """How the whole ensemble stands against the dates of its plans."""
    found = plans.outlook(session, actor, today)
    return OutlookOut(
        likely=found.likely,
        students=found.students,
        plans=[
            OutlookLineOut(id=i, likely=likely, students=count, bottleneck=label)
            for i, likely, count, label in found.plans
        ],
    )


@router.get("/plans/{plan_id}", operation_id="getPlan")
def get_plan(
    plan_id: UUID, actor: Sender, session: Db, today: Today, student_id: UUID | None = None
) -> PlanOut:
    """A plan as it stands today, and one student's days in it."""
    row, found = plans.view(session, actor, plan_id, today, student_id)
    return plan_out(found, row)


@router.put("/plans/{plan_id}", operation_id="changePlan", status_code=204)
def change_plan(plan_id: UUID, body: PlanIn, actor: Sender, session: Db, today: Today) -> None:
    """Change a plan that was sent."""
    plans.change(session, actor, plan_id, wish_in(body), today)


@router.post("/plans/{plan_id}/withdraw", operation_id="withdrawPlan", status_code=204)
def withdraw_plan(plan_id: UUID, actor: Sender, session: Db, back: bool = False) -> None:
    """End a plan, or bring it back; what was played stays."""
    plans.withdraw(session, actor, plan_id, back=back)


@router.get("/me/plan", operation_id="getMyPlan")
def get_my_plan(actor: Player, session: Db, today: Today) -> list[MyPlanOut]:
    """One's own day in each plan, and the days that follow."""
    return [
        my_plan_out(day, get_piece(session, actor, day.music.hand.row.piece_id).title)
        for day in days.planned(session, actor, today)
    ]


@router.post("/me/plan/{plan_id}/day", operation_id="layOutMyDay", status_code=204)
def lay_out_my_day(plan_id: UUID, actor: Player, session: Db, today: Today) -> None:
    """Lay out one's day in a plan, if it is not laid out yet."""
    days.lay_out_own(session, actor, plan_id, today)


@router.put("/me/plan/{plan_id}/minutes", operation_id="haveMinutes", status_code=204)
def have_minutes(plan_id: UUID, body: MinutesIn, actor: Player, session: Db, today: Today) -> None:
    """Say how many minutes there are today; the day is laid out anew."""
    days.have_minutes(session, actor, plan_id, today, body.minutes)


@router.post("/calendar", operation_id="makeCalendar")
def make_calendar(actor: Member, session: Db) -> CalendarOut:
    """The private address of one's calendar."""
    return CalendarOut(path=f"/api/calendars/{calendars.key_of(session, actor)}.ics")


@router.delete("/calendar", operation_id="endCalendar", status_code=204)
def end_calendar(actor: Member, session: Db) -> None:
    """Take the address back: it leads nowhere from now on."""
    calendars.take_back(session, actor)


@router.get("/calendars/{key}.ics", operation_id="getCalendar", response_class=Response)
def get_calendar(key: Secret, session: Db) -> Response:
    """Somebody's days as iCalendar; who has the address needs nothing else."""
    return Response(calendars.calendar(session, key), media_type="text/calendar; charset=utf-8")
