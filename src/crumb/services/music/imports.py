"""Bringing music in: an upload becomes a piece, step by step, with a report in plain words."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from pathlib import PurePath
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.errors import UnreadableFile
from crumb.core.score.glance import ends_early
from crumb.core.score.model import Score
from crumb.core.similarity.finding import kin_among
from crumb.core.similarity.model import Kin, Sketch
from crumb.core.vocabulary import JobKind, Role
from crumb.formats.musicxml.cutting import NotCuttable
from crumb.formats.reading import (
    Each,
    OpenedMusic,
    open_music,
    opened_already,
    refuse_at_once,
)
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.jobs import Try
from crumb.services.library.pieces import get_piece
from crumb.services.music import seating
from crumb.services.music.preparation import Prepared, engrave_first, prepare, uncollected
from crumb.store.codecs.facts import facts_from_json, facts_to_json
from crumb.store.codecs.reports import ReportLine, Said, report_to_json
from crumb.store.files import FileStore
from crumb.store.queries import jobs, locks
from crumb.store.queries.kin import store_links
from crumb.store.queries.pieces import json_of
from crumb.store.tables import Job, PartMap, Piece, PiecePart

MOST_BYTES = 4_000_000_000
"""Of one school's uploads: a thousand pieces of the largest kind that is usual."""
Progress = Callable[[str, int, int], None]
"""Told the stage, how much of it is done, and of how much."""


def begin(
    session: Session,
    files: FileStore,
    actor: Actor,
    *,
    file_name: str,
    data: bytes,
    replaces: UUID | None = None,
) -> Job:
    """Keep an upload and have it read in the background.

    Args:
        session: the request's.
        files: where uploads lie.
        actor: the director.
        file_name: as uploaded.
        data: the file.
        replaces: the piece that this is a new version of.

    Raises:
        UnreadableFile: it is plainly no music; nothing is stored.
        NotAccepted: the school has no room left.
        NotFound: no such piece to replace.
    """
    refuse_at_once(data)
    locks.have_key(session, actor.program_id)  # two at once are not both the last one
    if jobs.bytes_of(session, actor.program_id) + len(data) > MOST_BYTES:
        room = f"{MOST_BYTES // 1_000_000_000} GB"
        raise NotAccepted(
            f"Your school's music fills the {room} that it has: delete a piece first."
        )
    if replaces is not None:
        get_piece(session, actor, replaces)
    job = Job(
        id=uuid4(),
        program_id=actor.program_id,
        person_id=actor.person_id,
        kind=JobKind.IMPORT,
        file_name=_tidy_name(file_name),
        file_key=files.save(data),
        bytes=len(data),
        replaces_id=replaces,
    )
    session.add(job)
    session.flush()
    session.refresh(job)
    return job


def _tidy_name(file_name: str) -> str:
    seen = "".join(c for c in file_name.replace("\\", "/") if c.isprintable())
    return PurePath(seen).name[:200] or "upload"


def bring_in(session: Session, attempt: Try, files: FileStore, each: Each = map) -> None:
    """Read an upload, survey its parts, find kin, keep it all.

    Args:
        session: the worker's, which commits.
        attempt: at the job.
        files: where uploads lie.
        each: applies work to the parts; ``map``, or one that has helpers.

    Raises:
        CrumbError: the file cannot be used; says why.
        Abandoned: nobody wants it any more.
    """
    with uncollected():
        job = session.get_one(Job, attempt.id)
        attempt.tell("reading", 0, 0)
        try:
            with session.begin_nested():
                piece = _brought_in(session, files, job, attempt.tell, each)
        except NotCuttable:
            piece = _brought_in(session, files, job, attempt.tell, map, plainly=False)
        attempt.done(session, piece_id=piece.id)


def _brought_in(
    session: Session,
    files: FileStore,
    job: Job,
    tell: Progress,
    each: Each,
    *,
    plainly: bool = True,
) -> Piece:
    data = files.load(job.file_key)
    opened = open_music(data, plainly=plainly)
    del data  # cut into parts by now; the larger a score, the more that is
    return _store(session, job, opened, each(prepare, opened.score.parts), tell)


