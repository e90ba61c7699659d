"""MIDI, ABC and MEI into the same model."""

import io
from pathlib import Path

import mido
import pytest
import verovio
from hypothesis import given, settings
from hypothesis import strategies as st

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Part
from crumb.core.score.position import sounds
from crumb.demo.etude import clarinet_etude
from crumb.formats.midi import write_midi
from crumb.formats.midi_reading import quantised, spelled
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import kind_of, read_music
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part
from tests.sizes import examples


def heard(part: Part) -> list[tuple[object, int]]:
    """Onsets and sounding keys."""
    moved = part.transposition.chromatic
    return [(s.at, s.pitch.midi + moved) for s in sounds(part) if s.pitch and not s.grace]


@pytest.mark.parametrize("part", [clarinet_etude(), a_part(SIXTEENTHS, EIGHTHS, "h:0 h:4")])
def test_a_midi_file_of_exact_times_comes_back_note_for_note(part: Part):
    reading = read_music(write_midi(part, tempo=F(100), beat=F(1)))
    (back,) = reading.score.parts
    lead = heard(part)[0][0] - heard(back)[0][0]
    assert [(at + lead, key) for at, key in heard(back)] == heard(part)
    assert all(m.length == m.nominal for m in back.measures)
    assert any("no notation" in remark for remark in reading.remarks)


def played(*onsets: tuple[float, float], rate: int = 480) -> bytes:
    """A MIDI file of C5s: onset and length in quarter notes."""
    track = mido.MidiTrack()
    events = sorted(
        [(round(a * rate), "note_on") for a, _ in onsets]
        + [(round((a + d) * rate), "note_off") for a, d in onsets],
        key=lambda e: (e[0], e[1] == "note_on"),
    )
    clock = 0
    for at, kind in events:
        track.append(mido.Message(kind, note=72, velocity=64, time=at - clock))
        clock = at
    file = mido.MidiFile(type=0, ticks_per_beat=rate)
    file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def test_what_was_played_a_little_unevenly_is_drawn_onto_the_grid():
    uneven = played((0.02, 0.4), (0.52, 0.4), (0.98, 0.9), (2.01, 0.3), (2.35, 0.3), (2.68, 0.3))
    (part,) = read_music(uneven).score.parts
    assert [at for at, _ in heard(part)] == [0, F(1, 2), 1, 2, F(7, 3), F(8, 3)]


@settings(max_examples=examples(100))
@given(st.lists(st.fractions(0, 16, max_denominator=96), min_size=1, max_size=30))
def test_drawing_onto_the_grid_keeps_the_order_and_moves_little(onsets):
    onsets = sorted(onsets)
    drawn = quantised(onsets)
    assert drawn == sorted(drawn)
    assert all(abs(a - b) <= F(1, 4) for a, b in zip(onsets, drawn, strict=True))


@given(st.integers(21, 108), st.integers(-7, 7))
def test_a_key_number_is_spelled_as_itself(midi: int, fifths: int):
    pitch = spelled(midi, fifths)
    assert pitch.midi == midi
    assert abs(pitch.alter) <= 1


def test_a_key_in_its_signature_needs_no_accidental():
    assert spelled(66, 1).name == "F#4"
    assert spelled(70, -1).name == "Bb4"


def test_an_abc_tune_comes_in_with_its_title_key_and_meter():
    reading = read_music(b"X:1\nT:Harbour Study\nM:3/4\nL:1/4\nK:D\nDFA|d2c|B3|]\n")
    assert (reading.kind, reading.score.title) == ("ABC", "Harbour Study")
    assert reading.score.composer == "", "nobody is said to have written it"
    (part,) = reading.score.parts
    assert [n.pitch.name for _, n in part.each_note() if n.pitch] == [
        *("D4", "F#4", "A4", "D5", "C#5", "B4")
    ]
    assert {m.time.text for m in part.measures} == {"3/4"}
    assert [m.number for m in part.measures] == ["1", "2", "3"]


def test_the_pickup_of_an_abc_tune_is_measure_nought():
    (part,) = read_music(b"X:1\nT:T\nM:3/4\nL:1/4\nK:D\nA|DFA|d2|]\n").score.parts
    assert [m.number for m in part.measures] == ["0", "1", "2"]
    assert part.has_pickup


