"""What holds of every drill on whatever music it is asked for."""

import json
from datetime import date, timedelta
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from crumb.core.drills import (
    CATALOGUE,
    Drill,
    burst_of,
    coverage,
    cycle_seconds,
    drill_kind,
    fits,
    make_drill,
    passage_of,
)
from crumb.core.drills.model import LEVELS, PROVE
from crumb.core.drills.ranking import must_rest
from crumb.core.drills.recipes import (
    STANDARD,
    Recipe,
    RecipeItem,
    checked,
    fitted,
    from_json,
    to_json,
)
from crumb.core.errors import BadRecipe, BadSetting, DrillDoesNotFit, EmptySpan
from crumb.core.instruments.table import instrument_named
from crumb.core.instruments.versions import version_for
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread
from tests.drill_arithmetic import wrong_in_itself

MEASURES = [
    EIGHTHS,
    SIXTEENTHS,
    "q:0,2,4,7",
    "h:0 h:4",
    "q:r s:0,1,2,3 h:4",
    "e:0,7,0,7,1,8,1,8",
    "s:0,2,1,3 q:2 e:r,4 q:3#",
    "e.:0 s:1 e.:2 s:3 h:4",
    "q:0~ q:0 h:5",
    "s:(0,1,2,3),4',5',6',7' h:3",
]
PLAYERS = ["Clarinet", "Violin", "Trombone", "Snare drum", "Flute", "Marimba", "Tuba"]


def version(measures: list[str], player: str) -> Part:
    return version_for(reread(a_part(*measures)), instrument_named(player))


@st.composite
def chunks(draw) -> tuple[Part, Span]:
    """A few measures for some player, and a stretch of them that need not begin on a barline."""
    measures = draw(st.lists(st.sampled_from(MEASURES), min_size=1, max_size=3))
    part = version(measures, draw(st.sampled_from(PLAYERS)))
    places = [Position(m.index, n.at) for m in part.measures for n in m.notes if not n.in_chord]
    places.append(Position(len(part.measures), F(0)))
    first, last = sorted(draw(st.sets(st.integers(0, len(places) - 1), min_size=2, max_size=2)))
    return part, Span(places[first], places[last])


kinds = st.sampled_from([kind.name for kind in CATALOGUE])
levels = st.sampled_from(LEVELS)
often = settings(max_examples=100)


def asked(part: Part, span: Span, name: str, level: str) -> Drill | DrillDoesNotFit | None:
    """The drill, or its refusal; None where there is nothing to play at all."""
    try:
        return make_drill(part, span, name, {}, level=level)
    except EmptySpan:
        return None
    except DrillDoesNotFit as refusal:
        return refusal


@often
@given(chunks(), kinds, levels)
def test_a_drill_adds_up_or_is_refused_in_a_sentence(chunk, name, level):
    part, span = chunk
    drill = asked(part, span, name, level)
    if isinstance(drill, DrillDoesNotFit):
        assert drill.message[0].isupper()
        assert drill.message.endswith((".", "?"))
    elif drill is not None:
        assert wrong_in_itself(passage_of(part, span), drill) == []
        assert drill.steps


@often
@given(chunks(), kinds, levels)
def test_what_a_refusal_offers_fits(chunk, name, level):
    part, span = chunk
    refusal = asked(part, span, name, level)
    if not isinstance(refusal, DrillDoesNotFit):
        return
    offered = refusal.facts.get("instead", [])
    assert name not in offered
    for other in offered[:3]:
        assert make_drill(part, span, other, {}).steps
        assert f"“{drill_kind(other).title}”" in refusal.message


@often
@given(chunks(), kinds)
def test_the_same_call_makes_the_same_drill(chunk, name):
    part, span = chunk
    if fits_here(part, span, name):
        assert make_drill(part, span, name, {}) == make_drill(part, span, name, {})


def fits_here(part: Part, span: Span, name: str) -> bool:
    passage = passage_of(part, span)
    return bool(passage.attacks) and fits(passage, name)


@often
@given(chunks(), kinds)
def test_only_what_is_as_written_and_in_tempo_proves(chunk, name):
    part, span = chunk
    if not fits_here(part, span, name):
        return
    for step in make_drill(part, span, name, {}).steps:
        if step.kind == PROVE:
            assert step.as_written
            assert step.pace == 1
        assert step.repetitions >= 1
        assert step.click >= 0
        assert 0 <= step.click_at < max(step.click, step.quarters)
        assert step.say or step.name


