"""Every take ends, playable or in words; what is erased is erased, whatever is at work on it."""

import os
import threading
import zipfile
from collections.abc import Callable
from datetime import timedelta

import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from crumb.api import deps
from crumb.jobs import erasing
from crumb.jobs.erasing import erase_takes
from crumb.jobs.sweeping import sweep
from crumb.jobs.work import carry_out
from crumb.services.jobs import Try
from crumb.services.takes import takes
from crumb.store.backup import back_up
from crumb.store.files import Sounds
from crumb.store.queries import jobs
from tests.api.school import School, a_school, assigned, ok, with_music, work_of
from tests.api.test_takes import a_take, a_tone, hand_in, mine, sound_files


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    made = assigned(with_music(a_school(app, new_session)))
    ok(made.director.put("/api/takes/rules", json={"is_on": True, "weeks": 6}))
    return made


def sounds_of(school: School) -> Sounds:
    return school.app.dependency_overrides[deps.get_sounds]()


def swept(school: School) -> int:
    """What a sweep of everything would find now, the youngest too."""
    files, sounds = (
        school.app.dependency_overrides[one]() for one in (deps.get_files, deps.get_sounds)
    )
    return sweep(school.new_session, files, sounds, young_seconds=-5)


# Moments that cannot be ------------------------------------------------------------------------


@pytest.mark.parametrize(
    "moment",
    ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "1950-01-01T00:00:00Z"],
)
def test_a_moment_that_nobody_can_tell_is_refused_before_anything_is_kept(school, moment):
    before = sound_files(school)
    assert hand_in(school, recorded_at=moment).status_code == 422
    assert (mine(school), sound_files(school)) == ([], before)


def test_one_take_that_cannot_be_erased_holds_up_no_other(school, monkeypatch):
    first, second = (a_take(school, student) for student in (0, 1))
    with school.new_session() as session:
        session.execute(text("update take set handed_in_at = now() - interval '7 weeks'"))
        session.commit()
    whole = takes.erase

    def failing(session, sounds, take_id):
        if str(take_id) == first["id"]:
            raise ValueError("poison")
        return whole(session, sounds, take_id)

    monkeypatch.setattr(erasing.takes, "erase", failing)
    assert erase_takes(school.new_session, sounds_of(school)) == 1
    assert [one["id"] for one in mine(school, 0) + mine(school, 1)] == [first["id"]]
    assert second["id"] != first["id"]


# Erased while it is made playable ---------------------------------------------------------------


def claimed(school: School) -> Try:
    with school.new_session() as session:
        claim = jobs.claim(session)
        session.commit()
    assert claim is not None
    return Try(claim.id, claim.tries, school.new_session)


def make_playable(school: School) -> None:
    """What a worker does; a take that goes meanwhile is a fault that its second try explains."""
    for _ in range(jobs.MOST_TRIES):
        attempt = claimed(school)
        work = work_of(attempt, "take", None, sounds=sounds_of(school))
        try:
            carry(attempt, work)
        except Exception:
            with school.new_session() as session:
                jobs.put_back(session, attempt.id, attempt.number)
                session.commit()
        else:
            return


def carry(attempt: Try, work: Callable[[Session], None]) -> None:
    carry_out(attempt, "take", work)


@pytest.mark.parametrize("stage", ["waiting", "reading", "made", "stored", "ended"])
def test_a_take_that_is_erased_at_any_stage_leaves_no_sound(school, monkeypatch, stage):
    before = sound_files(school)
    take = ok(hand_in(school))
    erasers: list[threading.Thread] = []

    def erase() -> None:
        assert school.students[0].delete(f"/api/takes/{take['id']}").status_code in (204, 404)

    def erase_beside(*_: object) -> None:
        """As somebody else does it: it may have to wait for the row."""
        if not erasers:
            erasers.append(threading.Thread(target=erase))
            erasers[0].start()
            erasers[0].join(0.5)

    sounds = sounds_of(school)
    whole_mp3, whole_save, whole_done = takes.to_mp3, sounds.save, Try.done
    if stage == "waiting":
        erase()
    if stage == "reading":
        monkeypatch.setattr(takes, "to_mp3", lambda *a, **k: (erase(), whole_mp3(*a, **k))[1])
    if stage == "made":
        monkeypatch.setattr(sounds, "save", lambda data: (erase(), whole_save(data))[1])
    if stage == "stored":

        def done(attempt: Try, session: Session) -> None:
            whole_done(attempt, session)
            erase_beside()

        monkeypatch.setattr(Try, "done", done)
    make_playable(school)
    if stage == "ended":
        erase()
    for eraser in erasers:
        eraser.join(20)
        assert not eraser.is_alive()
    assert mine(school) == []
    assert sound_files(school) == before
    assert swept(school) == 0


# Jobs that end badly ---------------------------------------------------------------------------


def test_a_take_whose_job_died_twice_is_told_and_its_upload_is_swept(school, tmp_path):
    before = sound_files(school)
    ok(hand_in(school))
    for _ in range(jobs.MOST_TRIES):
        attempt = claimed(school)
        with school.new_session() as session:
            jobs.put_back(session, attempt.id, attempt.number)
            session.commit()
    (take,) = mine(school)
    assert (take["state"], "record it again" in take["message"]) == ("failed", True)
    told = back_up(school.new_session().get_bind(), sounds_of(school).root.parent, tmp_path / "b")
    assert told
    assert swept(school) == 1
    assert sound_files(school) == before
    assert ok(hand_in(school))["state"] == "waiting"  # and it can be recorded again


def test_a_take_outlasts_two_hours_without_a_worker(school):
    ok(hand_in(school))
    with school.new_session() as session:
        session.execute(text("update job set alive_at = now() - interval '2 hours'"))
        jobs.give_up_dead(session)
        session.commit()
    assert mine(school)[0]["state"] == "waiting"
    school.work_off()
    assert mine(school)[0]["state"] == "ready"


def test_a_take_that_no_program_can_read_leaves_nothing_of_it(school):
    before = sound_files(school)
    a_take(school, sound=b"RIFF" + b"\0" * 400)
    assert mine(school)[0]["state"] == "failed"
    assert sound_files(school) == before


# Files against rows -----------------------------------------------------------------------------


def test_a_file_that_no_row_names_is_swept_and_is_in_no_backup(school, tmp_path):
    kept = a_take(school)
    sounds = sounds_of(school)
    stray = sounds.save(a_tone(1))
    engine = school.new_session().get_bind()
    back_up(engine, sounds.root.parent, tmp_path / "backup")
    with zipfile.ZipFile(tmp_path / "backup") as archive:
        assert not any(stray in name for name in archive.namelist())
    assert sweep(school.new_session, sounds_of(school), sounds) == 0  # too young to be judged
    assert swept(school) == 1
    assert not sounds.path_of(stray).exists()
    assert school.students[0].get(f"/api/takes/{kept['id']}/sound").status_code == 200


def test_an_upload_that_is_sent_again_is_not_swept_as_an_old_one(school):
    files = school.app.dependency_overrides[deps.get_files]()
    key = files.save(b"an upload whose import failed long ago")
    old = files.older_than(-5)
    assert key in old
    os.utime(files._path(key), (0, 0))
    files.save(b"an upload whose import failed long ago")  # somebody brings it in again
    assert not files.forget_older(key, timedelta(hours=1).total_seconds())
    assert files.load(key)
