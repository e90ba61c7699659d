"""Secure tempo, held against simulated students whose truth the rule does not know."""

from datetime import date, timedelta
from random import Random

import pytest

from crumb.core.mastery.secure import after, clean_at, prior, secure_of
from tests import pace
from tests.builders import F
from tests.core.simulated import GOAL, judged, of_family, practised

DAY = date(2026, 10, 5)


def believed(results, *, day=DAY):
    belief = prior(GOAL)
    for tempo, is_clean in results:
        belief = after(belief, tempo=F(tempo), is_clean=is_clean, day=day)
    return belief


def median(results):
    return secure_of(believed(results), GOAL).median


def test_clean_passes_raise_it_and_slips_lower_it():
    assert median([(80, True)] * 6) > median([]) > median([(50, False)] * 6)
    assert 80 < median([(80, True)] * 40) < 130
    assert median([(80, False)] * 20) < 75


def test_with_few_passes_it_says_that_they_are_not_enough():
    assert not secure_of(believed([(80, True)] * 5), GOAL).enough
    settled = [(70, True)] * 12 + [(90, False)] * 6 + [(78, True), (82, False)] * 4
    assert secure_of(believed(settled), GOAL).enough


def test_what_is_long_ago_fades():
    belief = believed([(80, True)] * 10 + [(95, False)] * 5)
    today, later = (secure_of(belief, GOAL, DAY + timedelta(days=n)) for n in (0, 30))
    assert later.high - later.low > today.high - today.low
    assert later.median == pytest.approx(today.median, rel=0.05)


def test_a_quicker_tempo_is_never_the_surer_one():
    belief = believed([(70, True), (80, True), (90, False)])
    chances = [clean_at(belief, F(tempo)) for tempo in range(40, 140, 5)]
    assert chances == sorted(chances, reverse=True)


@pytest.mark.parametrize("family", ["usual", "above goal", "narrow slope", "wide slope", "plateau"])
def test_the_interval_holds_the_truth_as_often_as_it_says_and_predictions_beat_plain_ones(family):
    """Coverage of the 80 % interval, family by family; Brier score of the next pass.

    Plain ways: the share of the last ten, and the last streak.
    """
    held = total = 0
    scores = {"ours": 0.0, "last ten": 0.0, "streak": 0.0}
    for seed in range(600 if family == "usual" else 200):
        random = Random(seed + 9999)
        student = of_family(family, seed)
        passes = practised(student, days=random.randint(1, 15), a_day=random.choice((6, 12, 20)))
        belief = prior(GOAL)
        clean: list[bool] = []
        for one in passes:
            told = {
                "ours": clean_at(belief, one.tempo, one.day),
                "last ten": sum(clean[-10:]) / len(clean[-10:]) if clean else 0.5,
                "streak": streak(clean),
            }
            for name, chance in told.items():
                scores[name] += (chance - one.is_clean) ** 2
            belief = after(belief, tempo=one.tempo, is_clean=one.is_clean, day=one.day)
            clean.append(one.is_clean)
        found = secure_of(belief, GOAL)
        held += found.low <= passes[-1].truth <= found.high
        total += 1
    assert LEAST.get(family, 0.76) <= held / total <= MOST.get(family, 0.9), held / total
    assert scores["ours"] < scores["last ten"]
    assert scores["ours"] < scores["streak"]


@pytest.mark.parametrize(
    ("family", "least"),
    [("lapses in 10 % of passes", 0.7), ("marks 50 % of slips as clean", 0.65)],
)
def test_who_lapses_or_flatters_is_not_told_far_too_well(family, least):
    found = [judged((family, seed)) for seed in range(200)]
    assert sum(one.is_held for one in found) / len(found) >= least


LEAST = {"above goal": 0.74, "plateau": 0.70}
"""Nobody sees above goal; and the belief expects learning of everybody, of who never learns too."""
MOST = {"usual": 0.93}
"""That a student may lapse or flatter makes the interval of one who does neither a little wide."""


def test_a_tempo_that_was_never_tried_is_not_told():
    """Only clean passes at goal, nothing faster, for days: nobody knows of more."""
    belief = prior(GOAL)
    for n in range(400):
        belief = after(belief, tempo=GOAL, is_clean=True, day=DAY + timedelta(days=n // 40))
    found = secure_of(belief, GOAL)
    assert 100 <= found.median <= 125
    assert found.at_goal > 0.9


def test_easy_passes_teach_nothing_about_faster_ones():
    settled = [(80, True)] * 12 + [(90, False)] * 6 + [(85, True), (88, False)] * 4
    before, later = believed(settled), believed(settled + [(40, True)] * 200)
    assert clean_at(later, F(95)) <= clean_at(before, F(95)) + 0.05


def streak(clean):
    """The chance by how long the last results have been the same."""
    if not clean:
        return 0.5
    count = next((i for i, one in enumerate(reversed(clean)) if one != clean[-1]), len(clean))
    return count / (count + 1) if clean[-1] else 1 / (count + 1)


def test_an_update_takes_the_same_moment_at_any_history():
    short, long = (believed([(80, i % 3 > 0) for i in range(n)]) for n in (3, 300))

    def update(belief):
        return lambda: after(belief, tempo=F(83), is_clean=True, day=DAY)

    least = [min(pace.seconds(update(one), 100) for _ in range(5)) for one in (short, long)]
    assert least[1] < 3 * least[0]
    assert least[1] < pace.sums() / 11  # two milliseconds, where they take 22
