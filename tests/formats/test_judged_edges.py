"""Phrases of real music: against edges judged by ear and eye, and what no split may ever do."""

from pathlib import Path

import pytest

from crumb.core.errors import CrumbError
from crumb.core.instruments.table import instrument_of
from crumb.core.score.glance import goal_of, main_beat
from crumb.core.score.model import Part
from crumb.core.score.naming import place_label, span_label
from crumb.core.score.position import Position, Span, is_held
from crumb.core.score.written import parse_span
from crumb.core.split import proposals
from crumb.core.split.nested import NestedMap, split_at_edges
from crumb.core.split.unbroken import unbroken
from crumb.core.survey.load import survey
from crumb.formats.musicxml.reader import read_score
from crumb.formats.reading import read_music
from tests.formats.corpus_reading import corpus_files
from tests.formats.music21_reading import CORPUS
from tests.sizes import sample

JUDGED = Path(__file__).parent / "judged_edges.txt"
LINES = [s for s in JUDGED.read_text().splitlines() if s and not s.startswith("#")]


def judged(line: str) -> tuple[Part, dict[str, bool], set[str]]:
    """The part, what was judged and what the list says of us, and where we cut."""
    head, _, places = line.partition(" | ")
    name, number, span = head.split()
    part = read_music((CORPUS / name).read_bytes()).score.parts[int(number)]
    said = dict(one.rsplit(" ", 1) for one in places.split(", "))
    first, last = (part.by_number[n] for n in span.split("-"))
    ours = {
        place_label(part, edge.at)
        for edge in proposals.by_phrases(part)
        if first[0] <= edge.at.index <= last[-1]
    }
    return part, {place: answer == "yes" for place, answer in said.items()}, ours


@pytest.mark.parametrize("line", LINES, ids=[line.split()[0] for line in LINES])
def test_the_list_says_truly_which_edges_we_find(line: str):
    part, said, ours = judged(line)
    for place in said:
        assert parse_span(part, place)
    assert {place for place, found in said.items() if found} == ours & set(said)


def test_at_least_nine_in_ten_judged_edges_are_found():
    said = [found for line in LINES for found in judged(line)[1].values()]
    assert len(said) >= 60
    assert sum(said) / len(said) >= 0.9


# Every thirteenth file; run over all of them by hand, it finds the same.
FILES = corpus_files()[::13]


@pytest.mark.parametrize("path", sample(FILES), ids=lambda p: p.name)
def test_no_split_of_real_music_breaks_what_must_stay_whole(path: Path):
    try:
        parts = read_score(path.read_bytes()).parts[:2]
    except CrumbError:
        pytest.skip("not read at all")
    for part in parts:
        if part.has_notes:
            assert faults(part) == []


def faults(part: Part) -> list[str]:
    """What is wrong with the splits of a part: cuts in ties and slurs, crumbs, unsaid names."""
    found = survey(part, instrument_of(part), goal_quarters=goal_of(part) * main_beat(part))
    struck = sorted({Position(m.index, n.at) for m, n in part.each_note() if n.is_attack})
    slurs = unbroken(part).slurs
    wrong = []
    for way, edges in (
        ("phrases", proposals.by_phrases(part)),
        ("load", proposals.by_load(part, found)),
        ("lines", proposals.by_lines(part)),
        ("every measure", proposals.every(part, 1)),
    ):
        for span in split_at_edges(part, NestedMap(), edges).level(part, 0).spans:
            label = span_label(part, span)
            if is_held(part, span.start) and span.start != Position(0, 0):
                wrong.append(f"{way}: {label} starts in a held note")
            if parse_span(part, label) != span:
                wrong.append(f"{way}: {label} is read as something else")
            count = sum(span.start <= at < span.end for at in struck)
            if way in ("phrases", "load") and count < 2 <= len(struck):
                wrong.append(f"{way}: {label} holds {count} notes")
            here = part.starts[span.start.index] + span.start.at
            if way == "phrases" and any(a < here <= b for a, b in slurs):
                wrong.append(f"{label} starts inside a slur")
            if way == "phrases" and _measures_played(part, span) > 18:
                wrong.append(f"{label} was left whole")
    return wrong


def _measures_played(part: Part, span: Span) -> int:
    last = span.end.index + (span.end.at > 0)
    return sum(
        any(note.is_attack for note in measure.notes)
        for measure in part.measures[span.start.index : last]
    )
