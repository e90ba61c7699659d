"""The survey against fingering, slide and string tables, and against what a musician would say."""

from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import BadTempo
from crumb.core.instruments.table import INSTRUMENTS, instrument_named
from crumb.core.score.model import Direction, Note, Part
from crumb.core.score.pitch import parse_pitch
from crumb.core.survey import fingers, slide, strings
from crumb.core.survey.load import survey
from crumb.core.survey.model import Survey
from crumb.core.survey.objectives import foundation
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, span


def midi(name: str) -> int:
    return parse_pitch(name).midi


def read(part: Part, on: str, goal: int = 100) -> Survey:
    return survey(part, instrument_named(on), goal_quarters=F(goal))


def kinds(found: Survey) -> set[str]:
    return {spot.kind for measure in found.measures for spot in measure.spots}


# Tables ------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("note", "valves"),
    # The B-flat trumpet chart of any school method (from memory), written pitch.
    [("F#3", "123"), ("C4", ""), ("D4", "13"), ("E4", "12"), ("F4", "1"), ("G4", ""), ("A4", "12"),
     ("B4", "2"), ("C5", ""), ("C#5", "12"), ("D5", "1"), ("E5", ""), ("F5", "1"), ("G5", ""),
     ("A5", "12"), ("C6", "")],
)  # fmt: skip
def test_trumpet_valves(note: str, valves: str):
    assert fingers.CHARTS["trumpet"][midi(note)] == valves


@pytest.mark.parametrize(
    "instrument", [i for i in INSTRUMENTS if i.name not in ("Euphonium in B♭", "Electric bass")]
)
def test_a_section_is_called_by_the_plural_of_its_instrument(instrument):
    assert instrument_named(f"{instrument.name}s") == instrument
    assert instrument_named("Basses").name == "Double bass"
    assert instrument_named("Electric Basses").name == "Electric bass"


def test_the_euphonium_fingers_like_a_trumpet_that_sounds_an_octave_and_a_step_lower():
    for pitch, valves in fingers.CHARTS["trumpet"].items():
        assert fingers.CHARTS["euphonium"][pitch - 14] == valves


@pytest.mark.parametrize(
    ("note", "usual"),
    # The tenor trombone's slide chart (from memory).
    [("E2", 7), ("F2", 6), ("A2", 2), ("Bb2", 1), ("B2", 7), ("C3", 6), ("D3", 4), ("F3", 1),
     ("G3", 4), ("A3", 2), ("Bb3", 1), ("C4", 3), ("D4", 1), ("F4", 1)],
)  # fmt: skip
def test_slide_positions(note: str, usual: int):
    assert slide.positions(midi(note))[0] == usual


def test_the_slide_takes_the_alternate_that_lies_near():
    assert slide.path([midi("F2"), midi("F3"), midi("F2")])[1] == 6


@pytest.mark.parametrize(("note", "string"), [("G3", 0), ("D4", 1), ("A4", 2), ("E5", 3)])
def test_open_strings_of_the_violin(note: str, string: int):
    (place,) = strings.path("violin", [midi(note)])
    assert place is not None
    assert (place.string, place.height) == (string, 0)


def test_a_first_position_scale_needs_no_shift_and_the_next_octave_does():
    scale = [midi(n) for n in "G3 A3 B3 C4 D4 E4 F#4 G4 A4 B4".split()]
    places = strings.path("violin", scale)
    steps = [strings.step("violin", a, b)[1] for a, b in pairwise(places)]
    assert "shift" not in steps
    high = strings.path("violin", [midi("B3"), midi("E6")])
    steps = [strings.step("violin", a, b)[1] for a, b in pairwise(high)]
    assert "shift" in steps


def test_a_note_below_the_instrument_has_no_place():
    assert strings.path("cello", [20]) == [None]


@pytest.mark.parametrize(
    ("one", "two", "crosses"),
    # The break lies between written B-flat 4 and B4: a fact of the instrument.
    [("A4", "B4", True), ("G4", "D5", True), ("C4", "A4", False), ("C5", "E5", False)],
)
def test_the_clarinet_break(one: str, two: str, crosses: bool):
    kind = fingers.change("clarinet", midi(one), midi(two))[1]
    assert (kind == "break") == crosses
    assert fingers.change("clarinet", midi(two), midi(one))[1] == kind


