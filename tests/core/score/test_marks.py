"""Marks go into the notation, so that everything made from it carries them."""

import pytest

from crumb.core.errors import BadSetting
from crumb.core.score.marks import KINDS, PartMark, checked, marked
from crumb.core.score.position import Position
from crumb.core.score.slicing import slice_span
from crumb.core.vocabulary import MarkLayer
from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part
from tests.builders import F, a_part, span

PART = a_part("q:0,1,2,3", "q:0 q:r h:2")


def mark(kind: str, text: str = "3", index: int = 0, at: object = 1) -> PartMark:
    return PartMark(Position(index, F(at)), kind, text, "director")


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_is_written_and_nothing_else_changes(kind: str):
    made = marked(PART, [checked(PART, mark(kind))])
    assert made != PART
    assert [n.pitch for _, n in made.each_note()] == [n.pitch for _, n in PART.each_note()]
    read_score(write_part(made).encode())


@pytest.mark.parametrize("layer", MarkLayer)
def test_each_layer_has_its_own_colour_on_the_page(layer: MarkLayer):
    made = marked(PART, [PartMark(Position(0, F(0)), "words", "watch", layer)])
    others = [marked(PART, [PartMark(Position(0, F(0)), "words", "watch", o)]) for o in MarkLayer]
    assert 'color="#' in write_part(made)
    assert len({write_part(o) for o in others}) == 3


def test_a_drill_on_the_chunk_shows_the_fingering():
    made = marked(PART, [mark("fingering", "2")])
    cut = slice_span(made, span(made, 0, 0))
    assert any(("fingering", "2") in n.technical for _, n in cut.each_note())


@pytest.mark.parametrize(
    ("wrong", "reason"),
    [
        (mark("sticker"), "no such mark"),
        (mark("fingering", " "), "say what"),
        (mark("words", "x" * 41), "40 letters"),
        (mark("warning", "", index=7), "no such measure"),
        (mark("warning", "", at=5), "not that long"),
        (mark("up-bow", "", index=1, at=1), "No note starts there"),
    ],
)
def test_what_cannot_be_written_says_why(wrong: PartMark, reason: str):
    with pytest.raises(BadSetting, match=reason):
        checked(PART, wrong)
