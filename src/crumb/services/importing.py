"""Bringing music in: an upload becomes a piece, step by step, with a report in plain words."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import PurePath
from time import monotonic
from typing import Any, Protocol
from uuid import UUID, uuid4

from sqlalchemy import Text, cast, column, func, insert, literal, select
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError, UnreadableFile
from crumb.core.kin.finding import kin_among
from crumb.core.kin.model import Kin, Sketch
from crumb.core.score.glance import ends_early
from crumb.core.score.model import Score
from crumb.formats.musicxml.cutting import NotCuttable
from crumb.formats.reading import (
    Each,
    OpenedMusic,
    open_music,
    opened_already,
    refuse_at_once,
)
from crumb.services import mapping
from crumb.services.errors import NotFound
from crumb.services.music import get_piece
from crumb.services.preparing import Prepared, prepare, uncollected
from crumb.services.who import Who
from crumb.store.files import FileStore
from crumb.store.tables import ImportJob, KinLink, PartMap, Piece, PiecePart

Progress = Callable[[str, int, int], None]
"""Told the stage, how much of it is done, and of how much."""


class Queue(Protocol):
    """Hands an import to whoever works it off."""

    def put(self, import_id: UUID) -> None:
        """The import is stored; read it soon."""


def begin(
    session: Session,
    files: FileStore,
    queue: Queue,
    who: Who,
    *,
    file_name: str,
    data: bytes,
    replaces: UUID | None = None,
) -> ImportJob:
    """Keep an upload and have it read in the background.

    Args:
        session: the request's.
        files: where uploads lie.
        queue: where the work is put.
        who: the director.
        file_name: as uploaded.
        data: the file.
        replaces: the piece that this is a new version of.

    Raises:
        UnreadableFile: it is plainly no music; nothing is stored.
        NotFound: no such piece to replace.
    """
    refuse_at_once(data)
    if replaces is not None:
        get_piece(session, who, replaces)
    job = ImportJob(
        id=uuid4(),
        program_id=who.program_id,
        person_id=who.person_id,
        file_name=PurePath(file_name.replace("\\", "/")).name[:200] or "upload",
        file_key=files.save(data),
        replaces_id=replaces,
    )
    session.add(job)
    session.commit()
    queue.put(job.id)
    session.refresh(job)
    return job


def get_import(session: Session, who: Who, import_id: UUID) -> ImportJob:
    """How far an import is.

    Raises:
        NotFound: not of this program.
    """
    job = session.scalar(
        select(ImportJob).where(ImportJob.id == import_id, ImportJob.program_id == who.program_id)
    )
    if job is None:
        raise NotFound("There is no such import.")
    return job


def work_off(
    new_session: Callable[[], Session], files: FileStore, import_id: UUID, each: Each = map
) -> None:
    """Read an upload, survey its parts, find kin, keep it all; a failure is kept in words.

    Args:
        new_session: opens sessions.
        files: where uploads lie.
        import_id: which.
        each: applies work to the parts; ``map``, or one that has helpers.
    """
    with uncollected(), new_session() as session:
        job = session.get_one(ImportJob, import_id)
        if job.state in ("done", "failed"):
            return  # handed out twice
        tell = _Teller(new_session, import_id)
        try:
            tell("reading", 0, 0)
            try:
                piece = _brought_in(session, files, job, tell, each)
            except NotCuttable:
                session.rollback()
                piece = _brought_in(session, files, job, tell, map, plainly=False)
        except CrumbError as error:
            session.rollback()
            _ended(session, import_id, "failed", error.message, None)
        except Exception:
            session.rollback()
            fault = "Crumb had a fault while reading this file; nothing was stored."
            _ended(session, import_id, "failed", fault, None)
            raise
        else:
            _ended(session, import_id, "done", "", piece.id)


def _brought_in(
    session: Session,
    files: FileStore,
    job: ImportJob,
    tell: Progress,
    each: Each,
    *,
    plainly: bool = True,
) -> Piece:
    data = files.load(job.file_key)
    opened = open_music(data, plainly=plainly)
    del data  # cut into parts by now; the larger a score, the more that is
    return _store(session, job, opened, each(prepare, opened.score.parts), tell)


class _Teller:
    """Writes down how far an import is, often enough for whoever watches."""

    _PAUSE = 0.3  # seconds; each time costs the database a commit

    def __init__(self, new_session: Callable[[], Session], import_id: UUID) -> None:
        self._new_session, self._import_id = new_session, import_id
        self._told_at = 0.0
        self._stage = ""

    def __call__(self, stage: str, done: int, total: int) -> None:
        now = monotonic()
        if stage == self._stage and now - self._told_at < self._PAUSE:
            return
        self._told_at, self._stage = now, stage
        with self._new_session() as aside:
            row = aside.get_one(ImportJob, self._import_id)
            row.state, row.stage, row.done, row.total = "working", stage, done, total
            aside.commit()


def give_up(new_session: Callable[[], Session], import_id: UUID) -> None:
    """It was begun more than once and never ended: say so."""
    with new_session() as session:
        if session.get_one(ImportJob, import_id).state not in ("done", "failed"):
            told = "Crumb stopped twice in the middle of this file; nothing was stored."
            _ended(session, import_id, "failed", told, None)


def _ended(
    session: Session, import_id: UUID, state: str, message: str, piece_id: UUID | None
) -> None:
    job = session.get_one(ImportJob, import_id)
    session.refresh(job)
    job.state, job.message, job.piece_id = state, message[:400], piece_id
    job.ended_at = datetime.now(UTC)
    session.commit()


def _store(
    session: Session,
    job: ImportJob,
    opened: OpenedMusic,
    parts: Iterable[Prepared],
    tell: Progress = lambda stage, done, total: None,
) -> Piece:
    """Keep a score: every part with notes, its survey, kin among them, and the report.

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
        if part.attack_count:
            rows.append(_row(piece, len(rows), part))
            sketches.append(part.sketch)
            session.add(rows[-1])
            session.flush()
            session.expire(rows[-1], ["notation", "survey"])  # long, and not wanted again here
        tell("reading", done, len(opened.score.parts))
    if not rows:
        raise UnreadableFile("There is no note in this file.")
    piece.report = report(opened, glances)
    longest = max(row.facts["measures"] for row in rows)
    for row in rows:
        early = ends_early(row.facts["measures"], longest)
        if early:
            row.facts = {**row.facts, "findings": [*row.facts["findings"], *early]}
    session.add_all(PartMap(id=row.id, part_id=row.id, section_id=None, cursor=0) for row in rows)
    tell("looking for kin", 0, 0)
    _store_kin(session, piece, rows, kin_among(sketches))
    who = Who(job.person_id, job.program_id, "director", "", "", "")
    mapping.suggest(session, who, rows)
    if job.replaces_id is not None:
        mapping.carry_over(session, who, job.replaces_id, piece, rows)
    session.flush()
    return piece


