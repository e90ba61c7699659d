"""One music for a mixed class. Transpositions are any orchestration book's, from memory."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import NotForInstrument
from crumb.core.instruments.table import INSTRUMENTS, instrument_named
from crumb.core.instruments.versions import (
    is_version_needed,
    transposition_of,
    version_for,
    written_name,
)
from crumb.core.score.pitch import parse_pitch
from tests.builders import SIXTEENTHS, F, a_part

PITCHED = [i for i in INSTRUMENTS if i.family not in ("drums", "other", "voice")]


# For sounding B flat: flute B flat, clarinet and trumpet C, alto saxophone G, horn F.
@pytest.mark.parametrize(
    ("instrument", "name"),
    [("Flute", "Bb"), ("Clarinet", "C"), ("Trumpet", "C"), ("Alto saxophone", "G"), ("Horn", "F")],
)
def test_one_sounding_b_flat_has_many_names(instrument, name):
    written = written_name(parse_pitch("Bb4"), instrument_named(instrument))
    assert written.name.rstrip("0123456789") == name


@pytest.mark.parametrize("instrument", PITCHED, ids=lambda i: i.name)
def test_every_instrument_sounds_the_same_notes_but_for_octaves_in_its_range(instrument):
    part = a_part(SIXTEENTHS, "q:0#,1,2b,3", fifths=-2, transposed=-2)
    made = version_for(part, instrument)
    before = [part.transposition.sounding(n.pitch).midi for _, n in part.each_note()]
    after = [made.transposition.sounding(n.pitch).midi for _, n in made.each_note()]
    shifts = {b - a for a, b in zip(before, after, strict=True)}
    assert len(shifts) == 1
    assert shifts.pop() % 12 == 0
    assert all(abs(m.key.fifths) <= 6 for m in made.measures)
    span = max(n.pitch.midi for _, n in made.each_note()) - instrument.high
    if instrument.high - instrument.low >= 26:
        assert span <= 0


@given(st.integers(-6, 6), st.sampled_from(PITCHED))
def test_the_key_moves_with_the_notes(fifths, instrument):
    part = a_part("q:0,2,4,7", fifths=fifths)
    made = version_for(part, instrument)
    # A note of the key's own stays one: no accidental is printed.
    assert all(not n.accidental for _, n in made.each_note())
    assert transposition_of(instrument).chromatic == instrument.transpose


def test_a_snare_gets_the_rhythm_with_right_and_left_from_each_beat():
    part = a_part("s:0,1,2,3 e:4,5 q:6,7~", "h:7 h:0")
    made = version_for(part, instrument_named("Snare drum"))
    first = made.measures[0].notes
    assert all(n.pitch is None and n.place is not None for n in first)
    assert [n.lyric for n in first] == ["R", "L", "R", "L", "R", "L", "R", "R"]
    assert [n.duration for n in first] == [n.duration for n in part.measures[0].notes]
    assert made.measures[1].notes[0].lyric == ""  # held on from the stroke before


def test_strokes_make_no_melody():
    drum = version_for(a_part("q:0,1,2,3"), instrument_named("Snare drum"))
    with pytest.raises(NotForInstrument, match="no pitches"):
        version_for(drum, instrument_named("Flute"))


def test_winds_get_one_note_of_a_chord_and_fingerings_stay_behind():
    from dataclasses import replace

    part = a_part("h:0,4")
    low, high = part.measures[0].notes
    fingered = replace(low, technical=(("fingering", "1"),))
    upper = replace(high, id="x", at=F(0), in_chord=True)
    chord = replace(part, measures=(replace(part.measures[0], notes=(fingered, upper, high)),))
    flute = version_for(chord, instrument_named("Flute"))
    assert len(flute.measures[0].notes) == 2
    assert flute.measures[0].notes[0].technical == ()
    assert len(version_for(chord, instrument_named("Marimba")).measures[0].notes) == 3


@pytest.mark.parametrize(
    ("mine", "theirs", "needed"),
    [
        ("Clarinet", "Trumpet", False),
        ("Clarinet", "Clarinet", False),
        ("Flute", "Oboe", False),
        ("Flute", "Cello", True),
        ("Flute", "Something", False),
    ],
)
def test_a_version_is_made_only_where_the_part_cannot_be_read(mine, theirs, needed):
    part = a_part("q:0,1,2,3")
    assert is_version_needed(part, instrument_named(mine), instrument_named(theirs)) is needed
