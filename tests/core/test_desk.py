"""What needs a director, from facts where it is known."""

from datetime import date, timedelta

import pytest

from crumb.core.desk import (
    Due,
    LastSeen,
    Line,
    LineKind,
    Said,
    StudentName,
    TakesOwed,
    WeekOn,
    is_stuck,
    lines,
    most_pressing,
)
from tests.builders import F

TODAY = date(2026, 3, 20)
UNA, FIA, OTIS = (StudentName(name, name) for name in ("Una", "Fia", "Otis"))


def week(
    who: StudentName, *, days: int = 4, clean: int = 10, slips: int = 12, **more: object
) -> WeekOn:
    facts = {"part": "p", "chunk": "c", "place": "33–36", "tempo": F(94), "goal": F(106), **more}
    return WeekOn(who, days=days, clean=clean, slips=slips, **facts)  # type: ignore[arg-type]


def ago(days: int) -> date:
    return TODAY - timedelta(days=days)


def test_a_quiet_desk_is_empty():
    seen = [LastSeen(UNA, ago(20), ago(1)), LastSeen(FIA, ago(3), None)]
    due = [Due(UNA, "p", "33–36", ago(1))]
    calm = [week(UNA, clean=20, slips=4)]
    assert lines(today=TODAY, seen=seen, due=due, weeks=calm) == ()


@pytest.mark.parametrize(
    ("days", "clean", "slips", "stuck"),
    [(3, 5, 5, True), (2, 5, 9, False), (5, 9, 5, False), (3, 0, 1, True)],
)
def test_stuck_is_who_comes_back_and_slips_as_often_as_not(days, clean, slips, stuck):
    assert is_stuck(week(UNA, days=days, clean=clean, slips=slips)) is stuck


def test_at_goal_nobody_is_stuck():
    assert not is_stuck(week(UNA, tempo=F(106)))


def test_one_fault_of_many_is_one_line_that_leads_to_all_of_them():
    found = lines(today=TODAY, weeks=[week(UNA), week(FIA), week(OTIS)])
    assert [line.say for line in found] == ["3 are stuck in 33–36"]
    assert set(found[0].students) == {UNA, FIA, OTIS}


def test_two_drills_on_a_chunk_are_one_stuck_player():
    found = lines(today=TODAY, weeks=[week(UNA), week(UNA, slips=30)])
    assert len(found) == 1
    assert "30 of 40" in found[0].why


def test_idle_counts_from_the_last_practice_or_from_when_it_was_sent():
    seen = [
        LastSeen(UNA, ago(30), ago(9)),
        LastSeen(FIA, ago(6), None),
        LastSeen(OTIS, ago(2), ago(40)),  # the work is two days old
    ]
    said = [line.say for line in lines(today=TODAY, seen=seen)]
    assert said == ["Una has not practiced for 9 days", "Fia has not practiced for 6 days"]


@pytest.mark.parametrize(
    ("days_ago", "when"),
    [(-1, "due tomorrow"), (0, "due today"), (1, "due yesterday"), (3, "due 3 days ago")],
)
def test_who_has_takes_to_hand_in_is_told_around_the_day(days_ago: int, when: str):
    task = TakesOwed("t", "Clarinets", ago(days_ago), 12, (UNA, FIA))
    (line,) = lines(today=TODAY, asked=[task])
    assert line.say == f"2 of 12 Clarinets have takes to hand in, {when}"
    assert line.why.startswith("Una, Fia.")


@pytest.mark.parametrize("days_ago", [-2, 4])
def test_long_before_and_long_after_nothing_is_said(days_ago: int):
    task = TakesOwed("t", "Clarinets", ago(days_ago), 12, (UNA,))
    assert lines(today=TODAY, asked=[task]) == ()


def test_nothing_is_said_where_everybody_handed_in():
    assert lines(today=TODAY, asked=[TakesOwed("t", "Clarinets", TODAY, 12, ())]) == ()


def test_many_who_are_idle_are_one_line_the_longest_first():
    seen = [LastSeen(StudentName(f"S{n}", f"S{n}"), ago(30), ago(n)) for n in range(2, 12)]
    (line,) = lines(today=TODAY, seen=seen)
    assert line.say == "7 students have not practiced for 5 days or more"
    assert line.why.startswith("S11 (11 days), S10 (10 days)")
    assert "and 2 more" in line.why
    assert len(line.students) == 7


def test_what_fades_is_one_line_a_student():
    due = [Due(UNA, "p", f"{n}–{n + 3}", ago(n)) for n in range(3, 8)]
    (line,) = lines(today=TODAY, due=due)
    assert line.say == "Una: cold check of 7–10, 6–9, 5–8 and 2 more"


def test_what_fades_for_many_is_one_line():
    due = [Due(StudentName(f"S{n}", f"S{n}"), "p", "33–36", ago(n)) for n in range(4, 12)]
    (line,) = lines(today=TODAY, due=due)
    assert line.say == "Cold checks wait for 8 students"
    assert "11 days (S11, 33–36)" in line.why
    assert len(line.students) == 8


def test_hurting_comes_before_everything():
    found = lines(
        today=TODAY,
        said=[
            Said(FIA, LineKind.REFUSED, "No room.", ago(0)),
            Said(UNA, LineKind.HURTS, "hurts", ago(2)),
        ],
        weeks=[week(OTIS)],
        seen=[LastSeen(OTIS, ago(30), ago(12))],
    )
    assert [line.kind for line in found] == [
        LineKind.HURTS,
        LineKind.REFUSED,
        LineKind.STUCK,
        LineKind.IDLE,
    ]
    assert "clinician" in found[0].why


def test_a_long_list_shows_one_of_every_kind():
    many = [Line(f"i{n}", LineKind.IDLE, "", "", ()) for n in range(30)]
    found = most_pressing([*many, Line("f", LineKind.FADING, "", "", ())], 12)
    assert len(found) == 13
    assert found[-1].kind is LineKind.FADING


def test_a_line_that_is_put_off_comes_back_when_its_reason_is_another():
    before = lines(today=TODAY, seen=[LastSeen(UNA, ago(30), ago(9))])[0].key
    assert lines(today=TODAY, seen=[LastSeen(UNA, ago(30), ago(9))])[0].key == before
    assert lines(today=TODAY, seen=[LastSeen(UNA, ago(30), ago(6))])[0].key != before
