"""What a file says besides its notes, and what it says that nobody plays.

MusicXML 4.0: ``<transpose>``, ``<senza-misura>``, additive ``<beats>``, ``implicit``, ``<cue>`` and
``size="cue"``, ``print-object``, ``<instrument>``. Each file is read the quick way (cut at its
parts) and by the tree parser, with the same result.
"""

from fractions import Fraction

import pytest

from crumb.core.drills import CATALOGUE, make_drill
from crumb.core.errors import CrumbError
from crumb.core.instruments.table import INSTRUMENTS
from crumb.core.instruments.versions import version_for
from crumb.core.score.address import find_span
from crumb.core.score.model import Part, Time
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span, beat_positions, sounds, whole
from crumb.core.score.slicing import slice_span
from crumb.core.score.written import parse_span
from crumb.core.similarity.fingerprints import sketch
from crumb.core.split.chunk_map import by_measures
from crumb.formats.midi import write_midi
from crumb.formats.musicxml.reader import open_score, read_score
from crumb.formats.musicxml.writer import write_part

F = Fraction


def pitch(name: str, length: int = 1, *, inside: str = "", tag: str = "note", end: str = "") -> str:
    return (
        f"<{tag}>{inside}<pitch><step>{name[0]}</step><octave>{name[1]}</octave></pitch>"
        f"<duration>{length}</duration>{end}</note>"
    )


def attributes(inner: str) -> str:
    return f"<attributes>{inner}</attributes>"


FOUR = "<time><beats>4</beats><beat-type>4</beat-type></time>"
BASICS = attributes(f"<divisions>1</divisions>{FOUR}")


def read(*measures: str, head: str = "", numbers: str = "", implicit: str = "") -> Part:
    """A one-part file of these measures; ``numbers`` and the numbers that are implicit, spaced."""
    called = numbers.split() or [str(i) for i in range(1, len(measures) + 1)]
    hidden = dict.fromkeys(implicit.split(), ' implicit="yes"')
    body = "".join(
        f'<measure number="{n}"{hidden.get(n, "")}>{text}</measure>'
        for n, text in zip(called, measures, strict=True)
    )
    data = (
        '<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>A part</part-name>'
        f'{head}</score-part></part-list><part id="P1">{body}</part></score-partwise>'
    ).encode()
    cut = read_score(data).parts[0]
    assert [p.read().part for p in open_score(data, plainly=False).parts] == [cut]
    return cut


def transpose(diatonic: int, chromatic: int) -> str:
    return attributes(
        f"<transpose><diatonic>{diatonic}</diatonic><chromatic>{chromatic}</chromatic></transpose>"
    )


IN_B_FLAT, IN_A = transpose(-1, -2), transpose(-2, -3)
CLARINET = read(BASICS + IN_B_FLAT + pitch("C5", 4), IN_A + pitch("C5", 4), pitch("D5", 4))


def midis(part: Part) -> list[int | None]:
    return [sound.midi for sound in sounds(part)]


def test_a_clarinet_that_changes_to_a_sounds_in_a_from_there():
    assert midis(CLARINET) == [70, 69, 71]
    assert CLARINET.measures[0].transposition is None


def test_the_change_of_instrument_survives_writing_slicing_and_midi():
    again = read_score(write_part(CLARINET).encode()).parts[0]
    assert midis(again) == [70, 69, 71]
    late = slice_span(CLARINET, Span(Position(1, F(0)), Position(3, F(0))))
    assert midis(late) == [69, 71]
    assert midis(read_score(write_part(late).encode()).parts[0]) == [69, 71]
    notes = [m.note for m in _midi(CLARINET) if m.type == "note_on" and m.velocity]
    assert notes == [70, 69, 71]


def _midi(part: Part):
    import io

    import mido

    file = mido.MidiFile(file=io.BytesIO(write_midi(part, tempo=F(60), beat=F(1))))
    return list(file.tracks[0])


def test_kin_and_versions_go_by_what_sounds():
    assert [row[0].midi for row in sketch(CLARINET).attacks] == [70, 69, 71]
    flute = version_for(CLARINET, next(i for i in INSTRUMENTS if i.name == "Flute"))
    shift = {(a or 0) - (b or 0) for a, b in zip(midis(flute), midis(CLARINET), strict=True)}
    assert [way % 12 for way in shift] == [0]


def test_a_cadenza_without_meter_is_as_long_as_it_is():
    free = attributes("<time><senza-misura/></time>")
    part = read(BASICS + pitch("C5", 4), free + pitch("C5", 7), attributes(FOUR) + pitch("D5", 4))
    cadenza = part.measures[1]
    assert (cadenza.length, cadenza.nominal, cadenza.time.text) == (7, 7, "free time")
    assert read_score(write_part(part).encode()).parts[0].measures[1].time.is_free
    assert part.measures[2].time == Time("4", 4)
    for kind in CATALOGUE:
        try:
            drill = make_drill(part, parse_span(part, "2"), kind.name, {})
        except CrumbError:
            continue
        assert all(m.time.length > 0 for step in drill.steps for m in step.part.measures)


