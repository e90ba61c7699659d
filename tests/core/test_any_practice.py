"""What holds of the climb and of levels whatever somebody plays, and in whatever order it comes."""

import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from itertools import pairwise
from uuid import uuid4

from hypothesis import given, settings
from hypothesis import strategies as st

from crumb.core.evidence.model import Doubt, Evidence, Kind, Source, What
from crumb.core.mastery.levels import AT_TEMPO, KEPT, LINKED, NAMES, STEADY, STEADY_SHARE
from crumb.core.mastery.replay import Target, advance_state, nothing, replay, standing_of
from crumb.core.plan.minute_shares import share_seconds
from crumb.core.score.position import Position, Span
from crumb.core.tempo.climb import (
    DOWN_AFTER,
    ClimbPlan,
    ClimbStep,
    Played,
    advance,
    climb,
    start_climb,
)
from crumb.core.tempo.ladder import SLOWEST_START, ladder, start_tempo
from crumb.store.codecs.mastery import kept_from, mastery_row
from tests.builders import F
from tests.sizes import examples

often = settings(max_examples=examples(150))


# The climb ---------------------------------------------------------------------------------------


@st.composite
def plans(draw) -> ClimbPlan:
    steps = draw(
        st.lists(
            st.builds(
                ClimbStep,
                st.integers(1, 4),
                st.sampled_from([F(2), F(4), F(7, 2)]),
                st.booleans(),
                st.sampled_from(["down", "anew", "on"]),
            ),
            min_size=1,
            max_size=4,
        )
    )
    start = draw(st.integers(40, 90))
    goal = start + draw(st.integers(0, 60))
    rungs = ladder(start=F(start), goal=F(goal), step=F(draw(st.integers(2, 20))))
    return ClimbPlan(tuple(steps), rungs, F(1))


def follow(plan: ClimbPlan, slips: list[bool], pause: int = 1) -> list:
    """The states of somebody who always plays what the drill asks for next."""
    states = [start_climb(plan)]
    at = F(0)
    for is_clean in slips:
        now = states[-1]
        at += plan.steps[now.step].quarters * 60 / now.tempo + pause
        states.append(advance(plan, now, Played(now.step, now.tempo, is_clean, at)))
    return states


rows = st.lists(st.booleans(), max_size=60)


@often
@given(plans(), rows)
def test_the_tempo_stays_on_the_ladder_or_below_it_and_never_above_the_goal(plan, played):
    for state in follow(plan, played):
        assert state.tempo <= plan.rungs[-1]
        assert state.tempo >= min(SLOWEST_START, plan.rungs[0])


@often
@given(plans(), rows)
def test_the_count_never_passes_what_the_step_asks_for(plan, played):
    for state in follow(plan, played):
        assert 0 <= state.in_a_row < plan.steps[state.step].repetitions
        assert state.step not in state.done
        assert len(state.done) < len(plan.steps)


@often
@given(plans())
def test_without_a_slip_the_climb_is_one_cycle_on_each_rung(plan: ClimbPlan):
    each = sum(step.repetitions for step in plan.steps)
    states = follow(plan, [True] * each * len(plan.rungs))
    assert states[-1].is_finished
    assert not any(state.is_finished for state in states[:-1])
    assert states[-1].cycles == len(plan.rungs)
    assert sorted({state.tempo for state in states}) == list(plan.rungs)


@often
@given(plans(), rows)
def test_a_slip_never_brings_anybody_forward(plan, played):
    states = follow(plan, played)
    for before, after, is_clean in zip(states, states[1:], played, strict=False):
        if is_clean or plan.steps[before.step].slip == "on":
            continue
        assert after.tempo <= before.tempo
        assert after.in_a_row == 0
        assert after.cycles == before.cycles
        assert after.done <= before.done


@often
@given(plans(), st.integers(1, 12))
def test_slips_in_a_row_take_the_tempo_down_only_where_the_step_says_so(plan, count):
    plan = replace(plan, steps=plan.steps[:1])
    states = follow(plan, [False] * count)
    if plan.steps[0].slip != "down":
        assert all(state.tempo == plan.rungs[0] for state in states if state.cycles == 0)
        return
    drops = [a.tempo - b.tempo for a, b in pairwise(states)]
    assert set(drops) <= {F(0), *DOWN_AFTER.values()} | {
        a.tempo - SLOWEST_START for a in states if a.tempo > SLOWEST_START
    }
    assert drops[0] == 0


