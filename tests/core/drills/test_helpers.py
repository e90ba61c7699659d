"""Reading, isolation, emphasis and technique helpers."""

import pytest

from crumb.core.drills import CATALOGUE, make_drill
from crumb.core.drills.kinds.bow import bow_directions
from crumb.core.drills.kinds.pitches import twin
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.instruments.table import instrument_named
from crumb.core.instruments.versions import version_for
from crumb.core.score.model import Key
from crumb.core.score.pitch import parse_pitch
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread, span

ETUDE = reread(clarinet_etude())


def steps_of(part, where, name, **settings):
    return make_drill(part, where, name, settings).steps


def lyrics(step):
    return [n.lyric for m in step.part.measures for n in m.notes if n.lyric]


def pitches(step):
    return [s.pitch.name for s in step.sounds if s.pitch]


def for_instrument(name, *measures):
    return version_for(a_part(*measures), instrument_named(name))


def test_naming_says_written_names_in_even_slow_time():
    part = a_part("e:0#,1b q:2 h:3")
    (step,) = steps_of(part, span(part, 0, 0), "name-it")
    assert lyrics(step) == ["C♯", "D♭", "E", "F"]
    assert {s.duration for s in step.sounds} == {1}
    assert step.pace == F(1, 2)


def test_counting_says_every_beat_and_division_and_claps_without_pitch():
    part = a_part("s:0,1,2,3 e:4,5 q:6 q:7")
    clap, play = steps_of(part, span(part, 0, 0), "count-it")
    assert lyrics(clap) == ["1", "e", "&", "a", "2", "&", "3", "4"]
    assert all(s.pitch is None for s in clap.sounds)
    assert len(set(pitches(play))) == 1
    assert [s.duration for s in play.sounds] == [s.duration for s in clap.sounds]


def test_counting_in_six_eight_says_the_thirds():
    part = a_part("e:0,1,2,3,4,5", time="6/8")
    clap = steps_of(part, span(part, 0, 0), "count-it")[0]
    assert lyrics(clap) == ["1", "la", "li", "2", "la", "li"]


def test_a_violin_plays_the_rhythm_on_an_open_string():
    part = for_instrument("Violin", "q:0,1,2,3")
    play = steps_of(part, span(part, 0, 0), "count-it")[1]
    assert set(pitches(play)) <= {"G3", "D4", "A4", "E5"}


def test_strokes_without_pitch_are_counted_not_named_nor_slurred():
    drum = for_instrument("Snare drum", "s:0,1,2,3,4,5,6,7 h:0")
    where = span(drum, 0, 0)
    assert len(steps_of(drum, where, "count-it")) == 2
    for name in ("name-it", "pitches-only", "articulation", "octave", "respell", "warm-up"):
        with pytest.raises(DrillDoesNotFit):
            steps_of(drum, where, name)
    assert lyrics(steps_of(drum, where, "hand-order")[0])[:4] == ["R", "L", "R", "L"]


def test_two_notes_first_finds_the_leap_and_widens_to_the_chunk():
    part = a_part("e:0,1,2,12,3,2,1,0", "q:0,1,2,3")
    steps = steps_of(part, span(part, 0, 1), "two-notes")
    assert pitches(steps[0]) == ["E5", "A6"]
    assert steps[0].repetitions == 10
    lengths = [s.quarters for s in steps]
    assert lengths == sorted(lengths)
    assert steps[-1].as_written


def test_what_differs_from_a_twin_is_drilled_first():
    part = a_part("e:0,1,2,3,4,5,6,7", "q:0,1,2,3", "e:0,1,2,3,4,5,6,9")
    steps = steps_of(part, span(part, 2, 2), "difference")
    assert steps[0].name == "What differs: note 8"
    assert "E6" in pitches(steps[0])
    with pytest.raises(DrillDoesNotFit, match="No twin"):
        steps_of(part, span(part, 1, 1), "difference")


def test_a_gap_opens_before_the_sudden_change_and_closes():
    part = a_part("q:0,1,13,12")
    steps = steps_of(part, span(part, 0, 0), "rest-gap")
    assert [s.quarters - steps[-1].quarters for s in steps] == [1, F(1, 2), F(1, 4), 0]
    rests = [n.at for n in steps[0].part.measures[0].notes if n.is_rest]
    assert rests == [2]  # the leap of an octave and more is on the third beat
    level = a_part("q:0,1,2,3")
    with pytest.raises(DrillDoesNotFit, match="No sudden change"):
        steps_of(level, span(level, 0, 0), "rest-gap")