def test_mei_comes_in():
    toolkit = verovio.toolkit()
    toolkit.loadData(write_part(a_part(EIGHTHS, "h:0 h:4")))
    reading = read_music(toolkit.getMEI({}).encode())
    assert reading.kind == "MEI"
    (part,) = reading.score.parts
    assert [key for _, key in heard(part)] == [key for _, key in heard(a_part(EIGHTHS, "h:0 h:4"))]


@pytest.mark.parametrize(
    ("head", "kind"),
    [
        (b"MThd....", "midi"),
        (b"X:1\nT:A\nK:C\nCDE", "abc"),
        (b"%abc-2.1\nX:1\nK:C\n", "abc"),
        (b'<?xml version="1.0"?><mei xmlns="x">', "mei"),
        (b"<score-partwise>", "musicxml"),
        (b"PK\x03\x04", "musicxml"),
    ],
)
def test_a_file_is_known_by_its_content_not_its_name(head: bytes, kind: str):
    assert kind_of(head) == kind


def test_a_score_of_several_tracks_has_several_parts(tmp_path: Path):
    file = mido.MidiFile(type=1, ticks_per_beat=480)
    for channel, name in ((0, "Flute"), (9, "Drums")):
        track = mido.MidiTrack()
        track.append(mido.MetaMessage("track_name", name=name))
        track.append(mido.Message("note_on", note=60, channel=channel, time=0))
        track.append(mido.Message("note_off", note=60, channel=channel, time=480))
        file.tracks.append(track)
    file.save(tmp_path / "two.mid")
    flute, drums = read_music((tmp_path / "two.mid").read_bytes()).score.parts
    assert (flute.name, drums.name) == ("Flute", "Drums")
    assert drums.measures[0].notes[0].pitch is None


def by_hand(onsets: list[float]) -> bytes:
    """A MIDI file of notes at these quarter notes, as a keyboard at 480 ticks would hold them."""
    file = mido.MidiFile(ticks_per_beat=480)
    track = mido.MidiTrack()
    file.tracks.append(track)
    events = []
    for place, onset in enumerate(onsets):
        start, after = round(onset * 480), [*onsets, onsets[-1] + 1][place + 1]
        stop = start + round((after - onset) * 0.9 * 480)
        events += [(start, 1, 60 + place % 5), (stop, 0, 60 + place % 5)]
    now = 0
    for at, is_on, key in sorted(events):
        kind = "note_on" if is_on else "note_off"
        track.append(mido.Message(kind, note=key, velocity=80 * is_on, time=at - now))
        now = at
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def durations(data: bytes) -> set[F]:
    """Written values, the last note apart: nothing says how long that is."""
    (part,) = read_music(data).score.parts
    return {s.duration for s in sounds(part)[:-1]}


def test_swing_played_by_feel_is_even_eighths_throughout_and_said_once():
    feel = [0.62, 0.64, 0.66, 0.6, 0.68, 0.63, 0.65, 0.61] * 4
    onsets = [t for beat, late in enumerate(feel) for t in (beat, beat + late)]
    reading = read_music(by_hand(onsets))
    (part,) = reading.score.parts
    assert durations(by_hand(onsets)) == {F(1, 2)}
    words = [d.text for m in part.measures for d in m.directions if d.kind == "words"]
    assert words == ["Swing"]


def test_exact_triplets_stay_triplets_throughout():
    onsets = [t for beat in range(16) for t in (beat, beat + 2 / 3)]
    assert durations(by_hand(onsets)) == {F(2, 3), F(1, 3)}


def test_dotted_figures_are_no_swing():
    onsets = [t for beat in range(16) for t in (beat, beat + 0.75)]
    assert durations(by_hand(onsets)) == {F(3, 4), F(1, 4)}


def test_playing_free_of_the_click_is_refused_in_words():
    step = (5**0.5 - 1) / 2 * 1.37  # never the same place in a beat twice
    with pytest.raises(UnreadableFile, match="do not stand on its beats"):
        read_music(by_hand([k * step for k in range(64)]))


def test_a_human_hand_at_the_click_is_not_free():
    wobble = [0.03, -0.02, 0.0, 0.04, -0.03, 0.01, 0.02, -0.04]
    onsets = [k / 2 + 0.1 + wobble[k % 8] for k in range(64)]
    early = [t - 0.1 for t in onsets]
    assert durations(by_hand([max(t, 0) for t in early])) == {F(1, 2)}
