"""Takes: handed in by students, heard by those who judge, switched on by the school."""

from datetime import datetime
from fractions import Fraction
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, File, Form, UploadFile
from fastapi.responses import FileResponse

from crumb.api.deps import Db, Hearer, Member, Player, Recordings, Registrar
from crumb.api.schemas.takes import (
    AlignIn,
    MyTakesOut,
    TakeAskOut,
    TakeOut,
    TakeRulesIn,
    TakeRulesOut,
)
from crumb.api.views.places import position_in
from crumb.api.views.takes import take_out
from crumb.core.ensemble.taking import Anchor
from crumb.core.errors import UnreadableFile
from crumb.services.ensemble import takes
from crumb.services.ensemble.takes import MAX_BYTES, NewTake, TakeRules

router = APIRouter(tags=["takes"])
_MILLI = 1000


def _rules_out(rules: TakeRules) -> TakeRulesOut:
    return TakeRulesOut(is_on=rules.is_on, weeks=rules.weeks)


@router.get("/takes/rules", operation_id="getTakeRules")
def get_rules(who: Member, session: Db) -> TakeRulesOut:
    """Whether students may record themselves here."""
    return _rules_out(takes.rules(session, who))


@router.put("/takes/rules", operation_id="changeTakeRules")
def change_rules(body: TakeRulesIn, who: Registrar, session: Db) -> TakeRulesOut:
    """Switch takes on, with the consent that local rules ask for, or off."""
    return _rules_out(takes.change_rules(session, who, TakeRules(body.is_on, body.weeks)))


@router.get("/me/takes", operation_id="listMyTakes")
def list_my_takes(who: Player, session: Db) -> MyTakesOut:
    """One's own takes, the newest first."""
    return MyTakesOut(
        rules=_rules_out(takes.rules(session, who)),
        takes=[take_out(take, takes.least_of(session, take)) for take in takes.own(session, who)],
    )


@router.get("/me/takes/ask/{part_id}/{chunk_id}", operation_id="askTake")
def ask_take(part_id: UUID, chunk_id: UUID, who: Player, session: Db) -> TakeAskOut:
    """What a take of a chunk needs."""
    seconds, set_up = takes.asked(session, who, part_id, chunk_id)
    return TakeAskOut(least_seconds=seconds, set_up=set_up)


@router.post("/me/takes", operation_id="handTakeIn", status_code=201)
def hand_in(
    file: Annotated[UploadFile, File()],
    id: Annotated[UUID, Form()],
    part_id: Annotated[UUID, Form()],
    chunk_id: Annotated[UUID, Form()],
    recorded_at: Annotated[datetime, Form()],
    who: Player,
    session: Db,
    sounds: Recordings,
    why_anew: Annotated[str, Form(max_length=200)] = "",
) -> TakeOut:
    """Hand a take in; only its sound is kept."""
    data = file.file.read(MAX_BYTES + 1)
    if len(data) > MAX_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_BYTES // 1_000_000} MB.")
    if recorded_at.tzinfo is None:
        raise UnreadableFile("When it was recorded needs a time zone.")
    new = NewTake(id, part_id, chunk_id, recorded_at, data, why_anew)
    take = takes.hand_in(session, sounds, who, new)
    return take_out(take, takes.least_of(session, take))


@router.get("/takes/{take_id}/sound", operation_id="getTakeSound", response_class=FileResponse)
def get_sound(take_id: UUID, who: Member, session: Db, sounds: Recordings) -> FileResponse:
    """The sound of a take: for its student, and for those who may hear them."""
    path = takes.sound_of(session, sounds, who, take_id)
    # Already as small as it gets, and asked for in ranges: it goes as it is.
    headers = {"Cache-Control": "private, no-store", "Content-Encoding": "identity"}
    return FileResponse(path, media_type="audio/mpeg", headers=headers)


@router.put("/takes/{take_id}/anchors", operation_id="alignTake", status_code=204)
def align(take_id: UUID, body: AlignIn, who: Hearer, session: Db) -> None:
    """Say which places of the music sound when."""
    anchors = [
        Anchor(position_in(one.at), Fraction(round(one.seconds * _MILLI), _MILLI))
        for one in body.anchors
    ]
    takes.align(session, who, take_id, anchors)


@router.delete("/takes/{take_id}", operation_id="removeTake", status_code=204)
def remove(take_id: UUID, who: Member, session: Db, sounds: Recordings) -> None:
    """Erase a take; what was judged of it stays."""
    takes.remove(session, sounds, who, take_id)
