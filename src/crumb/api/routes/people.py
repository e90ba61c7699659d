"""Sections and students."""

from collections.abc import Set
from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Registrar
from crumb.api.schemas.people import LeaderIn, PinOut, SectionIn, SectionOut, StudentRow, StudentsIn
from crumb.services.people import roster

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
def list_sections(who: Registrar, session: Db) -> list[SectionOut]:
    """All sections with their students."""
    leaders = roster.leaders_of(session, who)
    return [_section(section, leaders) for section in roster.list_sections(session, who)]


@router.post("/sections", operation_id="createSection", status_code=201)
def create_section(body: SectionIn, who: Registrar, session: Db) -> SectionOut:
    """A new section."""
    return _section(roster.create_section(session, who, body.name))


@router.post("/sections/{section_id}/students", operation_id="addStudents", status_code=201)
def add_students(section_id: UUID, body: StudentsIn, who: Registrar, session: Db) -> list[PinOut]:
    """New students; each PIN is shown this once."""
    return [_pin(made) for made in roster.add_students(session, who, section_id, body.names)]


@router.post("/students/{student_id}/pin", operation_id="renewPin")
def renew_pin(student_id: UUID, who: Registrar, session: Db) -> PinOut:
    """A new PIN for a student who lost theirs."""
    return _pin(roster.renew_pin(session, who, student_id))


@router.put(
    "/sections/{section_id}/students/{student_id}/leader",
    operation_id="setLeader",
    status_code=204,
)
def set_leader(
    section_id: UUID, student_id: UUID, body: LeaderIn, who: Registrar, session: Db
) -> None:
    """Say whether a student leads the section: a leader's marks reach its every copy."""
    roster.set_leader(session, who, section_id, student_id, is_leader=body.is_leader)
