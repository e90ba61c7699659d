"""A score split once for everybody."""

from dataclasses import replace

import pytest

from crumb.core.errors import ChunkEditRefused
from crumb.core.instruments.table import instrument_of
from crumb.core.score.model import Direction, Part
from crumb.core.score.position import Position
from crumb.core.score_overview import splitting
from crumb.core.score_overview.passages import passages, shared_length
from crumb.core.score_overview.splitting import PartOfScore, split_together
from crumb.core.split.nested import Edge, NestedMap
from crumb.core.survey.load import survey
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, tiles

REST = "w:r"
LONG = "w:0"


def lettered(part: Part, letters: dict[int, str]) -> Part:
    return replace(
        part,
        measures=tuple(
            replace(m, directions=(Direction(F(0), "rehearsal", letters[m.index]), *m.directions))
            if m.index in letters
            else m
            for m in part.measures
        ),
    )


def of_score(part: Part, nested: NestedMap | None = None) -> PartOfScore:
    return PartOfScore(
        part, survey(part, instrument_of(part), goal_quarters=F(106)), nested or NestedMap()
    )


def edges(found: NestedMap | None) -> list[tuple[int, object]]:
    assert found is not None
    return [(edge.at.index, edge.at.at) for edge in found.edges]


def test_passages_go_from_letter_to_letter_whichever_part_prints_them():
    one = lettered(a_part(*[EIGHTHS] * 24), {8: "A"})
    two = lettered(a_part(*[EIGHTHS] * 24), {8: "A", 16: "B"})
    assert [(p.first, p.last, p.name) for p in passages([one, two])] == [
        (0, 8, "0–7"),
        (8, 16, "A 8–15"),
        (16, 24, "B 16–23"),
    ]


def test_what_is_long_is_taken_in_eights_and_no_end_is_left_over():
    found = passages([a_part(*[EIGHTHS] * 43)])
    assert [p.last - p.first for p in found] == [8, 8, 8, 8, 11]


def test_a_part_on_other_paper_is_not_asked():
    parts = [a_part(*[EIGHTHS] * 16), a_part(*[EIGHTHS] * 16), a_part(*[EIGHTHS] * 9)]
    assert shared_length(parts) == 16
    assert passages([]) == ()


def test_every_part_gets_its_chunks_there_and_a_resting_one_none():
    busy, resting = a_part(*[EIGHTHS] * 12), a_part(*[EIGHTHS] * 4, *[REST] * 8)
    first, second = split_together(
        [of_score(busy), of_score(resting)], [passages([busy])[0]], splitting.every(4)
    )
    assert edges(first) == [(5, 0), (9, 0)]  # measure 0 is the sketch's pickup
    assert edges(second) == [(5, 0), (9, 0)]
    later = replace(passages([busy])[0], first=4, last=12)
    assert split_together([of_score(resting)], [later], splitting.every(4)) == [None]


def test_parts_in_one_rhythm_share_the_edges_of_the_one_that_finds_it_hardest():
    hard = a_part(*[SIXTEENTHS] * 8)
    easy = a_part(*["s:" + ",".join(["0"] * 16)] * 8)
    other = a_part(*[LONG] * 8)
    whole = passages([hard])
    one, two, three = split_together(
        [of_score(easy), of_score(hard), of_score(other)], whole, splitting.by_load
    )
    assert edges(one) == edges(two)
    assert len(edges(two)) > len(edges(three))


def test_what_lies_outside_of_the_passage_stays():
    part = a_part(*[EIGHTHS] * 16)
    before = NestedMap((Edge(Position(2, F(0))), Edge(Position(13, F(0)))), is_split=True)
    passage = replace(passages([part])[0], first=4, last=8)
    (found,) = split_together([of_score(part, before)], [passage], splitting.every(2))
    assert edges(found) == [(2, 0), (4, 0), (6, 0), (8, 0), (13, 0)]
    assert found is not None
    assert tiles(part, found.level(part, 0).spans)


def test_a_chunk_has_1_to_64_measures():
    for count in (0, 65):
        with pytest.raises(ChunkEditRefused):
            splitting.every(count)
