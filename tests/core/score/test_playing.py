"""The order of playing: repeats, endings, jumps (common practice, no source)."""

from dataclasses import replace

import pytest

from crumb.core.score.model import Barline, Direction, Part
from crumb.core.score.playing import playing_order, playing_seconds
from tests.builders import F, a_part


def with_signs(count: int, **signs: dict[int, tuple[object, ...]]) -> Part:
    """A part of whole notes with barlines and directions by measure."""
    part = a_part(*["w:0"] * count)
    measures = list(part.measures)
    for index, barlines in signs.get("barlines", {}).items():
        measures[index] = replace(measures[index], barlines=barlines)
    for index, directions in signs.get("directions", {}).items():
        measures[index] = replace(measures[index], directions=directions)
    return replace(part, measures=tuple(measures))


FORWARD = Barline("left", repeat="forward")
BACK = Barline("right", repeat="backward")


def ending(number: str, kind: str, side: str = "left", **more) -> Barline:
    return Barline(side, ending=number, ending_type=kind, **more)


def jump(text: str) -> Direction:
    return Direction(F(0), "jump", text)


def sign(kind: str) -> Direction:
    return Direction(F(0), kind, kind)


def test_without_signs_front_to_back():
    assert playing_order(with_signs(3)) == [0, 1, 2]


def test_a_repeat_goes_back_to_its_start_once():
    part = with_signs(4, barlines={1: (FORWARD,), 2: (BACK,)})
    assert playing_order(part) == [0, 1, 2, 1, 2, 3]


def test_a_repeat_without_a_start_goes_back_to_the_beginning():
    assert playing_order(with_signs(3, barlines={1: (BACK,)})) == [0, 1, 0, 1, 2]


def test_a_repeat_of_three_times():
    part = with_signs(2, barlines={0: (replace(BACK, times=3),)})
    assert playing_order(part) == [0, 0, 0, 1]


def test_first_and_second_ending():
    part = with_signs(
        4,
        barlines={
            1: (ending("1", "start"), ending("1", "stop", "right", repeat="backward")),
            2: (ending("2", "start"), ending("2", "stop", "right")),
        },
    )
    assert playing_order(part) == [0, 1, 0, 2, 3]


def test_two_repeats_one_after_the_other():
    part = with_signs(4, barlines={0: (BACK,), 2: (FORWARD,), 3: (BACK,)})
    assert playing_order(part) == [0, 0, 1, 2, 3, 2, 3]


def test_da_capo_al_fine_takes_no_repeat_again():
    part = with_signs(
        3,
        barlines={0: (BACK,)},
        directions={1: (jump("fine"),), 2: (jump("dacapo"),)},
    )
    assert playing_order(part) == [0, 0, 1, 2, 0, 1]


def test_dal_segno_al_coda():
    part = with_signs(
        6,
        directions={
            1: (sign("segno"),),
            2: (jump("tocoda"),),
            4: (jump("dalsegno"),),
            5: (sign("coda"),),
        },
    )
    assert playing_order(part) == [0, 1, 2, 3, 4, 1, 2, 5]


@pytest.mark.parametrize("words", ["D.C. al Fine", "Da Capo", "D. C."])
def test_words_say_it_too(words: str):
    part = with_signs(
        2,
        directions={0: (Direction(F(0), "words", "Fine"),), 1: (Direction(F(0), "words", words),)},
    )
    assert playing_order(part) == [0, 1, 0]


def test_the_length_at_tempo_is_exact():
    part = with_signs(3, barlines={1: (BACK,)})
    order = playing_order(part)
    assert playing_seconds(part, order, unsaid=F(60)) == F(5 * 4 * 60, 100)
    slow = replace(part, measures=tuple(replace(m, tempo=None) for m in part.measures))
    assert playing_seconds(slow, order, unsaid=F(60)) == 5 * 4
