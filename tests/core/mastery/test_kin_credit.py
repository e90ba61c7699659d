"""What a confirmed twin lends."""

from datetime import date

import pytest

from crumb.core.mastery.chunk import ChunkEvidence, stood
from crumb.core.mastery.kin_credit import lent_level
from crumb.core.score.position import Position, Span
from tests.builders import F

GOAL = F(100)
DAY = date(2026, 10, 5)
CHUNK = Span(Position(3, F(0)), Position(5, F(0)))


def standing(*passes):
    return stood([ChunkEvidence(DAY, tempo=F(t), is_clean=clean) for t, clean in passes], GOAL)


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
