"""The job that reads pages: each page's picture, measures and words; then where parts begin."""

from collections.abc import Sequence
from uuid import uuid4

from sqlalchemy.orm import Session

from crumb.core.errors import UnreadableFile
from crumb.core.instruments.table import instrument_named
from crumb.core.pages.model import PageRead
from crumb.core.pages.proposals import proposed_parts, title_on
from crumb.core.vocabulary import Role
from crumb.formats.pages.reading import ReadPage, Sources
from crumb.services.access import Actor
from crumb.services.jobs import Try
from crumb.services.music.seating import section_for
from crumb.services.people.roster import list_sections
from crumb.store.codecs.pages import measures_to_json
from crumb.store.files import FileStore
from crumb.store.queries import pages as ask
from crumb.store.tables import Job, PageRow, PageSet

_NOTHING = "No staff was found on this page: leave it out, turn it, or draw its measures by hand."


def read_pages(session: Session, attempt: Try, files: FileStore) -> None:
    """Read every page of a set that was not read yet.

    A page that cannot be read says why and holds up no other.

    Raises:
        UnreadableFile: a file of the set cannot be opened at all.
        Abandoned: nobody wants it any more.
    """
    job = session.get_one(Job, attempt.id)
    row = ask.any_set(session, job.page_set_id) if job.page_set_id else None
    if row is None:
        attempt.done(session)
        return
    attempt.tell("opening", 0, 0)
    with Sources([files.load(source["key"]) for source in row.sources]) as sources:
        pages = ask.pages_of(session, row.id)
        is_new = not pages
        if is_new:
            pages = [
                PageRow(
                    id=uuid4(), program_id=row.program_id, set_id=row.id,
                    place=place, source=source, number=number,
                )
                for place, (source, number) in enumerate(sources.pages())
            ]  # fmt: skip
            session.add_all(pages)
            session.flush()
        wanted = [page for page in pages if page.measures is None]
        reads: dict[int, PageRead] = {}
        for done, page in enumerate(wanted):
            attempt.tell("reading pages", done, len(wanted))
            read = _read(sources, page)
            if read is not None:
                reads[page.place] = read.read
                _keep(files, row, page, read)
    if is_new:
        _propose(session, row, pages, reads)
    session.flush()
    attempt.done(session)


def _read(sources: Sources, page: PageRow) -> ReadPage | None:
    try:
        return sources.read(page.source, page.number, page.turn)
    except UnreadableFile as error:
        page.message, page.measures = error.message[:400], []
        return None


def _keep(files: FileStore, row: PageSet, page: PageRow, read: ReadPage) -> None:
    page.picture = files.save(read.picture)
    page.width, page.height, page.is_drawn = read.read.width, read.read.height, read.is_drawn
    page.measures = measures_to_json(read.read.measures)
    page.message = "" if read.read.measures else _NOTHING
    row.bytes += len(read.picture)


def _propose(
    session: Session, row: PageSet, pages: Sequence[PageRow], reads: dict[int, PageRead]
) -> None:
    """Where parts begin; a page without music is left out, unless no page has any."""
    known = [page for page in pages if page.place in reads]
    with_music = [page for page in known if reads[page.place].measures] or known
    for page in pages:
        page.is_left_out = page not in with_music
    if not with_music:
        return
    actor = Actor(row.person_id, row.program_id, Role.DIRECTOR)
    sections = list_sections(session, actor)
    found = [reads[page.place] for page in with_music]
    title = title_on(found[0])
    row.title = title[:200] or row.title
    for proposal in proposed_parts(found):
        played_on = instrument_named(proposal.name).name
        section = section_for(sections, proposal.name, played_on)
        with_music[proposal.page].begins = {
            "name": proposal.name[:120],
            "played_on": played_on,
            "section_id": str(section.id) if section else None,
        }
