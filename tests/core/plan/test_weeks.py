"""The rhythm of a class: this week's focus, last week's upkeep, one due day."""

from dataclasses import replace
from datetime import date, timedelta
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.plan.build import make_plan
from crumb.core.plan.days import is_due_again
from crumb.core.plan.model import Category
from crumb.core.plan.weeks import paced, week_on, weeks_of
from tests.core.plan.asks import TODAY, a_chunk, an_ask

FRIDAY = 4
EIGHT = [a_chunk(name) for name in "abcdefgh"]


def weeks(days=28, begins=TODAY, chunks=EIGHT, weekday=FRIDAY, **more):
    return weeks_of(an_ask(*chunks, days=days, **more), begins, weekday)


@given(st.integers(1, 120), st.integers(0, 6), st.integers(0, 6), st.integers(1, 30))
def test_weeks_tile_the_plan_and_each_chunk_is_new_in_one(days, weekday, late, count):
    begins = TODAY + timedelta(days=late)
    ask = an_ask(*(a_chunk(f"c{i}", load=1 + i % 3) for i in range(count)), days=days + late)
    found = weeks_of(ask, begins, weekday)
    assert found[0].first == begins
    assert found[-1].due in (ask.on, ask.on - timedelta(days=1))  # the date itself is no practice
    for one, following in pairwise(found):
        assert one.due + timedelta(days=1) == following.first
        assert one.due.weekday() == weekday
        assert following.upkeep == one.focus
    met = [name for week in found for name in week.focus]
    assert sorted(met) == sorted(c.id for c in ask.chunks)


def test_weeks_are_about_equal_and_the_last_fifth_brings_nothing_new():
    found = weeks(days=35)
    assert len(found) >= 5
    assert found[-1].focus == ()
    sizes = [len(week.focus) for week in found[:-1]]
    assert max(sizes) - min(sizes) <= 1


def test_a_first_week_of_a_day_or_two_goes_on_to_the_next_due_day():
    wednesday = date(2026, 11, 25)
    ask = replace(an_ask(*EIGHT), today=wednesday, on=wednesday + timedelta(days=21))
    assert weeks_of(ask, wednesday, FRIDAY)[0].due == date(2026, 12, 4)
    monday = date(2026, 11, 23)
    assert weeks_of(replace(ask, today=monday), monday, FRIDAY)[0].due == date(2026, 11, 27)


def test_nothing_is_met_before_its_week():
    ask = an_ask(*EIGHT, days=35, minutes_a_day=60)
    found = weeks_of(ask, TODAY, FRIDAY)
    first_days = {}
    for sitting in make_plan(paced(ask, found)).sessions:
        for item in sitting.items:
            if item.category is Category.FOCUS:
                first_days.setdefault(item.chunks[0], sitting.day)
    begins = {name: week.first for week in found for name in week.focus}
    assert first_days
    assert all(day >= begins[name] for name, day in first_days.items())


def test_what_was_begun_or_held_by_hand_is_not_moved():
    begun = a_chunk("h", level=2, last=TODAY - timedelta(days=1))
    ask = an_ask(*EIGHT[:-1], begun, days=35, held={"a": TODAY + timedelta(days=30)})
    found = paced(ask, weeks_of(ask, TODAY, FRIDAY))
    assert "h" not in found.held
    assert found.held["a"] == TODAY + timedelta(days=30)


def test_last_weeks_focus_is_kept_up_once_though_no_check_is_due():
    done = a_chunk(
        "a",
        level=5,
        secure=100,
        solid=100,
        seam_in=True,
        seam_out=True,
        last=TODAY - timedelta(days=4),
        due=TODAY + timedelta(days=60),
    )
    ask = replace(an_ask(done, *EIGHT[1:], days=35), again={"a": TODAY})
    kept = [
        sitting.day
        for sitting in make_plan(ask).sessions
        for item in sitting.items
        if item.category is Category.KEEP and item.chunks == ("a",)
    ]
    assert kept[0] == TODAY
    assert TODAY + timedelta(days=1) not in kept


def test_the_week_of_a_day():
    found = weeks()
    assert week_on(found, TODAY) == found[0]
    assert week_on(found, found[0].due + timedelta(days=1)) == found[1]
    assert week_on(found, TODAY - timedelta(days=1)) is None


def test_every_second_day_of_practice_counts_days_of_practice_not_of_the_calendar():
    monday = date(2026, 11, 23)
    days = [monday + timedelta(days=n) for n in range(8)]
    assert is_due_again([days[0]], 2, days[0])  # begun today
    assert not is_due_again([days[0]], 2, days[1])
    assert not is_due_again([days[0]], 2, days[6])  # nothing was practised in between
    assert is_due_again([days[0], days[3]], 2, days[4])
    assert not is_due_again([days[0], days[3]], 3, days[4])
    assert is_due_again([days[0], days[2], days[3]], 3, days[4])
