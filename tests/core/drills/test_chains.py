"""Chains, stops, gaps and fragments. Counts are common practice, no source."""

from dataclasses import replace
from itertools import pairwise

import pytest

from crumb.core.drills import coverage, cycle_seconds, make_drill, passage_of
from crumb.core.drills.kinds.attempo import stop_stages
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.model import Key
from crumb.core.score.position import Position, Span
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread, span

ETUDE = reread(clarinet_etude())


def steps_of(part, where, name, **settings):
    return make_drill(part, where, name, settings).steps


def count(step):
    return len(step.sounds)


def test_each_note_four_three_two_one_times_on_eight_notes_is_32_24_16_8():
    part = a_part(EIGHTHS)
    steps = steps_of(part, span(part, 0, 0), "each-note")
    assert [count(s) for s in steps] == [32, 24, 16, 8]


def test_each_note_slow_then_fast_plays_the_stages_at_half_tempo_first():
    part = a_part(EIGHTHS)
    steps = steps_of(part, span(part, 0, 0), "each-note", stages="slow, then fast")
    assert [s.pace for s in steps] == [F(1, 2)] * 3 + [F(1)] * 4
    assert [count(s) for s in steps] == [32, 24, 16, 32, 24, 16, 8]


def test_adding_a_note_over_nine_notes_plays_45():
    part = a_part("e:0,1,2,3,4,5,6,7", "w:0")
    steps = steps_of(part, span(part, 0, 0, landing=True), "add-a-note")
    assert [count(s) for s in steps] == [1, 2, 3, 4, 5, 6, 7, 8, 9]
    assert sum(count(s) for s in steps) == 45
    assert make_drill(part, span(part, 0, 0), "add-a-note", {}).at_goal


def test_stops_over_32_measures_of_four_four_are_128_64_32_16_and_so_on():
    part = a_part(*["q:0,1,2,3"] * 32)
    stages = stop_stages(passage_of(part, span(part, 0, 31)))
    assert [len(places) for _, places in stages] == [128, 64, 32, 16, 8, 4, 1]
    names = [name for name, _ in stages]
    assert names[:4] == ["every beat", "every half measure", "every measure", "every two measures"]


def test_in_hard_bars_one_stops_on_one_and_three_only():
    part = a_part(*["q:0,1,2,3"] * 2)
    steps = steps_of(part, span(part, 0, 1), "stops", first="half measure")
    assert "4 stops" in steps[0].name
    held = [n.at for m in steps[0].part.measures for n in m.notes if n.fermata]
    assert held == [2, 0, 2]  # the last stop is the end itself


def test_a_chain_by_note_begins_with_the_last_and_gives_each_note_its_turn():
    part = a_part("q:0,1,2,3", "w:4")
    where = span(part, 0, 0, landing=True)
    drill = make_drill(part, where, "backward", {"unit": "note"})
    assert [count(s) for s in drill.steps] == [2, 3, 4, 5]
    assert coverage(passage_of(part, where), drill) == (4, 4)


def test_a_chain_by_chunk_starts_where_the_director_says():
    steps = steps_of(ETUDE, parse_span(ETUDE, "9-16"), "backward", unit="chunk", edges="11, 13")
    assert [s.quarters for s in steps] == [16, 24, 32]
    with pytest.raises(BadSetting, match="not inside this chunk"):
        steps_of(ETUDE, parse_span(ETUDE, "9-16"), "backward", unit="chunk", edges="30")


def test_in_three_four_there_is_no_half_measure_to_stop_at():
    part = a_part(*["q:0,1,2"] * 24, time="3/4")
    stages = stop_stages(passage_of(part, span(part, 0, 23)))
    told = [(name, len(places)) for name, places in stages]
    assert told == [
        ("every beat", 72),
        ("every measure", 24),
        ("every two measures", 12),
        ("every line", 6),
        ("every two lines", 3),
        ("the end only", 1),
    ]
    first = stop_stages(passage_of(part, span(part, 0, 23)), halves_first=True)
    assert first[0][0] == "every measure"


def test_measures_accumulate_one_two_both_three_all_three():
    part = a_part(*["q:0,1,2,3"] * 4)
    steps = steps_of(part, span(part, 0, 3), "cumulative")
    assert [s.name.rstrip("→") for s in steps] == ["0", "1", "0–1", "2", "0–2", "3", "As written"]


def test_blocks_grow_note_by_note_to_their_landing_and_then_join():
    part = a_part("s:0,1,2,3,4,5,6,7 h:8")
    steps = steps_of(part, Span(Position(0, F(0)), Position(0, F(2)), landing=True), "blocks")
    assert [count(s) for s in steps] == [2, 3, 4, 5, 2, 3, 4, 5, 9]
    assert steps[-1].as_written
    assert steps[-1].kind == "prove"


def test_seams_widen_from_two_notes_to_both_chunks():
    part = a_part(*["q:0,1,2,3"] * 4)
    steps = steps_of(part, span(part, 0, 1), "seams")
    assert [s.name for s in steps][:3] == [
        "Last note into first",
        "Last beat into first",
        "Last measure into first",
    ]
    assert count(steps[0]) == 2
    widths = [s.quarters for s in steps]
    assert widths == sorted(widths)
    assert steps[-1].covers.start == Position(0, F(0))
    assert steps[-1].covers.end == Position(4, F(0))


