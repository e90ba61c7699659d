"""Practice sheets: what the PDF says, how many pages, and that there is ink where music is."""

from dataclasses import replace
from io import BytesIO

import pytest
import typst
from PIL import Image
from pypdf import PdfReader

from crumb.core.drills import make_drill
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from crumb.formats.engraving import engrave
from crumb.formats.layout import PRINTED
from crumb.formats.sheets import (
    PracticeSheet,
    PrintedChunk,
    PrintedDrill,
    PrintedStep,
    print_music,
    print_sheets,
)
from tests.builders import F, reread

ETUDE = reread(clarinet_etude())


def a_drill(name: str = "long-short") -> PrintedDrill:
    drill = make_drill(ETUDE, parse_span(ETUDE, "9-10"), name, {})
    return PrintedDrill(
        title="Long-short",
        how="Dotted through the run.",
        clean_means="Even.",
        minutes="6 min",
        steps=tuple(
            PrintedStep(s.name, f"×{s.repetitions}", s.say, engrave(s.part, PRINTED))
            for s in drill.steps
        ),
        rungs=tuple(F(n) for n in range(82, 107, 4)),
        beat_name="a quarter",
        caution="Warm up first.",
    )


def a_sheet(name: str = "Fia T.", code: str = "K7QM2R") -> PracticeSheet:
    alone = make_drill(ETUDE, parse_span(ETUDE, "9-10"), "alone", {}).steps[0]
    return PracticeSheet(
        name=name,
        section="Clarinets",
        piece="Lantern Etude",
        part="Clarinet",
        due="Friday 4 December",
        minutes_a_day=20,
        code=code,
        link=f"https://school.example/sheets/{code}",
        chunks=(PrintedChunk("9–10", engrave(alone.part, PRINTED), (a_drill(),)),),
    )


def pages(pdf: bytes) -> list[str]:
    return [page.extract_text() for page in PdfReader(BytesIO(pdf)).pages]


def test_a_sheet_says_who_what_how_long_and_shows_the_ladder_and_the_code():
    text = " ".join(pages(print_sheets([a_sheet()])))
    for words in (
        "Fia T.",
        "Lantern Etude",
        "Clarinets",
        "Due Friday 4 December",
        "20 minutes a day",
        "K7QM2R",
        "9–10",
        "Long-short",
        "×4",
        "82 86 90 94 98 102 106",
        "Clean means: Even.",
        "Warm up first.",
        "a clinician decides",
    ):
        assert words in text, words


def test_every_player_begins_on_a_page_of_their_own():
    made = pages(print_sheets([a_sheet(f"Player {i}", f"CODE{i}") for i in range(30)]))
    assert len(made) % 30 == 0
    each = len(made) // 30
    for i in range(30):
        assert f"Player {i}" in made[i * each]
        assert f"CODE{i}" in made[i * each]


@pytest.mark.parametrize("paper", ["a4", "us-letter"])
def test_paper_sizes(paper: str):
    page = PdfReader(BytesIO(print_sheets([a_sheet()], paper=paper))).pages[0]
    width, height = (round(float(x)) for x in (page.mediabox.width, page.mediabox.height))
    assert (width, height) == {"a4": (595, 842), "us-letter": (612, 792)}[paper]


def test_a_sheet_for_nobody_is_a_mistake_of_the_caller():
    with pytest.raises(ValueError, match="no sheet"):
        print_sheets([])


def test_music_alone_has_its_title_and_each_name():
    drill = a_drill()
    text = " ".join(pages(print_music("Clarinet, 9–10", [(s.name, s.svg) for s in drill.steps])))
    assert "Clarinet, 9–10" in text
    assert "As written" in text


_COMPILE = typst.compile


def pictured(monkeypatch: pytest.MonkeyPatch, sheet: PracticeSheet) -> Image.Image:
    """The first page as a picture, a hundred dots an inch."""
    seen: list[bytes] = []

    def to_picture(source: str, **options: object) -> bytes:
        found = _COMPILE(source, **{**options, "format": "png", "ppi": 100})
        seen.append(found if isinstance(found, bytes) else found[0])
        return b""

    monkeypatch.setattr(typst, "compile", to_picture)
    print_sheets([sheet])
    return Image.open(BytesIO(seen[0])).convert("RGB")


def dark_rows(picture: Image.Image) -> int:
    """How many rows of dots have a dark one."""
    grey = picture.convert("L")
    return sum(
        (grey.crop((0, y, grey.width, y + 1)).getextrema()[0]) < 110 for y in range(grey.height)
    )


def test_music_prints_as_ink_and_its_staff_lines_survive_a_coarse_printer(monkeypatch):
    chunk = replace(a_sheet().chunks[0], svg="", drills=())
    words_only = dark_rows(pictured(monkeypatch, replace(a_sheet(), chunks=(chunk,))))
    full = pictured(monkeypatch, a_sheet())
    assert dark_rows(full) > words_only + 200
    grey = full.convert("L")
    # A staff line is a row that is dark nearly all the way across; a staff has five of them.
    lines = [
        y
        for y in range(grey.height)
        if sum(grey.getpixel((x, y)) < 160 for x in range(0, grey.width, 4)) > grey.width / 4 * 0.6
    ]
    assert len(lines) >= 15


def test_it_prints_in_black_and_white(monkeypatch):
    picture = pictured(monkeypatch, a_sheet())
    tinted = [c for _, c in picture.getcolors(1 << 24) or [] if max(c) - min(c) > 12]
    assert tinted == []


def test_what_the_piece_is_about_stands_on_every_page_and_the_arrow_is_explained_once():
    drills = (a_drill(),) * 6
    sheet = replace(
        a_sheet(),
        objectives=("Even sixteenths", "Three dynamics"),
        chunks=(PrintedChunk("9–10→", a_sheet().chunks[0].svg, drills),),
    )
    made = pages(print_sheets([sheet]))
    assert len(made) > 1
    assert all("Even sixteenths; Three dynamics" in page for page in made)
    assert " ".join(made).count("run into the next note and stop on it") == 1
    plain = " ".join(pages(print_sheets([a_sheet()])))
    assert "In this piece" not in plain
    assert "run into the next note" not in plain
