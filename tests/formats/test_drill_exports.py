"""Exported drills read back by others: MusicXML by music21, MIDI by mido."""

import io
from dataclasses import replace
from fractions import Fraction

import mido
import music21
import pytest

from crumb.core.drills import Drill, make_drill
from crumb.core.score.joining import joined
from crumb.core.score.model import Part
from crumb.core.score.position import sounds
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from crumb.formats.midi import Piece, write_midi, write_pieces
from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread, span
from tests.formats.music21_reading import CORPUS, exact, name

ETUDE = reread(clarinet_etude())
SPANS = ("9+", "9-10", "13.3-14.2+", "41-42", "0-2", "30-33+")
CORPUS_SPANS = (
    ("bach/bwv297.mxl", "1-2"),
    ("haydn/opus1no1/movement2.mxl", "1-4"),
    ("mozart/k155/movement1.mxl", "8-9"),
    ("monteverdi/madrigal.3.1.mxl", "5-7"),
    ("beethoven/opus18no1/movement3.mxl", "20-23"),
)


def sheet(drill: Drill) -> Part:
    return joined([s.part for s in drill.steps], [s.name for s in drill.steps])


def read_back(part: Part) -> list[tuple[Fraction, Fraction, str]]:
    """(onset, duration, pitch) of each sound as music21 reads our file, ties merged."""
    parsed = music21.converter.parseData(write_part(part), format="musicxml")
    for measure in parsed.recurse().getElementsByClass(music21.stream.Measure):
        full = measure.barDuration.quarterLength
        assert measure.duration.quarterLength <= full, f"measure {measure.number} is overfull"
    found = []
    for element in parsed.parts[0].stripTies().flatten().notes:
        if element.duration.isGrace or isinstance(element, music21.harmony.Harmony):
            continue
        at, length = exact(element.offset), exact(element.duration.quarterLength)
        found.extend((at, length, name(pitch)) for pitch in element.pitches)
    return sorted(found)


def ours(part: Part) -> list[tuple[Fraction, Fraction, str]]:
    return sorted((s.at, s.duration, s.pitch.name) for s in sounds(part) if s.pitch and not s.grace)


@pytest.mark.parametrize(("file", "where"), CORPUS_SPANS)
@pytest.mark.parametrize("kind", ["alone", "backward"])
def test_music21_reads_drills_on_others_music(file: str, where: str, kind: str):
    part = read_score((CORPUS / file).read_bytes()).parts[0]
    drill = make_drill(part, parse_span(part, where), kind, {})
    for step in drill.steps:
        assert read_back(step.part) == ours(step.part)


@pytest.mark.parametrize("held", [2, 3, 4])
@pytest.mark.parametrize("group", [3, 4, 6])
def test_held_notes_are_complete_measures_in_every_group(held: int, group: int):
    part = a_part(SIXTEENTHS, "w:0")
    settings = {"hold": 2, "group": group, "held_units": held}
    step = make_drill(part, span(part, 0, 0, landing=True), "hold", settings).steps[0]
    assert read_back(step.part) == ours(step.part)


def test_a_run_of_triplets_is_held_in_sixteenths_and_no_triplet_is_tied():
    part = reread(a_triplet_part())
    step = make_drill(part, span(part, 0, 0), "hold", {"group": "3"}).steps[0]
    assert [s.duration for s in step.sounds][:3] == [F(1, 2), F(1, 4), F(1, 4)]
    assert not any(n.tie for m in step.part.measures for n in m.notes)
    assert read_back(step.part) == ours(step.part)


def a_triplet_part() -> Part:
    from dataclasses import replace

    from crumb.core.score.model import Clef, Key, Note, Time
    from crumb.core.score.notating import Event, lay_out
    from crumb.core.score.pitch import parse_pitch

    events = [
        Event(F(1, 3), (Note(id="n", at=F(0), duration=F(1, 3), pitch=parse_pitch(p)),))
        for p in ("C5", "D5", "E5", "F5") * 3
    ]
    measures = lay_out(events, time=Time("4", 4), key=Key(0), clefs=(Clef("G", 2),), id_prefix="t")
    return replace(a_part(EIGHTHS), measures=measures)


@pytest.mark.parametrize("kind", ["alone", "backward", "long-short", "even-threes", "fives"])
def test_mido_hears_the_sounding_pitches_at_the_right_ticks(kind: str):
    drill = make_drill(ETUDE, parse_span(ETUDE, "13-14+"), kind, {})
    part = sheet(drill)
    file = mido.MidiFile(file=io.BytesIO(write_midi(part, tempo=F(82), beat=F(1))))
    now = 0
    heard = []
    for message in file.tracks[0]:
        now += message.time
        if message.type == "note_on" and message.velocity:
            heard.append((F(now, file.ticks_per_beat), message.note))
        if message.type == "set_tempo":
            assert message.tempo == round(60_000_000 / 82)
    # A B-flat clarinet sounds two half steps lower than written.
    expected = [(s.at, s.pitch.midi - 2) for s in sounds(part) if s.pitch]
    assert heard == sorted(expected)


def messages(data: bytes) -> list[tuple[int, mido.Message]]:
    file, now, found = mido.MidiFile(file=io.BytesIO(data)), 0, []
    for message in file.tracks[0]:
        now += message.time
        found.append((F(now, file.ticks_per_beat), message))
    return found


def test_every_step_is_heard_at_its_own_tempo():
    drill = make_drill(ETUDE, parse_span(ETUDE, "9"), "every-note", {})
    assert len({s.pace for s in drill.steps}) > 1
    pieces = [Piece(s.part, 60 * s.pace) for s in drill.steps]
    said = [m.tempo for _, m in messages(write_pieces(pieces, beat=F(1))) if m.type == "set_tempo"]
    assert said == [round(1_000_000 / s.pace) for s in drill.steps]


def test_the_instrument_has_its_general_midi_program():
    (said,) = [
        m
        for _, m in messages(write_midi(ETUDE, tempo=F(60), beat=F(1)))
        if m.type == "program_change"
    ]
    assert said.program == 71  # clarinet, counted from 0


def test_grace_notes_are_heard_before_their_note_and_lighter():
    part = a_part("q:0,1,2,3")
    note = part.measures[0].notes[2]
    graces = [replace(note, id=f"g{i}", duration=F(0), grace="grace") for i in range(2)]
    row = (*part.measures[0].notes[:2], *graces, *part.measures[0].notes[2:])
    part = replace(part, measures=(replace(part.measures[0], notes=row),))
    on = [
        (at, m.velocity)
        for at, m in messages(write_midi(part, tempo=F(60), beat=F(1)))
        if m.type == "note_on"
    ]
    assert on == [(0, 80), (1, 80), (F(7, 4), 60), (F(15, 8), 60), (2, 80), (3, 80)]


def test_midi_ticks_divide_every_tuplet():
    part = reread(a_triplet_part())
    file = mido.MidiFile(file=io.BytesIO(write_midi(part, tempo=F(60), beat=F(1))))
    assert file.ticks_per_beat % 3 == 0
