"""What the docs point at is there."""

import re
from pathlib import Path

import pytest

from tests.conftest import ROOT

PAGES = [ROOT / "README.md", ROOT / "START_HERE.md", *sorted((ROOT / "docs").glob("*.md"))]
LINK = re.compile(r"\]\(([^)#h][^)#]*)\)")
PATH = re.compile(
    r"`((?:src/crumb|core|services|api|store|formats|jobs|tests|tools|web)/[\w./-]+\.\w+)`"
)
BASES = ("", "src/crumb", "web/src")


def missing(page: Path, said: str) -> list[str]:
    """Links and paths of files that lead nowhere."""
    links = [link for link in LINK.findall(said) if not (page.parent / link).exists()]
    paths = [
        path
        for path in PATH.findall(said)
        if not any((ROOT / base / path).exists() for base in BASES)
    ]
    return links + paths


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.name)
def test_every_link_and_every_file_that_a_page_names_is_there(page: Path):
    assert missing(page, page.read_text()) == []


def test_a_file_that_is_gone_would_be_found():
    said = "See [this](docs/nowhere.md) and `core/attic.py`, not `core/errors.py`."
    assert missing(ROOT / "README.md", said) == ["docs/nowhere.md", "core/attic.py"]


def test_every_decision_has_a_status():
    for page in (ROOT / "docs" / "decisions").glob("*.md"):
        assert "\nStatus: " in page.read_text(), page.name
