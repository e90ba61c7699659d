"""What a director would check a plan for, by hand and on any ask."""

from collections import Counter
from dataclasses import replace
from datetime import timedelta
from fractions import Fraction

import pytest
from hypothesis import given, settings

from crumb.core.drills import CATALOGUE
from crumb.core.plan.model import Category, Order, Pin
from crumb.core.plan.scheduler import schedule
from tests.core.plan.asks import TODAY, a_chunk, an_ask, asks, first_day
from tests.sizes import examples

IN_ORDER = list(Category)
NAMES = {kind.name for kind in CATALOGUE}


def items_of(sessions, category=None):
    found = [item for session in sessions for item in session.items]
    return [item for item in found if category in (None, item.category)]


def focus(ask):
    """Chunks of the day, each once: a new one is read before it is played."""
    found = [item.name for item in items_of(first_day(ask), Category.FOCUS)]
    return list(dict.fromkeys(found))


@settings(max_examples=examples(150), deadline=None)
@given(asks())
def test_any_plan_keeps_the_rules(ask):
    sessions = schedule(ask)
    by_day = {}
    for session in sessions:
        by_day.setdefault(session.day, []).append(session)
    days = list(by_day)
    assert days == sorted(days)
    goals = {c.id: c.goal for c in ask.chunks}
    met = {c.id for c in ask.chunks if c.level or c.last or c.minutes}
    for day, sittings in by_day.items():
        assert ask.today <= day < ask.on
        assert day not in ask.days_off
        assert day.weekday() not in ask.weekdays_off
        assert [s.number for s in sittings] == list(range(1, len(sittings) + 1))
        assert len(sittings) <= ask.sessions_a_day
        there_are = ask.minutes_a_day
        if day == ask.today and ask.today_minutes is not None:
            there_are = ask.today_minutes
        items = items_of(sittings)
        assert sum(item.minutes for item in items) <= there_are
        order = [IN_ORDER.index(item.category) for item in items]
        assert order == sorted(order)
        for item in items:
            assert item.minutes >= 1
            assert item.drill in NAMES
            assert item.why.endswith(".")
            assert 0 < item.start <= item.end
            if item.category is Category.FOCUS:
                assert item.end <= -(-goals[item.name] // 1)
        new = {i.name for i in items if i.category is Category.FOCUS} - met
        assert len(new) <= (1 if ask.player == "beginner" else 2)
        if day in days[-2:] and len(days) > 2:
            assert not new
        met |= new
    if days:
        at_goal = {c.id for c in ask.chunks if c.level >= 5}
        worked = {i.name for i in items_of(by_day[days[0]]) if i.category is Category.FOCUS}
        assert not worked & at_goal


@settings(max_examples=examples(60), deadline=None)
@given(asks())
def test_the_first_day_is_the_same_alone_as_in_the_whole_plan(ask):
    sessions = schedule(ask)
    first = [s for s in sessions if s.day == sessions[0].day] if sessions else []
    assert list(first_day(ask)) == first


@settings(max_examples=examples(60), deadline=None)
@given(asks())
def test_no_drill_comes_on_a_third_day_running_while_others_fit(ask):
    done = {c.id: list(c.drills) for c in ask.chunks}
    for session in schedule(ask):
        for item in items_of([session], Category.FOCUS):
            if item.drill == "alone":
                continue  # what confirms a kin chunk, or is left where nothing else fits
            running = {day for drill, day in done[item.name] if drill == item.drill}
            before = {session.day - timedelta(days=1), session.day - timedelta(days=2)}
            assert not before <= running, (item.drill, session.day, done[item.name])
            done[item.name].append((item.drill, session.day))


def test_what_is_at_goal_gets_no_minutes_and_what_is_new_does():
    ask = an_ask(a_chunk("a", level=5, secure=99), a_chunk("b"))
    assert focus(ask) == ["b"]


def test_minutes_follow_need():
    near = a_chunk("near", level=4, secure=90, low=86, high=94)
    far = a_chunk("far", level=3, secure=60, low=57, high=64)
    minutes = {i.name: i.minutes for i in items_of(first_day(an_ask(near, far, minutes_a_day=12)))}
    assert minutes["far"] > minutes["near"] >= 2


def test_a_cold_check_comes_when_it_is_due_and_not_before():
    due = a_chunk("a", level=5, secure=99, due=TODAY)
    (item,) = items_of(first_day(an_ask(due)), Category.KEEP)
    assert (item.name, item.start, item.end) == ("a", 96, 96)
    later = replace(due, due=TODAY + timedelta(days=4))
    assert not items_of(first_day(an_ask(later)), Category.KEEP)
    days = [s.day for s in schedule(an_ask(later)) if items_of([s], Category.KEEP)]
    assert days[0] == TODAY + timedelta(days=4)


def test_what_faded_though_it_was_at_tempo_gets_upkeep_and_no_focus():
    faded = a_chunk("a", level=5, secure=80, low=76, high=84)
    (item,) = items_of(first_day(an_ask(faded)), Category.KEEP)
    assert item.start < 96
    assert item.end == 96
    assert "80" in item.why


def test_a_seam_is_worked_on_once_both_its_sides_are_steady():
    one, two = a_chunk("a", level=3, secure=80), a_chunk("b", level=3, secure=80)
    (item,) = items_of(first_day(an_ask(one, two)), Category.LINK)
    assert item.name == "a+b"
    assert item.end >= 72
    assert not items_of(first_day(an_ask(one, replace(two, level=2))), Category.LINK)
    shown = replace(one, seam_out=True), replace(two, seam_in=True)
    assert not items_of(first_day(an_ask(*shown)), Category.LINK)


@pytest.mark.parametrize(
    ("slower", "start"), [(96, 72), (80, 68), (62, 62)], ids=["sure", "steady", "barely"]
)
def test_a_seam_is_tried_from_what_both_sides_bear_up_to_what_shows_it(slower, start):
    one, two = a_chunk("a", level=4, secure=96), a_chunk("b", level=3, secure=slower)
    (item,) = items_of(first_day(an_ask(one, two, minutes_a_day=60)), Category.LINK)
    assert (item.start, item.end) == (start, 72)  # three quarters of 96


def test_beside_other_work_a_seam_waits_until_both_sides_bear_its_tempo():
    one, two = a_chunk("a", level=4, secure=80), a_chunk("b", level=3, secure=62)
    assert not items_of(first_day(an_ask(one, two)), Category.LINK)
    assert items_of(first_day(an_ask(one, replace(two, secure=74))), Category.LINK)


def test_where_only_seams_are_left_all_of_them_are_worked_on_today():
    chunks = [a_chunk(name, level=5, secure=99, low=97, high=101) for name in "abcdefgh"]
    links = items_of(first_day(an_ask(*chunks)), Category.LINK)
    assert len(links) >= 4
    assert sum(item.minutes for item in items_of(first_day(an_ask(*chunks)))) >= 18


def test_a_seam_waits_for_a_day_on_which_its_sides_are_not_tried_cold():
    one = a_chunk("a", level=5, secure=99, due=TODAY)
    two = a_chunk("b", level=3, secure=80)
    assert not items_of(first_day(an_ask(one, two)), Category.LINK)


def test_run_through_once_a_day_from_when_all_of_it_has_its_notes():
    done, slow = (
        [a_chunk(n, level=lv, last=TODAY) for n in ns] for ns, lv in (("ab", 5), ("cd", 1))
    )
    (run,) = items_of(first_day(an_ask(*done, *slow)), Category.RUN_THROUGH)
    assert run.name == "*"
    assert items_of(first_day(an_ask(*done[:1], *slow)), Category.RUN_THROUGH)
    assert not items_of(first_day(an_ask(*done, a_chunk("d"))), Category.RUN_THROUGH)


def test_in_the_last_fifth_of_the_days_it_is_run_through_however_it_stands():
    known = [a_chunk(name, level=1, last=TODAY) for name in "abc"]
    days = [
        sitting.day
        for sitting in schedule(an_ask(*known, days=20, minutes_a_day=5))
        for item in sitting.items
        if item.category is Category.RUN_THROUGH
    ]
    assert set(days) >= {TODAY + timedelta(days=n) for n in range(16, 20)}


def test_a_run_through_goes_at_the_tempo_of_the_slowest_chunk():
    chunks = a_chunk("a", level=5, secure=96), a_chunk("b", level=3, secure=64)
    (run,) = items_of(first_day(an_ask(*chunks)), Category.RUN_THROUGH)
    assert run.start == run.end == 64


def test_before_the_date_somebody_listens():
    known = [a_chunk(name, level=4, secure=90) for name in "ab"]
    said = [i.why for i in items_of(schedule(an_ask(*known)), Category.RUN_THROUGH)]
    assert sum("for a listener" in why for why in said) == 2


@pytest.mark.parametrize(
    ("order", "first"),
    [
        (Order.FRONT, ["a", "b"]),
        (Order.BACK, ["d", "c"]),
        (Order.HARDEST, ["c", "a"]),
        (Order.FOUNDATION, ["b", "d"]),
        (Order.HAND, ["a", "b"]),
    ],
)
def test_the_order_decides_what_is_met_first(order, first):
    loads = {"a": 3.0, "b": 1.0, "c": 5.0, "d": 2.0}
    kin = {"b": ("x", "y"), "d": ("x",)}
    chunks = [a_chunk(name, load=load, kin=kin.get(name, ())) for name, load in loads.items()]
    assert focus(an_ask(*chunks, order=order)) == first


def test_a_twin_of_what_stands_is_confirmed_by_one_pass_at_its_tempo():
    kin_chunk = a_chunk("a", level=4, secure=80)
    (item,) = [
        i for i in items_of(first_day(an_ask(kin_chunk, a_chunk("b", kin=("a",))))) if i.name == "b"
    ]
    assert (item.drill, item.start, item.end, item.minutes) == ("alone", 80, 80, 2)
    # After a miss it is learned like any other.
    missed = a_chunk("b", kin=("a",), last=TODAY - timedelta(days=1), minutes=2)
    (item,) = [i for i in items_of(first_day(an_ask(kin_chunk, missed))) if i.name == "b"]
    assert item.minutes >= 3


def test_twins_are_not_met_on_the_same_day_while_others_are_new():
    chunks = a_chunk("a", kin=("b",)), a_chunk("b", kin=("a",)), a_chunk("c", load=0.5)
    assert set(focus(an_ask(*chunks))) == {"a", "c"}


def test_what_was_heard_leads_to_its_cure_and_where_slips_fall_to_small_pieces():
    heard = a_chunk("a", level=3, secure=70, symptoms=("It rushes",))
    (item,) = items_of(first_day(an_ask(heard)), Category.FOCUS)
    assert item.drill == "off-beat-click"
    assert "rushes" in item.why
    slipping = a_chunk("a", level=3, secure=70, slips={"note 5": 9, "note 1": 2})
    (item,) = items_of(first_day(an_ask(slipping)), Category.FOCUS)
    assert item.drill == "two-notes"
    assert "9 of 11 slips fall on note 5" in item.why


def test_a_cure_for_another_instrument_is_passed_over():
    heard = a_chunk("a", level=3, secure=70, symptoms=("bow",))
    drills = {
        name: items_of(first_day(an_ask(heard, instrument=name)), Category.FOCUS)[0].drill
        for name in ("Violin", "Clarinet")
    }
    assert drills == {"Violin": "bow-plan", "Clarinet": "one-layer"}


def test_only_ten_minutes_today_change_today_alone():
    chunks = [a_chunk(name, level=3, secure=60) for name in "abcd"]
    usual = schedule(an_ask(*chunks, minutes_a_day=20))
    short = schedule(an_ask(*chunks, minutes_a_day=20, today_minutes=10))
    assert sum(i.minutes for i in items_of(short[:1])) == 10
    assert sum(i.minutes for i in items_of(short[1:2])) == sum(
        i.minutes for i in items_of(usual[1:2])
    )


def test_what_the_director_changed_holds():
    chunks = [
        a_chunk(name, level=3, secure=60, load=load)
        for name, load in zip("abc", (9, 5, 1), strict=True)
    ]
    held = an_ask(*chunks, held={"a": TODAY + timedelta(days=3)})
    days = [
        s.day for s in schedule(held) if any(i.name == "a" for i in items_of([s], Category.FOCUS))
    ]
    assert days[0] == TODAY + timedelta(days=3)
    pinned = an_ask(*chunks, minutes_a_day=3, pins=(Pin("c", TODAY, "backward"),))
    (item,) = items_of(first_day(pinned), Category.FOCUS)
    assert (item.name, item.drill) == ("c", "backward")
    assert "Pinned" in item.why
    before = items_of(first_day(an_ask(chunks[0])), Category.FOCUS)[0].drill
    dropped = an_ask(chunks[0], dropped=frozenset({("a", before)}))
    assert items_of(first_day(dropped), Category.FOCUS)[0].drill != before


def test_two_sessions_share_the_day_about_evenly():
    chunks = [a_chunk(name, level=3, secure=60) for name in "abcdef"]
    one, two = first_day(an_ask(*chunks, minutes_a_day=40, sessions_a_day=2))
    minutes = [sum(i.minutes for i in s.items) for s in (one, two)]
    assert abs(minutes[0] - minutes[1]) <= 8


def test_learn_then_set_then_prove():
    """A chunk from nothing: reading first, the plain chunk last."""
    sessions = schedule(an_ask(a_chunk("a", quarters=Fraction(8)), days=40))
    drills = [i.drill for i in items_of(sessions, Category.FOCUS)]
    assert drills[0] in {"name-it", "count-it"}
    assert drills[-1] in {"alone", "in-context", "close-gaps"}
    assert max(Counter(drills).values()) < len(drills)


def test_an_order_by_hand_joins_what_stands_beside_each_other_in_the_part():
    chunks = [a_chunk(name, load=2.0) for name in "abcd"]
    ask = an_ask(*chunks, order=Order.HAND, by_hand=("c", "a"))
    assert focus(ask) == ["c", "a"]
    steady = [replace(chunk, level=3, secure=80) for chunk in chunks]
    links = items_of(schedule(replace(ask, chunks=tuple(steady))), Category.LINK)
    assert {item.name for item in links} >= {"a+b", "b+c", "c+d"}
    assert not {item.name for item in links} & {"c+a", "a+d"}


def test_links_grow_where_all_of_a_row_is_linked_and_time_is_left():
    linked = [
        a_chunk(name, level=4, secure=90, low=87, high=93, seam_in=True, seam_out=True)
        for name in "abcd"
    ]
    rest = a_chunk("e")  # without its notes, nothing is run through
    (item,) = items_of(first_day(an_ask(*linked, rest, minutes_a_day=90)), Category.LINK)
    assert (item.name, item.drill) == ("a+b+c+d", "in-context")
    assert item.start == 90
    assert not items_of(first_day(an_ask(*linked, rest, minutes_a_day=8)), Category.LINK)


def test_on_a_day_with_a_run_through_there_is_no_longer_link_beside_it():
    ready = {"level": 5, "secure": 96, "low": 94, "high": 98, "seam_in": True, "seam_out": True}
    chunks = [a_chunk(name, **ready) for name in "abc"]
    last = a_chunk("d", level=4, secure=80, seam_in=True, seam_out=True)
    items = items_of(first_day(an_ask(*chunks, last, minutes_a_day=60)))
    rest = [i.category for i in items if i.category not in (Category.FOCUS, Category.KEEP)]
    assert rest == [Category.RUN_THROUGH]


def test_no_day_is_crumbs():
    open_ = [a_chunk(f"c{n}", level=2, secure=60, low=55, high=65) for n in range(10)]
    focus = items_of(first_day(an_ask(*open_)), Category.FOCUS)
    assert 3 <= len(focus) <= 5
    assert min(item.minutes for item in focus) >= 4


def test_no_minute_is_idle_while_something_is_unsure():
    unsure = [a_chunk(f"c{n}", level=5, secure=97, low=88, high=104) for n in range(8)]
    linked = [replace(one, seam_in=True, seam_out=True) for one in unsure]
    items = items_of(first_day(an_ask(*linked)))
    assert sum(item.minutes for item in items) >= 18
    kept = [item for item in items if item.category is Category.KEEP]
    assert all(item.start < item.end == 96 for item in kept)


def test_who_is_to_reach_the_goal_today_gets_it_as_written_after_what_was_heard_is_mended():
    near = a_chunk("a", level=4, secure=84, low=82, high=86, quarters=Fraction(8))
    (item,) = items_of(first_day(an_ask(near)), Category.FOCUS)
    assert (item.drill, item.end) == ("alone", 96)
    rushes = replace(near, symptoms=("It rushes",))
    (item,) = items_of(first_day(an_ask(rushes)), Category.FOCUS)
    assert item.why.startswith("Heard: it rushes")
    assert item.drill != "alone"
