"""What was heard, or tapped after a slip, leads to drills that exist."""

import pytest

from crumb.core.drills import CATALOGUE
from crumb.core.evidence.slips import SlipKind, cure_of
from crumb.core.plan.cures import CURES, CURES_BY_KEY, cure_for

TITLES = {kind.name for kind in CATALOGUE}


@pytest.mark.parametrize("kind", list(SlipKind))
def test_every_kind_of_slip_leads_somewhere(kind):
    row = cure_of([kind])
    assert row is not None
    assert CURES_BY_KEY[row].drills


def test_every_drill_of_a_cure_is_in_the_catalogue():
    assert {drill for cure in CURES for drill in cure.drills} <= TITLES


@pytest.mark.parametrize(
    ("said", "key"),
    [
        ("The high D is out of tune", "tune"),
        ("thin tone on the low notes", "tone"),
        ("missed notes in the arpeggio", "missed"),
        ("shoulders tense in the run", "tension"),
        ("a wrong note, a sharp forgotten", "accidental"),
    ],
)
def test_words_of_a_director_find_their_row(said, key):
    found = cure_for(said)
    assert found is not None
    assert found.key == key


def test_who_is_in_pain_is_told_to_stop():
    assert "stop" in CURES_BY_KEY["tension"].advice