@often
@given(plans(), rows, st.integers(0, 60))
def test_to_take_the_last_repetition_back_is_to_be_where_one_was(plan, played, kept):
    states = follow(plan, played)
    at = F(0)
    reps = []
    for state, is_clean in zip(states, played, strict=False):
        at += plan.steps[state.step].quarters * 60 / state.tempo + 1
        reps.append(Played(state.step, state.tempo, is_clean, at))
    kept = min(kept, len(reps))
    assert climb(plan, reps[:kept]) == states[kept]


@often
@given(plans(), rows)
def test_steps_that_may_be_interrupted_do_not_mind_a_pause(plan, played):
    patient = replace(plan, steps=tuple(replace(s, unbroken=False) for s in plan.steps))
    quick, slow = follow(patient, played), follow(patient, played, pause=600)
    assert [(s.step, s.tempo, s.in_a_row) for s in quick] == [
        (s.step, s.tempo, s.in_a_row) for s in slow
    ]


# Levels ------------------------------------------------------------------------------------------

CHUNKS = [Span(Position(a, F(0)), Position(b, F(0))) for a, b in [(0, 4), (0, 2), (2, 4), (1, 3)]]
NOON = datetime(2026, 3, 2, 12, tzinfo=UTC)


@st.composite
def histories(draw) -> list[Evidence]:
    rows = draw(
        st.lists(
            st.tuples(
                st.sampled_from(CHUNKS),
                st.integers(40, 120).map(F) | st.none(),
                st.sampled_from([True, True, True, False]),
                st.sampled_from([Kind.LEARN, Kind.SET, Kind.PROVE, Kind.PROVE]),
                st.booleans(),
                st.sampled_from([Doubt.NONE] * 6 + [Doubt.HURRIED]),
            ),
            max_size=40,
        )
    )
    return [
        Evidence(
            span,
            NOON + timedelta(seconds=i),
            tempo=tempo,
            is_clean=clean,
            kind=kind,
            as_written=written,
            doubt=doubt,
        )
        for i, (span, tempo, clean, kind, written, doubt) in enumerate(rows)
    ]


evidence = histories()


@st.composite
def lives(draw) -> list[Evidence]:
    """Weeks of own counts, measured takes and hearings, mostly near goal."""
    rows = draw(
        st.lists(
            st.tuples(
                st.sampled_from(CHUNKS),
                st.sampled_from([F(60), F(75), F(95), F(100), F(100), F(100), F(110)]),
                st.sampled_from([True, True, True, False]),
                st.sampled_from([Source.SELF] * 4 + [Source.MEASURED, Source.HEARING]),
                st.integers(0, 6),
                st.sampled_from([0, 0, 0, 0, 1, 3]),
            ),
            max_size=40,
        )
    )
    found, days = [], 0
    for place, (span, tempo, clean, source, level, later) in enumerate(rows):
        days += later
        at = NOON + timedelta(days=days, seconds=place)
        if source is Source.HEARING:
            found.append(Evidence(span, at, what=What.HEARING, level=level, source=source))
        else:
            found.append(Evidence(span, at, tempo=tempo, is_clean=clean, source=source))
    return found


def targets(goal):
    return [Target(span, goal) for span in CHUNKS]


def standings(goal, played):
    found = replay(targets(goal), played)
    return {one.span: standing_of(found[one.span], one) for one in targets(goal)}


GOAL = F(100)


def proving(played, span):
    covering = (r for r in played if r.span.covers(span) and r.counts and r.is_clean)
    return [r for r in covering if r.kind is Kind.PROVE and r.as_written and r.tempo is not None]


@often
@given(evidence)
def test_a_level_has_the_evidence_that_it_says(played):
    for span, found in standings(GOAL, played).items():
        assert 0 <= found.level < len(NAMES)
        if found.solid is not None:
            assert sum(r.tempo >= found.solid for r in proving(played, span)) >= 3
        if found.level == AT_TEMPO:
            assert found.solid >= GOAL
        if found.level in (STEADY, LINKED):
            assert GOAL * STEADY_SHARE <= found.solid < GOAL
        if found.level < STEADY:
            assert found.solid is None or found.solid < GOAL * STEADY_SHARE


@often
@given(evidence, evidence)
def test_more_of_the_same_day_never_takes_a_level_away(before, later):
    later = [replace(one, at=one.at + timedelta(hours=1)) for one in later]
    first, both = standings(GOAL, before), standings(GOAL, before + later)
    for span in CHUNKS:
        assert both[span].level >= first[span].level
        assert (both[span].solid or 0) >= (first[span].solid or 0)


