"""Asks of the plan, for tests."""

from datetime import date, timedelta
from fractions import Fraction

from hypothesis import strategies as st

from crumb.core.plan.cures import CURES
from crumb.core.plan.model import ChunkState, Order, PlanAsk
from crumb.core.plan.scheduler import schedule

TODAY = date(2026, 10, 5)  # a Monday


def a_chunk(name="a", **more):
    return ChunkState(id=name, **{"quarters": Fraction(16), "goal": Fraction(96), **more})


def an_ask(*chunks, days=24, **more):
    return PlanAsk(TODAY, TODAY + timedelta(days=days), tuple(chunks), **more)


def first_day(ask):
    """The sessions of the first practice day."""
    return schedule(ask, 1)


@st.composite
def chunks(draw, name):
    goal = draw(st.integers(30, 200))
    level = draw(st.integers(0, 6))
    share = draw(st.floats(0.3, 1.2))
    known = draw(st.booleans())
    days = st.integers(0, 20).map(lambda back: TODAY - timedelta(days=back))
    return ChunkState(
        id=name,
        quarters=Fraction(draw(st.integers(1, 80)), draw(st.sampled_from((1, 2, 3)))),
        goal=Fraction(goal),
        load=draw(st.floats(0, 50)),
        level=level,
        secure=goal * share if known else None,
        low=goal * share * 0.9 if known else None,
        high=goal * share * 1.1 if known else None,
        seam_in=draw(st.booleans()),
        seam_out=draw(st.booleans()),
        slips=draw(st.dictionaries(st.sampled_from(("note 5", "beat 3")), st.integers(0, 30))),
        symptoms=tuple(draw(st.lists(st.sampled_from([c.key for c in CURES]), max_size=2))),
        kin=tuple(draw(st.lists(st.sampled_from("abcdef"), max_size=2))),
        last=draw(st.none() | days) if level else None,
        due=draw(st.none() | days) if level >= 5 else None,
        drills=tuple(
            draw(
                st.lists(
                    st.tuples(st.sampled_from(("alone", "backward", "standard-set")), days),
                    max_size=6,
                )
            )
        ),
        minutes=draw(st.floats(0, 200)) if level else 0.0,
        gained=draw(st.floats(0, 60)) if level else 0.0,
    )


@st.composite
def asks(draw):
    names = "abcdef"[: draw(st.integers(0, 6))]
    return PlanAsk(
        today=TODAY,
        on=TODAY + timedelta(days=draw(st.integers(0, 40))),
        chunks=tuple(draw(chunks(name)) for name in names),
        minutes_a_day=draw(st.integers(0, 90)),
        sessions_a_day=draw(st.integers(1, 3)),
        days_off=frozenset(
            TODAY + timedelta(days=n) for n in draw(st.sets(st.integers(0, 40), max_size=6))
        ),
        weekdays_off=frozenset(draw(st.sets(st.integers(0, 6), max_size=3))),
        warm_up_minutes=draw(st.integers(0, 10)),
        order=draw(st.sampled_from(list(Order))),
        player=draw(st.sampled_from(("beginner", "intermediate", "advanced"))),
        instrument=draw(st.sampled_from(("", "Violin", "Snare drum", "Clarinet"))),
        today_minutes=draw(st.none() | st.integers(0, 30)),
    )
