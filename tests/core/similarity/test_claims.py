"""Kin inside the key, figures elsewhere in the measure, claims, and first and last notes.

A sequence moves by steps of the scale, real (exact) or tonal (inside the key): any harmony primer;
common practice, no source.
"""

import pytest

from crumb.core.errors import BadAddress, BadSetting
from crumb.core.similarity.claims import judged, read_claim
from crumb.core.similarity.corners import corners
from crumb.core.similarity.finding import find_kin
from crumb.core.similarity.words import kin_said, letters_said
from tests.builders import F, a_part

FIGURE = "s:0,1,2,3 s:4,3,2,1 e:0,2 q:4"
A_STEP_UP = "s:1,2,3,4 s:5,4,3,2 e:1,3 q:5"
LOWER = "s:-1,0,1,2 s:3,2,1,0 e:-1,1 q:3"


def kin(*measures: str, **said):
    return find_kin([a_part(*measures, **said)])


def test_a_step_higher_inside_the_key_is_a_sequence_not_a_transposition():
    (found,) = kin(FIGURE, A_STEP_UP)
    assert (found.relation, found.steps, found.interval) == ("sequence", 1, 2)
    assert (
        kin_said("sequence", 2, F(1), (), steps=1)
        == "the same figure a step higher, inside the key"
    )


def test_an_exact_one_is_told_apart():
    # C D E F G and G A B C D: the same whole and half steps, a fifth apart.
    (found,) = kin("q:0,1,2,3", "q:4,5,6,7")
    assert (found.relation, found.interval) == ("transposed", 7)


def test_a_chain_of_sequences_is_one_link_a_measure():
    found = kin(FIGURE, A_STEP_UP, LOWER)
    assert [(k.relation, k.steps) for k in found] == [("sequence", 1), ("sequence", -1)]


def test_a_figure_later_in_the_measure_is_found_with_how_much_later():
    (found,) = kin("s:0,1,2,4 q:r h:r", "h:r s:0,1,2,4 q:r")
    assert (found.relation, found.later, found.interval) == ("shifted", F(2), 0)
    assert "2 quarter notes later" in kin_said("shifted", 0, F(1), (), later=F(2))


def test_a_figure_among_others_is_found_at_its_new_beat():
    found = kin("s:0,1,2,4 s:4,2,1,0 h:r", "q:7 q:5 s:0,1,2,4 s:4,2,1,0")
    assert [(k.relation, k.later) for k in found] == [("shifted", F(2))]


def test_a_figure_that_is_where_it_was_is_not_shifted():
    assert all(k.relation != "shifted" for k in kin("s:0,1,2,4 q:r h:0", "s:0,1,2,4 q:r h:2"))


@pytest.mark.parametrize(
    ("letters", "said"),
    [
        (0, "at the same pitch"),
        (1, "a step higher"),
        (-2, "a third lower"),
        (7, "an octave higher"),
        (-9, "an octave and a third lower"),
        (14, "2 octaves higher"),
    ],
)
def test_letters_are_said_as_steps_of_the_scale(letters: int, said: str):
    assert letters_said(letters) == said


PART = a_part(FIGURE, A_STEP_UP, FIGURE, "s:1,2,3,4 s:5,4,3,3 e:1,3 q:5", "h:0 h:4", "q:0,1 h:4")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("1 is 0 a step higher", "Yes: every note is a step higher."),
        ("1 = 0, a step up", "Yes: every note is a step higher."),
        ("0 is like 1 a step lower", "Yes: every note is a step lower."),
        ("2 is the same as 0", "Yes: every note is at the same pitch."),
        ("2 is 0", "Yes: every note is at the same pitch."),
        (
            "3 is 2 a step higher",
            "Not quite: note 8 is D5 in 2 and F5 in 3, which is not a step higher.",
        ),
        (
            "1 is 0 a whole step higher",
            "Not quite: note 3 is E5 in 0 and F5 in 1, which is not a whole step higher.",
        ),
        (
            "4 is 0",
            "Not quite: note 1 is C5 in 0 and C5 in 4, but not at the same moment or not as long.",
        ),
        (
            "5 is 4",
            "Not quite: note 1 is C5 in 4 and C5 in 5, but not at the same moment or not as long.",
        ),
    ],
)
def test_a_claim_is_confirmed_or_refused_with_its_first_difference(text: str, said: str):
    verdict = judged(PART, read_claim(PART, text))
    assert verdict.said == said
    assert verdict.holds == said.startswith("Yes")


def test_a_note_too_many_is_named():
    part = a_part("q:0,1,2,3", "q:0,1,2 q:r")
    verdict = judged(part, read_claim(part, "1 is 0"))
    assert verdict.first is not None
    assert (verdict.first.index, verdict.first.a, verdict.first.b) == (3, "F5", None)
    assert verdict.said == "Not quite: note 4 of 0, F5, has nothing in 1."


@pytest.mark.parametrize("text", ["", "nonsense", "1", "is 0", "0 is 0"])
def test_what_is_no_claim_is_refused_in_words(text: str):
    with pytest.raises(BadSetting) as refusal:
        read_claim(PART, text)
    assert refusal.value.message.endswith(".")


def test_a_claim_of_places_that_are_not_there_says_so():
    with pytest.raises(BadAddress):
        read_claim(PART, "99 is 0")
    with pytest.raises(BadAddress, match="whole measures"):
        read_claim(PART, "1 beat 2 is 0 beat 2")


def test_where_the_pattern_of_first_notes_breaks_is_told():
    part = a_part("q:7,6,5,4", "q:6,5,4,3", "q:5,4,3,2", "q:7,6,5,4", "q:6,5,4,3")
    rows = corners(part, 0, 4)
    assert [(r.first, r.last, r.step) for r in rows][:2] == [("C6", "G5", None), ("B5", "F5", -1)]
    assert [r.number for r in rows if r.breaks] == ["3"]
    assert rows[3].breaks == (
        "the measures before started a step lower each; this one starts a third higher"
    )


def test_measures_without_pitches_have_no_corners():
    assert corners(a_part("w:r", "q:0,1,2,3", "w:r"), 0, 2)[0].number == "1"
