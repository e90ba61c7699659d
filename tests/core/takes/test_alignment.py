"""How long a take has to be, and which places of the music it can name."""

from fractions import Fraction

import pytest

from crumb.core.errors import TakeRefused
from crumb.core.instruments.table import INSTRUMENTS, instrument_named
from crumb.core.score.position import Position, Span
from crumb.core.takes.alignment import Anchor, check_anchors, least_seconds, set_up
from crumb.demo.etude import clarinet_etude

PART = clarinet_etude()
TWO_MEASURES = Span(Position(13, Fraction(0)), Position(15, Fraction(0)))


def test_a_take_is_the_chunk_once_at_goal_or_a_little_quicker():
    # Eight quarter notes at 96 are five seconds; four of five are enough.
    assert least_seconds(PART, TWO_MEASURES, goal=Fraction(96), beat=Fraction(1)) == 4
    tiny = Span(Position(13, Fraction(0)), Position(13, Fraction(1, 4)))
    assert least_seconds(PART, tiny, goal=Fraction(96), beat=Fraction(1)) == 1


def anchor(index: int, at: str, seconds: str) -> Anchor:
    return Anchor(Position(index, Fraction(at)), Fraction(seconds))


def test_places_sound_in_the_order_of_the_music():
    good = [anchor(13, "0", "0.5"), anchor(14, "2", "4"), anchor(15, "0", "6")]
    check_anchors(TWO_MEASURES, good, seconds=Fraction(7))


@pytest.mark.parametrize(
    "bad",
    [
        [anchor(12, "0", "1")],
        [anchor(15, "1", "1")],
        [anchor(13, "0", "8")],
        [anchor(13, "0", "2"), anchor(14, "0", "2")],
        [anchor(14, "0", "1"), anchor(13, "0", "2")],
        [anchor(13, str(Fraction(n, 32)), str(Fraction(n, 32))) for n in range(41)],
    ],
    ids=["before", "after", "too late", "at once", "backwards", "too many"],
)
def test_places_that_cannot_be_are_refused(bad: list[Anchor]):
    with pytest.raises(TakeRefused):
        check_anchors(TWO_MEASURES, bad, seconds=Fraction(7))


def test_where_the_device_stands_is_said_for_every_instrument():
    assert all(set_up(instrument) for instrument in INSTRUMENTS)
    assert "bell" in set_up(instrument_named("Trombone"))
    assert "bow" in set_up(instrument_named("Violin"))
