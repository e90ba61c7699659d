"""Two ways compared. The rules are common practice, no source."""

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills.comparison import Rating, Try, compare
from tests.builders import F

NAMES = ("fork", "trill key")


def tries(way, results):
    return [Try(way, F(tempo), mark == "c") for tempo, marks in results.items() for mark in marks]


def verdict(first, second, ratings=()):
    return compare(NAMES, [*tries(0, first), *tries(1, second)], ratings).verdict


def test_above_some_tempo_the_one_way_wins():
    said = verdict({60: "ccc", 80: "ccc", 100: "sss"}, {60: "csc", 80: "csc", 100: "ccs"})
    assert said == "Above 80 “trill key” wins; up to there “fork”."


def test_a_way_that_is_cleaner_everywhere_wins_everywhere():
    assert verdict({60: "ccc", 80: "cc"}, {60: "ccs", 80: "ss"}) == (
        "“fork” is cleaner at every tempo tried."
    )


def test_without_a_common_tempo_nothing_is_said():
    assert verdict({60: "c"}, {80: "c"}).startswith("Try both ways at one tempo")
    assert verdict({60: "c"}, {60: "c"}).startswith("No difference yet at 60")


def test_speed_intonation_and_tone_are_kept_for_each_way():
    ratings = [Rating(0, 4, 3), Rating(0, 5, 3), Rating(1, 2, 4)]
    found = compare(NAMES, tries(0, {60: "ccc", 80: "ccs", 100: "css"}), ratings)
    fork, key = found.ways
    assert (fork.clean, fork.tries, fork.sure_at) == (6, 9, 80)
    assert (fork.intonation, fork.tone) == (F(9, 2), 3)
    assert (key.tries, key.sure_at, key.intonation) == (0, None, 2)
    assert found.verdict.startswith("Try both")


def test_what_the_ear_says_stands_beside_it():
    ratings = [Rating(0, 5, 2), Rating(1, 3, 4)]
    said = verdict({60: "ccc"}, {60: "sss"}, ratings)
    assert said.endswith("Intonation is better with “fork” and tone is better with “trill key”.")


MARKS = st.dictionaries(
    st.sampled_from([60, 70, 80, 90]), st.text("cs", min_size=1, max_size=4), min_size=1
)


@given(MARKS, MARKS)
def test_swapping_the_ways_swaps_the_winner(first, second):
    here, there = verdict(first, second), verdict(second, first)
    swapped = here.replace("fork", "?").replace("trill key", "fork").replace("?", "trill key")
    assert swapped == there or "Above" in here + there
