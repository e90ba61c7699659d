from dataclasses import replace

import pytest

from crumb.core.errors import BadAddress, EmptySpan
from crumb.core.score.address import find_span
from crumb.core.score.model import Direction, Part
from crumb.core.score.naming import bracket_label, span_label
from crumb.core.score.position import Position, Span, beat_positions
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from tests.builders import F, a_part, reread

ETUDE = reread(clarinet_etude())


@pytest.mark.parametrize(
    ("said", "start", "end", "landing"),
    [
        ("33-36", (33, F(0)), (37, F(0)), False),
        ("33–36", (33, F(0)), (37, F(0)), False),
        ("9+", (9, F(0)), (10, F(0)), True),
        ("33.2-34.1", (33, F(1)), (34, F(1)), False),
        ("R3-R6", (35, F(0)), (39, F(0)), False),
        ("R", (33, F(0)), (34, F(0)), False),
        ("s1", (49, F(0)), (50, F(0)), False),
        ("0", (0, F(0)), (1, F(0)), False),
        ("0.4-1.1", (0, F(0)), (1, F(1)), False),
    ],
)
def test_a_place_is_understood_as_people_say_it(said, start, end, landing):
    assert parse_span(ETUDE, said) == Span(Position(*start), Position(*end), landing)


@pytest.mark.parametrize("said", ["", "99", "36-33", "Z2", "9.9", "9-", "a b c", "R99", "1.1.1"])
def test_a_place_that_is_not_there_is_refused_with_a_sentence(said):
    with pytest.raises(BadAddress) as refusal:
        parse_span(ETUDE, said)
    assert str(refusal.value).endswith(".")


def test_a_landing_on_a_rest_is_refused():
    with pytest.raises(EmptySpan):
        parse_span(a_part("q:0,1,2,3", "q:r,0,1,2"), "0+")


@pytest.mark.parametrize(
    "said",
    [
        "33–36",
        "9→",
        "33 beat 2–34 beat 1",
        "0",
        "33 beat 2",
        "12 beats 3–4→",
        "pickup to 1–4",
        "pickup to 34–36 beat 3",
        "12 note 2",
        "12 notes 2–5→",
    ],
)
def test_what_is_printed_is_understood_again(said):
    assert span_label(ETUDE, parse_span(ETUDE, said)) == said


def test_printed_letters_and_gaps_are_followed_not_counted():
    from dataclasses import replace

    part = a_part("w:0", "w:1", "w:2")
    named = tuple(
        replace(m, number=n) for m, n in zip(part.measures, ("12", "12a", "20"), strict=True)
    )
    odd = replace(part, measures=named)
    assert parse_span(odd, "12a-20").start.index == 1
    assert span_label(odd, parse_span(odd, "12a-20")) == "12a–20"


def lettered() -> Part:
    """Sixteen measures with letters R at 5 and S at 13, four to a line."""
    part = a_part(*["q:0,1,2,3"] * 16)
    measures = [
        replace(
            m,
            number=str(m.index + 1),
            new_system=m.index % 4 == 0 and m.index > 0,
            directions=(Direction(F(0), "rehearsal", "R" if m.index == 4 else "S"),)
            if m.index in (4, 12)
            else (),
        )
        for m in part.measures
    ]
    return replace(part, measures=tuple(measures))


@pytest.mark.parametrize(
    ("said", "label"),
    [
        ("third measure of R", "7"),
        ("the third bar of R", "7"),
        ("3rd measure after R", "7"),
        ("R", "5"),
        ("letter R", "5"),
        ("second measure from the end of line 4", "15"),
        ("last measure of line 2", "8"),
        ("line 3", "9–12"),
        ("last note of 11", "11 beat 4"),
        ("second beat of 6", "6 beat 2"),
        ("measure 6", "6"),
        ("R to S", "5–13"),
        ("6.3–7.1", "6 beat 3–7 beat 1"),
        ("beat 3 of 6", "6 beat 3"),
        ("notes 2-3 of measure 6", "6 beats 2–3"),
        ("6 beats 2 to 3", "6 beats 2–3"),
        ("R 3", "7"),
        ("R 3–6", "7–10"),
        ("R 2 to S", "6–13"),
        ("pickup to 6", "pickup to 6"),
        ("the pickup to measure 6 to 8", "pickup to 6–8"),
        ("2-note pickup to 6–7", "2-note pickup to 6–7"),
        ("›6–7", "pickup to 6–7"),
        ("2›6", "2-note pickup to 6"),
        ("11 and landing", "11→"),
        ("last measure of R", "12"),
        ("11+", "11→"),
    ],
)
def test_places_are_understood_as_people_say_them(said: str, label: str):
    part = lettered()
    assert span_label(part, find_span(part, said)) == label


@pytest.mark.parametrize(
    "said",
    [
        "ninth measure of R",
        "line 9",
        "page 2",
        "S to R",
        "fifth note of 6",
        "nowhere",
        "measure",
        "",
    ],
)
def test_places_that_are_not_there_are_refused_in_words(said: str):
    with pytest.raises(BadAddress) as refusal:
        find_span(lettered(), said)
    assert refusal.value.message.endswith(".")


def test_on_a_bracket_only_a_pickup_is_called_otherwise():
    places = beat_positions(ETUDE)
    spans = [Span(a, b) for a, b in zip(places, places[4:], strict=False)]
    spans += [Span(a, b) for a, b in zip(places[::3], places[9::3], strict=False)]
    called = [(span_label(ETUDE, one), span_label(ETUDE, one, short=True)) for one in spans]
    for span, (label, short) in zip(spans, called, strict=True):
        assert bracket_label(ETUDE, span, label) == short
    assert any("\u203a" in short for _, short in called)