@dataclass(frozen=True, slots=True)
class _Glance:
    """What the report says of a part."""

    name: str
    attack_count: int
    measure_count: int
    unread: tuple[tuple[str, tuple[str, ...]], ...]


def _row(piece: Piece, place: int, part: Prepared) -> PiecePart:
    return PiecePart(
        id=uuid4(),
        program_id=piece.program_id,
        piece_id=piece.id,
        place=place,
        name=part.name[:120],
        instrument=part.instrument[:120],
        notation=part.notation,
        facts=part.facts,
        goal_bpm=part.goal,
        played_on=part.played_on,
        survey=cast(literal(part.survey, Text), JSONB),
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
            "differs": [{"index": d.index, "a": d.a, "b": d.b} for d in kin.differs],
        }
        for place, kin in enumerate(found)
    ]
    # A large score has over a thousand: sent as one value they take a quarter of the time.
    wanted = [c for c in KinLink.__table__.columns if c.name != "verdict"]
    sent = (
        func.jsonb_to_recordset(cast(links, JSONB))
        .table_valued(*(column(c.name, c.type) for c in wanted))
        .render_derived(name="link", with_types=True)
    )
    names = [c.name for c in wanted]
    source = select(*(sent.c[name] for name in names))
    session.execute(insert(KinLink).from_select(names, source))


def report(opened: OpenedMusic, parts: Sequence[_Glance]) -> list[dict[str, Any]]:
    """What was read, what was not kept, and what looks wrong, in plain words."""
    lines = [_line("read", "", _what_was_read(opened, [p for p in parts if p.attack_count]))]
    lines.extend(_line("remark", "", remark) for remark in opened.remarks)
    silent = [part.name for part in parts if not part.attack_count]
    if silent:
        lines.append(_line("remark", "", f"Left out, because no note is in it: {_few(silent)}."))
    for part in parts:
        for what, numbers in part.unread:
            where = f"measure {numbers[0]}" if len(numbers) == 1 else f"measures {_few(numbers)}"
            lines.append(_line("not-kept", part.name, f"Not kept: {what} ({where})."))
    return lines


def _what_was_read(opened: OpenedMusic, parts: Sequence[_Glance]) -> str:
    notes = sum(part.attack_count for part in parts)
    measures = max(part.measure_count for part in parts)
    count = "1 part" if len(parts) == 1 else f"{len(parts)} parts"
    return f"{opened.kind}: {count}, {measures} measures, {notes} notes."


def _line(kind: str, part: str, text: str) -> dict[str, Any]:
    return {"kind": kind, "part": part, "text": text}


def _few(words: Sequence[str]) -> str:
    return ", ".join(words[:8]) + (" and more" if len(words) > 8 else "")


def store_score(
    session: Session, files: FileStore, who: Who, *, score: Score, file_name: str, data: bytes
) -> Piece:
    """Keep a score that was made here rather than uploaded."""
    job = ImportJob(
        id=uuid4(),
        program_id=who.program_id,
        person_id=who.person_id,
        file_name=file_name,
        file_key=files.save(data),
        state="done",
        stage="",
        done=0,
        total=0,
        message="",
    )
    opened = opened_already(score)
    piece = _store(session, job, opened, map(prepare, opened.score.parts))
    session.commit()
    return piece
