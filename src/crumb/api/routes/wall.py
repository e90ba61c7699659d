"""The Wall and the evidence behind a cell."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from crumb.api.deps import Db, Hearer, Today, Watcher
from crumb.api.schemas.planning import Made
from crumb.api.schemas.practice import DiaryOut, NewsOut
from crumb.api.schemas.wall import (
    CureOut,
    EvidenceOut,
    EvidenceRow,
    HeardIn,
    PassesOut,
    SlipsOut,
    WallOut,
    WallRowOut,
)
from crumb.api.views.places import chunk_out
from crumb.api.views.practice import diary_out, news_out
from crumb.api.views.wall import (
    SEAMS,
    cell_out,
    cure_out,
    days_out,
    heard_out,
    joins_out,
    secure_out,
)
from crumb.core.evidence.model import Doubt, What
from crumb.core.evidence.plausibility import SAID
from crumb.core.plan.cures import CURES
from crumb.core.score.naming import span_label
from crumb.core.split.nested import DEEPEST
from crumb.services.evidence import diary, symptoms
from crumb.services.evidence.way_comparison import verdicts
from crumb.services.library import pieces
from crumb.services.wall import cell_evidence, grid

router = APIRouter(prefix="/wall", tags=["wall"])


@router.get("/cures", operation_id="listCures")
def list_cures(actor: Watcher) -> list[CureOut]:
    """List faults that a listener hears, each with its cures."""
    return [cure_out(cure) for cure in CURES]


@router.get("/news", operation_id="listNews")
def list_news(actor: Watcher, session: Db, today: Today) -> list[NewsOut]:
    """List what students reported lately; pain comes first."""
    return [news_out(one) for one in diary.news(session, actor, today)]


@router.get("/diary/{student_id}", operation_id="getDiary")
def get_diary(student_id: UUID, actor: Watcher, session: Db, today: Today) -> DiaryOut:
    """A student's diary of the last weeks."""
    return diary_out(diary.of_student(session, actor, student_id, today))


@router.post("/{part_id}/heard", operation_id="sayHeard", status_code=201)
def say_heard(part_id: UUID, body: HeardIn, actor: Hearer, session: Db) -> Made:
    """Note what was heard of a student or a section on a chunk: drills and plans follow it."""
    row = symptoms.say(
        session,
        actor,
        part_id,
        body.chunk_id,
        body.words,
        student_id=body.student_id,
        section_id=body.section_id,
    )
    return Made(id=row.id)


@router.post("/heard/{heard_id}/end", operation_id="endHeard", status_code=204)
def end_heard(heard_id: UUID, actor: Hearer, session: Db, back: bool = False) -> None:
    """Mark a heard fault as fixed, or as open again."""
    symptoms.end(session, actor, heard_id, back=back)


@router.get("/{part_id}/{section_id}", operation_id="getWall")
def get_wall(
    part_id: UUID,
    section_id: UUID,
    actor: Watcher,
    session: Db,
    today: Today,
    depth: Annotated[int, Query(ge=0, le=DEEPEST)] = 0,
    first: Annotated[int | None, Query(ge=1, le=1000)] = None,
) -> WallOut:
    """A section on the chunks of a part, or on what they are divided into.

    With ``first``, so many students only, by name: what a screen holds is there sooner.
    """
    view = grid.wall(session, actor, part_id, section_id, today, depth, first)
    return WallOut(
        of=view.of,
        waiting=view.waiting,
        stuck=view.stuck,
        deepest=view.deepest,
        beside=view.beside,
        chunks=[chunk_out(c) for c in view.chunks],
        standings=list(view.standings),
        rows=[
            WallRowOut(
                student_id=row.student_id,
                name=row.name,
                levels=list(row.levels),
                seams=[SEAMS[both] for both in row.seams],
                due=list(row.due),
            )
            for row in view.rows
        ],
    )


@router.get("/{part_id}/evidence/{student_id}/{chunk_id}", operation_id="getEvidence")
def get_evidence(
    part_id: UUID, student_id: UUID, chunk_id: UUID, actor: Watcher, session: Db, today: Today
) -> EvidenceOut:
    """The evidence behind a level."""
    found = cell_evidence.evidence(session, actor, part_id, student_id, chunk_id, today)
    part = pieces.load_part(session, actor, part_id).part
    return EvidenceOut(
        student=found.student,
        chunk=found.chunk.label,
        cell=cell_out(found.cell),
        secure=secure_out(found),
        ways=verdicts(session, student_id, chunk_id),
        days=days_out(found.days),
        passes=[
            PassesOut(day=p.day, tempo=float(p.tempo), clean=p.clean, slips=p.slips)
            for p in found.passes
        ],
        slips=[SlipsOut(place=place, count=count) for place, count in found.slips],
        joins=joins_out(found.joins),
        longest=None if found.longest is None else span_label(part, found.longest),
        heard=[heard_out(*one) for one in symptoms.of_student(session, student_id, chunk_id)],
        repetitions=[
            EvidenceRow(
                what=What(one.row.what),
                played_at=one.row.played_at,
                day=one.row.local_day,
                step_name=one.row.step_name,
                kind=one.row.kind,
                as_written=one.row.as_written,
                span=span_label(part, one.span),
                tempo_bpm=None if one.row.tempo_bpm is None else float(one.row.tempo_bpm),
                is_clean=one.row.is_clean,
                is_retracted=one.is_retracted,
                source=one.row.source,
                doubt=SAID[Doubt(one.row.doubt)] if one.row.doubt else "",
                reason=one.row.reason,
                level=one.row.level,
                by=one.by,
            )
            for one in found.kept
        ],
        older=found.older,
    )
