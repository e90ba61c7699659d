"""Engravers in processes of their own: they draw, they set pages, and they are replaced."""

from io import BytesIO

import pytest
from pypdf import PdfReader

from crumb.core.errors import TooMuch
from crumb.demo.etude import clarinet_etude
from crumb.formats.engraver import Engravers
from crumb.formats.engraving import drawn_text
from crumb.formats.layout import SNIPPET

ETUDE = drawn_text(clarinet_etude())


@pytest.fixture
def engravers():
    made = Engravers(1)
    yield made
    made.close()


def test_it_draws_music_and_sets_it_on_a_page(engravers: Engravers):
    svg = engravers.draw(ETUDE, SNIPPET)
    assert svg.count('class="measure"') >= 65
    pdf = engravers.set_page("Clarinet, 9–10", [("As written", svg), ("Slowly", svg)])
    text = " ".join(page.extract_text() for page in PdfReader(BytesIO(pdf)).pages)
    for words in ("Clarinet, 9–10", "As written", "Slowly"):
        assert words in text


def test_one_that_takes_too_long_is_killed_and_the_next_is_served(engravers: Engravers):
    impatient = Engravers(1, seconds=0.01)
    with pytest.raises(TooMuch, match="takes too much"):
        impatient.draw(ETUDE, SNIPPET)
    impatient.close()
    assert "<svg" in engravers.draw(ETUDE, SNIPPET)


def test_one_that_breaks_is_said_and_the_next_is_served(engravers: Engravers):
    with pytest.raises(TooMuch):
        engravers.draw("this is no music", SNIPPET)
    assert "<svg" in engravers.draw(ETUDE, SNIPPET)
