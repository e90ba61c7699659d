"""Evidence finds its chunks by where it lies; what it then shows is in test_chunk_levels."""

from datetime import UTC, date, datetime, timedelta
from itertools import count

import pytest

from crumb.core.evidence.model import Doubt, Evidence, What
from crumb.core.mastery.chunk import Edges, Where
from crumb.core.mastery.replay import Target, advance_state, nothing, replay, standing_of, where_of
from crumb.core.score.position import Position, Span
from tests.builders import F

CHUNK = Span(Position(9, F(0)), Position(11, F(0)))
TARGET = Target(CHUNK, F(106))
NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)
_moments = count()


def measures(first, last):
    return Span(Position(first, F(0)), Position(last, F(0)))


def played(tempo=106, clean=True, *, where=CHUNK, **more):
    """One repetition, later than all before it."""
    at = NOON + timedelta(seconds=next(_moments))
    return Evidence(where, at, tempo=F(tempo), is_clean=clean, **more)


def shown(evidence, target=TARGET):
    return standing_of(replay([target], evidence)[target.span], target)


@pytest.mark.parametrize(
    ("span", "where"),
    [
        (CHUNK, Where.CHUNK),
        (Span(CHUNK.start, CHUNK.end, landing=True), Where.CHUNK),
        (measures(8, 12), Where.WIDER),
        (measures(8, 11), Where.WIDER_IN),
        (measures(9, 12), Where.WIDER_OUT),
        (measures(8, 10), Where.SEAM_IN),
        (measures(10, 12), Where.SEAM_OUT),
        (measures(9, 10), Where.INSIDE),
        (measures(8, 9), None),  # it ends where the chunk begins
        (measures(11, 12), None),
    ],
)
def test_what_of_a_chunk_something_covers(span, where):
    assert where_of(span, CHUNK) == where


def test_a_longer_span_proves_what_lies_inside_it_and_both_its_seams():
    found = shown(played(where=measures(8, 12)) for _ in range(3))
    assert (found.level, found.seam_in, found.seam_out) == (5, True, True)


def test_a_line_that_ends_with_the_chunk_shows_one_seam():
    found = shown(played(where=measures(7, 11)) for _ in range(3))
    assert (found.level, found.seam_in, found.seam_out) == (5, True, False)


def test_what_crosses_an_edge_shows_that_seam_and_nothing_of_the_chunk():
    found = shown(played(where=measures(10, 12)) for _ in range(3))
    assert (found.level, found.seam_in, found.seam_out) == (0, False, True)


def test_parts_proved_apart_do_not_prove_the_whole():
    halves = [played(where=measures(a, a + 1)) for a in (9, 10) for _ in range(3)]
    assert shown(halves).level == 0


def test_the_first_chunk_of_a_part_has_no_seam_before_it():
    alone = Target(CHUNK, F(106), edges=Edges(into=False, out=False))
    found = shown([played(70) for _ in range(3)], alone)
    assert (found.level, found.seam_in, found.seam_out) == (4, True, True)
    assert shown([played(70) for _ in range(3)]).level == 3


def test_what_is_doubted_neither_proves_nor_breaks_anything():
    assert shown([played(doubt=Doubt.HURRIED) for _ in range(9)]).level == 0
    row = [played(), played(), played(clean=False, doubt=Doubt.LATE), played()]
    assert shown(row).level == 5


def test_a_hearing_counts_for_what_was_heard_whole():
    at = NOON + timedelta(seconds=next(_moments))
    heard = Evidence(measures(8, 12), at, what=What.HEARING, level=4)
    assert shown([heard]).level == 4
    half = Evidence(measures(9, 10), at, what=What.HEARING, level=4)
    assert shown([half]).level == 0


def test_the_day_is_the_programs():
    """A cold try at eleven at night in the east is on the day it was there."""
    day = date(2026, 3, 3)
    late = played(day=day)
    assert advance_state(nothing(TARGET), late, TARGET).fold.last == day


def test_what_was_played_before_something_folded_in_asks_for_all_of_it_again():
    first, second = played(), played()
    kept = advance_state(nothing(TARGET), second, TARGET)
    assert kept.comes_after(first)
    assert not kept.comes_after(played())


def test_evidence_counts_in_the_order_it_was_played_whenever_it_came_in():
    rows = [played(), played(), played(clean=False), played()]
    assert shown(reversed(rows)) == shown(rows)
    assert shown(rows).level == 0
