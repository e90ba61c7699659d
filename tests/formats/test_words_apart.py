"""Words of an engraving stand apart, and the sign of a tempo is no taller than its words."""

import re
from dataclasses import replace
from itertools import combinations

import pytest

from crumb.core.score.model import Direction
from crumb.demo.etude import clarinet_etude
from crumb.formats import words_apart as apart
from crumb.formats.engraving import engrave
from crumb.formats.layout import LAYOUTS
from tests.builders import F, a_part


def stand_on_each_other(svg: str) -> list[tuple[str, str]]:
    words = [w for w in apart._words(svg) if w.kind in ("mNum", "dir", "tempo", "reh")]
    return [(a.kind, b.kind) for a, b in combinations(words, 2) if a.hits(b)]


@pytest.mark.parametrize("layout", list(LAYOUTS))
def test_nothing_stands_on_a_number_or_a_tempo(layout: str):
    svg = engrave(clarinet_etude(), LAYOUTS[layout])
    assert stand_on_each_other(svg) == []
    sizes = {int(s) for s in re.findall(r'font-family="Leland" font-size="(\d+)px"', svg)}
    assert sizes == {460}


def test_words_in_every_measure_clear_the_numbers():
    part = a_part(*["q:0,1,2,3"] * 8)
    said = Direction(F(0), "words", "Brightly and with spirit")
    crowded = replace(
        part, measures=tuple(replace(m, directions=(said, *m.directions)) for m in part.measures)
    )
    svg = engrave(crowded, LAYOUTS["page"])
    assert not {("mNum", "dir"), ("dir", "mNum")} & set(stand_on_each_other(svg))
    assert svg.count("Brightly and with spirit") == 8


def test_a_measure_with_a_letter_has_its_number_beside_it():
    svg = engrave(clarinet_etude(), LAYOUTS["page"])
    letters = re.findall(
        r'<g id="number-(m\d+)" class="mNum"><text x="\d+" y="\d+"[^>]*>.*?>(\d+)<', svg
    )
    assert ("m9", "9") in letters
    shown = re.findall(r'class="mNum[^"]*"><text [^>]*>(?:<tspan[^>]*>)+(\d+)<', svg)
    assert len(shown) == len(set(shown)), "no number twice"