@often
@given(evidence)
def test_a_part_of_a_chunk_stands_at_least_as_well_as_the_chunk(played):
    only_whole = [r for r in played if r.span == CHUNKS[0]]
    found = standings(GOAL, only_whole)
    for span in CHUNKS[1:]:
        assert found[span].level >= found[CHUNKS[0]].level


@often
@given(evidence, st.integers(0, 40))
def test_a_repetition_elsewhere_changes_nothing_here(played, place):
    elsewhere = Evidence(
        Span(Position(8, F(0)), Position(9, F(0))),
        NOON + timedelta(seconds=place, milliseconds=500),
        tempo=F(50),
        is_clean=False,
    )
    assert standings(GOAL, [*played, elsewhere]) == standings(GOAL, played)


@often
@given(evidence | lives(), st.randoms())
def test_folded_one_by_one_or_all_at_once_or_shuffled_it_is_the_same(played, random):
    """What a server keeps up to date is what a rebuild finds, in whatever order it came."""
    for target in targets(GOAL):
        kept = nothing(target)
        for one in played:
            assert not kept.comes_after(one)
            kept = advance_state(kept, one, target)
        shuffled = random.sample(played, len(played))
        assert replay([target], shuffled) == replay([target], played) == {target.span: kept}


@often
@given(evidence | lives())
def test_a_fold_survives_being_stored(played):
    for target in targets(GOAL):
        kept = replay([target], played)[target.span]
        row = mastery_row(uuid4(), uuid4(), kept, standing_of(kept, target))
        again = kept_from(
            json.loads(json.dumps(row["fold"])),
            target,
            clean=row["clean"],
            slips=row["slips"],
            last_at=row["last_played_at"],
            last_id=row["last_id"],
        )
        assert again == kept, target


@often
@given(lives())
def test_a_heard_level_is_the_level_until_something_newer_changes_it(played):
    for target in targets(GOAL):
        kept = nothing(target)
        for one in played:
            kept = advance_state(kept, one, target)
            if one.what is What.HEARING and one.span == target.span:
                now = standing_of(kept, target)
                heard = one.level or 0
                assert now.level in ((heard,) if heard < KEPT else (AT_TEMPO, KEPT))


@often
@given(lives())
def test_a_repetition_that_is_handed_in_again_from_store_gives_the_same(played):
    """Stored after each step and read again, as a server does."""
    for target in targets(GOAL):
        kept = nothing(target)
        for one in played:
            kept = advance_state(kept, one, target)
            row = mastery_row(uuid4(), uuid4(), kept, standing_of(kept, target))
            kept = kept_from(
                json.loads(json.dumps(row["fold"])),
                target,
                clean=row["clean"],
                slips=row["slips"],
                last_at=row["last_played_at"],
                last_id=row["last_id"],
            )
        assert replay([target], played)[target.span] == kept


@often
@given(evidence, st.integers(20, 200))
def test_a_lower_goal_is_never_further_away(played, lower):
    easy, hard = (standings(F(goal), played) for goal in (lower, lower + 10))
    assert all(easy[span].level >= hard[span].level for span in CHUNKS)


# Ladders and minutes -----------------------------------------------------------------------------


@given(st.integers(10, 400).map(F))
def test_the_first_tempo_is_playable_and_never_above_the_goal(goal: Fraction):
    start = start_tempo(goal)
    assert 0 < start <= goal
    assert start == goal or start >= SLOWEST_START
    assert start == goal or start.denominator == 1


needs = st.lists(st.fractions(min_value=0, max_value=2000, max_denominator=12), max_size=12)


@often
@given(st.integers(0, 7200), needs, st.integers(0, 240))
def test_shares_add_up_and_nobody_gets_more_than_needed(total, wanted, least):
    shares = share_seconds(total, wanted, least=least)
    assert len(shares) == len(wanted)
    assert all(0 <= share <= need + 1 for share, need in zip(shares, wanted, strict=True))
    assert sum(shares) <= total


@often
@given(st.integers(0, 7200), needs)
def test_no_second_is_lost_while_somebody_needs_it(total, wanted):
    everything = sum(-int(-need // 1) for need in wanted)
    assert sum(share_seconds(total, wanted)) == min(total, everything)
