"""Ranking with reasons, three days running, recipes."""

from datetime import date, timedelta
from functools import cache

import pytest

from crumb.core.drills import passage_of
from crumb.core.drills.ranking import Situation, days_running, must_rest, ranked
from crumb.core.drills.recipes import STANDARD, Recipe, RecipeItem, fitted, from_json, to_json
from crumb.core.errors import BadRecipe
from crumb.core.score.position import Position
from crumb.core.score.written import parse_span
from crumb.core.survey.model import Spot
from crumb.demo.etude import clarinet_etude
from tests.builders import F, a_part, reread, span

ETUDE = reread(clarinet_etude())
TODAY = date(2026, 11, 23)


def best(where="9-10", spots=(), **situation):
    passage = passage_of(ETUDE, parse_span(ETUDE, where))
    return ranked(passage, spots, Situation(today=TODAY, **situation))


@cache
def plainly_best():
    """Where the survey says nothing of the passage, at level 3."""
    return best(level=3)


def names(found, most=99):
    return [one.kind.name for one in found if not one.refused][:most]


def spot(kind, why, weight=1.0):
    return Spot(Position(9, F(0)), kind, why, weight)


def days(*back):
    return [TODAY - timedelta(days=n) for n in back]


def test_a_new_chunk_asks_for_reading_first_and_says_so():
    found = best(level=0)
    assert names(found, 3) == ["name-it", "count-it", "pitches-only"]
    assert found[0].reasons == ("The chunk is new.",)


# What is heard, likely cause, cure: common practice, no source.
@pytest.mark.parametrize(
    ("kind", "cure"),
    [
        ("shift", "hold-arrival"),
        ("double-stop", "voices-apart"),
        ("rest-count", "count-it"),
        ("dynamic", "rest-gap"),
        ("accidental", "name-it"),
        ("tongue", "articulation"),
        ("enharmonic", "respell"),
    ],
)
def test_what_the_survey_finds_speaks_for_its_cure(kind, cure):
    reasons = {one.kind.name: one.reasons for one in best(level=3, spots=[spot(kind, "So it is")])}
    plain = {one.kind.name: one.reasons for one in plainly_best()}
    fits = {one.kind.name for one in plainly_best() if not one.refused}
    if cure in fits:
        assert "So it is." in reasons[cure]
        assert "So it is." not in plain[cure]


def test_few_days_speak_for_goal_tempo():
    near = best(level=4, days_left=3)
    assert near[0].kind.at_goal
    assert any("3 days left" in reason for reason in near[0].reasons)
    assert not any("left" in r for one in best(level=4, days_left=30) for r in one.reasons)


def test_what_the_players_are_not_ready_for_says_what_comes_first():
    one = next(o for o in best(level=0) if o.kind.name == "long-short")
    assert one.warnings == ("Wants the rhythm known first.",)


def test_a_drill_done_two_days_running_rests_on_the_third_while_others_fit():
    recent = [("two-notes", day) for day in days(1, 2)]
    found = best(level=1, recent=tuple(recent))
    assert days_running(recent, "two-notes", TODAY) == 2
    place = names(found).index("two-notes")
    assert all(not one.rests for one in found[:place])
    assert "2 days running" in next(o for o in found if o.rests).reasons[0]


@pytest.mark.parametrize(
    ("back", "rests"), [((1,), False), ((1, 2), True), ((2, 3), False), ((1, 3), False)]
)
def test_only_days_without_a_gap_count(back, rests):
    assert must_rest([("alone", day) for day in days(*back)], "alone", TODAY) is rests


def test_what_does_not_fit_stands_last_with_its_reason():
    found = best()
    refused = [one for one in found if one.refused]
    assert found[-len(refused) :] == refused
    assert all(one.refused.endswith(".") for one in refused)


def test_the_standard_recipes_go_from_learning_to_proof_and_name_what_exists():
    order = ("learn", "set", "prove")
    for recipe in STANDARD:
        assert from_json(to_json(recipe)) == recipe
        stages = [order.index(item.stage) for item in recipe.items]
        assert stages == sorted(stages)


def test_a_recipe_puts_something_in_place_of_what_does_not_fit():
    part = a_part("h:0 q:1,2", "h:2 q:1,0")
    recipe = Recipe("R", (RecipeItem("learn", "long-short", {}), RecipeItem("prove", "alone", {})))
    kept, said = fitted(passage_of(part, span(part, 0, 1)), recipe)
    assert [item.drill for item in kept] == ["backward", "alone"]
    assert said == ["Backward chain stands in for Long-short."]


@pytest.mark.parametrize(
    "broken",
    [
        [],
        {"format": "something"},
        {"format": "crumb-recipe", "version": 2, "name": "R", "items": []},
        {"format": "crumb-recipe", "version": 1, "name": "", "items": [{}]},
        {"format": "crumb-recipe", "version": 1, "name": "R", "items": []},
        {"format": "crumb-recipe", "version": 1, "name": "R", "items": ["alone"]},
        {
            "format": "crumb-recipe",
            "version": 1,
            "name": "R",
            "items": [{"stage": "learn", "drill": "flying"}],
        },
        {
            "format": "crumb-recipe",
            "version": 1,
            "name": "R",
            "items": [{"stage": "learn", "drill": "alone", "settings": {"repetitions": 999}}],
        },
        {
            "format": "crumb-recipe",
            "version": 1,
            "name": "R",
            "items": [{"stage": "play", "drill": "alone"}],
        },
    ],
)
def test_a_broken_recipe_is_refused_in_words(broken):
    with pytest.raises(BadRecipe, match=r"\.$"):
        from_json(broken)
