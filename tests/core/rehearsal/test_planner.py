"""Rehearsals on constructed rooms where the right answer is known."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import drill_kind
from crumb.core.errors import RehearsalRefused
from crumb.core.plan.cures import CURES
from crumb.core.rehearsal.planner import (
    PassageNow,
    PlayerNow,
    RehearsalAsk,
    SectionNow,
    left_open,
    rehearsal,
    room_tempo,
)
from crumb.core.rehearsal.room_drills import ROOM_DRILLS, room_drill
from tests.builders import F


def players(*levels: int, **more: object) -> tuple[PlayerNow, ...]:
    return tuple(PlayerNow(level, **more) for level in levels)  # type: ignore[arg-type]


def passage(name: str, *sections: SectionNow, seconds: int = 20, **more: object) -> PassageNow:
    return PassageNow(name, F(seconds), sections, **more)  # type: ignore[arg-type]


def worked(ask: RehearsalAsk) -> list[str]:
    return [item.name for item in rehearsal(ask) if item.kind == "work"]


def test_the_passage_by_which_most_gain_comes_first():
    few = passage("A", SectionNow("Flutes", players(2, 5, 5)))
    many = passage("B", SectionNow("Flutes", players(2, 2, 5)), SectionNow("Horns", players(3, 3)))
    assert worked(RehearsalAsk(40, F(106), (few, many))) == ["B", "A"]


def test_of_two_that_are_alike_the_one_that_is_shorter_comes_first():
    long = passage("A", SectionNow("Flutes", players(2, 2)), seconds=60)
    short = passage("B", SectionNow("Flutes", players(2, 2)), seconds=20)
    assert worked(RehearsalAsk(60, F(106), (long, short)))[0] == "B"


def test_what_is_learned_once_and_gained_twice_comes_first():
    alone = passage("A", SectionNow("Flutes", players(2, 2, 2)))
    one = passage("B", SectionNow("Flutes", players(2, 2)), kin=frozenset({2}))
    kin_chunk = passage("C", SectionNow("Horns", players(2, 2, 2)), kin=frozenset({1}))
    plan = rehearsal(RehearsalAsk(12, F(106), (alone, one, kin_chunk)))
    first = next(item for item in plan if item.kind == "work")
    assert first.name == "C"
    assert "The same music comes again in B:" in first.why


def test_a_twin_that_nobody_here_needs_does_not_outweigh_what_most_need():
    few = passage("A", SectionNow("Horns", players(3)), kin=frozenset({2}))
    most = passage("B", SectionNow("Flutes", players(3, 3, 3, 3)))
    kin_chunk = passage("C", SectionNow("Flutes", players(0, 0, 0, 0, 0)), kin=frozenset({0}))
    assert worked(RehearsalAsk(60, F(106), (few, most, kin_chunk)))[-1] == "A"


def test_a_twin_that_was_taken_waits_for_what_nobody_has_worked_on():
    alone = passage("A", SectionNow("Flutes", players(2, 2)))
    one = passage("B", SectionNow("Flutes", players(2, 2, 2)), kin=frozenset({2}))
    kin_chunk = passage("C", SectionNow("Horns", players(2, 2, 2)), kin=frozenset({1}))
    assert worked(RehearsalAsk(60, F(106), (alone, one, kin_chunk))) == ["B", "A", "C"]


def test_who_is_away_after_this_one_is_thought_of_now():
    stay = passage("A", SectionNow("Flutes", players(2, 2)))
    leave = passage("B", SectionNow("Horns", players(2, 2, is_away_next=True)))
    plan = RehearsalAsk(30, F(106), (stay, leave))
    assert worked(plan)[0] == "B"
    assert "2 of them will miss the next rehearsal" in next(
        item.why for item in rehearsal(plan) if item.name == "B"
    )


def test_who_is_absent_is_not_rehearsed():
    gone = passage("A", SectionNow("Flutes", players(0, 0, 0, is_absent=True)))
    here = passage("B", SectionNow("Horns", players(4)))
    assert worked(RehearsalAsk(30, F(106), (gone, here))) == ["B"]


def test_what_everybody_has_is_not_rehearsed_but_run():
    done = passage("A", SectionNow("Flutes", players(5, 6, 5)))
    (only,) = rehearsal(RehearsalAsk(20, F(106), (done,)))
    assert (only.kind, only.minutes) == ("run", 20)


def test_an_open_seam_is_work_and_is_worked_on_as_a_seam():
    seams = passage("A", SectionNow("Flutes", players(5, 5, 5, joins=False)))
    item = next(i for i in rehearsal(RehearsalAsk(20, F(106), (seams,))) if i.kind == "work")
    assert item.drill is not None
    assert item.drill.key == "seam"


def test_the_tempo_is_one_that_four_of_five_hold():
    held = [72.0, 84.0, 90.0, 96.0, 100.0]
    one = passage("A", SectionNow("Flutes", tuple(PlayerNow(3, secure=bpm) for bpm in held)))
    assert room_tempo(one, F(106)) == (84, True)


def test_where_nobody_knows_it_is_sixty_per_cent():
    assert room_tempo(passage("A", SectionNow("Flutes", players(1, 1))), F(110)) == (66, False)


def test_a_room_never_begins_under_half_nor_above_the_goal():
    slow = passage("A", SectionNow("Horns", tuple(PlayerNow(1, secure=30.0) for _ in range(4))))
    fast = passage("B", SectionNow("Horns", tuple(PlayerNow(4, secure=200.0) for _ in range(4))))
    assert room_tempo(slow, F(106)) == (53, True)
    assert room_tempo(fast, F(106)) == (106, True)


def test_names_are_said_slowly_and_stops_are_at_goal():
    new = passage("A", SectionNow("Flutes", tuple(PlayerNow(0, secure=100.0) for _ in range(4))))
    near = passage("B", SectionNow("Horns", tuple(PlayerNow(4, secure=95.0) for _ in range(4))))
    tempos = {i.name: i.tempo for i in rehearsal(RehearsalAsk(30, F(106), (new, near)))}
    assert (tempos["A"], tempos["B"]) == (63, 106)


def test_who_rests_gets_something_to_do():
    one = passage("A", SectionNow("Flutes", players(2, 2)))
    two = passage("B", SectionNow("Trumpets", players(1)))
    ask = RehearsalAsk(12, F(106), (one, two), sections=("Flutes", "Trumpets", "Percussion"))
    item = next(i for i in rehearsal(ask) if i.name == "A")
    said = {one.section: one.say for one in item.meanwhile}
    assert said["Trumpets"].startswith("B without sound")
    assert said["Percussion"].startswith("Rest")
    assert "Flutes" not in said


@given(
    minutes=st.integers(5, 180),
    levels=st.lists(st.lists(st.integers(0, 6), min_size=1, max_size=8), min_size=1, max_size=8),
    seconds=st.integers(5, 90),
)
def test_never_longer_than_the_minutes_and_nobody_is_asked_for_nothing(minutes, levels, seconds):
    music = tuple(
        passage(str(place), SectionNow("Flutes", players(*each)), seconds=seconds)
        for place, each in enumerate(levels)
    )
    plan = rehearsal(RehearsalAsk(minutes, F(106), music))
    assert sum(item.minutes for item in plan) <= minutes
    assert all(item.minutes > 0 and item.why and item.do for item in plan)
    taken = [item.passage for item in plan if item.kind == "work"]
    assert len(taken) == len(set(taken))
    assert all(music[place].open for place in taken)


@pytest.mark.parametrize("minutes", [4, 181])
def test_minutes_that_nobody_has_are_refused(minutes):
    with pytest.raises(RehearsalRefused):
        rehearsal(RehearsalAsk(minutes, F(106), ()))


def test_a_score_without_work_has_no_plan():
    assert rehearsal(RehearsalAsk(20, F(106), ())) == ()


@pytest.mark.parametrize(
    ("levels", "key"),
    [([0, 0, 1], "names"), ([1, 1, 2], "count"), ([2, 2, 3], "grid"), ([3, 4, 4], "stops")],
)
def test_a_room_does_what_most_need(levels, key):
    assert room_drill(levels, (), open_seams=0).key == key


def test_what_was_heard_comes_before_what_is_only_likely():
    assert room_drill([0, 0], ("pulse",), open_seams=0).key == "off-beat"


def test_every_room_drill_says_what_percussion_does_and_what_goes_home():

    for drill in ROOM_DRILLS.values():
        assert drill.percussion
        assert drill_kind(drill.drill).name == drill.drill


def test_symptoms_that_a_room_cannot_mend_fall_back_to_where_players_stand():
    keys = {cure.key for cure in CURES}
    alone = {key for key in keys if room_drill([0], (key,), open_seams=0).key == "names"}
    assert {"bow", "nerves"} <= alone


def test_counts_that_are_open_go_home():
    one, two, three = (passage(n, SectionNow("Flutes", players(2, 2))) for n in "ABC")
    plan = rehearsal(RehearsalAsk(60, F(106), (one, two, three)))
    first, second, _ = (i for i, item in enumerate(plan) if item.kind == "work")
    times = plan[first].drill.times  # type: ignore[union-attr]
    # The first was done, the second begun, the third not reached, and the warm-up has no counts.
    assert left_open(plan, {0: 0, first: times, second: 1}) == [(second, times - 1)]
