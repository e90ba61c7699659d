"""Levels 0 to 6 of a chunk. What each is shown by is common practice, no source."""

from datetime import date, timedelta
from itertools import pairwise
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.evidence.model import Kind, Rhythm, Source, What
from crumb.core.mastery.chunk import ChunkEvidence, Rules, Where, empty, noted, standing, stood
from tests.builders import F

GOAL = F(100)
DAY = date(2026, 10, 5)


def passes(count=3, *, tempo=100, day=DAY, **more):
    return [
        ChunkEvidence(day, tempo=None if tempo is None else F(tempo), **more) for _ in range(count)
    ]


def slip(*, tempo=100, day=DAY, **more):
    return ChunkEvidence(day, tempo=F(tempo), is_clean=False, **more)


def hearing(level, *, day=DAY):
    return ChunkEvidence(day, What.HEARING, level=level, source=Source.HEARING)


SEAMS = [*passes(where=Where.SEAM_IN, tempo=75), *passes(where=Where.SEAM_OUT, tempo=75)]


def level(evidence, today=None):
    return stood(evidence, GOAL, today).level


@pytest.mark.parametrize(
    ("evidence", "wanted"),
    [
        ([], 0),
        (passes(2), 0),
        (passes(tempo=None, rhythm=Rhythm.FREE), 1),
        (passes(tempo=40, as_written=False), 2),  # clapped, say: the printed rhythm
        (passes(tempo=59), 2),
        (passes(tempo=60), 3),
        ([*passes(2), slip(), *passes(2)], 0),
        ([*passes(tempo=60), *SEAMS], 4),
        ([*passes(tempo=60), *SEAMS[:3]], 3),
        ([*SEAMS, *passes(tempo=99)], 4),
        (passes(), 5),  # at goal with open seams
        (passes(where=Where.WIDER), 5),
        ([*passes(where=Where.WIDER, tempo=75)], 4),  # what is wider shows the seams too
        (passes(where=Where.INSIDE), 0),
        (passes(is_aided=True), 2),
        (passes(kind=Kind.SET), 2),
        ([hearing(4)], 4),
        ([*passes(), hearing(2)], 2),
        ([*passes(), hearing(2), *passes()], 5),
        ([hearing(6)], 5),  # its seams are open
        ([*SEAMS, hearing(6)], 6),
    ],
)
def test_what_each_level_is_shown_by(evidence, wanted):
    assert level(evidence) == wanted


def test_kept_needs_a_later_day_the_first_try_both_seams_and_somebody_else():
    later = DAY + timedelta(days=2)
    cold = passes(1, day=later)
    at_tempo = [*passes(), *SEAMS]
    confirmed = [hearing(5, day=later)]
    assert level([*at_tempo, *cold, *confirmed]) == 6
    assert level([*at_tempo, *cold]) == 5  # nobody else
    assert level([*at_tempo, *confirmed]) == 5  # not cold
    assert level([*passes(), *cold, *confirmed]) == 5  # seams open
    warm = [*passes(1, tempo=80, day=later), *cold]
    assert level([*at_tempo, *warm, *confirmed]) == 5  # not the first try of the day
    assert level([*at_tempo, *passes(1), *confirmed]) == 5  # the same day
    measured = passes(1, day=later, source=Source.MEASURED)
    assert level([*at_tempo, *measured]) == 6


def test_a_cold_try_that_fails_when_it_is_due_drops_a_level_until_it_is_proved_again():
    at_tempo = [*passes(), *SEAMS]
    due = stood(at_tempo, GOAL).due
    assert due is not None
    assert due > DAY
    missed = [*at_tempo, slip(day=due)]
    assert level(missed) == 4
    assert "cold" in stood(missed, GOAL).why
    assert level([*missed, *passes(day=due)]) == 5
    early = [*at_tempo, slip(day=DAY + timedelta(days=1))]
    assert DAY + timedelta(days=1) < due
    assert level(early) == 5  # nobody asked for it yet


def test_cold_tries_come_at_growing_distances():
    evidence = [*passes(), *SEAMS]
    found = []
    for _ in range(4):
        due = stood(evidence, GOAL).due
        found.append(due)
        evidence += passes(1, day=due)
    gaps = [(b - a).days for a, b in pairwise(found)]
    assert gaps == sorted(gaps)
    assert gaps[-1] > 3 * gaps[0]


def test_open_seams_are_named_and_come_next():
    found = stood([*passes(), *SEAMS[:3]], GOAL)
    assert (found.seam_in, found.seam_out) == (True, False)
    assert found.next == "The seam out of it: 3 clean in a row at 75 or more."


def test_solid_is_what_was_proved_and_best_single_is_shown_apart():
    found = stood([*passes(tempo=80), *passes(1, tempo=96), slip(tempo=96)], GOAL)
    assert (found.solid, found.best_single) == (80, 96)


def test_a_director_may_ask_for_more():
    strict = Rules(in_a_row=5, steady=F(3, 4))
    assert stood(passes(3, tempo=80), GOAL, rules=strict).level == 0
    assert stood(passes(5, tempo=74), GOAL, rules=strict).level == 2
    assert stood(passes(5, tempo=75), GOAL, rules=strict).level == 3


