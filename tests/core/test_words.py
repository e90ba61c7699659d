"""US and UK school English. The pairs are those of any dictionary of music (from memory)."""

import json
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
    """Each sentence of the page is said in the UK as the core would say it."""
    words = Path(__file__).parents[2] / "web/src/words"
    for file in sorted((words / "en").glob("*.json")):
        british = words / "uk" / file.name
        uk = json.loads(british.read_text()) if british.exists() else {}
        for key, sentence in json.loads(file.read_text()).items():
            if sentence.startswith("US: measure"):
                continue  # where a school chooses its words
            parts = re.split(r"(\{\{.*?\}\})", sentence)
            told = "".join(one if one.startswith("{{") else said_in(UK, one) for one in parts)
            assert uk.get(key, sentence) == told, f"{file.stem}.{key}"
