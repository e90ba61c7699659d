"""Which accidentals are printed (Gould, Behind Bars, from memory)."""

from dataclasses import replace
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.model import Key, Note
from crumb.core.score.pitch import Pitch
from crumb.core.score.slicing import slice_span
from crumb.core.score.written import parse_span
from tests.builders import a_part
from tests.printed_signs import wrongly_signed


def printed(measure):
    return [n.accidental for n in measure.notes if n.sounds and not n.hidden]


def anew(*measures, fifths=0):
    return [printed(m) for m in with_accidentals(a_part(*measures, fifths=fifths).measures)]


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


def test_a_grace_note_and_another_voice_say_it_for_the_whole_staff():
    (measure,) = a_part("q:0#,0,1,0").measures
    grace, plain = measure.notes[0], measure.notes[1]
    other = replace(measure.notes[3], voice="2", id="other")
    notes = (replace(grace, grace="grace", duration=Fraction(0)), plain, measure.notes[2], other)
    (signed,) = with_accidentals([replace(measure, notes=notes)])
    assert [n.accidental for n in signed.notes] == ["sharp", "natural", "", ""]


def test_a_sign_of_a_moment_ago_is_called_back_once():
    assert anew("q:0#,7,7,2") == [["sharp", "natural", "", ""]], "at another octave"
    assert anew("q:0#,1,2,3", "q:0,0,7,2") == [["sharp", "", "", ""], ["natural", "", "", ""]]
    assert anew("q:0#,1,2,3", "q:1,1,2,3", "q:0,1,2,3")[2] == ["", "", "", ""], "long forgotten"


def test_a_composers_reminder_stays_and_a_sign_that_lies_goes():
    (measure,) = a_part("q:1,2,3,4").measures
    shown = [replace(n, accidental=sign) for n, sign in zip(
        measure.notes, ("natural", "sharp", "", "slash-flat"), strict=True)]  # fmt: skip
    (signed,) = with_accidentals([replace(measure, notes=tuple(shown))], keep=True)
    assert [n.accidental for n in signed.notes] == ["natural", "", "", "slash-flat"]


PLAIN = a_part("w:0")


@st.composite
def chromatic_music(draw: st.DrawFn):
    """Measures on few lines with many signs, ties over barlines, two voices, a key or two."""
    measures, index = [], 0
    for index in range(draw(st.integers(1, 4))):
        notes = []
        for voice in draw(st.sampled_from((("1",), ("1", "2")))):
            for beat in range(4):
                pitch = Pitch(
                    draw(st.sampled_from("FGB")),
                    Fraction(draw(st.integers(-2, 2))),
                    draw(st.sampled_from((4, 5))),
                )
                shown = draw(st.sampled_from(("", "", "sharp", "natural", "flat")))
                where = {"id": f"{index}-{voice}-{beat}", "at": Fraction(beat), "voice": voice}
                note = Note(**where, duration=Fraction(1), pitch=pitch, accidental=shown)
                if notes and beat and draw(st.integers(0, 4)) == 0:
                    back = "continue" if notes[-1].tie == "stop" else "start"
                    notes[-1] = replace(notes[-1], tie=back)
                    note = replace(note, pitch=notes[-1].pitch, tie="stop", accidental="")
                notes.append(note)
        key = Key(draw(st.integers(-7, 7)))
        measures.append(
            replace(a_part("w:0").measures[0], index=index, key=key, notes=tuple(notes))
        )
    part = a_part("w:0")
    return replace(part, measures=tuple(measures))


@given(chromatic_music(), st.booleans())
def test_whoever_reads_the_printed_signs_plays_the_right_pitches(part, keep):
    made = replace(part, measures=with_accidentals(part.measures, keep=keep))
    assert wrongly_signed(made) == []


def test_an_accidental_that_the_mask_hides_is_printed_on_the_next_note():
    part = a_part("q:0#,1,0#,1")
    cut = slice_span(part, parse_span(part, "0.3-0.4"))
    shown = [(n.pitch.name, n.accidental) for n in cut.measures[0].notes if n.pitch]
    assert shown[0] == ("C#5", "sharp")