def test_the_arrival_is_stopped_on_then_passed_through():
    part = a_part("q:0,1,9,8", "q:7,6,5,4")
    steps = steps_of(part, span(part, 0, 1), "hold-arrival", after=2)
    assert pitches(steps[0]) == ["C5", "D5", "E6"]
    held = [n for m in steps[0].part.measures for n in m.notes if n.fermata]
    assert [n.pitch.name for n in held] == ["E6"]
    assert pitches(steps[1]) == ["C5", "D5", "E6", "D6", "C6"]
    with pytest.raises(DrillDoesNotFit, match="No leap"):
        steps_of(part, span(part, 1, 1), "hold-arrival")


def test_strings_and_trombone_slide_into_it_and_back():
    part = for_instrument("Trombone", "q:0,1,9,8")
    steps = steps_of(part, span(part, 0, 0), "hold-arrival")
    assert [s.name for s in steps[:2]] == ["Into it", "And back"]
    assert pitches(steps[0])[::-1] == pitches(steps[1])
    slides = [g for m in steps[0].part.measures for n in m.notes for g in n.gestures]
    assert slides == ["slide:start:1", "slide:stop:1"]
    flute = a_part("q:0,1,9,8")
    assert steps_of(flute, span(flute, 0, 0), "hold-arrival")[0].name.startswith("Stop on")


def test_articulation_swaps_slur_in_twos_and_separate_and_end_as_written():
    part = a_part("e:0,1,2,3,4,5,6,7")
    steps = steps_of(part, span(part, 0, 0), "articulation")
    slurs = {
        s.name: sum(x.end == "start" for m in s.part.measures for n in m.notes for x in n.slurs)
        for s in steps
    }
    assert slurs["All slurred"] == 1
    assert slurs["All tongued"] == 0
    assert slurs["Two and two"] == 4
    assert slurs["One, two, one"] == 2
    assert steps[-1].as_written


def test_leans_go_round_the_group_and_are_gone_in_proof():
    part = a_part(EIGHTHS)
    steps = steps_of(part, span(part, 0, 0), "lean", group=4)
    leaned = [
        [i for i, n in enumerate(s.part.measures[0].notes) if "tenuto" in n.articulations]
        for s in steps
    ]
    assert leaned == [[0, 4], [1, 5], [2, 6], [3, 7], []]
    accented = steps_of(part, span(part, 0, 0), "lean", style="accent")[0]
    assert any("accent" in n.articulations for n in accented.part.measures[0].notes)


def test_regrouping_beams_one_and_four_and_four():
    part = a_part(SIXTEENTHS)
    step = steps_of(part, span(part, 0, 0), "regroup", groups="1+4")[0]
    begins = [
        i for i, n in enumerate(step.part.measures[0].notes) if n.beams and n.beams[0] == "begin"
    ]
    assert begins == [1, 5, 9, 13]  # the first note stands alone, three are left at the end
    with pytest.raises(BadSetting):
        steps_of(part, span(part, 0, 0), "regroup", groups="4-4")


def test_quick_repeats_share_out_each_note_exactly():
    part = a_part(EIGHTHS)
    step = steps_of(part, span(part, 0, 0), "quick-repeats", times_each=3)[0]
    assert {s.duration for s in step.sounds} == {F(1, 6)}
    assert step.quarters == 4


def test_holding_one_and_striking_the_next_is_for_keys_and_bars_only():
    part = a_part("q:0,1,2,3")
    with pytest.raises(DrillDoesNotFit, match="keyboard and mallets"):
        steps_of(part, span(part, 0, 0), "hold-strike")
    marimba = for_instrument("Marimba", "q:0,1,2,3")
    step = steps_of(marimba, span(marimba, 0, 0), "hold-strike", strikes=2)[0]
    held = [s for s in step.sounds if s.duration == F(3, 2)]
    assert len(held) == 3
    assert len(step.sounds) == 9


# Enharmonic twins of the handbook: A sharp as B flat, D sharp as E flat, B sharp as C.
@pytest.mark.parametrize(
    ("name", "other"),
    [("A#4", "Bb4"), ("D#5", "Eb5"), ("B#4", "C5"), ("F##4", "G4"), ("Cb5", "B4")],
)
def test_twins_sound_the_same_in_a_plainer_spelling(name, other):
    pitch = parse_pitch(name)
    assert twin(pitch).name == other
    assert twin(pitch).midi == pitch.midi


