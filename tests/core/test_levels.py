from datetime import UTC, datetime, timedelta
from itertools import count

import pytest

from crumb.core.evidence.model import Doubt, Evidence, Kind, What
from crumb.core.mastery.levels import AT_TEMPO, NEW, NOTES, STEADY, standing
from crumb.core.score.position import Position, Span
from tests.builders import F

CHUNK = Span(Position(9, F(0)), Position(11, F(0)))
GOAL = F(106)


NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)
_moments = count()


def played(
    tempo: int | None,
    clean: bool = True,
    *,
    kind: str = "prove",
    written: bool = True,
    where=CHUNK,
    **more,
):
    """One repetition, later than all before it."""
    return Evidence(
        where,
        NOON + timedelta(seconds=next(_moments)),
        tempo=None if tempo is None else F(tempo),
        is_clean=clean,
        kind=Kind(kind),
        as_written=written,
        **more,
    )


def heard(at_level: int):
    """A hearing that sets the level."""
    at = NOON + timedelta(seconds=next(_moments))
    return Evidence(CHUNK, at, what=What.HEARING, level=at_level)


def level(*evidence: Evidence) -> int:
    return standing(CHUNK, GOAL, evidence).level


def test_nothing_played_is_new():
    assert level() == NEW
    assert level(played(106), played(106)) == NEW


def test_three_clean_in_another_rhythm_show_the_notes_only():
    assert level(*(played(106, kind="learn", written=False) for _ in range(3))) == NOTES
    assert level(*(played(106, kind="set") for _ in range(9))) == NOTES


# Sixty per cent of 106 is 63.6; the evidence each level needs is common practice, no source.
@pytest.mark.parametrize(
    ("tempo", "expected"), [(60, NOTES), (63, NOTES), (64, STEADY), (105, STEADY), (106, AT_TEMPO)]
)
def test_three_clean_as_written_prove_by_their_tempo(tempo, expected):
    assert level(*(played(tempo) for _ in range(3))) == expected


def test_a_slip_breaks_the_row():
    assert level(played(106), played(106), played(106, False), played(106)) == NEW


def test_the_slowest_of_the_three_is_what_was_proved():
    shown = standing(CHUNK, GOAL, [played(106), played(80), played(106)])
    assert (shown.level, shown.proved_tempo) == (STEADY, 80)


def test_a_later_slip_does_not_take_a_proof_away():
    assert level(*(played(106) for _ in range(3)), played(106, False)) == AT_TEMPO


def test_a_longer_span_proves_what_lies_inside_it():
    longer = Span(Position(8, F(0)), Position(12, F(0)))
    assert level(*(played(106, where=longer) for _ in range(3))) == AT_TEMPO


def test_parts_proved_apart_do_not_prove_the_whole():
    first = Span(Position(9, F(0)), Position(10, F(0)))
    second = Span(Position(10, F(0)), Position(11, F(0)))
    assert (
        level(
            *(played(106, where=first) for _ in range(3)),
            *(played(106, where=second) for _ in range(3)),
        )
        == NEW
    )


def test_the_reason_names_the_tempo_and_the_goal():
    assert "106" in standing(CHUNK, GOAL, [played(106) for _ in range(3)]).why
    assert "75 %" in standing(CHUNK, GOAL, [played(80) for _ in range(3)]).why


def test_three_clean_without_a_click_show_the_notes_and_prove_no_tempo():
    assert level(*(played(None) for _ in range(3))) == NOTES


def test_what_leaned_on_an_aid_proves_nothing():
    assert level(*(played(106, is_aided=True) for _ in range(3))) == NOTES


def test_what_is_doubted_neither_proves_nor_breaks_anything():
    doubted = [played(106, doubt=Doubt.HURRIED) for _ in range(9)]
    assert level(*doubted) == NEW
    row = [played(106), played(106), played(106, False, doubt=Doubt.LATE), played(106)]
    assert level(*row) == AT_TEMPO


def test_a_hearing_sets_the_level_down_and_what_is_proved_after_it_lifts_it_again():
    proved = [played(106) for _ in range(3)]
    assert level(*proved, heard(1)) == NOTES
    assert level(*proved, heard(1), *(played(70) for _ in range(3))) == STEADY


def test_a_hearing_sets_the_level_up_and_a_slip_does_not_take_it_back():
    assert level(heard(6), played(106, False)) == 6


def test_evidence_counts_in_the_order_it_was_played_whenever_it_came_in():
    rows = [played(106), played(106), played(106, False), played(106)]
    assert level(*reversed(rows)) == level(*rows) == NEW
