"""Practice sheets: what the PDF says, how many pages, and that there is ink where music is."""

from dataclasses import replace
from io import BytesIO
from pathlib import Path

import pytest
import typst
from PIL import Image
from pypdf import PdfReader

from crumb.core.drills import drill_kind, make_drill
from crumb.core.drills.sent import SentDrill, sent_drill
from crumb.core.score.slicing import slice_span
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from crumb.formats import sheets
from crumb.formats.engraving import engrave
from crumb.formats.layout import PRINTED, PRINTED_STEP
from crumb.formats.sheets import (
    PracticeSheet,
    PrintedChunk,
    PrintedDrill,
    PrintedStep,
    is_drawn,
    print_music,
    print_sheets,
    printed_drill,
)
from tests.builders import F, reread

ETUDE = reread(clarinet_etude())


def a_drill(name: str = "long-short") -> PrintedDrill:
    drill = make_drill(ETUDE, parse_span(ETUDE, "9-10"), name, {})
    return PrintedDrill(
        title="Long-short",
        how="Dotted through the run.",
        clean_means="Even.",
        minutes="6 min a day",
        steps=tuple(
            PrintedStep(s.name, s.repetitions, engrave(s.part, PRINTED_STEP)) for s in drill.steps
        ),
        rungs=tuple(F(n) for n in range(82, 107, 4)),
        beat_name="♩",
        caution="Warm up first.",
    )


def as_sent(name: str, span: str = "9-10", **settings: object) -> SentDrill:
    where = parse_span(ETUDE, span)
    drill = make_drill(ETUDE, where, name, settings)
    rungs = drill.climbed((F(64), F(85), F(106)))
    return sent_drill(ETUDE, drill_kind(name), drill, goal=F(106), rungs=rungs, turned=(1, 1))


def printed(name: str, span: str = "9-10", **settings: object) -> PrintedDrill:
    """A drill as it is printed, drawn where it shows something new."""
    where = parse_span(ETUDE, span)
    sent = as_sent(name, span, **settings)
    steps = make_drill(ETUDE, where, name, settings).steps
    drawings = [
        engrave(step.part, PRINTED_STEP) if is_drawn(sent.steps[place], place, where) else None
        for place, step in enumerate(steps)
    ]
    return printed_drill(sent, sent.steps, drawings, minutes="6 min a day")


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
        if sum(grey.getpixel((x, y)) < 160 for x in range(0, grey.width, 4)) > grey.width / 4 * 0.35
    ]
    assert len(lines) >= 15


def test_it_prints_in_black_and_white(monkeypatch):
    picture = pictured(monkeypatch, a_sheet())
    tinted = [c for _, c in picture.getcolors(1 << 24) or [] if max(c) - min(c) > 12]
    assert tinted == []


def test_what_the_piece_is_about_stands_on_every_page_and_the_arrow_is_explained_once():
    drills = (a_drill(),) * 9
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


def test_a_usual_week_is_one_sheet_of_paper_printed_on_both_sides():
    week = ("standard-set", "backward", "stops", "articulation")
    chunk = PrintedChunk("9–10", a_sheet().chunks[0].svg, tuple(printed(name) for name in week))
    for paper in ("a4", "us-letter"):
        assert len(pages(print_sheets([replace(a_sheet(), chunks=(chunk,))], paper=paper))) <= 2


def test_what_is_the_same_in_every_step_is_said_once():
    drill = printed("articulation")
    assert len(drill.says) == 1
    assert sum(bool(step.svg) for step in drill.steps) == len(drill.steps) - 1  # not as written
    different = printed("every-note")
    assert [say.split(":")[0] for say in different.says] == ["1", "2–6"]


def test_the_ladder_stands_under_its_own_drill_with_the_sign_of_the_beat():
    chunk = PrintedChunk("9–10", "", (printed("alone"), printed("cue-word")))
    text = " ".join(pages(print_sheets([replace(a_sheet(), chunks=(chunk,))])))
    places = [text.index(word) for word in ("Alone", "64 85 106", "Cue word")]
    assert places == sorted(places)
    assert text.count("64 85 106") == 2
    assert "♩" in text
    assert "a quarter =" not in text


