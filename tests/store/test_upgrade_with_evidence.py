"""A server with a term's work in it goes back to the last shape of its tables and comes forward.

What was played, what was sent and where everybody stands must be the same afterwards. The columns
that the older shape has no place for are said below; nothing else may differ.
"""

import os
import subprocess
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import create_engine, text
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import (
    School,
    a_repetition,
    a_school,
    an_item,
    app_on,
    assigned,
    hand_in,
    ok,
    with_music,
)
from tests.conftest import ROOT, alembic

NO_PLACE_BEFORE = ("is_aided", "rhythm", "doubt", "reason", "rules", "by_id", "level")
TABLES = {
    "evidence": "id",
    "retraction": "evidence_id",
    "assignment": "id",
    "assignment_item": "id",
    "sent_step": "item_id, place",
    "notation": "key",
    "person": "id",
    "section": "id",
    "piece": "id",
    "part": "id",
    "chunk": "id",
    "sheet": "id",
}


def a_term(new_session: sessionmaker[Session], files: Path) -> School:
    """Clean and slipped repetitions, some taken back, ticks from paper, a job under way."""
    school = with_music(a_school(app_on(new_session, files), new_session, students=3))
    assigned(
        school,
        an_item(school, 4, "alone"),
        an_item(school, 5, "backward"),
        an_item(school, 2, "long-short"),
        an_item(school, 6, "stops"),
        an_item(school, 3, "off-beat-click"),
    )
    for number, student in enumerate(school.students):
        for place, item in enumerate(ok(student.get("/api/me/today"))):
            row = [
                a_repetition(
                    item["item_id"],
                    clean=(n + number + place) % 4 != 0,
                    tempo=item["tempo"],
                    second=400 * place + 90 * n,
                )
                for n in range(4)
            ]
            assert not hand_in(student, *row)["doubted"], "a doubt has no place in the older shape"
            hand_in(student, taken_back=[row[-1]["id"]])
    sheets = ok(school.director.post(f"/api/sheets/of/{school.ids['assignment']}"))
    school.work_off()
    with school.new_session() as session:
        code = session.scalar(text("select code from sheet order by code limit 1"))
    sheet = ok(school.director.get(f"/api/sheets/{code}"))
    day = str((datetime.now(UTC) - timedelta(days=1)).date())
    line = sheet["lines"][0]
    tick = {"item_id": line["item_id"], "tempo_bpm": line["rungs"][0]}
    ok(school.director.post(f"/api/sheets/{code}", json={"played_on": day, "ticks": [tick]}))
    ok(school.director.get(f"/api/sheets/jobs/{sheets['id']}"))
    return school


def kept(url: str) -> dict[str, list[dict[str, Any]]]:
    """Everything in those tables, without what only the newer shape can say."""
    engine = create_engine(url)
    with engine.connect() as connection:
        found = {
            table: [
                {name: value for name, value in row._mapping.items() if name not in NO_PLACE_BEFORE}
                for row in connection.execute(text(f"select * from {table} order by {order}"))
            ]
            for table, order in TABLES.items()
        }
    engine.dispose()
    return found


def standing(school: School) -> Any:
    """What director and students see of it."""
    maps = [ok(school.director.get(f"/api/wall/students/{s}")) for s in school.ids["students"]]
    cells = [
        _as_the_old_shape_can(cell)
        for one in maps
        for part in one["parts"]
        for cell in part["cells"]
    ]
    days = [
        [{name: told for name, told in line.items() if name != "level"} for line in lines]
        for lines in (ok(student.get("/api/me/today")) for student in school.students)
    ]
    return [*cells, *days]


def _as_the_old_shape_can(cell: dict[str, Any]) -> dict[str, Any]:
    """It had no place for the rhythm of a repetition, which tells notes from rhythm."""
    if cell["level"] not in (1, 2):
        return cell
    return {**cell, "level": 1, "why": "", "next": ""}


def test_nothing_played_sent_or_reached_is_lost_on_the_way(
    new_session: sessionmaker[Session], database_url: str, tmp_path: Path
):
    school = a_term(new_session, tmp_path)
    before, stood = kept(database_url), standing(school)
    assert {row["source"] for row in before["evidence"]} == {"self", "paper"}
    assert {row["is_clean"] for row in before["evidence"]} == {True, False}
    assert {row["kind"] for row in before["evidence"]} == {"learn", "set", "prove"}
    assert len(before["retraction"]) == 15
    new_session.kw["bind"].dispose()
    alembic(database_url, "downgrade", "0004")
    engine = create_engine(database_url)
    with engine.begin() as connection:
        count = connection.scalar(text("select count(*) from repetition"))
        assert count == len(before["evidence"])
    engine.dispose()
    upgrade = [sys.executable, "-m", "crumb.admin", "upgrade"]
    env = {**os.environ, "CRUMB_DATABASE_URL": database_url, "CRUMB_FILES_DIR": str(tmp_path)}
    done = subprocess.run(upgrade, cwd=ROOT, env=env, capture_output=True, text=True, check=True)
    assert "5 drills that were sent before were written down" in done.stdout
    after = kept(database_url)
    for table in TABLES:
        assert after[table] == before[table], table
    for now, then in zip(standing(school), stood, strict=True):
        assert now == then
    rebuilt = subprocess.run(
        [*upgrade[:-1], "rebuild-levels"], cwd=ROOT, env=env, capture_output=True, text=True,
        check=False,
    )  # fmt: skip
    assert rebuilt.returncode == 0, rebuilt.stdout
