"""Which accidentals are printed (Gould, Behind Bars, from memory)."""

from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.address import parse_span
from crumb.core.score.slicing import slice_span
from tests.builders import a_part


def printed(measure):
    return [n.accidental for n in measure.notes if n.sounds and not n.hidden]


def anew(*measures, fifths=0):
    return [printed(with_accidentals(m)) for m in a_part(*measures, fifths=fifths).measures]


def test_an_accidental_holds_to_the_barline_and_is_taken_back():
    assert anew("q:0#,0#,0,0") == [["sharp", "", "natural", ""]]


def test_after_the_barline_the_key_holds_again():
    assert anew("q:0#,1,2,3", "q:0#,0,2,3") == [["sharp", "", "", ""], ["sharp", "natural", "", ""]]


def test_what_the_key_says_is_not_printed_and_what_it_contradicts_is():
    assert anew("q:0,1,2,3n", fifths=1)[0][:3] == ["", "", ""]


def test_another_octave_needs_its_own():
    assert anew("q:0#,7#,0#,7#") == [["sharp", "sharp", "", ""]]


def test_a_tied_note_needs_none():
    assert anew("h:0 h:0#~", "h:0# h:1") == [["", "sharp"], ["", ""]]


def test_an_accidental_that_the_mask_hides_is_printed_on_the_next_note():
    part = a_part("q:0#,1,0#,1")
    cut = slice_span(part, parse_span(part, "0.3-0.4"))
    shown = [(n.pitch.name, n.accidental) for n in cut.measures[0].notes if n.pitch]
    assert shown[0] == ("C#5", "sharp")
