"""Sentences of the server as a whole: what docs/voice.md forbids does not come back."""

import re
from pathlib import Path

from sentences import SOURCES, sentences

VAGUE = re.compile(
    r"\b(whoever|what was|that what|those who|those that|oneself|mend(s|ed)?|nobody like)\b",
    re.IGNORECASE,
)


def test_no_sentence_is_built_of_what_and_who():
    said = [one for one in sentences(SOURCES) if "demo" not in one.file.parts]
    assert len(said) > 1_000
    vague = [
        f"{one.file.relative_to(SOURCES)}: {one.text}" for one in said if VAGUE.search(one.text)
    ]
    assert vague == []


def test_docstrings_tables_and_statements_are_no_sentences(tmp_path: Path):
    (tmp_path / "room.py").write_text(
        '''"""A docstring of a module."""
QUERY = "select what was from it"
NAME = "not prose"
SAY = f"There is no {QUERY} in {NAME!r}."
'''
    )
    (found,) = sentences(tmp_path)
    assert (found.line, found.text) == (4, "There is no {QUERY} in {NAME}.")