@pytest.mark.parametrize(
    ("name", "known"),
    [("Clarinet in Bb 2", "Clarinet"), ("2nd Violin", "Violin"), ("Horn in F", "Horn"),
     ("Posaune", "Trombone"), ("Alto Sax", "Alto saxophone"), ("Vc.", "Cello"),
     ("English Horn", "English horn"), ("Trompete in B", "Trumpet"),
     ("Bass Clarinet", "Bass clarinet"),
     ("Snare Drum", "Snare drum"), ("Flügelhorn", "Flugelhorn"), ("Nothing known", "Instrument")],
)  # fmt: skip
def test_instruments_are_known_by_their_printed_names(name: str, known: str):
    assert instrument_named(name).name == known


@pytest.mark.parametrize(
    ("name", "half_steps"),
    # Written = sounding plus 2 for B-flat instruments, 9 for E-flat alto, 7 for F horn.
    [("Flute", 0), ("Clarinet", -2), ("Trumpet", -2), ("Alto saxophone", -9), ("Horn", -7),
     ("Tenor saxophone", -14), ("Baritone saxophone", -21), ("Double bass", -12)],
)  # fmt: skip
def test_transpositions(name: str, half_steps: int):
    assert instrument_named(name).transpose == half_steps


# Load --------------------------------------------------------------------------------------------


def test_the_measure_with_the_most_is_the_crux():
    found = read(a_part("q:0,1,2,3", SIXTEENTHS, EIGHTHS), "Clarinet")
    assert found.crux == 1
    assert found.measures[1].load == max(m.load for m in found.measures)


def test_the_load_of_a_measure_is_that_of_its_beats():
    found = read(a_part(SIXTEENTHS, EIGHTHS, "q:0 q:r h:2"), "Violin")
    for measure in found.measures:
        assert sum(measure.beats) == pytest.approx(measure.load)
        assert len(measure.beats) == 4


@given(st.integers(40, 100), st.integers(10, 100))
def test_faster_is_never_easier(slow: int, more: int):
    part = a_part(SIXTEENTHS, "q:0,4 h:2")
    one, two = read(part, "Flute", slow), read(part, "Flute", slow + more)
    assert all(b.load >= a.load for a, b in zip(one.measures, two.measures, strict=True))


def test_notes_a_second_are_arithmetic():
    found = read(a_part(SIXTEENTHS), "Flute", 105)
    assert found.measures[0].notes_per_second == pytest.approx(4 * 105 / 60)


def test_a_single_tongue_runs_out_on_fast_sixteenths():
    """At sixteenths of 120 to 132 for many school players: common practice, no source."""
    assert "tongue" not in kinds(read(a_part(SIXTEENTHS), "Trumpet", 110))
    assert "tongue" in kinds(read(a_part(SIXTEENTHS), "Trumpet", 140))


def test_slurred_notes_are_not_tongued():
    slurred = a_part("s:(0,1,2,3,4,5,6,7,7,6,5,4,3,2,1,0)")
    assert "tongue" not in kinds(read(slurred, "Flute", 140))


def test_the_same_notes_are_hard_where_the_instrument_makes_them_so():
    part = a_part("e:-2,-1,-2,-1,-2,-1,-2,-1")  # A4 and B4
    assert "break" in kinds(read(part, "Clarinet"))
    assert "break" not in kinds(read(part, "Flute"))
    on_clarinet, on_piano = read(part, "Clarinet"), read(part, "Piano")
    assert on_clarinet.measures[0].load > 2 * on_piano.measures[0].load


def octaves_down(part: Part, octaves: int) -> Part:
    def lowered(note: Note) -> Note:
        if note.pitch is None:
            return note
        return replace(note, pitch=replace(note.pitch, octave=note.pitch.octave - octaves))

    measures = (replace(m, notes=tuple(map(lowered, m.notes))) for m in part.measures)
    return replace(part, measures=tuple(measures))