def _store(
    session: Session,
    job: Job,
    opened: OpenedMusic,
    parts: Iterable[Prepared],
    tell: Progress = lambda stage, done, total: None,
    *,
    keep_blank: bool = False,
) -> Piece:
    """Keep a score: every part with notes, its survey, kin among them, and the report.

    Of a part that is measures alone this takes ``keep_blank``: in a file it is an oversight.

    Parts are kept as they come, while helpers prepare the next.

    Raises:
        UnreadableFile: a part cannot be read, or none has a note.
        NotCuttable: the file must be read in whole.
    """
    name = PurePath(job.file_name).stem.replace("_", " ").replace("-", " ")
    piece = Piece(
        id=uuid4(),
        program_id=job.program_id,
        title=(opened.score.title or name or "Untitled")[:200],
        composer=opened.score.composer[:200],
        file_name=job.file_name,
        file_key=job.file_key,
        report=[],
    )
    session.add(piece)
    glances: list[_Glance] = []
    rows: list[PiecePart] = []
    sketches: list[Sketch] = []
    for done, part in enumerate(parts, 1):
        glances.append(_Glance(part.name, part.attack_count, part.measure_count, part.unread))
        if part.attack_count or keep_blank:
            engrave_first(part)
            rows.append(_row(piece, len(rows), part))
            sketches.append(part.sketch)
            session.add(rows[-1])
            session.flush()
            session.expire(rows[-1], ["notation", "survey"])  # long, and not wanted again here
        tell("reading", done, len(opened.score.parts))
    if not rows:
        raise UnreadableFile("There is no note in this file.")
    piece.report = report_to_json(report(opened, glances))
    facts = [facts_from_json(row.facts) for row in rows]
    longest = max(one.measures for one in facts)
    for row, one in zip(rows, facts, strict=True):
        early = ends_early(one.measures, longest)
        if early:
            row.facts = facts_to_json(replace(one, findings=[*one.findings, *early]))
    session.add_all(PartMap(id=row.id, part_id=row.id, section_id=None, cursor=0) for row in rows)
    tell("looking for kin", 0, 0)
    _store_kin(session, piece, rows, kin_among(sketches))
    actor = Actor(job.person_id, job.program_id, Role.DIRECTOR)
    seating.suggest(session, actor, rows)
    if job.replaces_id is not None:
        seating.carry_over(session, actor, job.replaces_id, piece, rows)
    session.flush()
    return piece


@dataclass(frozen=True, slots=True)
class _Glance:
    """Lines of the import report about a part."""

    name: str
    attack_count: int
    measure_count: int
    unread: tuple[tuple[str, tuple[str, ...]], ...]


def _row(piece: Piece, place: int, part: Prepared) -> PiecePart:
    part_id = uuid4()
    return PiecePart(
        id=part_id,
        root_id=part_id,
        program_id=piece.program_id,
        piece_id=piece.id,
        place=place,
        name=part.name[:120],
        instrument=part.instrument[:120],
        notation=part.notation,
        facts=facts_to_json(part.facts),
        goal_bpm=part.goal,
        played_on=part.played_on,
        survey=json_of(part.survey),
        on_pages=part.on_pages,
    )


def _store_kin(
    session: Session, piece: Piece, rows: Sequence[PiecePart], found: Sequence[Kin]
) -> None:
    links = [
        {
            "id": str(uuid4()),
            "piece_id": str(piece.id),
            "place": place,
            "a_part_id": str(rows[kin.a.part].id),
            "a_first": kin.a.first,
            "a_last": kin.a.last,
            "b_part_id": str(rows[kin.b.part].id),
            "b_first": kin.b.first,
            "b_last": kin.b.last,
            "relation": kin.relation,
            "interval": kin.interval,
            "scale": str(kin.scale),
            "steps": kin.steps,
            "later": str(kin.later),
            "differs": [{"index": d.index, "a": d.a, "b": d.b} for d in kin.differs],
            "is_claimed": False,
        }
        for place, kin in enumerate(found)
    ]
    store_links(session, links)


def report(opened: OpenedMusic, parts: Sequence[_Glance]) -> list[ReportLine]:
    """The import report in plain words: what Crumb read, left out, and doubts."""
    if not any(part.attack_count for part in parts):
        measures = max(part.measure_count for part in parts)
        count = "1 part" if len(parts) == 1 else f"{len(parts)} parts"
        text = f"{count}, {measures} measures, numbered and counted; the notes stay on paper."
        return [ReportLine(Said.READ, "", text)]
    lines = [
        ReportLine(Said.READ, "", _what_was_read(opened, [p for p in parts if p.attack_count]))
    ]
    lines.extend(ReportLine(Said.REMARK, "", remark) for remark in opened.remarks)
    silent = [part.name for part in parts if not part.attack_count]
    if silent:
        lines.append(
            ReportLine(Said.REMARK, "", f"Left out, because no note is in it: {_few(silent)}.")
        )
    for part in parts:
        for what, numbers in part.unread:
            where = f"measure {numbers[0]}" if len(numbers) == 1 else f"measures {_few(numbers)}"
            lines.append(ReportLine(Said.NOT_KEPT, part.name, f"Not kept: {what} ({where})."))
    return lines


def _what_was_read(opened: OpenedMusic, parts: Sequence[_Glance]) -> str:
    notes = sum(part.attack_count for part in parts)
    measures = max(part.measure_count for part in parts)
    count = "1 part" if len(parts) == 1 else f"{len(parts)} parts"
    return f"{opened.kind}: {count}, {measures} measures, {notes} notes."


def _few(words: Sequence[str]) -> str:
    return ", ".join(words[:8]) + (" and more" if len(words) > 8 else "")


def store_score(
    session: Session,
    files: FileStore,
    actor: Actor,
    *,
    score: Score,
    file_name: str,
    data: bytes,
    replaces: UUID | None = None,
) -> Piece:
    """Keep a score that was made here rather than uploaded, as a new version of another if said."""
    job = Job(
        id=uuid4(),
        program_id=actor.program_id,
        person_id=actor.person_id,
        kind=JobKind.IMPORT,
        file_name=file_name,
        file_key=files.save(data),
        replaces_id=replaces,
    )
    opened = opened_already(score)
    return _store(session, job, opened, map(prepare, opened.score.parts), keep_blank=True)
