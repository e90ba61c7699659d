"""Takes: handed in by students, heard by those who judge, switched on by the school."""

from fractions import Fraction
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, File, Form, UploadFile
from fastapi.responses import FileResponse

from crumb.api.deps import (
    Db,
    Hearer,
    Member,
    Player,
    Recordings,
    Registrar,
    Sender,
    Today,
    Watcher,
    release,
)
from crumb.api.once import answered_once
from crumb.api.schemas.common import Moment
from crumb.api.schemas.takes import (
    AlignIn,
    MyTakesOut,
    StyleIn,
    TakeAskOut,
    TakeOut,
    TakeRulesIn,
    TakeRulesOut,
    TaskIn,
    TaskMadeOut,
    TaskOut,
)
from crumb.api.views.places import position_in
from crumb.api.views.takes import owed_out, style_out, take_out, task_out
from crumb.core.errors import UnreadableFile
from crumb.core.takes.alignment import Anchor
from crumb.services.takes import style, takes, tasks
from crumb.services.takes.takes import MAX_BYTES, NewTake, TakeRules
from crumb.services.takes.tasks import NewTask, WishedTake

router = APIRouter(tags=["takes"])
_MILLI = 1000


def _rules_out(rules: TakeRules) -> TakeRulesOut:
    return TakeRulesOut(is_on=rules.is_on, weeks=rules.weeks)


@router.get("/takes/rules", operation_id="getTakeRules")
def get_rules(actor: Member, session: Db) -> TakeRulesOut:
    """Whether students may record themselves here."""
    return _rules_out(takes.rules(session, actor))


@router.put("/takes/rules", operation_id="changeTakeRules")
def change_rules(body: TakeRulesIn, actor: Registrar, session: Db) -> TakeRulesOut:
    """Switch takes on, with the consent that local rules ask for, or off."""
    return _rules_out(takes.change_rules(session, actor, TakeRules(body.is_on, body.weeks)))


@router.get("/me/takes", operation_id="listMyTakes")
def list_my_takes(actor: Player, session: Db, today: Today) -> MyTakesOut:
    """List takes that a student is asked for, and the student's own takes, the newest first."""
    return MyTakesOut(
        rules=_rules_out(takes.rules(session, actor)),
        asked=[owed_out(one) for one in tasks.own(session, actor, today)],
        takes=[take_out(take, takes.least_of(session, take)) for take in takes.own(session, actor)],
    )


@router.get("/me/takes/ask/{part_id}/{chunk_id}", operation_id="askTake")
def ask_take(part_id: UUID, chunk_id: UUID, actor: Player, session: Db) -> TakeAskOut:
    """Requirements of a take of a chunk."""
    needs = takes.asked(session, actor, part_id, chunk_id)
    return TakeAskOut(
        least_seconds=needs.least_seconds,
        set_up=needs.set_up,
        style=[style_out(one) for one in needs.style],
    )


@router.post("/me/takes", operation_id="handTakeIn", status_code=201)
def hand_in(
    file: Annotated[UploadFile, File()],
    id: Annotated[UUID, Form()],
    part_id: Annotated[UUID, Form()],
    chunk_id: Annotated[UUID, Form()],
    recorded_at: Annotated[Moment, Form()],
    actor: Player,
    session: Db,
    sounds: Recordings,
    why_anew: Annotated[str, Form(max_length=200)] = "",
) -> TakeOut:
    """Hand a take in; only its sound is kept."""
    data = file.file.read(MAX_BYTES + 1)
    if len(data) > MAX_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_BYTES // 1_000_000} MB.")
    new = NewTake(id, part_id, chunk_id, recorded_at, data, why_anew)
    take = takes.hand_in(session, sounds, actor, new)
    return take_out(take, takes.least_of(session, take))


@router.get("/takes/{take_id}/sound", operation_id="getTakeSound", response_class=FileResponse)
def get_sound(take_id: UUID, actor: Member, session: Db, sounds: Recordings) -> FileResponse:
    """The sound of a take: for its student, and for those who may hear them."""
    path = takes.sound_of(session, sounds, actor, take_id)
    release(session)  # whoever reads it slowly keeps no connection to the database
    # Already as small as it gets, and asked for in ranges: it goes as it is.
    headers = {"Cache-Control": "private, no-store", "Content-Encoding": "identity"}
    return FileResponse(path, media_type="audio/mpeg", headers=headers)


@router.put("/takes/{take_id}/anchors", operation_id="alignTake", status_code=204)
def align(take_id: UUID, body: AlignIn, actor: Hearer, session: Db) -> None:
    """Say which places of the music sound when."""
    anchors = [
        Anchor(position_in(one.at), Fraction(round(one.seconds * _MILLI), _MILLI))
        for one in body.anchors
    ]
    takes.align(session, actor, take_id, anchors)


@router.delete("/takes/{take_id}", operation_id="removeTake", status_code=204)
def remove(take_id: UUID, actor: Member, session: Db, sounds: Recordings) -> None:
    """Erase a take; what was judged of it stays."""
    takes.remove(session, sounds, actor, take_id)


@router.get("/takes/tasks", operation_id="listTakeTasks")
def list_tasks(actor: Watcher, session: Db, today: Today) -> list[TaskOut]:
    """List takes that sections are asked for, the next due first, with who handed in what."""
    return [task_out(one) for one in tasks.listed(session, actor, today)]


@router.post("/takes/tasks", operation_id="askForTakes", status_code=201)
def ask_for(body: TaskIn, actor: Sender, session: Db, today: Today) -> TaskMadeOut:
    """Ask a section for takes until a day; of alternatives any one closes it."""
    wanted = tuple(
        tuple(WishedTake(one.part_id, one.chunk_id, one.least_seconds) for one in either)
        for either in body.wanted
    )
    new = NewTask(body.section_id, body.due_on, wanted)

    def ask() -> TaskMadeOut:
        return TaskMadeOut(id=tasks.ask_for(session, actor, new, today))

    return answered_once(session, actor, body.id, "ask for takes", ask, TaskMadeOut)


@router.delete("/takes/tasks/{task_id}", operation_id="withdrawTakeTask", status_code=204)
def withdraw(task_id: UUID, actor: Sender, session: Db) -> None:
    """Ask for it no more; what was handed in stays."""
    tasks.withdraw(session, actor, task_id)


@router.post("/takes/tasks/{task_id}/back", operation_id="bringTakeTaskBack", status_code=204)
def bring_back(task_id: UUID, actor: Sender, session: Db) -> None:
    """Ask for it again after it was taken back."""
    tasks.withdraw(session, actor, task_id, back=True)


@router.put("/parts/{part_id}/style/{chunk_id}", operation_id="sayStyle", status_code=204)
def say_style(part_id: UUID, chunk_id: UUID, body: StyleIn, actor: Sender, session: Db) -> None:
    """Say how a passage is to be played; with no words nothing is said any more."""
    style.say(session, actor, part_id, chunk_id, body.text)
