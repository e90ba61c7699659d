"""What a hand-in means, decided from what was there: no database, no clock."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from uuid import UUID, uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import drill_kind, make_drill
from crumb.core.drills.sent import sent_drill, sent_step
from crumb.core.evidence.model import Doubt, Source
from crumb.core.evidence.plausibility import Neighbours
from crumb.core.intake.climbs import replay_climb
from crumb.core.intake.decision import Decision, decide, in_order
from crumb.core.intake.facts import (
    AssignedRepetition,
    Before,
    ChunkFacts,
    PartFacts,
    SentDrillFacts,
    SentStepFacts,
    StoredEvidence,
    UnassignedEvidence,
)
from crumb.core.intake.levels import advance_levels, replay_levels
from crumb.core.mastery.chunk import Edges
from crumb.core.mastery.replay import Target, nothing
from crumb.core.score.position import Position, Span
from crumb.demo.etude import clarinet_etude

PART, ITEM, CHUNK, STUDENT = (uuid4() for _ in range(4))
ETUDE = clarinet_etude()
SPAN = Span(Position(13, Fraction(0)), Position(15, Fraction(0)))
GOAL = Fraction(106)
NOW = datetime(2026, 11, 2, 16, tzinfo=UTC)


def alone() -> SentDrillFacts:
    """*Alone* on two measures, 82 to 106 by 4, sent a week ago."""
    drill, kind = make_drill(ETUDE, SPAN, "alone", {}), drill_kind("alone")
    rungs = tuple(Fraction(82 + 4 * i) for i in range(7))
    sent = sent_drill(ETUDE, kind, drill, goal=GOAL, rungs=rungs, turned=(0, 0))
    steps = {}
    for place, made in enumerate(drill.steps):
        step = sent_step(ETUDE, kind, made, None)
        steps[place] = SentStepFacts(
            step.name,
            step.kind,
            step.as_written,
            step.is_aided,
            step.rhythm,
            SPAN,
            step.quarters / step.pace,
            step.attacks,
        )
    return SentDrillFacts(ITEM, PART, PART, NOW - timedelta(days=7), sent, steps)


DRILL = alone()
TARGET = Target(SPAN, GOAL, edges=Edges(True, True))


def rep(
    second: float, *, clean: bool = True, tempo: int = 82, **more: object
) -> AssignedRepetition:
    at = NOW - timedelta(hours=1) + timedelta(seconds=second)
    return AssignedRepetition(uuid4(), ITEM, 0, Fraction(tempo), clean, at, **more)


def before(count: int, **more: object) -> Before:
    chunk = ChunkFacts(PART, CHUNK, TARGET, nothing(TARGET))
    parts = {PART: PartFacts(PART, GOAL, None, {})}
    there = Before({}, {}, (Neighbours(),) * count, parts, (chunk,))
    return replace(there, **more)


def decided(*arrivals, gone: frozenset[UUID] = frozenset(), **more: object) -> Decision:
    ordered = in_order(arrivals)
    there = before(len(ordered), **more)
    return decide(ordered, set(gone), {ITEM: DRILL}, there, now=NOW, zone=UTC)


def test_three_clean_in_a_row_take_the_ladder_up_and_are_three_entries():
    made = decided(rep(0), rep(20), rep(40))
    assert [entry.evidence.doubt for entry in made.entries] == [Doubt.NONE] * 3
    assert made.climbs[ITEM].climb.tempo == 86
    assert made.entries[0].step_name == DRILL.steps[0].name


def test_what_is_stored_already_changes_nothing():
    one = rep(0)
    known = {one.id: StoredEvidence(one.id, STUDENT, PART, ITEM, SPAN)}
    made = decided(one, known=known)
    assert (made.entries, made.changes, made.climbs) == ([], {}, {})


def test_two_in_less_time_than_one_takes_are_kept_and_the_second_is_doubted():
    first, second = rep(0), rep(0.4)
    made = decided(second, first)
    assert made.doubts == {second.id: Doubt.HURRIED}
    assert len(made.entries) == 2
    assert made.climbs[ITEM].climb.in_a_row == 1
    assert made.doubted == {ITEM: made.climbs[ITEM]}  # the device counted two


def test_a_pass_that_breaks_is_short_and_its_slip_counts():
    """Practice as it is: clean, clean, broken after a second, broken at once, clean."""
    first, second = rep(0), rep(20)
    broken, at_once = rep(21, clean=False), rep(22.5, clean=False)
    made = decided(first, second, broken, at_once, rep(42))
    assert made.doubts == {}
    assert made.doubted == {}
    assert made.climbs[ITEM].climb.in_a_row == 1  # the two before are no row any more
    counted = made.changes[PART].new
    assert [one.is_clean for one in counted if one.counts] == [True, True, False, False, True]


def test_the_same_tap_twice_is_one_slip():
    first, second = rep(0, clean=False), rep(0.2, clean=False)
    made = decided(first, second)
    assert made.doubts == {second.id: Doubt.TWICE}
    assert made.climbs[ITEM].climb.slips_in_a_row == 1


def test_a_slip_that_was_tapped_too_late_makes_no_clean_pass_too_short():
    """The slip comes in while the next pass is on its way; the pass after that is whole."""
    made = decided(rep(0), rep(4, clean=False), rep(24))
    assert made.doubts == {}


@given(
    seconds=st.lists(st.integers(1, 4000), min_size=1, max_size=12, unique=True),
    tempo=st.integers(30, 400),
)
def test_a_slip_is_never_without_effect(seconds, tempo):
    """However soon after another, at whatever tempo: it counts against the chunk."""
    slips = [rep(second / 2, clean=False, tempo=tempo) for second in seconds]
    made = decided(*slips)
    assert made.doubts == {}
    _, level = advance_levels(made.changes, before(0).chunks).advanced[0]
    assert level.slips == len(slips)


def test_what_is_taken_back_with_its_repetition_is_kept_and_moves_nothing():
    one = rep(0)
    made = decided(one, gone=frozenset({one.id}))
    assert len(made.entries) == 1
    assert (made.changes, made.climbs) == ({}, {})


def test_what_is_taken_back_of_before_has_its_level_and_climb_replayed():
    old = StoredEvidence(uuid4(), STUDENT, PART, ITEM, SPAN)
    made = decided(known={old.id: old}, gone=frozenset({old.id}))
    assert made.late == {ITEM}
    assert made.changes[PART].gone == (SPAN,)
    levels = advance_levels(made.changes, before(0).chunks)
    assert (levels.advanced, list(levels.to_replay)) == ((), [PART])


def test_a_repetition_older_than_the_climb_has_it_replayed_with_what_came():
    climb = decided(rep(100)).climbs[ITEM]
    older = rep(50)
    made = decided(older, climbs={ITEM: climb})
    assert made.late == {ITEM}
    assert made.climbs == {}
    assert [one.id for one in made.repetitions[ITEM]] == [older.id.int]


def test_ticks_on_paper_have_no_moments_of_their_own_and_are_not_doubted():
    made = decided(*(rep(i / 1000, source=Source.PAPER) for i in range(3)))
    assert made.doubts == {}


def test_a_hearing_without_a_judge_is_a_mistake_of_ours():
    with pytest.raises(ValueError, match="judge"):
        UnassignedEvidence(uuid4(), PART, SPAN, NOW, level=4)


@given(st.lists(st.booleans(), min_size=1, max_size=12))
def test_a_level_advanced_step_by_step_is_the_level_replayed(cleans: list[bool]):
    arrivals = [rep(20 * i, clean=clean) for i, clean in enumerate(cleans)]
    made = decided(*arrivals)
    chunks = before(0).chunks
    ((_, advanced),) = advance_levels(made.changes, chunks).advanced
    ((_, replayed),) = replay_levels(chunks, (), made.changes[PART], set())
    assert advanced == replayed


@given(st.lists(st.booleans(), min_size=1, max_size=12), st.randoms())
def test_a_climb_advanced_step_by_step_is_the_climb_replayed_from_any_order(cleans, random):
    made = decided(*(rep(20 * i, clean=clean) for i, clean in enumerate(cleans)))
    shuffled = list(made.repetitions[ITEM])
    random.shuffle(shuffled)
    assert replay_climb(DRILL.drill.plan, shuffled) == made.climbs[ITEM]
