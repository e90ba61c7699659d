"""US and UK school English. The pairs are those of any dictionary of music (from memory)."""

import re
from pathlib import Path

import pytest

from crumb.core.drills import CATALOGUE
from crumb.core.words import UK, US, said_in


@pytest.mark.parametrize(
    ("us", "uk"),
    [
        ("Stop on every measure (2 stops)", "Stop on every bar (2 stops)"),
        ("Measures in a chunk", "Bars in a chunk"),
        ("an eighth ½. Of two eighths the first is down", "a quaver ½. Of two quavers the first"),
        ("a leap of 12 half steps", "a leap of 12 semitones"),
        ("one sixteenth note a click", "one semiquaver a click"),
        ("A half measure", "A half bar"),
        ("a quarter of a beat", "a quarter of a beat"),  # a share, not a note
        ("What was measured", "What was measured"),
    ],
)
def test_terms_that_differ_are_said_in_the_words_of_the_school(us, uk):
    assert said_in(US, us) == us
    assert said_in(UK, us).startswith(uk)


def test_the_catalogue_is_written_in_us_school_english():
    british = (
        "intonation off",
        "bar ",
        "crotchet",
        "quaver",
        "semitone",
        "minim",
        "enharmonically",
    )
    for kind in CATALOGUE:
        said = " ".join((kind.title, kind.how, kind.use_when, kind.needs, kind.clean_means))
        assert not [word for word in british if word in f"{said} ".casefold()], kind.name


def test_no_text_of_the_catalogue_speaks_of_measures_to_a_uk_school():
    for kind in CATALOGUE:
        for text in (kind.title, kind.how, kind.use_when, kind.needs, kind.clean_means):
            assert "measure" not in said_in(UK, text).casefold(), kind.name


def test_the_page_says_what_the_core_says():
    """The page has a few sentences of its own: a word that both know is the same in both."""
    page = (Path(__file__).parents[2] / "web/src/shared/lib/words.ts").read_text()
    table = page[page.index("const UK") : page.index("const WORD")]
    pairs = dict(re.findall(r"^\s*'?([a-z][a-z ]*)'?: '(\w+)',$", table, re.MULTILINE))
    assert pairs["measure"] == "bar"
    told = {us: said_in(UK, us) for us in pairs}
    assert {us: uk for us, uk in pairs.items() if told[us] not in (us, uk)} == {}