def test_the_last_chunk_has_no_seam_after_it():
    part = a_part(*["q:0,1,2,3"] * 2)
    with pytest.raises(DrillDoesNotFit, match="nothing after"):
        steps_of(part, span(part, 0, 1), "seams")


def test_gaps_close_from_four_beats_to_none_over_two_ways_of_cutting():
    part = a_part(SIXTEENTHS, "w:0")
    steps = steps_of(part, span(part, 0, 0, landing=True), "close-gaps")
    music = steps[-1].quarters
    pieces_by_beat = 4
    gaps = [(s.quarters - music) / (pieces_by_beat - 1) for s in steps[:4]]
    assert gaps == [4, 2, 1, F(1, 2)]
    assert len(steps) == 11
    assert [s.name for s in steps if s.quarters == music] == [
        "Pieces by beat, no gap",
        "Pieces cut another way, no gap",
        "As written",
    ]
    again = [s.quarters - music for s in steps[5:9]]
    assert [a / again[-1] for a in again] == [8, 4, 2, 1]


def test_a_beat_of_rest_is_no_piece_and_a_new_key_stays():
    part = a_part("q:0,r,2,3", "q:4,5,6,7")
    turned = replace(part.measures[1], key=Key(2))
    part = replace(part, measures=(part.measures[0], turned))
    steps = steps_of(part, span(part, 0, 1), "close-gaps", ways="by beat")
    gaps = (steps[0].quarters - steps[-1].quarters) / 4
    assert gaps == 6  # seven notes, each a piece
    assert steps[0].part.measures[-1].key == Key(2)


def test_the_note_that_is_stopped_on_looks_held():
    part = a_part("q:0,1,2,3")
    steps = steps_of(part, span(part, 0, 0), "add-a-note")
    for step in steps[:-1]:
        held = [n.fermata for m in step.part.measures for n in m.notes if n.pitch]
        assert held == [False] * (len(held) - 1) + [True]


def test_fragments_go_on_from_the_bookmark():
    part = a_part(SIXTEENTHS)
    where = span(part, 0, 0)
    whole = steps_of(part, where, "stop-and-start", notes=5)
    assert [s.name.split(":")[0] for s in whole] == ["Notes 1–5", "Notes 6–10", "Notes 11–16"]
    assert all(s.repetitions == 10 and s.slip == "on" for s in whole)
    later = steps_of(part, where, "stop-and-start", notes=5, bookmark=6)
    assert later[0].name.startswith("Notes 6–10")


def test_every_note_on_a_click_is_a_quarter_of_the_tempo_on_sixteenths():
    part = a_part(SIXTEENTHS)
    drill = make_drill(part, span(part, 0, 0), "every-note", {})
    slow = drill.steps[0]
    assert drill.at_goal
    assert slow.pace * 105 == F("26.25")  # one sixteenth a click at 105
    assert slow.click == F(1, 8)  # its off-beat sounds too
    # 16 notes at 105 clicks a minute, and a breath of two seconds, four times; then three proofs.
    seconds = cycle_seconds([slow, drill.steps[-1]], tempo=F(105), beat=F(1))
    assert seconds == 4 * (F(16 * 60, 105) + 2) + 3 * (F(4 * 60, 105) + 2)


@pytest.mark.parametrize("music", [SIXTEENTHS, EIGHTHS, "t:0,1,2,3,4,5,6,7,8,9,8,7"])
def test_every_note_on_a_click_climbs_to_goal_and_never_jumps(music):
    part = a_part(music)
    paces = [s.pace for s in make_drill(part, span(part, 0, 0), "every-note", {}).steps]
    assert paces[-1] == 1
    assert all(1 < b / a <= F(4, 3) for a, b in pairwise(paces))


def test_the_off_beat_click_falls_in_the_middle_of_the_beat_and_on_the_third_in_six_eight():
    part = a_part("q:0,1,2,3")
    assert steps_of(part, span(part, 0, 0), "off-beat-click")[0].click_at == F(1, 2)
    compound = a_part("e:0,1,2,3,4,5", time="6/8")
    step = steps_of(compound, span(compound, 0, 0), "off-beat-click")[0]
    assert (step.click, step.click_at) == (F(3, 2), 1)


def test_a_first_beat_click_waits_for_the_barline_when_the_chunk_starts_late():
    where = Span(Position(9, F(2)), Position(11, F(0)))
    step = steps_of(ETUDE, where, "first-beat-click")[0]
    assert (step.click, step.click_at) == (4, 2)


def test_only_what_is_as_written_and_in_tempo_proves():
    part = a_part(SIXTEENTHS, "w:0")
    for name in ("stops", "every-note", "each-note", "add-a-note", "blocks"):
        for step in steps_of(part, span(part, 0, 0, landing=True), name):
            assert step.kind != "prove" or (step.as_written and step.pace == 1)
