import pytest

from crumb.core.mastery.levels import AT_TEMPO, NEW, NOTES, STEADY, Repetition, standing
from crumb.core.score.position import Position, Span
from tests.builders import F

CHUNK = Span(Position(9, F(0)), Position(11, F(0)))
GOAL = F(106)


def played(
    tempo: int, clean: bool = True, *, kind: str = "prove", written: bool = True, where=CHUNK
):
    return Repetition(where, F(tempo), clean, kind, written)


def level(*repetitions: Repetition) -> int:
    return standing(CHUNK, GOAL, repetitions).level


def test_nothing_played_is_new():
    assert level() == NEW
    assert level(played(106), played(106)) == NEW


def test_three_clean_in_another_rhythm_show_the_notes_only():
    assert level(*[played(106, kind="learn", written=False)] * 3) == NOTES
    assert level(*[played(106, kind="set")] * 9) == NOTES


# Sixty per cent of 106 is 63.6; the evidence each level needs is common practice, no source.
@pytest.mark.parametrize(
    ("tempo", "expected"), [(60, NOTES), (63, NOTES), (64, STEADY), (105, STEADY), (106, AT_TEMPO)]
)
def test_three_clean_as_written_prove_by_their_tempo(tempo, expected):
    assert level(*[played(tempo)] * 3) == expected


def test_a_slip_breaks_the_row():
    assert level(played(106), played(106), played(106, False), played(106)) == NEW


def test_the_slowest_of_the_three_is_what_was_proved():
    shown = standing(CHUNK, GOAL, [played(106), played(80), played(106)])
    assert (shown.level, shown.proved_tempo) == (STEADY, 80)


def test_a_later_slip_does_not_take_a_proof_away():
    assert level(*[played(106)] * 3, played(106, False)) == AT_TEMPO


def test_a_longer_span_proves_what_lies_inside_it():
    longer = Span(Position(8, F(0)), Position(12, F(0)))
    assert level(*[played(106, where=longer)] * 3) == AT_TEMPO


def test_parts_proved_apart_do_not_prove_the_whole():
    first = Span(Position(9, F(0)), Position(10, F(0)))
    second = Span(Position(10, F(0)), Position(11, F(0)))
    assert level(*[played(106, where=first)] * 3, *[played(106, where=second)] * 3) == NEW


def test_the_reason_names_the_tempo_and_the_goal():
    assert "106" in standing(CHUNK, GOAL, [played(106)] * 3).why
    assert "75 %" in standing(CHUNK, GOAL, [played(80)] * 3).why
