"""Taking a piece away: said first, undone for a week, then gone with or without what was played."""

from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

import pytest
from sqlalchemy import text

from crumb.api import deps
from crumb.jobs.erasing import erase_pieces
from crumb.jobs.recomputing import rebuild
from crumb.store.tables import Evidence, Hearing, Piece, PiecePart, RehearsalRow
from tests.api.school import ETUDE, School, a_repetition, an_item, assigned, brought_in, ok, play


@pytest.fixture
def played(music_school: School) -> School:
    school = assigned(music_school, an_item(music_school, start=106))
    play(
        school.students[0],
        *(a_repetition(school.ids["items"][0], tempo=106, second=12 * i) for i in range(3)),
    )
    return school


def path(school: School) -> str:
    return f"/api/pieces/{school.ids['piece']}"


def test_what_hangs_on_it_is_said_first(played: School):
    told = ok(played.director.get(f"{path(played)}/hanging"))
    assert told["parts"] == 1
    assert (told["assignments"], told["students"], told["repetitions"]) == (1, 2, 3)
    assert told["chunks"] >= 32


def test_it_is_gone_everywhere_and_comes_back_as_it_was(played: School):
    before = ok(played.students[0].get("/api/me/map"))
    assert played.director.delete(path(played)).status_code == 204
    assert ok(played.director.get("/api/pieces")) == []
    assert ok(played.students[0].get("/api/me/today")) == []
    assert ok(played.students[0].get("/api/me/map")) == []
    assert played.director.get(f"/api/parts/{played.ids['part']}").status_code == 404
    (gone,) = ok(played.director.get("/api/pieces/deleted"))
    assert gone["id"] == played.ids["piece"]
    # What a device still hands in is kept.
    play(played.students[0], a_repetition(played.ids["items"][0], tempo=106, second=60))
    ok(played.director.post(f"{path(played)}/restore"))
    assert len(ok(played.students[0].get("/api/me/today"))) == 1
    after = ok(played.students[0].get("/api/me/map"))
    assert [c["level"] for c in after[0]["cells"]] == [c["level"] for c in before[0]["cells"]]


def in_eight_days(school: School) -> int:
    files = school.app.dependency_overrides[deps.get_files]()
    sounds = school.app.dependency_overrides[deps.get_sounds]()
    return erase_pieces(
        school.new_session, files, sounds, now=datetime.now(UTC) + timedelta(days=8)
    )


def test_after_a_week_the_music_is_gone_and_what_was_played_is_kept(played: School):
    played.director.delete(f"{path(played)}?evidence=keep")
    assert in_eight_days(played) == 1
    assert in_eight_days(played) == 0
    assert played.director.post(f"{path(played)}/restore").status_code == 404
    with played.new_session() as session:
        part = session.get_one(PiecePart, UUID(played.ids["part"]))
        assert part.notation == ""
        assert session.query(Evidence).filter_by(part_id=part.id).count() == 3
    assert rebuild(played.new_session) == []


def test_the_file_goes_with_the_last_piece_that_was_read_from_it(school: School):
    data = ETUDE + b"<!-- a file of its own -->"
    first, second = (brought_in(school, data, name)["id"] for name in ("a.xml", "b.xml"))
    with school.new_session() as session:
        key = session.get_one(Piece, UUID(first)).file_key
    files = school.app.dependency_overrides[deps.get_files]()
    school.director.delete(f"/api/pieces/{first}?evidence=keep")
    assert in_eight_days(school) == 1
    assert files.load(key) == data
    school.director.delete(f"/api/pieces/{second}?evidence=keep")
    assert in_eight_days(school) == 1
    with pytest.raises(FileNotFoundError):
        files.load(key)


def test_or_all_of_it_is_gone_where_the_director_said_so(played: School):
    judged = {
        "id": str(uuid4()),
        "student_id": str(played.ids["students"][0]),
        "chunk_id": played.ids["chunks"][1]["id"],
        "level": 4,
        "missing": [],
    }
    ok(played.director.post(f"/api/hearing/{played.ids['part']}", json=judged))
    today = datetime.now(UTC).date().isoformat()
    wish = {"piece_id": played.ids["piece"], "minutes": 20, "day": today}
    rehearsal = ok(played.director.post("/api/rehearsals", json=wish))["id"]
    played.director.delete(f"{path(played)}?evidence=erase")
    assert in_eight_days(played) == 1
    with played.new_session() as session:
        assert session.get(PiecePart, UUID(played.ids["part"])) is None
        mine = Evidence.program_id == played.program_id
        assert session.query(Evidence).filter(mine).count() == 0
        assert session.get(Hearing, UUID(judged["id"])) is None
        assert session.get(RehearsalRow, UUID(rehearsal)) is None
        with pytest.raises(Exception, match="append-only"):
            session.execute(text("delete from evidence"))
