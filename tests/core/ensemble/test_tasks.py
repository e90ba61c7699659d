"""What is to be handed in: either-or, short takes told and not refused, nothing asked for twice."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.ensemble.tasks import Choice, HandedIn, State, check_wanted, state_of
from crumb.core.errors import TakeRefused

EITHER = (Choice("etude 1", 60), Choice("etude 2", 45))


@pytest.mark.parametrize(
    ("takes", "state"),
    [
        ([], State.OPEN),
        ([("scales", 90)], State.OPEN),
        ([("etude 1", 59)], State.SHORT),
        ([("etude 1", None)], State.BEING_MADE),
        ([("etude 2", 45)], State.DONE),
        ([("etude 1", 59), ("etude 2", 46)], State.DONE),
        ([("etude 1", 30), ("etude 2", None)], State.BEING_MADE),
    ],
)
def test_either_of_two_closes_it(takes: list[tuple[str, int | None]], state: State):
    handed = [HandedIn(of, None if n is None else Fraction(n)) for of, n in takes]
    assert state_of(EITHER, handed) is state


@given(
    st.lists(st.tuples(st.sampled_from(["etude 1", "etude 2", "other"]), st.integers(1, 120))),
    st.tuples(st.sampled_from(["etude 1", "etude 2", "other"]), st.integers(1, 120)),
)
def test_one_more_take_never_opens_what_was_done(
    takes: list[tuple[str, int]], more: tuple[str, int]
):
    order = list(State)
    handed = [HandedIn(of, Fraction(n)) for of, n in takes]
    with_more = [*handed, HandedIn(more[0], Fraction(more[1]))]
    assert order.index(state_of(EITHER, with_more)) >= order.index(state_of(EITHER, handed))


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
