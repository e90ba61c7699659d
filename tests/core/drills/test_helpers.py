"""Reading, isolation, emphasis and technique helpers."""

from dataclasses import replace

import pytest

from crumb.core.drills import CATALOGUE, make_drill
from crumb.core.drills.kinds.bow import bow_directions, wrong_downbeats
from crumb.core.drills.kinds.pitches import twin
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.instruments.table import instrument_named
from crumb.core.instruments.versions import version_for
from crumb.core.score.model import Direction, Key
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


# Held beats and rests counted in brackets: common practice, no source.
@pytest.mark.parametrize(
    ("music", "said"),
    [
        ("h:0 q:1,r", ["1 (2)", "3 (4)"]),
        ("q.:0 e:1 h:2", ["1 (2)", "&", "3 (4)"]),
        ("q:r,0 h:1", ["2", "3 (4)"]),
        ("w:0", ["1 (2) (3) (4)"]),
    ],
)
def test_beats_that_go_by_while_a_note_is_held_or_rested_are_counted_in_brackets(music, said):
    part = a_part(music)
    assert lyrics(steps_of(part, span(part, 0, 0), "count-it")[0]) == said


def test_values_are_said_four_two_one_and_a_half_and_the_first_of_a_pair_is_down():
    part = a_part("h:0 q:1 e:2,3", "w:4")
    clap = steps_of(part, span(part, 0, 1), "count-it", say="values")[0]
    assert lyrics(clap) == ["2", "1", "½↓", "½↑", "4"]


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
    for name in ("name-it", "pitches-only", "articulation", "octave", "respell"):
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
    with pytest.raises(DrillDoesNotFit, match="no similar passage"):
        steps_of(part, span(part, 1, 1), "difference")


def test_a_gap_opens_before_the_sudden_change_and_closes():
    part = a_part("q:0,1,13,12")
    steps = steps_of(part, span(part, 0, 0), "rest-gap")
    assert [s.quarters - steps[-1].quarters for s in steps] == [1, F(1, 2), F(1, 4), 0]
    rests = [n.at for n in steps[0].part.measures[0].notes if n.is_rest]
    assert rests == [2]  # the leap of an octave and more is on the third beat
    # What is shorter than a beat is a breath in the music as it is printed, on its own beats.
    for step in steps[1:3]:
        marks = [n.articulations for n in step.part.measures[0].notes]
        assert marks == [(), ("breath-mark",), (), ()]
    level = a_part("q:0,1,2,3")
    with pytest.raises(DrillDoesNotFit, match="No sudden change"):
        steps_of(level, span(level, 0, 0), "rest-gap")


def loud(part, marks):
    """The part with dynamics or words at offsets of its first measure."""
    first = part.measures[0]
    said = tuple(Direction(F(at), kind, text) for at, kind, text in marks)
    return replace(part, measures=(replace(first, directions=(*first.directions, *said)),))


def test_the_gap_stands_before_the_widest_change_not_before_a_mark_that_is_new_to_nobody():
    plain = a_part("q:0,1,2,3")
    jump = loud(plain, [(0, "dynamic", "p"), (1, "dynamic", "mp"), (2, "dynamic", "f")])
    steps = steps_of(jump, span(jump, 0, 0), "rest-gap")
    assert "before note 3" in steps[0].name
    lone = loud(plain, [(2, "dynamic", "p")])
    led = loud(plain, [(0, "dynamic", "p"), (1, "wedge", "crescendo"), (2, "wedge", "stop"),
                       (2, "dynamic", "f")])  # fmt: skip
    for part in (lone, led):
        with pytest.raises(DrillDoesNotFit, match="No sudden change"):
            steps_of(part, span(part, 0, 0), "rest-gap")


@pytest.mark.parametrize("mark", [("words", "pizz."), ("dynamic", "ff")])
def test_every_step_of_the_gap_keeps_the_change_it_trains(mark):
    part = loud(a_part("e:(0,1,2,3) e:(4,5,6,7)"), [(0, "dynamic", "p"), (2, *mark)])
    for step in steps_of(part, span(part, 0, 0), "rest-gap"):
        kept = [d.text for m in step.part.measures for d in m.directions]
        assert mark[1] in kept, step.name
        ends = [s.end for m in step.part.measures for n in m.notes for s in n.slurs]
        assert ends == ["start", "stop"] * 2, step.name


