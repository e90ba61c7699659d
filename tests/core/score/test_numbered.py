"""Measures without notes: counted, lettered, divided, drilled."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import CATALOGUE, climb_seconds, coverage, make_drill, passage_of
from crumb.core.drills.ranking import Situation, ranked
from crumb.core.errors import BadSetting, CrumbError, DrillDoesNotFit
from crumb.core.instruments.table import instrument_of
from crumb.core.instruments.versions import version_for
from crumb.core.score.address import find_span
from crumb.core.score.glance import findings, goal_of
from crumb.core.score.model import Time
from crumb.core.score.naming import span_label
from crumb.core.score.numbered import numbered_part, time_said
from crumb.core.score.position import Position, Span
from crumb.core.split import proposals
from crumb.core.split.chunk_map import by_measures
from crumb.core.split.order import ordered
from crumb.core.survey.load import survey
from crumb.formats.musicxml.reader import read_part
from crumb.formats.musicxml.writer import write_part
from tests.builders import F, a_part, reread, tiles

WALTZ = numbered_part(
    "Flute",
    instrument="Flute",
    count=32,
    time=Time("3", 4),
    pickup=F(1),
    goal=F(120),
    letters={9: "A", 23: "B"},
)


@pytest.mark.parametrize(
    ("said", "beats", "unit"),
    [("4/4", "4", 4), (" 6 / 8 ", "6", 8), ("3+2/8", "3+2", 8), ("12/8", "12", 8), ("2/2", "2", 2)],
)
def test_a_time_signature_as_it_is_said(said: str, beats: str, unit: int):
    assert (time_said(said).beats, time_said(said).unit) == (beats, unit)


@pytest.mark.parametrize(
    "said", ["", "4", "4/5", "0/4", "/4", "4/", "²/4", "1000/4", "4/4/4", "-3/4"]
)
def test_what_is_no_time_signature_is_refused(said: str):
    with pytest.raises(BadSetting, match="no time signature"):
        time_said(said)


def test_measures_are_numbered_as_they_are_printed():
    assert [m.number for m in WALTZ.measures[:3]] == ["0", "1", "2"]
    assert (WALTZ.measures[0].length, WALTZ.measures[-1].number) == (1, "32")
    assert WALTZ.has_pickup
    assert goal_of(WALTZ) == 120
    assert span_label(WALTZ, find_span(WALTZ, "second measure of B")) == "24"
    assert findings(WALTZ) == [], "they were counted by hand"
    later = numbered_part(
        "Horn", instrument="Horn", count=4, first=57, time=Time("4", 4), goal=F(80)
    )
    assert [m.number for m in later.measures] == ["57", "58", "59", "60"]


@pytest.mark.parametrize(
    "wrong", [{"count": 0}, {"count": 2001}, {"pickup": F(3)}, {"letters": {40: "C"}}]
)
def test_measures_that_cannot_be_are_refused(wrong):
    usual = {"instrument": "Flute", "count": 8, "time": Time("3", 4), "goal": F(100)}
    with pytest.raises(BadSetting):
        numbered_part("Flute", **{**usual, **wrong})


@given(
    st.integers(1, 60),
    st.integers(1, 300),
    st.sampled_from(["2/4", "3/4", "4/4", "6/8", "5/8", "3+2/8", "2/2"]),
    st.booleans(),
)
def test_they_come_back_from_their_file_and_are_divided_without_a_rest(count, first, meter, lead):
    time = time_said(meter)
    part = numbered_part(
        "Oboe", instrument="Oboe", count=count, first=first, time=time,
        pickup=time.beat / 2 if lead else F(0), goal=F(90),
    )  # fmt: skip
    back = read_part(write_part(part).encode())
    assert back.is_blank
    assert [(m.number, m.length, m.time.text) for m in back.measures] == [
        (m.number, m.length, m.time.text) for m in part.measures
    ]
    for n in (1, 2, 4):
        assert tiles(part, by_measures(part, n).spans)
    found = survey(part, instrument_of(part), goal_quarters=F(90))
    spans = by_measures(part, 4).spans
    assert sorted(ordered(part, found, spans, "hardest", []).places) == list(range(len(spans)))
    inside = [edge.at for edge in proposals.by_phrases(part)]
    assert inside == sorted(set(inside))


@pytest.mark.parametrize("kind", CATALOGUE, ids=lambda k: k.name)
@pytest.mark.parametrize(("first", "last"), [(9, 13), (0, 3), (32, 33), (1, 33)])
def test_every_drill_is_made_of_measures_or_refused_in_words(kind, first: int, last: int):
    span = Span(Position(first, F(0)), Position(last, F(0)))
    passage = passage_of(WALTZ, span)
    said = ""
    try:
        drill = make_drill(WALTZ, span, kind.name, {}, passage=passage)
    except DrillDoesNotFit as refusal:
        said = refusal.message
    if said:
        assert said.endswith(".")
        assert not kind.by_measures or "Only the measures" not in said
        return
    assert kind.by_measures
    assert all(step.quarters > 0 and not step.sounds for step in drill.steps)
    assert all(not step.part.has_notes for step in drill.steps)
    assert all(step.covers.start >= Position(0, F(0)) for step in drill.steps)
    assert coverage(passage, drill) == (0, 0)
    assert climb_seconds(drill.steps, rungs=[F(60), F(90)], beat=passage.beat) > 0


def test_what_fits_is_ranked_before_what_does_not():
    passage = passage_of(WALTZ, Span(Position(9, F(0)), Position(13, F(0))))
    found = ranked(passage, (), Situation())
    fits = [one.kind.name for one in found if not one.refused]
    assert fits == [one.kind.name for one in found[: len(fits)]]
    assert {"alone", "backward", "stops", "seams"} <= set(fits)


def test_another_instruments_version_is_the_same_measures():
    other = version_for(
        WALTZ, instrument_of(replace(WALTZ, instrument="Trombone", name="Trombone"))
    )
    assert [m.number for m in other.measures] == [m.number for m in WALTZ.measures]
    assert other.is_blank


def test_a_silent_part_is_not_a_blank_one():
    silent = a_part("w:r", "w:r")
    with pytest.raises(CrumbError, match="no note"):
        reread(silent)
    assert not silent.is_blank
    with pytest.raises(CrumbError, match="note"):
        make_drill(silent, Span(Position(0, F(0)), Position(1, F(0))), "alone", {})
