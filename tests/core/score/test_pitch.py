from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score.pitch import STEPS, Pitch, Transposition, key_alter, moved, parse_pitch

pitches = st.builds(
    Pitch,
    st.sampled_from(list(STEPS)),
    st.integers(-2, 2).map(Fraction),
    st.integers(0, 8),
)


# Key numbers from the MIDI 1.0 specification: middle C is 60.
@pytest.mark.parametrize(
    ("name", "midi"), [("C4", 60), ("C#5", 73), ("Bb4", 70), ("F##4", 67), ("Cb4", 59), ("B#3", 60)]
)
def test_a_spelled_pitch_has_its_midi_key(name: str, midi: int):
    assert parse_pitch(name).midi == midi
    assert parse_pitch(name).name == name


# One sounding B-flat is written C for clarinet, G for alto saxophone, F for horn.
# Common practice, no source.
@pytest.mark.parametrize(
    ("written", "diatonic", "chromatic", "sounding"),
    [("C5", -1, -2, "Bb4"), ("G5", -5, -9, "Bb4"), ("F5", -4, -7, "Bb4"), ("Bb4", 0, 0, "Bb4")],
)
def test_instruments_of_a_mixed_class_name_one_sounding_note(
    written, diatonic, chromatic, sounding
):
    assert Transposition(diatonic, chromatic).sounding(parse_pitch(written)).name == sounding


@given(pitches, st.integers(-14, 14), st.integers(-24, 24))
def test_a_transposition_there_and_back_changes_nothing(
    pitch: Pitch, letters: int, half_steps: int
):
    there = moved(pitch, diatonic=letters, chromatic=half_steps)
    assert there.midi == pitch.midi + half_steps
    assert there.diatonic == pitch.diatonic + letters
    assert moved(there, diatonic=-letters, chromatic=-half_steps) == pitch


@pytest.mark.parametrize(
    ("fifths", "altered"),
    [(0, ""), (1, "F"), (3, "FCG"), (7, "FCGDAEB"), (-1, "B"), (-3, "BEA"), (-7, "BEADGCF")],
)
def test_a_key_signature_alters_its_letters_in_order(fifths: int, altered: str):
    sign = 1 if fifths > 0 else -1
    assert {s for s in STEPS if key_alter(s, fifths) == sign} == set(altered)
    assert all(key_alter(s, fifths) == 0 for s in STEPS if s not in altered)


@pytest.mark.parametrize("text", ["", "H4", "C", "C#", "Cx4", "4"])
def test_what_is_no_pitch_is_refused(text: str):
    with pytest.raises(ValueError, match="not a pitch"):
        parse_pitch(text)
