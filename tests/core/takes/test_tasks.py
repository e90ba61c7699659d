"""What is to be handed in: either-or, short takes told and not refused, nothing asked for twice."""

from datetime import UTC, date, datetime, timedelta
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import TakeRefused
from crumb.core.takes.tasks import Choice, HandedInTake, TaskState, check_wanted, is_told, state_of

ASKED = datetime(2026, 3, 20, 8, tzinfo=UTC)
LATER = ASKED + timedelta(hours=1)
EITHER = (Choice("etude 1", 60), Choice("etude 2", 45))


@pytest.mark.parametrize(
    ("takes", "state"),
    [
        ([], TaskState.OPEN),
        ([("scales", 90)], TaskState.OPEN),
        ([("etude 1", 59)], TaskState.SHORT),
        ([("etude 1", None)], TaskState.BEING_MADE),
        ([("etude 2", 45)], TaskState.DONE),
        ([("etude 1", 59), ("etude 2", 46)], TaskState.DONE),
        ([("etude 1", 30), ("etude 2", None)], TaskState.BEING_MADE),
    ],
)
def test_either_of_two_closes_it(takes: list[tuple[str, int | None]], state: TaskState):
    handed = [HandedInTake(of, LATER, None if n is None else Fraction(n)) for of, n in takes]
    assert state_of(EITHER, handed, ASKED) is state


def test_what_came_before_it_was_asked_for_does_not_count():
    before = HandedInTake("etude 1", ASKED - timedelta(seconds=1), Fraction(90))
    assert state_of(EITHER, [before], ASKED) is TaskState.OPEN


@pytest.mark.parametrize(
    ("today", "is_closed", "told"),
    [(19, True, True), (20, True, True), (21, True, False), (21, False, True), (35, False, False)],
)
def test_what_is_closed_is_told_until_its_day_and_what_is_open_two_weeks_more(
    today: int, is_closed: bool, told: bool
):
    day = date(2026, 3, 1) + timedelta(days=today - 1)
    assert is_told(date(2026, 3, 20), day, is_closed=is_closed) is told


@given(
    st.lists(st.tuples(st.sampled_from(["etude 1", "etude 2", "other"]), st.integers(1, 120))),
    st.tuples(st.sampled_from(["etude 1", "etude 2", "other"]), st.integers(1, 120)),
)
def test_one_more_take_never_opens_what_was_done(
    takes: list[tuple[str, int]], more: tuple[str, int]
):
    order = list(TaskState)
    handed = [HandedInTake(of, LATER, Fraction(n)) for of, n in takes]
    with_more = [*handed, HandedInTake(more[0], LATER, Fraction(more[1]))]
    before, after = (order.index(state_of(EITHER, some, ASKED)) for some in (handed, with_more))
    assert after >= before


@pytest.mark.parametrize(
    ("wanted", "why"),
    [
        ([], "what is to be handed in"),
        ([()], "what is to be handed in"),
        ([EITHER, (Choice("etude 1", 60),)], "twice"),
        ([(Choice("a", 0),)], "seconds"),
        ([(Choice("a", 601),)], "seconds"),
        ([(Choice(n, 9),) for n in range(9)], "too many"),
        ([tuple(Choice(n, 9) for n in range(5))], "too many"),
    ],
)
def test_what_cannot_be_asked_for_is_refused(wanted: list[tuple[Choice, ...]], why: str):
    with pytest.raises(TakeRefused, match=why):
        check_wanted(wanted)


def test_a_minute_and_a_run_through_or_another_etude_can_be_asked_for():
    check_wanted([EITHER, (Choice("run-through", 120),)])
