"""What a confirmed kin_chunk lends."""

from datetime import date

import pytest

from crumb.core.evidence.model import Source, What
from crumb.core.mastery.chunk import ChunkEvidence, stood
from crumb.core.mastery.kin_credit import lent_level
from crumb.core.score.position import Position, Span
from tests.builders import F

GOAL = F(100)
DAY = date(2026, 10, 5)
CHUNK = Span(Position(3, F(0)), Position(5, F(0)))


def standing(*passes):
    return stood([ChunkEvidence(DAY, tempo=F(t), is_clean=clean) for t, clean in passes], GOAL)


KIN = standing((70, True), (70, True), (70, True))
NEW_TWIN = standing((50, True))


@pytest.mark.parametrize(
    ("passes", "kin", "wanted"),
    [
        ([(70, True)], [KIN], 3),  # one clean pass at the kin chunk's tempo
        ([(64, True)], [KIN], 0),  # slower than the kin chunk
        ([(70, True), (70, False)], [KIN], 0),  # a miss: the ordinary way
        ([], [KIN], 0),  # nothing without a repetition
        ([(70, True)], [NEW_TWIN], 0),
        ([(70, True)], [], 0),
        ([(100, True)] * 3, [KIN], 5),  # what it shows itself stands above
    ],
)
def test_one_clean_pass_at_a_twins_tempo_confirms_it(passes, kin, wanted):
    assert lent_level(standing(*passes), kin) == wanted


def test_what_was_heard_of_the_chunk_itself_is_not_undone_by_its_twin():
    clean = ChunkEvidence(DAY, tempo=F(70))
    low = ChunkEvidence(DAY, What.HEARING, level=1, source=Source.HEARING)
    assert lent_level(stood([clean, low, clean], GOAL), [KIN]) == 1