@pytest.mark.parametrize(
    ("beats", "starts"),
    [
        ("3+2", [F(0), F(3, 2)]),
        ("2+3", [F(0), F(1)]),
        ("2+2+3", [F(0), F(1), F(2)]),
        ("3+3+2", [F(0), F(3, 2), F(3)]),
        ("6", [F(0), F(3, 2)]),
        ("5", [F(0), F(1, 2), F(1), F(3, 2), F(2)]),
    ],
)
def test_an_additive_meter_has_the_beats_it_prints(beats: str, starts: list[Fraction]):
    units = sum(int(n) for n in beats.split("+"))
    time = f"<time><beats>{beats}</beats><beat-type>8</beat-type></time>"
    eighths = "".join(pitch("C5", 1, end="<type>eighth</type>") for _ in range(units))
    part = read(attributes(f"<divisions>2</divisions>{time}") + eighths, eighths)
    assert [p.at for p in beat_positions(part) if p.index == 0] == starts
    second = part.measures[1]
    begun = [n.at for n in second.notes if n.beams[:1] == ("begin",)]
    if "+" in beats:
        assert begun == starts, "beams begin on the beats"
        last = f"2 beat {len(starts)}"
        assert parse_span(part, last).start == Position(1, starts[-1])
        step = make_drill(part, whole(part), "alone", {}).steps[-1]
        assert step.clicks == (*starts, *(part.measures[0].length + at for at in starts))


def test_composite_signatures_are_counted_in_their_finest_unit():
    time = (
        "<time><beats>3</beats><beat-type>8</beat-type>"
        "<beats>2</beats><beat-type>4</beat-type></time>"
    )
    part = read(attributes(f"<divisions>2</divisions>{time}") + pitch("C5", 7))
    assert part.measures[0].time.groups == (F(3, 2), F(1), F(1))


REPEAT = '<barline location="right"><repeat direction="backward"/></barline>'
THREE = pitch("C5") + pitch("D5") + pitch("E5")
WHOLE = THREE + pitch("F5")


def halved(second: str = "X1") -> Part:
    """Four measures, the second cut by a repeat before its last beat."""
    return read(
        BASICS + WHOLE,
        THREE + REPEAT,
        pitch("G5"),
        WHOLE,
        WHOLE,
        numbers=f"1 2 {second} 3 4",
        implicit=second,
    )


@pytest.mark.parametrize("second", ["X1", "2", "2a"])
def test_a_measure_cut_by_a_repeat_is_one_measure(second: str):
    part = halved(second)
    assert [m.number for m in part.measures] == ["1", "2", "2", "3", "4"]
    assert parse_span(part, "2") == Span(Position(1, F(0)), Position(3, F(0)))
    assert span_label(part, parse_span(part, "2–3")) == "2–3"
    assert parse_span(part, "2 beat 4").start == Position(2, F(0))
    assert parse_span(part, "2 note 4").start == Position(2, F(0))
    assert find_span(part, "pickup to 3").start == Position(2, F(0))
    assert span_label(part, Span(Position(2, F(0)), Position(5, F(0)))) == "pickup to 3–4"
    assert [(s.start.index, s.end.index) for s in by_measures(part, 2).spans] == [(0, 3), (3, 5)]
    again = read_score(write_part(part).encode()).parts[0]
    assert [m.lead for m in again.measures] == [0, 0, 3, 0, 0]


def test_two_short_measures_with_numbers_of_their_own_stay_two():
    part = read(BASICS + WHOLE, THREE + REPEAT, pitch("G5"), WHOLE)
    assert [m.number for m in part.measures] == ["1", "2", "3", "4"]
    assert not any(m.lead for m in part.measures)


@pytest.mark.parametrize("how", ["<cue/>", ""])
def test_cue_notes_are_not_the_players(how: str):
    small = pitch("C5", 4, inside=how, end="" if how else '<type size="cue">whole</type>')
    part = read(BASICS + small, pitch("D5", 4))
    assert part.attack_count == 1
    assert all(n.cue for n in part.measures[0].notes)
    assert [s.midi for s in sounds(part)] == [74]


def test_what_only_a_computer_plays_is_a_rest_on_paper():
    hidden = pitch("E6", 1, tag='note print-object="no"')
    member = '<note print-object="no"><chord/>' + pitch("G6", 1)[len("<note>") :]
    part = read(BASICS + pitch("C5", 2) + hidden + member + pitch("D5"), WHOLE)
    assert [s.midi for s in sounds(part)][:2] == [72, 74]
    assert [n.is_rest for n in part.measures[0].notes] == [False, True, False]
    assert part.measures[0].length == 4


def test_a_chord_whose_first_note_is_hidden_keeps_the_others():
    hidden = pitch("E4", 4, tag='note print-object="no"')
    member = "<note><chord/>" + pitch("C5", 4)[len("<note>") :]
    part = read(BASICS + hidden + member)
    assert [(n.pitch.name if n.pitch else "", n.in_chord) for n in part.measures[0].notes] == [
        ("C5", False)
    ]


def stroke(drum: str) -> str:
    return (
        "<note><unpitched><display-step>C</display-step><display-octave>5</display-octave>"
        f'</unpitched><duration>2</duration><instrument id="{drum}"/></note>'
    )


def test_which_drum_is_struck_is_kept_heard_and_written():
    head = (
        '<score-instrument id="A"><instrument-name>Snare Drum</instrument-name></score-instrument>'
        '<score-instrument id="B"><instrument-name>Triangle</instrument-name></score-instrument>'
    )
    part = read(BASICS + stroke("A") + stroke("B"), head=head)
    assert [n.drum for n in part.measures[0].notes] == ["Snare Drum", "Triangle"]
    again = read_score(write_part(part).encode()).parts[0]
    assert [n.drum for n in again.measures[0].notes] == ["Snare Drum", "Triangle"]
    keys = [m.note for m in _midi(part) if m.type == "note_on" and m.velocity]
    assert keys == [38, 81]  # General MIDI percussion map