def test_a_slur_over_the_gap_is_two_and_one_that_only_touches_it_is_one():
    part = loud(a_part("e:(0,1,2,3,4,5),6,7"), [(0, "dynamic", "p"), (1, "dynamic", "f")])
    cut = steps_of(part, span(part, 0, 0), "rest-gap")[0]
    assert slurs(cut) == ["start", "stop", "start", "-", "-", "stop", "-", "-"]
    part = loud(a_part("e:0,(1,2),3,4,5,6,7"), [(0, "dynamic", "p"), (1, "dynamic", "f")])
    lone = steps_of(part, span(part, 0, 0), "rest-gap")[0]
    assert slurs(lone) == ["-"] * 8  # one note on either side is no slur


def test_a_long_note_stands_before_every_group_and_gets_shorter():
    part = a_part("s:0,1,2,3,4,5,6,7 q:8,9", "s:7,6,5,4,3,2,1,0 h:1")
    steps = steps_of(part, span(part, 0, 1), "long-before-fast")
    longs = [[s.duration for s in step.sounds if s.duration >= 1] for step in steps]
    assert longs[0] == [4, 1, 1, 4, 2]
    assert longs[1] == [2, 1, 1, 2, 2]
    assert longs[2] == [1, 1, 1, 1, 2]
    assert steps[-1].as_written


def slurs(step):
    return [
        n.slurs[0].end if n.slurs else "-" for m in step.part.measures for n in m.notes if n.pitch
    ]


def test_pairs_are_counted_from_the_beat_and_no_slur_goes_over_it():
    part = a_part("e.:0 s:1,2,3,4,5 e:6,7,8,9")
    two = steps_of(part, span(part, 0, 0), "articulation")[2]
    assert two.name == "Two and two"
    #              e.      s        | s        s       s       s      (pairs anew from beat two)
    assert slurs(two) == ["start", "stop"] * 5
    part = a_part("s:r,1,2,3,4,5,6,7 h:8")
    two = steps_of(part, span(part, 0, 0), "articulation")[2]
    assert slurs(two) == ["start", "stop", "-", "start", "stop", "start", "stop", "-"]
    six = a_part("e:0,1,2,3,4,5", time="6/8")
    names = [s.name for s in steps_of(six, span(six, 0, 0), "articulation")]
    assert names[2:4] == ["Two and one", "One and two"]


def test_all_slurred_ends_at_the_barline_and_a_repeated_note_gets_its_dash():
    part = a_part("q:0,0,1,2", "q:3,4,5,6")
    slurred = steps_of(part, span(part, 0, 1), "articulation")[0]
    assert slurs(slurred) == ["start", "-", "-", "stop"] * 2
    dashes = [n.articulations for n in slurred.part.measures[0].notes]
    assert dashes == [("tenuto",), ("tenuto",), (), ()]


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
    steps = steps_of(marimba, span(marimba, 0, 0), "hold-strike")
    assert [len(step.sounds) for step in steps[:-1]] == [6, 9, 12]  # once, twice, three times
    held = [s for s in steps[1].sounds if s.duration == F(3, 2)]
    assert len(held) == 3
    (second,) = steps_of(marimba, span(marimba, 0, 0), "hold-strike", first=2, stages="no")[:-1]
    assert pitches(second)[0] == pitches(steps[0])[1] == "D4"


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


# In four 1 > 3 > 4 > 2, and the same inside four sixteenths: common practice, no source.
def test_beat_weight_goes_one_three_four_two_and_the_same_inside_a_beat():
    part = a_part("q:0,1,2,3", "s:0,1,2,3 q:4,5,6")
    beats, inside, proof = steps_of(part, span(part, 0, 1), "beat-weight")
    weights = [len(n.articulations) + ("accent" in n.articulations)
               for n in beats.part.measures[0].notes]  # fmt: skip
    assert sorted(range(4), key=lambda i: -weights[i]) == [0, 2, 3, 1]
    marks = [n.articulations for n in inside.part.measures[1].notes[:4]]
    assert marks == [("accent", "tenuto"), (), ("accent",), ("tenuto",)]
    assert proof.as_written
    assert not any(n.articulations for m in proof.part.measures for n in m.notes)


def test_a_written_slowing_is_counted_in_one_in_four_and_in_eight():
    part = loud(a_part("q:0,1,2,3"), [(1, "words", "poco rit.")])
    steps = steps_of(part, span(part, 0, 0), "count-slowing")
    assert [s.click for s in steps[:3]] == [1, F(1, 4), F(1, 8)]
    assert [s.pace for s in steps[:3]] == [1, F(3, 4), F(1, 2)]
    assert pitches(steps[0]) == ["D5", "E5", "F5"]  # from the mark on
    plain = a_part("q:0,1,2,3")
    with pytest.raises(DrillDoesNotFit, match="No slowing"):
        steps_of(plain, span(plain, 0, 0), "count-slowing")


