"""A student's tempo on a chunk from day to day, and the passes it came of."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

from crumb.core.evidence.model import Doubt, Evidence
from crumb.core.mastery.course import Passes, course, passes
from crumb.core.mastery.replay import Target
from crumb.core.score.position import Position, Span
from tests.builders import F

GOAL = F(100)
DAY = date(2026, 10, 5)
CHUNK = Span(Position(3, F(0)), Position(5, F(0)))


def played(days, tempo, clean=True):
    at = datetime(2026, 10, 5, 16, tzinfo=UTC) + timedelta(days=days)
    return Evidence(CHUNK, at, id=days * 1000 + tempo, tempo=F(tempo), is_clean=clean)


def test_each_day_tells_where_its_evening_stood():
    first = [played(0, tempo) for tempo in (60, 61, 62)]
    later = [played(4, tempo) for tempo in (100, 101, 102)]
    days = course(Target(CHUNK, GOAL), [*later, *first])
    assert [one.day for one in days] == [DAY, DAY + timedelta(days=4)]
    assert [one.level for one in days] == [3, 5]
    assert [one.solid for one in days] == [60, 100]
    assert days[1].secure > days[0].secure
    assert all(one.low < one.secure < one.high for one in days)


def test_a_day_on_which_only_something_else_was_played_is_none_of_its_days():
    there = Span(Position(9, F(0)), Position(11, F(0)))
    elsewhere = replace(played(2, 100), span=there)
    days = course(Target(CHUNK, GOAL), [played(0, 60), elsewhere, played(4, 60)])
    assert [one.day for one in days] == [DAY, DAY + timedelta(days=4)]


def test_nothing_played_has_no_days():
    assert course(Target(CHUNK, GOAL), []) == []


def test_passes_are_counted_by_day_and_tempo():
    doubted = replace(played(1, 70), doubt=Doubt.FAST)
    no_click = replace(played(1, 70), tempo=None)
    varied = replace(played(1, 70), as_written=False)
    counted = passes(
        [
            played(1, 70),
            played(1, 70, clean=False),
            played(1, 70),
            played(1, 60),
            played(0, 80),
            doubted,
            no_click,
            varied,
        ]
    )
    assert counted == [
        Passes(DAY, F(80), 1, 0),
        Passes(DAY + timedelta(days=1), F(60), 1, 0),
        Passes(DAY + timedelta(days=1), F(70), 2, 1),
    ]
