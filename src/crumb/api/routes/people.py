"""Sections and students."""

from collections.abc import Set
from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Registrar, Ticker, Watcher
from crumb.api.schemas.people import (
    HelpedOut,
    HelpedSheet,
    HelpingOut,
    LeaderIn,
    OpenInvitationOut,
    PeopleWhoHelpOut,
    PinOut,
    RightsOut,
    SectionIn,
    SectionOut,
    SectionsIn,
    StudentRow,
    StudentsIn,
)
from crumb.core.vocabulary import Permission, Role
from crumb.services.access import RIGHT_TEXTS, RIGHTS
from crumb.services.people import accounts, helpers, roster

router = APIRouter(tags=["people"])


def _section(
    section: roster.SectionView, leaders: Set[tuple[UUID, UUID]] = frozenset()
) -> SectionOut:
    students = [
        StudentRow(id=i, name=name, is_leader=(section.id, i) in leaders)
        for i, name in section.students
    ]
    return SectionOut(id=section.id, name=section.name, students=students)


def _pin(made: roster.NewPin) -> PinOut:
    return PinOut(student_id=made.student_id, name=made.name, pin=made.pin)


@router.get("/sections", operation_id="listSections")
def list_sections(actor: Watcher, session: Db) -> list[SectionOut]:
    """All sections with their students."""
    leaders = roster.leaders_of(session, actor)
    return [_section(section, leaders) for section in roster.list_sections(session, actor)]


@router.post("/sections", operation_id="createSection", status_code=201)
def create_section(body: SectionIn, actor: Registrar, session: Db) -> SectionOut:
    """A new section."""
    return _section(roster.create_section(session, actor, body.name))


@router.post("/sections/{section_id}/students", operation_id="addStudents", status_code=201)
def add_students(section_id: UUID, body: StudentsIn, actor: Registrar, session: Db) -> list[PinOut]:
    """New students; each PIN is shown this once."""
    return [_pin(made) for made in roster.add_students(session, actor, section_id, body.names)]


@router.post("/students/{student_id}/pin", operation_id="renewPin")
def renew_pin(student_id: UUID, actor: Registrar, session: Db) -> PinOut:
    """A new PIN for a student who lost theirs."""
    return _pin(roster.renew_pin(session, actor, student_id))


@router.put(
    "/sections/{section_id}/students/{student_id}/leader",
    operation_id="setLeader",
    status_code=204,
)
def set_leader(
    section_id: UUID, student_id: UUID, body: LeaderIn, actor: Registrar, session: Db
) -> None:
    """Say whether a student leads the section: a leader's marks reach its every copy."""
    roster.set_leader(session, actor, section_id, student_id, is_leader=body.is_leader)


@router.get("/helping", operation_id="listHelping")
def list_helping(actor: Registrar, session: Db) -> PeopleWhoHelpOut:
    """Everybody with an account who is no student, and what each kind of account may do."""
    return PeopleWhoHelpOut(
        people=[
            HelpingOut(
                id=one.person_id,
                name=one.name,
                email=one.email,
                role=one.role,
                section_ids=list(one.section_ids),
                student_id=one.student_id,
                is_me=one.person_id == actor.person_id,
            )
            for one in helpers.listed(session, actor)
        ],
        invitations=[
            OpenInvitationOut(
                id=one.id,
                role=one.help.role,
                section_ids=list(one.help.section_ids),
                student_id=one.help.student_id,
                made_by=one.made_by,
                expires_at=one.expires_at,
            )
            for one in accounts.open_invitations(session, actor)
        ],
        rights=[
            RightsOut(say=RIGHT_TEXTS[right], roles=[one for one in Role if right in RIGHTS[one]])
            for right in Permission
        ],
    )


@router.put("/helping/{person_id}", operation_id="changeHelping", status_code=204)
def change_helping(person_id: UUID, body: SectionsIn, actor: Registrar, session: Db) -> None:
    """Say which sections an assistant looks after."""
    helpers.change_sections(session, actor, person_id, body.section_ids)


@router.delete("/helping/{person_id}", operation_id="dismiss", status_code=204)
def dismiss(person_id: UUID, actor: Registrar, session: Db) -> None:
    """End somebody's access; their judgements stay."""
    helpers.dismiss(session, actor, person_id)


@router.get("/helped", operation_id="getHelped")
def get_helped(actor: Ticker, session: Db) -> HelpedOut:
    """The student that one ticks for, with the sheets in force."""
    found = helpers.helped(session, actor)
    sheets = [HelpedSheet(code=code, due_on=due_on) for code, due_on in found.sheets]
    return HelpedOut(name=found.name, sheets=sheets)
