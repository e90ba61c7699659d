from dataclasses import replace

from crumb.core.mastery.section import section_standing
from crumb.core.score.glance import UNSAID_GOAL, findings, goal_of, main_beat
from crumb.core.score.model import Tempo
from crumb.demo.etude import clarinet_etude
from tests.builders import F, a_part


def test_a_pickup_and_a_short_last_measure_that_make_one_measure_are_in_order():
    assert findings(clarinet_etude()) == []


def test_a_pickup_that_the_last_measure_does_not_make_up_for_is_told():
    for last in ("h:0", "w:0"):  # a full last measure leaves a pickup over, too
        (told,) = findings(a_part("q:0", "w:0", last))
        assert "pickup" in told


def test_a_measure_that_does_not_add_up_is_told_by_its_number():
    (told,) = findings(a_part("w:0", "h:0", "w:0"))
    assert told == "Shorter than the time signature says: 1."


def test_a_goal_counts_the_beat_of_the_meter():
    part = a_part("e:0,1,2,3,4,5", time="6/8")
    assert main_beat(part) == F(3, 2)
    quarters = replace(part.measures[0], tempo=Tempo(F(1), F(90)))
    assert goal_of(replace(part, measures=(quarters,))) == 60


def test_a_part_that_prints_no_tempo_has_the_stated_default():
    part = a_part("w:0")
    silent = replace(part.measures[0], tempo=None)
    assert goal_of(replace(part, measures=(silent,))) == UNSAID_GOAL


def test_a_section_is_told_by_its_strong_and_its_weakest():
    assert section_standing([5, 5, 3, 0]) == "2 of 4 at 5 or more; 1 at 0"
    assert section_standing([5, 5]) == "2 of 2 at 5 or more"
    assert section_standing([]) == ""