@given(st.integers(-3, 3))
def test_what_transposes_with_the_instrument_stays_as_hard(steps: int):
    """A tuba an octave below a euphonium has the same valves: octaves change no brass load."""
    part = a_part("q:0,2,4,2", "e:0,1,2,3,4,3,2,1")
    low, lower = octaves_down(part, 2), octaves_down(part, 3)
    goal = 100 + steps
    one, two = read(low, "Euphonium", goal), read(lower, "Tuba", goal)
    assert [m.load for m in one.measures] == pytest.approx([m.load for m in two.measures])


def test_every_instrument_reads_every_part():
    part = a_part(SIXTEENTHS, "q:0,9 h:-9", "w:r")
    for instrument in INSTRUMENTS:
        found = survey(part, instrument, goal_quarters=F(100))
        assert len(found.measures) == 3
        assert found.measures[2].load == 0


# Reading -----------------------------------------------------------------------------------------


def test_an_accidental_against_the_key_and_against_a_bar_ago():
    found = read(a_part("q:0,3#,4,5", "q:3,4,5,6"), "Flute")
    whys = [spot.why for measure in found.measures for spot in measure.spots]
    assert any("F♯ is not in the key" in why for why in whys)
    assert any("F here, F♯ a measure ago" in why for why in whys)


def test_an_awkward_spelling_is_named_by_its_twin():
    found = read(a_part("q:2#,3,4,5"), "Flute")
    assert any("E♯ is F" in s.why for s in found.measures[0].spots)


def test_a_figure_that_breaks_after_three_times_is_told():
    same = "s:0,1,2,3"
    found = read(a_part(f"{same} {same} {same} s:0,1,2,4"), "Clarinet")
    assert "pattern-break" in kinds(found)
    assert "pattern-break" not in kinds(read(a_part(f"{same} {same} {same} {same}"), "Clarinet"))


def test_an_entry_after_many_rests_is_told_with_their_number():
    found = read(a_part("q:0,1,2,3", *["w:r"] * 5, "q:0,1,2,3"), "Flute")
    assert any("after 5 measures of rest" in s.why for s in found.measures[6].spots)


def with_words(part: Part, index: int, *marks: tuple[object, str, str]) -> Part:
    directions = tuple(Direction(F(at), kind, text) for at, kind, text in marks)
    measure = replace(part.measures[index], directions=directions)
    return replace(part, measures=(*part.measures[:index], measure, *part.measures[index + 1 :]))


def test_a_sudden_change_of_dynamic_is_told_and_a_prepared_one_is_not():
    part = a_part("q:0,1,2,3", "q:0,1,2,3")
    sudden = with_words(part, 1, (0, "dynamic", "ff"), (2, "dynamic", "p"))
    assert "dynamic" in kinds(read(sudden, "Flute"))
    wedge = with_words(
        part, 1, (0, "dynamic", "ff"), (1, "wedge", "diminuendo"), (2, "dynamic", "p")
    )
    assert "dynamic" not in kinds(read(wedge, "Flute"))


def test_too_short_a_time_for_the_bow_is_told():
    part = with_words(a_part(EIGHTHS, EIGHTHS), 1, (0, "words", "pizz."))
    found = read(part, "Violin", 120)
    assert any("too short" in s.why for s in found.measures[1].spots)
    calm = with_words(a_part(EIGHTHS, "w:r", EIGHTHS), 2, (0, "words", "pizz."))
    assert not any("too short" in s.why for s in read(calm, "Violin").measures[2].spots)


# What it is about --------------------------------------------------------------------------------


def test_the_objectives_name_what_comes_again_and_again():
    part = a_part(*["e:-2,-1,-2,-1,-2,-1,-2,-1"] * 4)
    found = read(part, "Clarinet")
    assert found.objectives[0].kind == "break"
    assert found.objectives[0].measures == (0, 1, 2, 3)


def test_the_foundation_is_the_chunk_that_holds_what_the_others_ask_for():
    breaks, plain, both = "e:-2,-1,-2,-1,-2,-1,-2,-1", "q:0,1,2,3", "e:-2,-1,-2,-1 q:2#,3"
    part = a_part(plain, breaks, both, "q:2#,3,4,5")
    found = read(part, "Clarinet")
    spans = [span(part, i, i) for i in range(4)]
    assert foundation(found.measures, spans) == 2


def test_a_tempo_of_nothing_is_refused():
    with pytest.raises(BadTempo):
        read(a_part("w:0"), "Flute", 0)
