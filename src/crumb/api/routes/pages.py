"""Pages in: bring them in, arrange them, mend their measures, make them a piece."""

from fractions import Fraction
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, File, Form, Query, UploadFile
from starlette.responses import Response

from crumb.api.deps import Db, Files, MusicKeeper, release
from crumb.api.once import answered_once
from crumb.api.schemas.common import to_fraction
from crumb.api.schemas.music import PieceOut
from crumb.api.schemas.pages import (
    AreaIn,
    BeginsIn,
    PageActIn,
    PageDetail,
    PageSetOut,
    PagesIn,
    PieceOfPagesIn,
)
from crumb.api.views.music import piece_out
from crumb.api.views.pages import page_detail, set_out
from crumb.core.errors import UnreadableFile
from crumb.core.pages.model import Area
from crumb.core.vocabulary import JobKind
from crumb.formats.pages.limits import MOST_BYTES, MOST_SOURCES
from crumb.services.jobs import cancel
from crumb.services.library import pieces
from crumb.services.music import seating
from crumb.services.pages import making, mending, page_sets, showing
from crumb.services.pages.page_sets import Begins, PageWish, Upload

router = APIRouter(tags=["pages"])


@router.post("/page-sets", operation_id="bringPagesIn", status_code=202)
def bring_pages_in(
    files: Annotated[list[UploadFile], File(min_length=1, max_length=MOST_SOURCES)],
    id: Annotated[UUID, Form()],
    actor: MusicKeeper,
    session: Db,
    store: Files,
) -> PageSetOut:
    """Bring in a PDF or pictures of pages; they are read in the background."""
    uploads, left = [], MOST_BYTES
    for file in files:
        data = file.file.read(left + 1)
        left -= len(data)
        if left < 0:
            raise UnreadableFile(
                f"Bring in at most {MOST_BYTES // 1_000_000} MB at a time: split the file in two."
            )
        uploads.append(Upload(file.filename or "", data))
    return set_out(page_sets.begin(session, store, actor, id, uploads))


@router.get("/page-sets", operation_id="listPageSets")
def list_page_sets(actor: MusicKeeper, session: Db) -> list[PageSetOut]:
    """List pages that were brought in, newest first; each set without its pages."""
    return [set_out(view) for view in page_sets.listed(session, actor)]


@router.get("/page-sets/{set_id}", operation_id="getPageSet")
def get_page_set(set_id: UUID, actor: MusicKeeper, session: Db) -> PageSetOut:
    """Get a set with its pages."""
    return set_out(page_sets.view(session, actor, set_id))


@router.put("/page-sets/{set_id}/pages", operation_id="arrangePages")
def arrange_pages(set_id: UUID, body: PagesIn, actor: MusicKeeper, session: Db) -> PageSetOut:
    """Say in which order pages stand, which are left out, and where parts begin."""
    wishes = [
        PageWish(
            one.id,
            one.is_left_out,
            _begins(one.begins),
        )
        for one in body.pages
    ]
    return set_out(page_sets.arrange(session, actor, set_id, wishes))


def _begins(given: BeginsIn | None) -> Begins | None:
    return None if given is None else Begins(given.name, given.played_on, given.section_id)


def _area(given: AreaIn | None) -> Area | None:
    return None if given is None else Area(given.left, given.top, given.right, given.bottom)


@router.post("/page-sets/{set_id}/cancel", operation_id="cancelPages")
def cancel_pages(set_id: UUID, actor: MusicKeeper, session: Db) -> PageSetOut:
    """Read no further."""
    view = page_sets.view(session, actor, set_id)
    if view.job is not None:
        cancel(session, actor, view.job.id, JobKind.PAGES)
    return set_out(page_sets.view(session, actor, set_id))


@router.delete("/page-sets/{set_id}", operation_id="deletePageSet", status_code=204)
def delete_page_set(set_id: UUID, actor: MusicKeeper, session: Db) -> None:
    """Delete pages of which no piece was made."""
    page_sets.delete(session, actor, set_id)


@router.post("/page-sets/{set_id}/piece", operation_id="makePieceOfPages", status_code=201)
def make_piece(
    set_id: UUID, body: PieceOfPagesIn, actor: MusicKeeper, session: Db, files: Files
) -> PieceOut:
    """Make a piece of the pages, or the next version of the one that was made of them."""

    def made() -> PieceOut:
        piece = making.make_piece(
            session,
            files,
            actor,
            set_id,
            title=body.title,
            composer=body.composer,
            goal=to_fraction(body.goal_bpm),
        )
        kept, parts = pieces.piece_with_parts(session, actor, piece.id)
        return piece_out(kept, parts, seating.sections_by_part(session, actor))

    return answered_once(session, actor, body.id, "piece of pages", made, PieceOut)


@router.get("/pages/{page_id}", operation_id="getPage")
def get_page(page_id: UUID, actor: MusicKeeper, session: Db) -> PageDetail:
    """Get a page with its measures and their numbers."""
    return page_detail(mending.view(session, actor, page_id))


@router.get("/pages/{page_id}/picture", operation_id="getPagePicture", response_class=Response)
def get_picture(
    page_id: UUID,
    actor: MusicKeeper,
    session: Db,
    files: Files,
    width: Annotated[int, Query(ge=60, le=2600)] = 1400,
) -> Response:
    """Get the picture of a page."""
    key = showing.picture_key(session, actor, page_id)
    release(session)
    headers = {"Cache-Control": "private, max-age=3600", "ETag": f'"{key}-{width}"'}
    return Response(showing.picture(files, key, width), media_type="image/png", headers=headers)


@router.post("/pages/{page_id}/turn", operation_id="turnPage")
def turn_page(page_id: UUID, actor: MusicKeeper, session: Db) -> PageSetOut:
    """Turn a page by a quarter turn to the right; it is read anew."""
    return set_out(page_sets.turn(session, actor, page_id))


@router.post("/pages/{page_id}/acts", operation_id="mendPage")
def mend_page(page_id: UUID, body: PageActIn, actor: MusicKeeper, session: Db) -> PageDetail:
    """Mend the measures of a page: add, delete, split, join, move; number, letter, length."""
    wanted = mending.Act(
        op=body.op,
        place=body.place,
        x=body.x,
        area=_area(body.area),
        number=body.number,
        text=body.text,
        quarters=None if body.quarters is None else Fraction(body.quarters),
        opens=body.opens,
        closes=body.closes,
    )
    return page_detail(mending.act(session, actor, page_id, wanted))
