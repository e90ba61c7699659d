"""Splitting and drilling music that nobody here wrote: parts of the corpus that music21 ships."""

from random import Random

import pytest

from crumb.core.drills import CATALOGUE, make_drill
from crumb.core.errors import ChunkEditRefused, DrillDoesNotFit, EmptySpan
from crumb.core.score.model import Part
from crumb.core.score.position import Position, sounds
from crumb.core.score.slicing import slice_span, span_sounds
from crumb.core.split.chunk_map import ChunkMap, by_measures, move_edge, split
from crumb.formats.engraving import engrave
from crumb.formats.layout import SNIPPET
from crumb.formats.musicxml.reader import read_score
from tests.builders import reread
from tests.formats.music21_reading import CORPUS
from tests.sizes import sample

FILES = (
    "bach/bwv297.mxl",
    "cpebach/h186.mxl",
    "haydn/opus74no1/movement2.mxl",
    "joplin/maple_leaf_rag.mxl",
    "monteverdi/madrigal.3.15.mxl",
    "mozart/k156/movement3.mxl",
    "schoenberg/opus19/movement2.mxl",
    "schumann_clara/polonaise_op1n1.mxl",
    "verdi/laDonnaEMobile.mxl",
    "webern/webern_dormi_jesu_op_16_no_2.mxl",
)


def a_part_of(name: str) -> Part:
    return reread(read_score((CORPUS / name).read_bytes()).parts[0])


def an_edited_map(part: Part, random: Random) -> ChunkMap:
    chunks = by_measures(part, 2)
    for _ in range(12):
        place = random.randrange(len(chunks.spans))
        try:
            if random.random() < 0.7:
                chunks = move_edge(part, chunks, place, beats=random.choice([-2, -1, 1, 2]))
            else:
                span = chunks.spans[place]
                chunks = split(part, chunks, span_middle(part, span.start.index))
        except ChunkEditRefused:
            continue
    return chunks


def span_middle(part: Part, index: int) -> Position:
    return Position(index, part.measures[index].time.beat)


@pytest.mark.parametrize("name", sample(FILES))
def test_our_writing_of_a_part_reads_back_the_same(name: str):
    once = read_score((CORPUS / name).read_bytes()).parts[0]
    twice = reread(once)
    assert [m.number for m in once.measures] == [m.number for m in twice.measures]
    assert [m.length for m in once.measures] == [m.length for m in twice.measures]

    def heard(part: Part) -> list[tuple[object, ...]]:
        rows = [(s.at, s.duration, s.pitch.name if s.pitch else "", s.grace) for s in sounds(part)]
        return sorted(rows)

    assert heard(once) == heard(twice)
    assert once.attack_count == twice.attack_count


@pytest.mark.parametrize("name", sample(FILES))
def test_chunks_of_it_hold_every_attack_once(name: str):
    part = a_part_of(name)
    chunks = an_edited_map(part, Random(name))
    attacks = 0
    for span in chunks.spans:
        try:
            cut = slice_span(part, span)
        except EmptySpan:
            continue
        struck = [n for _, n in cut.each_note() if n.is_attack and "-landing" not in n.id]
        attacks += sum(n.id in {m.id for _, m in part.each_note() if m.is_attack} for n in struck)
    assert attacks == part.attack_count


@pytest.mark.parametrize("name", sample(FILES))
def test_every_drill_fits_or_refuses_and_what_it_makes_can_be_read_and_drawn(name: str):
    part = a_part_of(name)
    random = Random(name)
    chunks = an_edited_map(part, random)
    made = 0
    refusals: list[str] = []
    for span in random.sample(chunks.spans, min(4, len(chunks.spans))):
        for kind in CATALOGUE:
            try:
                drill = make_drill(part, span, kind.name, {})
            except (DrillDoesNotFit, EmptySpan) as refusal:
                refusals.append(refusal.message)
                continue
            for step in drill.steps:
                made += 1
                back = reread(step.part)
                assert [(s.at, s.duration, s.pitch) for s in sounds(back)] == [
                    (s.at, s.duration, s.pitch) for s in sounds(step.part)
                ]
                assert step.quarters > 0
                assert min(s.at for s in step.sounds) >= 0
            if kind.name == "alone":
                assert 'class="measure"' in engrave(drill.steps[0].part, SNIPPET)
                assert [s.pitch for s in drill.steps[0].sounds] == [
                    s.pitch for s in span_sounds(part, span)
                ]
    assert made > 0
    assert all(told.endswith(".") for told in refusals)
