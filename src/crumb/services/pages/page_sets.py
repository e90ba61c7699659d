"""Sets of pages: brought in, put in order, taken apart into parts, deleted."""

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import PurePath
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.instruments.table import INSTRUMENTS
from crumb.core.vocabulary import JobKind
from crumb.formats.pages.limits import MOST_SOURCES
from crumb.formats.pages.reading import refuse_pages_at_once
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.music.imports import MOST_BYTES
from crumb.services.people.roster import list_sections
from crumb.store.files import FileStore
from crumb.store.queries import jobs, locks
from crumb.store.queries import pages as ask
from crumb.store.tables import Job, PageRow, PageSet


@dataclass(frozen=True, slots=True)
class Upload:
    """A file as it was sent."""

    name: str
    data: bytes


@dataclass(frozen=True, slots=True)
class SetView:
    """A set with its pages, and the job that reads them."""

    row: PageSet
    pages: Sequence[PageRow]
    job: Job | None


@dataclass(frozen=True, slots=True)
class Begins:
    """The part that begins on a page."""

    name: str
    played_on: str
    section_id: UUID | None


@dataclass(frozen=True, slots=True)
class PageWish:
    """A page as the director wants it; its place is that in the list."""

    page_id: UUID
    is_left_out: bool
    begins: Begins | None


def begin(
    session: Session, files: FileStore, actor: Actor, set_id: UUID, uploads: Sequence[Upload]
) -> SetView:
    """Keep files of pages and have them read in the background; sent twice, they are kept once.

    Raises:
        UnreadableFile: a file is plainly no page; nothing is stored.
        NotAccepted: the school has no room left, or the id is that of another set.
    """
    refuse_pages_at_once([upload.data for upload in uploads])
    if len(uploads) > MOST_SOURCES:
        raise NotAccepted(f"Bring in at most {MOST_SOURCES} files at a time.")
    locks.have_key(session, set_id)
    known = ask.any_set(session, set_id)
    if known is not None:
        if known.program_id != actor.program_id:
            raise NotAccepted("This was sent with the mark of something else. Send it again.")
        return view(session, actor, set_id)
    locks.have_key(session, actor.program_id)  # two at once are not both the last one
    size = sum(len(upload.data) for upload in uploads)
    if jobs.bytes_of(session, actor.program_id) + size > MOST_BYTES:
        room = f"{MOST_BYTES // 1_000_000_000} GB"
        raise NotAccepted(
            f"Your school's music fills the {room} that it has: delete a piece first."
        )
    made = PageSet(
        id=set_id,
        program_id=actor.program_id,
        person_id=actor.person_id,
        title=_title_of(uploads[0].name),
        sources=[{"name": _tidy(u.name), "key": files.save(u.data)} for u in uploads],
        bytes=size,
    )
    session.add(made)
    session.flush()
    _have_read(session, actor, made)
    return view(session, actor, set_id)


def _tidy(name: str) -> str:
    seen = "".join(c for c in name.replace("\\", "/") if c.isprintable())
    return PurePath(seen).name[:200] or "pages"


def _title_of(name: str) -> str:
    return PurePath(_tidy(name)).stem.replace("_", " ").replace("-", " ")[:200]


def _have_read(session: Session, actor: Actor, row: PageSet) -> Job:
    job = Job(
        id=uuid4(),
        program_id=actor.program_id,
        person_id=actor.person_id,
        kind=JobKind.PAGES,
        file_name=row.sources[0]["name"] if row.sources else "",
        page_set_id=row.id,
    )
    session.add(job)
    session.flush()
    session.refresh(job)
    return job


def view(session: Session, actor: Actor, set_id: UUID) -> SetView:
    """A set as it stands.

    Raises:
        NotFound: not here.
    """
    row = get_set(session, actor, set_id)
    job = ask.latest_jobs(session, [set_id]).get(set_id)
    return SetView(row, ask.pages_of(session, set_id), job)


def get_set(session: Session, actor: Actor, set_id: UUID, *, for_change: bool = False) -> PageSet:
    """A set of the program.

    Raises:
        NotFound: not here.
    """
    row = ask.set_of(session, actor.program_id, set_id, for_change=for_change)
    if row is None:
        raise NotFound("There are no such pages.")
    return row


def listed(session: Session, actor: Actor) -> list[SetView]:
    """The sets of the program, newest first, without their pages."""
    rows = ask.sets_of(session, actor.program_id)
    latest = ask.latest_jobs(session, [row.id for row in rows])
    return [SetView(row, (), latest.get(row.id)) for row in rows]


def arrange(session: Session, actor: Actor, set_id: UUID, wishes: Sequence[PageWish]) -> SetView:
    """Say in which order pages stand, which are left out, and where parts begin.

    Raises:
        NotFound: not here.
        NotAccepted: other pages than those of the set, or an instrument or section not known.
    """
    row = get_set(session, actor, set_id, for_change=True)
    pages = {page.id: page for page in ask.pages_of(session, row.id)}
    if len(wishes) != len(pages) or {wish.page_id for wish in wishes} != set(pages):
        raise NotAccepted("These pages changed meanwhile. Load them again.")
    _check(session, actor, [wish.begins for wish in wishes if wish.begins])
    for place, wish in enumerate(wishes):
        page = pages[wish.page_id]
        page.place, page.is_left_out = place, wish.is_left_out
        page.begins = (
            None
            if wish.begins is None
            else {
                "name": wish.begins.name,
                "played_on": wish.begins.played_on,
                "section_id": str(wish.begins.section_id) if wish.begins.section_id else None,
            }
        )
    session.flush()
    return view(session, actor, set_id)


def _check(session: Session, actor: Actor, begins: Sequence[Begins]) -> None:
    names = {instrument.name for instrument in INSTRUMENTS}
    sections = {section.id for section in list_sections(session, actor)}
    for one in begins:
        if one.played_on not in names:
            raise NotAccepted("This instrument is not known here.")
        if one.section_id is not None and one.section_id not in sections:
            raise NotAccepted("There is no such section.")


def turn(session: Session, actor: Actor, page_id: UUID) -> SetView:
    """Turn a page to the right by a quarter turn, and have it read anew.

    What was mended on it by hand is not kept: its measures lie otherwise.

    Raises:
        NotFound: not here.
    """
    page = get_page(session, actor, page_id, for_change=True)
    page.turn = (page.turn + 1) % 4
    page.measures, page.earlier, page.later, page.message = None, [], [], ""
    row = get_set(session, actor, page.set_id)
    session.flush()
    _have_read(session, actor, row)
    return view(session, actor, row.id)


def get_page(session: Session, actor: Actor, page_id: UUID, *, for_change: bool = False) -> PageRow:
    """A page of the program.

    Raises:
        NotFound: not here.
    """
    page = ask.page_of(session, actor.program_id, page_id, for_change=for_change)
    if page is None:
        raise NotFound("There is no such page.")
    return page


def delete(session: Session, actor: Actor, set_id: UUID) -> None:
    """Delete a set of which no piece was made; with a piece, its pages go when the piece goes.

    Raises:
        NotFound: not here.
        NotAccepted: a piece was made of it.
    """
    row = get_set(session, actor, set_id, for_change=True)
    if row.piece_id is not None:
        raise NotAccepted("A piece was made of these pages. Delete the piece: the pages go too.")
    ask.delete_set(session, row.id)
