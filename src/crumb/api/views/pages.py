"""Pages, as they go over the wire."""

from collections.abc import Sequence

from crumb.api.schemas.pages import (
    AreaOut,
    BeginsOut,
    PageDetail,
    PageMeasureOut,
    PageOut,
    PageSetOut,
)
from crumb.core.pages.numbering import Numbered, numbered
from crumb.core.vocabulary import JobState
from crumb.formats.pages import ocr
from crumb.services.pages.mending import PageView, parts_of
from crumb.services.pages.page_sets import SetView
from crumb.store.codecs.pages import measures_from_json
from crumb.store.tables import PageRow


def set_out(view: SetView) -> PageSetOut:
    """A set with its pages."""
    row, job = view.row, view.job
    numbers = {page.id: found for _, own in parts_of(view.pages) for page, found in _numbers(own)}
    return PageSetOut(
        id=row.id,
        title=row.title,
        composer=row.composer,
        files=[source["name"] for source in row.sources],
        state=JobState(job.state) if job else JobState.DONE,
        stage=job.stage if job else "",
        done=job.done if job else 0,
        total=job.total if job else 0,
        message=job.message if job else "",
        piece_id=row.piece_id,
        made_at=row.made_at,
        pages=[_page(page, numbers.get(page.id, [])) for page in view.pages],
        reads_text=ocr.is_there(),
    )


def _numbers(own: Sequence[PageRow]) -> list[tuple[PageRow, list[Numbered]]]:
    """The numbers of each page of a part."""
    read = [(page, measures_from_json(page.measures or [])) for page in own]
    found = numbered([measure for _, measures in read for measure in measures])
    numbers, at = [], 0
    for page, measures in read:
        numbers.append((page, found[at : at + len(measures)]))
        at += len(measures)
    return numbers


def _page(page: PageRow, numbers: Sequence[Numbered]) -> PageOut:
    begins = page.begins
    return PageOut(
        id=page.id,
        turn=page.turn,
        is_left_out=page.is_left_out,
        begins=BeginsOut(**begins) if begins else None,
        width=page.width,
        height=page.height,
        is_drawn=page.is_drawn,
        message=page.message,
        measures=None if page.measures is None else len(page.measures),
        first_number=numbers[0].number if numbers else None,
        last_number=numbers[-1].number if numbers else None,
        conflicts=sum(one.counted is not None for one in numbers),
    )


def page_detail(view: PageView) -> PageDetail:
    """A page with its measures and their numbers."""
    row = view.row
    return PageDetail(
        id=row.id,
        set_id=row.set_id,
        part_name=view.part_name,
        width=row.width,
        height=row.height,
        measures=[
            PageMeasureOut(
                area=AreaOut(
                    left=m.area.left, top=m.area.top, right=m.area.right, bottom=m.area.bottom
                ),
                first_line=m.first_line,
                last_line=m.last_line,
                number=number.number,
                counted=number.counted,
                said_number=m.number,
                stands_for=m.stands_for,
                letter=m.letter,
                time=time,
                new_time=m.time,
                quarters=m.quarters,
                opens_repeat=m.opens_repeat,
                closes_repeat=m.closes_repeat,
                ending=m.ending,
            )
            for m, number, time in zip(view.measures, view.numbers, view.times, strict=True)
        ],
        can_undo=bool(row.earlier),
        can_redo=bool(row.later),
        message=row.message,
    )