def test_respelling_sounds_the_same():
    part = a_part("q:0#,1,5#,3")
    pairs, respelled, written = steps_of(part, span(part, 0, 0), "respell")
    assert [s.pitch.midi for s in respelled.sounds] == [s.pitch.midi for s in written.sounds]
    assert pitches(respelled)[0] == "Db5"
    assert pitches(pairs) == ["C#5", "Db5", "A#5", "Bb5"]
    plain = a_part("q:0,1,2,3")
    with pytest.raises(DrillDoesNotFit, match="every note is in the key"):
        steps_of(plain, span(plain, 0, 0), "respell")


def test_bows_alternate_a_slur_is_one_stroke_and_a_pickup_starts_up():
    part = for_instrument("Violin", "q:0,(1,2),3", "q:0,1,2,3")
    plan = list(bow_directions(part).values())
    assert plan[:4] == ["down-bow", "up-bow", "down-bow", "up-bow"]
    assert steps_of(part, span(part, 0, 1), "bow-plan")[0].say.startswith("Say down and up")
    with pytest.raises(DrillDoesNotFit, match="bowed strings"):
        steps_of(ETUDE, parse_span(ETUDE, "9"), "bow-plan")


def test_an_octave_away_only_where_the_instrument_has_it():
    steps = steps_of(ETUDE, parse_span(ETUDE, "9"), "octave")
    here, there = steps[-1].sounds, steps[0].sounds
    assert {b.pitch.midi - a.pitch.midi for a, b in zip(here, there, strict=True)} <= {12, -12}


def test_context_puts_two_measures_of_pulse_on_both_sides():
    step = steps_of(ETUDE, parse_span(ETUDE, "9-10"), "in-context")[0]
    assert len(step.part.measures) == 6
    assert step.sounds[0].at == 8
    assert step.quarters == 24


def test_the_warm_up_is_the_scale_of_the_key_with_its_signature():
    part = a_part("q:0,1,2,3", fifths=2)
    scale = steps_of(part, span(part, 0, 0), "warm-up")[0]
    names = pitches(scale)
    assert [n[:-1] for n in names[:8]] == ["D", "E", "F#", "G", "A", "B", "C#", "D"]
    assert part.measures[0].key == Key(2)


def test_a_cue_word_stands_on_its_note_and_is_gone_in_proof():
    part = a_part("q:0,1,9,8")
    steps = steps_of(part, span(part, 0, 0), "cue-word", word="wait")
    said = [(d.at, d.text) for d in steps[0].part.measures[0].directions if d.text == "wait"]
    assert said == [(2, "wait")]
    assert not any(d.text == "wait" for d in steps[-1].part.measures[0].directions)


def test_voices_of_a_double_stop_are_taken_apart():
    from dataclasses import replace

    part = a_part("h:0,2")
    first, second = part.measures[0].notes
    doubled = replace(
        part.measures[0],
        notes=(
            first,
            replace(first, id="up", pitch=parse_pitch("E5"), in_chord=True),
            second,
            replace(second, id="up2", pitch=parse_pitch("G5"), in_chord=True),
        ),
    )
    chords = replace(part, measures=(doubled,))
    upper, lower, both = steps_of(chords, span(chords, 0, 0), "voices-apart")
    assert [pitches(s) for s in (lower, upper)] == [["C5", "E5"], ["E5", "G5"]]
    assert len(both.sounds) == 4
    with pytest.raises(DrillDoesNotFit, match="One line only"):
        steps_of(part, span(part, 0, 0), "voices-apart")


def test_the_slow_layers_let_a_slip_pass():
    for name in ("name-it", "count-it", "pitches-only", "one-layer", "slow-direction"):
        steps = steps_of(ETUDE, parse_span(ETUDE, "9-10"), name)
        assert all(s.slip == "on" for s in steps if not s.as_written)


def test_levels_change_what_is_usual():
    changed = [
        kind.name
        for kind in CATALOGUE
        if len(
            {str(kind.settings({}, level)) for level in ("beginner", "intermediate", "advanced")}
        )
        > 1
    ]
    assert {"standard-set", "two-notes", "articulation", "each-note"} <= set(changed)
    with pytest.raises(BadSetting):
        CATALOGUE[0].settings({}, "genius")
