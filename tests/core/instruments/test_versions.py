"""One music for a mixed class. Transpositions are any orchestration book's, from memory."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import NotForInstrument
from crumb.core.instruments.table import INSTRUMENTS, instrument_named
from crumb.core.instruments.versions import (
    is_version_needed,
    octave_away,
    transposition_of,
    version_for,
    written_name,
)
from crumb.core.score.pitch import parse_pitch
from crumb.demo.etude import clarinet_etude
from tests.builders import SIXTEENTHS, F, a_part, span

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


def heights(part):
    return [note.pitch.midi for _, note in part.each_note() if note.pitch]


@given(st.integers(0, 62), st.integers(0, 3), st.sampled_from((-1, 1)))
def test_an_octave_away_only_the_stretch_moves_and_by_an_octave(first, more, way):
    part = clarinet_etude()
    here = span(part, first, min(first + more, len(part.measures) - 1))
    clarinet = instrument_named("Clarinet")
    wide = replace(clarinet, low=0, high=127)
    moved = octave_away(part, here, way, wide)
    inside = [here.start.index <= m.index < here.end.index for m, n in part.each_note() if n.pitch]
    for before, after, moves in zip(heights(part), heights(moved), inside, strict=True):
        assert after - before == (12 * way if moves else 0)
    try:
        assert octave_away(part, here, way, clarinet) == moved
    except NotForInstrument:
        changed = [h for h, moves in zip(heights(moved), inside, strict=True) if moves]
        assert min(changed) < clarinet.low or max(changed) > clarinet.high


def test_what_is_held_into_the_stretch_or_out_of_it_stays_one_note():
    part = a_part("q:0,1,2,3", "q:3,4,5,6", "q:6,4,5,r")
    ties = {(0, 3): "start", (1, 0): "stop", (1, 3): "start", (2, 0): "stop"}
    tied = [
        replace(
            m, notes=tuple(replace(n, tie=ties.get((m.index, i))) for i, n in enumerate(m.notes))
        )
        for m in part.measures
    ]
    part = replace(part, measures=tuple(tied))
    wide = replace(instrument_named("Flute"), low=0, high=127)
    moved = octave_away(part, span(part, 1, 1), 1, wide)
    change = [b - a for a, b in zip(heights(part), heights(moved), strict=True)]
    assert change == [0, 0, 0, 0, 0, 12, 12, 12, 12, 0, 0]
