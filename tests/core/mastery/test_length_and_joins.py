"""How much of a chunk goes at goal, and how far its seams are."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta

from crumb.core.evidence.model import Doubt, Evidence, Kind
from crumb.core.mastery.chunk import ChunkEvidence, Where, stood
from crumb.core.mastery.length import longest_at_goal
from crumb.core.mastery.replay import Target
from crumb.demo.etude import clarinet_etude
from tests.builders import F, span

ETUDE = clarinet_etude()
CHUNK = Target(span(ETUDE, 4, 7), F(100))
FIRST = datetime(2026, 3, 2, 16, tzinfo=UTC)


def played(first, last, tempo, *clean, start=0, **more):
    """Passes of some measures one after the other."""
    one = Evidence(span(ETUDE, first, last), FIRST, tempo=F(tempo), **more)
    return [
        replace(one, at=FIRST + timedelta(minutes=start + i), id=start + i, is_clean=c)
        for i, c in enumerate(clean)
    ]


def longest(*rows):
    found = longest_at_goal(ETUDE, CHUNK, [one for row in rows for one in row])
    return None if found is None else (found.start.index, found.end.index - 1)


def test_the_longest_stretch_that_was_clean_in_a_row_at_goal():
    short = played(5, 5, 100, True, True, True)
    long = played(4, 5, 104, True, True, True, start=10)
    assert longest(short) == (5, 5)
    assert longest(short, long) == (4, 5)


def test_below_goal_broken_aided_or_doubted_rows_show_no_length():
    assert longest(played(4, 5, 99, True, True, True)) is None
    assert longest(played(4, 5, 100, True, True, False, True, True)) is None
    assert longest(played(4, 5, 100, True, True, True, is_aided=True)) is None
    assert longest(played(4, 5, 100, True, True, True, as_written=False)) is None
    assert longest(played(4, 5, 100, True, True, True, kind=Kind.SET)) is None
    assert longest(played(4, 5, 100, True, True, True, doubt=Doubt.JUMP)) is None


def test_something_longer_than_the_chunk_shows_all_of_it():
    assert longest(played(2, 9, 100, True, True, True)) == (4, 7)
    assert longest(played(7, 9, 100, True, True, True)) is None


def crossed(*tempos, slip_last=False):
    rows = [ChunkEvidence(FIRST.date(), tempo=F(t), where=Where.SEAM_IN) for t in tempos]
    if slip_last:
        rows[-1] = replace(rows[-1], is_clean=False)
    found = stood(rows, F(100))
    return found.joined_in, found.seam_in


def test_a_seam_is_joined_one_two_three_of_three():
    assert crossed() == (0, False)
    assert crossed(75) == (1, False)
    assert crossed(75, 80) == (2, False)
    assert crossed(75, 80, 90) == (3, True)


def test_a_slip_or_a_slow_crossing_starts_the_count_anew():
    assert crossed(80, 80, slip_last=True) == (0, False)
    assert crossed(80, 60) == (0, False)
    assert crossed(60, 80) == (1, False)
    assert crossed(80, 80, 80, 80, slip_last=True) == (3, True)  # what was shown stays shown