def test_winds_sing_then_blow_and_strings_sing_with_the_left_hand():
    for name, steps in (("Clarinet", 3), ("Violin", 2), ("Snare drum", 2)):
        part = for_instrument(name, "q:0,1,2,3")
        made = steps_of(part, span(part, 0, 0), "sing-and-finger")
        assert len(made) == steps, name
        assert made[-1].kind == "prove"


@pytest.mark.parametrize(
    ("touch", "mark"), [("quick release", "staccatissimo"), ("staccato", "staccato")]
)
def test_any_drill_may_be_played_with_another_touch_and_is_proved_without(touch, mark):
    part = a_part("s:(0,1,2,3),4,5,6,7 q:8,9")
    for name in ("backward", "long-short", "stops", "lean"):
        steps = make_drill(part, span(part, 0, 0), name, {"touch": touch}).steps
        notes = [n for m in steps[0].part.measures for n in m.notes if n.is_attack]
        assert all(mark in n.articulations and not n.slurs for n in notes), name
        if steps[-1].kind == "prove":
            assert steps[-1].as_written
    joined = make_drill(part, span(part, 0, 0), "backward", {"touch": "legato"}).steps[-1]
    assert {s.end for m in joined.part.measures for n in m.notes for s in n.slurs} == {
        "start",
        "stop",
    }


def test_the_same_stroke_as_at_speed_is_told_on_any_drill():
    part = a_part("q:0,1,2,3")
    steps = make_drill(part, span(part, 0, 0), "alone", {"stroke": "as at speed"}).steps
    assert "stroke that goal tempo needs" in steps[0].say


def test_pitches_without_vibrato_and_then_with():
    part = for_instrument("Violin", "q:0,1,2,3")
    steps = steps_of(part, span(part, 0, 0), "pitches-only", vibrato="without, then with")
    assert [s.name for s in steps] == [
        "Pitches only, without vibrato",
        "Pitches only, with vibrato",
    ]
    assert pitches(steps[0]) == pitches(steps[1])


def test_a_shift_is_slid_with_either_finger_both_ways():
    part = for_instrument("Violin", "q:9,11,16,11")
    steps = steps_of(part, span(part, 0, 0), "hold-arrival", at=3, slide="four ways")
    names = [s.name for s in steps if s.name.startswith(("Into", "And"))]
    assert names == [
        "Into it on the old finger",
        "Into it on the new finger",
        "And back on the old finger",
        "And back on the new finger",
    ]
    for name in names:
        slide = next(s for s in steps if s.name == name)
        ends = [g for m in slide.part.measures for n in m.notes for g in n.gestures]
        assert ends == ["slide:start:1", "slide:stop:1"], name


def test_an_own_order_is_looped_and_checked_note_by_note():
    drum = for_instrument("Snare drum", "s:0,1,2,3,4,5,6,7 h:0")
    where = span(drum, 0, 0)
    row = lyrics(steps_of(drum, where, "hand-order", order="R L R R")[0])
    assert row == ["R", "L", "R", "R"] * 2 + ["R"]
    assert lyrics(steps_of(drum, where, "hand-order", order="RLRR")[0]) == row
    with pytest.raises(BadSetting, match="Note 2: “X” is no stick"):
        steps_of(drum, where, "hand-order", order="R X")
    violin = for_instrument("Violin", "q:0,1,2,3")
    plucked = steps_of(violin, span(violin, 0, 0), "hand-order", order="i m a m")
    assert lyrics(plucked[0]) == ["i", "m", "a", "m"]
    with pytest.raises(BadSetting, match="open string, and this note is none"):
        steps_of(violin, span(violin, 0, 0), "hand-order", order="0 1 2 3")
    with pytest.raises(BadSetting, match="5 signs for 4 notes"):
        steps_of(violin, span(violin, 0, 0), "hand-order", order="1 1 2 3 4")


@pytest.mark.parametrize("text", ["²", "٣٣٣", "-1", "0", "1e3", "first"])
def test_a_note_that_cannot_be_meant_is_refused_in_words(text):
    part = a_part("q:0,1,9,8")
    with pytest.raises(BadSetting, match="1 to 4"):
        steps_of(part, span(part, 0, 0), "two-notes", at=text)


