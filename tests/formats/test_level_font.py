"""The shapes of levels as letters: the same numbers, filled where the page fills them."""

import json
from io import BytesIO

import pytest
from fontTools.pens.recordingPen import RecordingPen
from fontTools.ttLib import TTFont
from tools import level_font

SHAPES = json.loads(level_font.SHAPES.read_text())


def test_what_is_kept_is_what_the_shapes_make():
    assert level_font.font() == level_font.FONT.read_bytes()


def test_each_level_is_one_letter_and_all_are_as_wide():
    font = TTFont(BytesIO(level_font.FONT.read_bytes()))
    letters = font.getBestCmap()
    assert sorted(letters) == [level_font.FIRST + level for level in range(7)]
    assert len({font["hmtx"][name] for name in letters.values()}) == 1
    drawn = []
    for name in letters.values():
        pen = RecordingPen()
        font.getGlyphSet()[name].draw(pen)
        drawn.append(tuple(map(str, pen.value)))
    assert len(set(drawn)) == 7


def inked(shape: dict) -> float:
    """How much of the box is filled: what is cut out counts against it."""
    return sum(level_font.area(one) for one in level_font.contours(shape)) / 2


@pytest.mark.parametrize("shape", SHAPES[1:5], ids=["notes", "rhythm", "steady", "linked"])
def test_an_outline_is_as_wide_as_on_the_page_and_what_is_filled_as_dark(shape: dict):
    points = [tuple(point) for point in shape["outline"]]
    around = sum(
        ((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5
        for a, b in zip(points, [*points[1:], points[0]], strict=True)
    )
    filled = level_font.area([tuple(point) for point in shape["filled"]]) / 2 * shape["tone"]
    assert inked(shape) == pytest.approx(2 * around + filled, rel=0.06)


def test_a_check_is_cut_out_of_what_stands_at_tempo():
    whole = level_font.area([tuple(point) for point in SHAPES[5]["solid"]]) / 2
    assert whole * 0.85 < inked(SHAPES[5]) < whole * 0.95


def test_kept_has_a_ring_around_it():
    assert inked(SHAPES[6]) - inked(SHAPES[5]) == pytest.approx(3.14 * 2 * 10.8 * 1.6, rel=0.02)