def test_minutes_are_a_day_or_when_there_is_time_and_never_both():
    chunk = PrintedChunk("9–10", "", (replace(printed("alone"), minutes="when there is time"),))
    text = " ".join(pages(print_sheets([replace(a_sheet(), chunks=(chunk,))])))
    assert "when there is time" in text
    assert "when there is time a day" not in text


def test_circles_for_each_repetition_are_a_choice(monkeypatch):
    def ink(*, boxes: bool) -> int:
        seen: list[bytes] = []

        def to_picture(source: str, **options: object) -> bytes:
            found = _COMPILE(source, **{**options, "format": "png", "ppi": 60})
            seen.append(found if isinstance(found, bytes) else found[0])
            return b""

        monkeypatch.setattr(typst, "compile", to_picture)
        chunk = PrintedChunk("9–10", "", (printed("alone", repetitions=8),))
        print_sheets([replace(a_sheet(), chunks=(chunk,))], boxes=boxes)
        return sum(Image.open(BytesIO(seen[0])).convert("L").histogram()[:220])

    assert ink(boxes=True) > ink(boxes=False)


def test_nothing_is_grey_and_a_margin_is_left_for_the_pencil(monkeypatch):
    picture = pictured(monkeypatch, a_sheet())
    grey = picture.convert("L")
    # Grey is what a letter is inside; a smoothed edge of a black one is not.
    dark = sum(grey.histogram()[:40])
    middling = sum(grey.histogram()[60:110])
    assert dark > middling
    right = grey.crop((grey.width - 100, 0, grey.width, grey.height))
    assert right.getextrema()[0] > 200


def test_what_stands_on_every_sheet_is_not_said_twice():
    chunk = PrintedChunk("9–10", "", (printed("alone"), printed("stops")))
    text = " ".join(pages(print_sheets([replace(a_sheet(), chunks=(chunk,))])))
    assert text.count("numbness or tingling") == 1


def test_the_sign_of_the_beat_is_printed_in_a_font_that_paper_has(monkeypatch):
    kept: list[str] = []
    compiled = _COMPILE

    def looked_at(source: str, **options: object) -> object:
        kept.extend(path.read_text() for path in Path(source).parent.glob("*.svg"))
        return compiled(source, **options)

    monkeypatch.setattr(typst, "compile", looked_at)
    start = engrave(slice_span(ETUDE, parse_span(ETUDE, "0-2")), PRINTED)
    print_sheets([replace(a_sheet(), chunks=(PrintedChunk("0–2", start, ()),))])
    assert any("♩" in svg for svg in kept)
    assert not any("\ueca5" in svg for svg in kept)


def test_a_uk_school_reads_of_bars():
    chunk = PrintedChunk("9–10", "", (printed("stops"),))
    sheet = replace(a_sheet(), chunks=(chunk,), objectives=("Every measure counts",))
    text = " ".join(pages(print_sheets([sheet], words="uk")))
    assert "Stop on every bar" in text
    assert "Every measure counts" in text  # the director's own words stay


@pytest.mark.parametrize("paper", ["a4", "us-letter"])
def test_no_row_of_steps_is_wider_than_its_paper_and_none_is_left_out(paper: str, tmp_path: Path):
    page = sheets._Page(tmp_path, sheets._TEXT_WIDTH[paper], boxes=True, words="us")
    for name in ("standard-set", "backward", "add-a-note", "stops", "warm-up", "blocks"):
        drill = printed(name, span="9")
        rows = sheets._drill(page, drill, set())["rows"]
        assert [s["number"] for row in rows for s in row] == list(range(1, len(drill.steps) + 1))
        for row in rows:
            assert sum(s["cell"] for s in row) + 5 * (len(row) - 1) <= page.width + 0.01
            assert all(s["width"] <= s["cell"] for s in row)
