"""Every drill on spans of other people's music, read back by music21, Verovio and mido.

A sample of what ``tools/sweep_drills.py`` does on hundreds of spans.
"""

from dataclasses import replace

import pytest

from crumb.core.drills import CATALOGUE, make_drill
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from crumb.formats.midi import write_midi
from crumb.formats.musicxml.writer import write_part
from tests.builders import reread
from tests.formats import drill_sweep
from tests.formats.drill_sweep import (
    made,
    passage_at,
    places,
    problems,
    sheet,
    wrong_for_mido,
    wrong_for_music21,
)
from tests.sizes import sample

SPANS = sample(list(places(10, seed=11)))


@pytest.mark.parametrize("place", SPANS, ids=lambda p: f"{p[0]}:{p[2]}")
def test_every_drill_is_read_back_as_it_was_meant(place):
    passage = passage_at(place)
    found = {kind.name: made(passage, kind.name) for kind in CATALOGUE}
    fitting = {name: drill for name, drill in found.items() if drill is not None}
    assert {"alone", "look-ahead", "run-through"} <= set(fitting)
    wrong = {name: said for name, drill in fitting.items() if (said := problems(passage, drill))}
    assert wrong == {}


def test_the_judges_see_a_wrong_pitch_and_a_late_note(monkeypatch):
    etude = reread(clarinet_etude())
    part = sheet(make_drill(etude, parse_span(etude, "9"), "alone", {}))
    assert wrong_for_music21(part) == wrong_for_mido(part) == []
    monkeypatch.setattr(
        drill_sweep, "write_part", lambda part: write_part(part).replace("<step>G", "<step>A", 1)
    )
    assert wrong_for_music21(part)
    late = replace(part, measures=(*part.measures[:1], *part.measures))
    monkeypatch.setattr(drill_sweep, "write_midi", lambda _, **more: write_midi(late, **more))
    assert wrong_for_mido(part)