@often
@given(chunks(), kinds)
def test_every_note_that_is_given_its_turn_is_one_of_the_chunk(chunk, name):
    part, span = chunk
    if not fits_here(part, span, name):
        return
    drill = make_drill(part, span, name, {})
    turned, everything = coverage(passage_of(part, span), drill)
    assert 0 <= turned <= everything
    ids = {note.id for measure in part.measures for note in measure.notes}
    for step in drill.steps:
        assert step.turned is None or step.turned <= ids


@often
@given(chunks(), kinds, st.integers(40, 160))
def test_twice_the_tempo_is_half_the_time_breaths_apart(chunk, name, tempo):
    part, span = chunk
    if not fits_here(part, span, name):
        return
    steps = make_drill(part, span, name, {}).steps
    slow, fast = (
        cycle_seconds(steps, tempo=F(minute), beat=F(1), breath=F(0))
        for minute in (tempo, 2 * tempo)
    )
    assert slow == 2 * fast > 0
    breaths = sum(step.repetitions for step in steps)
    assert cycle_seconds(steps, tempo=F(tempo), beat=F(1), breath=F(2)) == slow + 2 * breaths


@often
@given(chunks(), kinds, st.integers(40, 160).map(F))
def test_a_burst_is_told_as_a_tempo_that_somebody_can_set(chunk, name, goal: Fraction):
    part, span = chunk
    if not fits_here(part, span, name):
        return
    for step in make_drill(part, span, name, {}).steps:
        burst = burst_of(step, goal)
        assert burst is None or goal / 16 <= burst <= 4 * goal


@pytest.mark.parametrize("kind", CATALOGUE, ids=lambda kind: kind.name)
def test_every_setting_is_read_at_its_edges_and_refused_beyond(kind):
    for parameter in kind.parameters:
        with pytest.raises(BadSetting):
            kind.settings({parameter.name + "x": 1})
        if parameter.is_text:
            with pytest.raises(BadSetting):
                kind.settings({parameter.name: "x" * 200})
            continue
        if parameter.choices:
            for choice in parameter.choices:
                assert kind.settings({parameter.name: choice})[parameter.name] == choice
            wrong: list[object] = ["no such choice"]
        else:
            for edge in (parameter.low, parameter.high):
                assert kind.settings({parameter.name: edge})[parameter.name] == edge
            wrong = [parameter.low - 1, parameter.high + 1, "many"]
        for value in wrong:
            with pytest.raises(BadSetting) as refusal:
                kind.settings({parameter.name: value})
            assert parameter.label in refusal.value.message


# Recipes -----------------------------------------------------------------------------------------


@settings(max_examples=60)
@given(chunks(), st.sampled_from(STANDARD))
def test_a_recipe_made_for_a_chunk_can_be_played_as_it_stands(chunk, recipe):
    part, span = chunk
    passage = passage_of(part, span)
    if not passage.attacks:
        return
    kept, said = fitted(passage, recipe)
    assert len(kept) <= len(recipe.items)
    assert len(said) == sum(item not in recipe.items for item in kept) + (
        len(recipe.items) - len(kept)
    )
    for item in kept:
        assert make_drill(part, span, item.drill, dict(item.settings)).steps


items = st.builds(
    lambda stage, name: RecipeItem(stage, name, {}),
    st.sampled_from(["learn", "set", "prove"]),
    kinds,
)
recipes = st.builds(
    Recipe,
    st.text("abc äö", min_size=1, max_size=60).map(lambda t: " ".join(t.split())).filter(bool),
    st.lists(items, min_size=1, max_size=12).map(tuple),
    st.text(max_size=80),
)


@given(recipes)
def test_a_recipe_comes_back_from_its_file(recipe: Recipe):
    assert from_json(json.loads(json.dumps(to_json(recipe)))) == recipe


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers() | st.text(max_size=8),
        lambda inner: (
            st.lists(inner, max_size=3)
            | st.dictionaries(
                st.sampled_from(["stage", "drill", "settings", "x"]), inner, max_size=3
            )
        ),
        max_leaves=8,
    )
)
def test_whatever_stands_in_a_file_a_recipe_is_made_of_or_it_is_refused_in_words(data):
    with pytest.raises(BadRecipe):
        from_json(data)
    with pytest.raises(BadRecipe) as refusal:
        checked("Mine", data)
    assert refusal.value.message.endswith(".")


@given(st.sets(st.integers(0, 30), max_size=8), st.integers(0, 30))
def test_a_drill_rests_after_two_days_running_and_no_sooner(days, today):
    first = date(2026, 1, 5)
    recent = [("alone", first + timedelta(days=day)) for day in days if day < today]
    recent += [("backward", first + timedelta(days=day)) for day in range(today)]
    now = first + timedelta(days=today)
    assert must_rest(recent, "alone", now) is ({today - 1, today - 2} <= days)
