"""Cells of the Wall put together."""

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score_overview.shared_cells import shared_cells


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 4)), max_size=40))
def test_every_player_gets_just_their_chunks_in_one_group(cells: list[tuple[int, int]]):
    groups = shared_cells(cells)
    assert {(s, c) for students, chunks in groups for s in students for c in chunks} == set(cells)
    students = [s for group, _ in groups for s in group]
    assert len(students) == len(set(students))
    chunks = [chunks for _, chunks in groups]
    assert len(chunks) == len(set(chunks))
