"""What a confirmed twin lends, and a student's tempo from day to day."""

from datetime import UTC, date, datetime, timedelta

import pytest

from crumb.core.evidence.model import Evidence
from crumb.core.mastery.chunk import Noted, stood
from crumb.core.mastery.course import course
from crumb.core.mastery.folding import Target
from crumb.core.mastery.kin import lent_level
from crumb.core.score.position import Position, Span
from tests.builders import F

GOAL = F(100)
DAY = date(2026, 10, 5)
CHUNK = Span(Position(3, F(0)), Position(5, F(0)))


def standing(*passes):
    return stood([Noted(DAY, tempo=F(t), is_clean=clean) for t, clean in passes], GOAL)


TWIN = standing((70, True), (70, True), (70, True))
NEW_TWIN = standing((50, True))


@pytest.mark.parametrize(
    ("passes", "twins", "wanted"),
    [
        ([(70, True)], [TWIN], 3),  # one clean pass at the twin's tempo
        ([(64, True)], [TWIN], 0),  # slower than the twin
        ([(70, True), (70, False)], [TWIN], 0),  # a miss: the ordinary way
        ([], [TWIN], 0),  # nothing without a repetition
        ([(70, True)], [NEW_TWIN], 0),
        ([(70, True)], [], 0),
        ([(100, True)] * 3, [TWIN], 5),  # what it shows itself stands above
    ],
)
def test_one_clean_pass_at_a_twins_tempo_confirms_it(passes, twins, wanted):
    assert lent_level(standing(*passes), twins) == wanted


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


def test_nothing_played_has_no_days():
    assert course(Target(CHUNK, GOAL), []) == []
