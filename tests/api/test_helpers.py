"""A large score on its way in: worked on by helpers, told as it goes, kept whole or not at all."""

import os
import signal
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from bench.wind_score import wind_score
from crumb.jobs.helpers import each_with_help
from crumb.services.jobs import Try
from crumb.store.tables import Job, Piece
from tests.api.school import Desk, School, a_school

LARGE = wind_score(7, 100)
assert len(LARGE) > 1_000_000


@pytest.fixture
def desk(school: School, new_session: sessionmaker[Session], tmp_path: Path) -> Desk:
    return Desk(school, new_session, tmp_path)


def test_helpers_keep_what_one_process_keeps(desk: Desk):
    alone, helped = desk.bring_in(LARGE), desk.bring_in(LARGE, each_with_help)
    assert (alone.state, helped.state) == ("done", "done")
    assert len(desk.kept(helped)) == 7
    assert desk.kept(helped) == desk.kept(alone)
    assert desk.kin(helped) == desk.kin(alone) != []


def test_a_wrong_note_in_a_helpers_part_is_told_with_its_place_and_nothing_is_kept(desk: Desk):
    at = LARGE.rindex(b"<octave>")
    wrong = LARGE[:at] + LARGE[at:].replace(b"<octave>", b"<octave>9", 1)
    job = desk.bring_in(wrong, each_with_help)
    assert (job.state, job.piece_id) == ("failed", None)
    assert "Bass Clarinet, measure" in job.message
    with desk.makes() as session:
        mine = Piece.program_id == desk.actor.program_id
        assert session.scalar(select(func.count()).select_from(Piece).where(mine)) == 0


def test_a_part_that_only_the_tree_parser_reads_is_read_after_all(desk: Desk):
    odd = LARGE.replace(b"<rehearsal>A</rehearsal>", b"<rehearsal><![CDATA[A]]></rehearsal>")
    half = len(LARGE) // 2
    late = LARGE[:half] + LARGE[half:].replace(b"<measure ", b"<measure xml:lang='de' ", 1)
    for data in (odd, late):
        job = desk.bring_in(data, each_with_help)
        assert job.state == "done"
        assert len(desk.kept(job)) == 7


def test_helpers_that_die_leave_nothing_behind(desk: Desk):
    job = desk.bring_in(LARGE, _each_killed)
    assert (job.state, job.piece_id) == ("failed", None)
    assert "nothing was stored" in job.message
    assert desk.bring_in(LARGE, each_with_help).state == "done"


def _each_killed(work: Any, parts: Any) -> Iterator[Any]:
    return each_with_help(_killed, parts)


def _killed(part: Any) -> Any:
    os.kill(os.getpid(), signal.SIGKILL)


def test_little_music_is_not_worth_a_helper(desk: Desk, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr("crumb.jobs.helpers._helped", None)
    assert desk.bring_in(wind_score(2, 20), each_with_help).state == "done"


def test_how_far_it_is_is_told_part_by_part(desk: Desk, monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setattr(Try, "_PAUSE", 0)
    seen = []

    def watching(work: Any, parts: Any) -> Iterator[Any]:
        for part in parts:
            yield work(part)
            with desk.makes() as session:
                job = session.scalars(
                    select(Job).where(Job.program_id == desk.actor.program_id)
                ).one()
                seen.append((job.state, job.stage, job.done, job.total))

    assert desk.bring_in(wind_score(3, 12), watching).state == "done"
    assert seen == [
        ("working", "reading", 1, 3),
        ("working", "reading", 2, 3),
        ("working", "reading", 3, 3),
    ]


def test_a_part_that_ends_early_says_so(desk: Desk):
    short = wind_score(2, 12)
    last = short.rindex(b'<measure number="11"')
    cut_off = short[:last] + b"</part></score-partwise>"
    job = desk.bring_in(cut_off)
    flute, second = desk.kept(job)
    assert flute[2]["findings"] == []
    assert second[2]["findings"] == ["This part ends early: 10 measures, the score has 12."]


def test_two_programs_do_not_see_each_others_imports(
    app: Any, desk: Desk, new_session: sessionmaker[Session], tmp_path: Path
):
    other = Desk(a_school(app, new_session), new_session, tmp_path)
    mine, theirs = desk.bring_in(wind_score(2, 8)), other.bring_in(wind_score(2, 8))
    assert mine.piece_id != theirs.piece_id
    with desk.makes() as session:
        for job, owner in ((mine, desk), (theirs, other)):
            piece = session.get_one(Piece, job.piece_id)
            assert piece.program_id == owner.actor.program_id
