"""What a leader sees: counts of those who agreed, of fewer than three nothing."""

from crumb.core.score_overview.leader_counts import counted


def test_three_are_counted_chunk_by_chunk():
    assert counted([[5, 3, 0], [6, 5, 4], [4, 5, 0]]) == (2, 2, 0)


def test_of_two_one_could_guess_who_it_is():
    assert counted([[5, 5], [0, 5]]) is None
    assert counted([]) is None