def test_a_groove_goes_into_the_passage_and_out_of_it():
    step = steps_of(ETUDE, parse_span(ETUDE, "9-10"), "in-context", around="groove", measures=3)[0]
    assert len(step.part.measures) == 8
    before = [s for s in step.sounds if s.at < 12]
    assert len(before) == 3 * 4 * 2
    assert len({s.pitch.name for s in before}) == 1
    assert step.quarters == 32


def test_alone_may_be_slow_medium_and_fast_or_four_times_each_a_little_different():
    part = a_part("q:0,1,2,3")
    where = span(part, 0, 0)
    speeds = steps_of(part, where, "alone", way="slow, medium, fast")
    assert [s.pace for s in speeds] == [F(3, 5), F(4, 5), 1]
    different = steps_of(part, where, "alone", way="each a little different")
    assert len(different) == 5
    assert len({s.name for s in different}) == 5
    assert different[-1].kind == "prove"


def test_each_printed_dynamic_has_its_tick_before_the_shaping():
    part = loud(a_part("q:0,1,2,3"), [(0, "dynamic", "p"), (1, "wedge", "crescendo"),
                                      (3, "wedge", "stop"), (3, "dynamic", "f")])  # fmt: skip
    steps = steps_of(part, span(part, 0, 0), "one-layer", layer="dynamics")
    assert [s.name for s in steps] == [
        "p in 0",
        "The crescendo in 0",
        "f in 0",
        "Fine shaping",
        "As written",
    ]


def test_a_downbeat_on_an_up_bow_has_two_ways_out_and_both_work():
    part = for_instrument("Violin", "q:0,1,2 q:3", "q:0,1,2,(3)", "q:0,1,2,3")
    three = for_instrument("Violin", "h:0 q:1 q:2", "q:0,1,2,3")
    for music in (part, three):
        steps = steps_of(music, span(music, 0, len(music.measures) - 1), "bow-plan")
        for step in steps:
            if step.name in ("Slur the last two", "Two ups"):
                assert wrong_downbeats(step.part, bow_directions(step.part)) == []
    names = [s.name for s in steps_of(three, span(three, 0, 1), "bow-plan", shares="yes")]
    assert names[2:4] == ["Slur the last two", "Two ups"]
    assert names[4:6] == ["With the plan, below the mark", "With the plan, above the mark"]


@pytest.mark.parametrize(
    ("name", "music", "figure"),
    [
        ("Clarinet", "q:-4,0,-4,1", "Over the break"),
        ("Trombone", "q:0,9,0,9", "Long ways of the slide"),
        ("Flute", "s:0,1,2,3,4,5,6,7 h:0", "Four strokes on each note"),
        ("Violin", "q:0,9,0,4", "Across and back"),
    ],
)
def test_the_warm_up_holds_what_the_chunk_asks_for(name, music, figure):
    part = for_instrument(name, music)
    steps = steps_of(part, span(part, 0, 0), "warm-up")
    assert steps[0].name == "Scale of the key"
    assert figure in [s.name for s in steps]


def test_over_the_break_goes_to_and_fro_between_its_sides_and_no_figure_comes_twice():
    part = for_instrument("Clarinet", "q:-4,0,-4,1")
    steps = {s.name: s for s in steps_of(part, span(part, 0, 0), "warm-up")}
    heights = [s.pitch.midi for s in steps["Over the break"].sounds][:-1]
    assert all(a <= 70 < b for a, b in zip(heights[::2], heights[1::2], strict=True))  # B flat 4
    violin = for_instrument("Violin", "h:0 q:1 q:2", "q:9,11,16,11")
    figures = [
        tuple(s.pitch.name for s in step.sounds)
        for step in steps_of(violin, span(violin, 0, 1), "warm-up")
    ]
    assert len(set(figures)) == len(figures)


def test_the_techniques_of_the_week_can_be_named_and_a_drum_warms_up_with_rudiments():
    part = a_part("q:0,1,2,3")
    steps = steps_of(part, span(part, 0, 0), "warm-up", techniques="syncopation, range")
    assert [s.name for s in steps] == ["Scale of the key", "Off the beat", "Long tones outward"]
    with pytest.raises(BadSetting, match="No warm-up is known"):
        steps_of(part, span(part, 0, 0), "warm-up", techniques="juggling")
    drum = for_instrument("Snare drum", "q:0,0,0,0")
    rudiments = steps_of(drum, span(drum, 0, 0), "warm-up")
    assert lyrics(rudiments[2])[:8] == list("RLRRLRLL")