ANYTHING = st.lists(
    st.one_of(
        st.builds(
            ChunkEvidence,
            day=st.dates(DAY, DAY + timedelta(days=9)),
            tempo=st.sampled_from([None, F(50), F(62), F(80), F(100)]),
            is_clean=st.booleans(),
            kind=st.sampled_from(Kind),
            as_written=st.booleans(),
            where=st.sampled_from(Where),
            is_aided=st.booleans(),
        ),
        st.builds(hearing, st.integers(0, 6), day=st.dates(DAY, DAY + timedelta(days=9))),
    ),
    max_size=30,
)


@given(ANYTHING, st.integers(0, 30))
def test_levels_are_the_same_in_whatever_batches_evidence_arrives(evidence, cut):
    ordered = sorted(evidence, key=lambda one: one.day)
    fold = empty(GOAL)
    for one in ordered[:cut]:
        fold = noted(fold, one, GOAL)
    assert 0 <= standing(fold, GOAL).level <= 6
    for one in ordered[cut:]:
        fold = noted(fold, one, GOAL)
    assert standing(fold, GOAL) == stood(ordered, GOAL)


@given(ANYTHING)
def test_own_count_alone_never_reaches_kept(evidence):
    own = sorted((one for one in evidence if one.what is not What.HEARING), key=lambda o: o.day)
    assert level(own) <= 5


def test_who_is_clean_once_in_ten_is_hardly_ever_called_steady():
    lucky = 0
    for seed in range(200):
        random = Random(seed)
        evidence = [
            ChunkEvidence(
                DAY + timedelta(days=i // 10), tempo=F(100), is_clean=random.random() < 0.1
            )
            for i in range(30)
        ]
        lucky += level(evidence) >= 3
    assert lucky <= 200 * 0.06  # three in a row by chance: 28 places, one in a thousand each


def test_a_slip_and_then_a_clean_try_was_hard_and_loses_nothing():
    at_tempo = [*passes(), *SEAMS]
    due = stood(at_tempo, GOAL).due
    hard = [*at_tempo, slip(day=due), *passes(1, day=due)]
    easy = [*at_tempo, *passes(1, day=due)]
    assert level(hard) == 5
    assert due < stood(hard, GOAL).due < stood(easy, GOAL).due
    later = [*at_tempo, slip(day=due), *passes(1, day=due + timedelta(days=1))]
    assert level(later) == 4  # the same day, or not at all


def test_missed_and_clean_in_turn_is_not_asked_for_every_day():
    evidence = [*passes(), *SEAMS]
    waits = []
    for n in range(8):
        due = stood(evidence, GOAL).due
        evidence += [slip(day=due)] if n % 2 else passes(1, day=due)
        evidence += passes(day=due)
        waits.append((stood(evidence, GOAL).due - due).days)
    assert min(waits[2::2]) >= 2


def test_a_chunk_with_open_seams_that_fails_cold_was_not_linked():
    due = stood(passes(), GOAL).due
    assert level([*passes(), slip(day=due)]) == 3


def test_slips_that_were_measured_at_goal_lower_what_was_counted():
    assert level([*passes(), *SEAMS, *[slip(source=Source.MEASURED)] * 3]) == 4
    assert level([*passes(), *SEAMS, *[slip(source=Source.MEASURED, tempo=120)] * 3]) == 5


def test_after_measured_slips_three_clean_prove_it_again_and_it_stays_proved():
    dropped = [*passes(), *SEAMS, *[slip(source=Source.MEASURED)] * 3]
    proved = [*dropped, *passes()]
    assert [level([*proved, *passes(n)]) for n in range(4)] == [5, 5, 5, 5]
    assert level([*dropped, *passes(2)]) == 4


def test_who_keeps_a_chunk_and_slips_once_on_a_cold_try_keeps_it():
    later = DAY + timedelta(days=2)
    kept = [*passes(), *SEAMS, *passes(1, day=later), hearing(5, day=later)]
    assert level(kept) == 6
    due = stood(kept, GOAL).due
    assert level([*kept, slip(day=due)]) == 5
    assert level([*kept, slip(day=due), *passes(1, day=due)]) == 6
    assert level([*kept, slip(day=due), slip(day=due), *passes(day=due)]) == 5


def test_a_cold_try_of_another_day_is_judged_by_itself():
    at_tempo = [*passes(), *SEAMS]
    due = stood(at_tempo, GOAL).due
    missed = [*at_tempo, slip(day=due), *passes(day=due + timedelta(days=1), tempo=80)]
    won_back = [*missed, *passes(day=due + timedelta(days=1))]
    clean = [*won_back, *passes(1, day=due + timedelta(days=4))]
    again = [*clean, *passes(1, day=due + timedelta(days=4))]
    assert stood(again, GOAL).due == stood(clean, GOAL).due  # a second pass is no second try


def test_what_was_heard_weighs_at_once():
    own = passes(30, tempo=110)
    before, heard = stood(own, GOAL).secure, stood([*own, hearing(2)], GOAL).secure
    assert before.at_goal > 0.9
    assert heard.median < 70
    assert heard.at_goal < 0.2
    some = [*passes(3, tempo=80), *[slip(tempo=90)] * 3]
    assert stood([*some, hearing(5)], GOAL).secure.at_goal > stood(some, GOAL).secure.at_goal + 0.2
