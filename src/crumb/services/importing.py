"""Bringing music in: an upload becomes a piece, step by step, with a report in plain words."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from fractions import Fraction
from pathlib import PurePath
from typing import Any, Protocol
from uuid import UUID, uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError, UnreadableFile
from crumb.core.kin.finding import find_kin
from crumb.core.score.glance import goal_of, main_beat
from crumb.core.score.model import Part, Score
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import Reading, read_music, refuse_at_once
from crumb.services import mapping
from crumb.services.errors import NotFound
from crumb.services.music import facts_of, get_piece
from crumb.services.surveying import instrument_of, surveyed
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


def work_off(new_session: Callable[[], Session], files: FileStore, import_id: UUID) -> None:
    """Read an upload, survey its parts, find kin, keep it all; a failure is kept in words."""
    with new_session() as session:
        job = session.get_one(ImportJob, import_id)
        if job.state in ("done", "failed"):
            return  # handed out twice

        def progress(stage: str, done: int, total: int) -> None:
            with new_session() as aside:
                row = aside.get_one(ImportJob, import_id)
                row.state, row.stage, row.done, row.total = "working", stage, done, total
                aside.commit()

        try:
            progress("reading", 0, 0)
            reading = read_music(
                files.load(job.file_key), lambda done, total: progress("reading", done, total)
            )
            who = Who(job.person_id, job.program_id, "director", "", "", "")
            piece = store_reading(session, who, job, reading, progress)
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


def _ended(
    session: Session, import_id: UUID, state: str, message: str, piece_id: UUID | None
) -> None:
    job = session.get_one(ImportJob, import_id)
    session.refresh(job)
    job.state, job.message, job.piece_id = state, message[:400], piece_id
    job.ended_at = datetime.now(UTC)
    session.commit()


@dataclass(frozen=True, slots=True)
class _Made:
    part: Part
    row: PiecePart


def store_reading(
    session: Session,
    who: Who,
    job: ImportJob,
    reading: Reading,
    progress: Progress = lambda stage, done, total: None,
) -> Piece:
    """Keep a score: every part with notes, its survey, kin among them, and the report.

    Raises:
        UnreadableFile: no part has a note.
    """
    score = reading.score
    playable = [part for part in score.parts if part.attack_count]
    if not playable:
        raise UnreadableFile("There is no note in this file.")
    name = PurePath(job.file_name).stem.replace("_", " ").replace("-", " ")
    piece = Piece(
        id=uuid4(),
        program_id=who.program_id,
        title=(score.title or name or "Untitled")[:200],
        composer=score.composer[:200],
        file_name=job.file_name,
        file_key=job.file_key,
        report=report(reading, playable),
    )
    session.add(piece)
    session.flush()
    made = []
    longest = max(len(part.measures) for part in playable)
    for place, part in enumerate(playable):
        progress("surveying", place, len(playable))
        made.append(_Made(part, _store_part(session, who, piece, place, part, longest)))
    progress("looking for kin", 0, 0)
    _store_kin(session, piece, made)
    rows = [m.row for m in made]
    mapping.suggest(session, who, rows)
    if job.replaces_id is not None:
        mapping.carry_over(session, who, job.replaces_id, piece, [(m.row, m.part) for m in made])
    session.flush()
    return piece


def _store_part(
    session: Session, who: Who, piece: Piece, place: int, part: Part, longest: int
) -> PiecePart:
    played_on = instrument_of(part).name
    goal = goal_of(part)
    row = PiecePart(
        id=uuid4(),
        program_id=who.program_id,
        piece_id=piece.id,
        place=place,
        name=part.name[:120],
        instrument=part.instrument[:120],
        notation=write_part(part),
        facts=facts_of(part, longest),
        goal_bpm=goal,
        played_on=played_on,
        survey=surveyed(part, played_on, goal * main_beat(part)),
    )
    session.add(row)
    session.flush()
    session.add(PartMap(id=row.id, part_id=row.id, section_id=None, cursor=0))
    return row


def _store_kin(session: Session, piece: Piece, made: Sequence[_Made]) -> None:
    found = find_kin([m.part for m in made])
    session.flush()
    session.add_all(
        KinLink(
            id=uuid4(),
            piece_id=piece.id,
            place=place,
            a_part_id=made[kin.a.part].row.id,
            a_first=kin.a.first,
            a_last=kin.a.last,
            b_part_id=made[kin.b.part].row.id,
            b_first=kin.b.first,
            b_last=kin.b.last,
            relation=kin.relation,
            interval=kin.interval,
            scale=Fraction(kin.scale),
            differs=[{"index": d.index, "a": d.a, "b": d.b} for d in kin.differs],
        )
        for place, kin in enumerate(found)
    )
    session.flush()


def report(reading: Reading, parts: Sequence[Part]) -> list[dict[str, Any]]:
    """What was read, what was not kept, and what looks wrong, in plain words."""
    score = reading.score
    names = {part.id: part.name for part in score.parts}
    lines = [_line("read", "", _what_was_read(reading, parts))]
    lines.extend(_line("remark", "", remark) for remark in reading.remarks)
    silent = [part.name for part in score.parts if not part.attack_count]
    if silent:
        lines.append(_line("remark", "", f"Left out, because no note is in it: {_few(silent)}."))
    for part_id, what, numbers in score.unread:
        where = f"measure {numbers[0]}" if len(numbers) == 1 else f"measures {_few(numbers)}"
        lines.append(_line("not-kept", names[part_id], f"Not kept: {what} ({where})."))
    return lines


def _what_was_read(reading: Reading, parts: Sequence[Part]) -> str:
    notes = sum(part.attack_count for part in parts)
    measures = max(len(part.measures) for part in parts)
    count = "1 part" if len(parts) == 1 else f"{len(parts)} parts"
    return f"{reading.kind}: {count}, {measures} measures, {notes} notes."


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
    piece = store_reading(session, who, job, Reading(score, "MusicXML"))
    session.commit()
    return piece
