"""Pages read: a set of parts drawn by another engraver, and pictures of them.

The truth is the notation that the pages were engraved from (``ridge_parts.ly``): its measures,
rests, letters and repeats are counted there.
"""

from io import BytesIO
from itertools import pairwise
from pathlib import Path

import cv2
import numpy as np
import pytest
from PIL import Image
from tools.pages.degraded import KINDS

from crumb.core.errors import UnreadableFile
from crumb.core.pages.numbering import numbered
from crumb.core.pages.proposals import proposed_parts, title_on
from crumb.formats.pages import ocr
from crumb.formats.pages.reading import ReadPage, Sources, refuse_pages_at_once

SET = (Path(__file__).parent / "ridge_parts.pdf").read_bytes()


def read(*files: bytes) -> list[ReadPage]:
    with Sources(files) as sources:
        return [sources.read(source, number, 0) for source, number in sources.pages()]


@pytest.fixture(scope="module")
def pages() -> list[ReadPage]:
    return read(SET)


def numbers(*pages: ReadPage) -> list[int]:
    return [one.number for one in numbered([m for page in pages for m in page.read.measures])]


def test_a_set_is_taken_apart_by_the_names_of_its_parts(pages: list[ReadPage]):
    found = proposed_parts([page.read for page in pages])
    assert [(one.page, one.name) for one in found] == [
        (0, "Clarinet 1"),
        (1, "Clarinet 2"),
        (3, "Trumpet"),
    ]
    assert title_on(pages[0].read) == "Ridge March"


def test_every_measure_is_found_and_has_the_number_that_it_has_in_the_notation(
    pages: list[ReadPage],
):
    # A pickup, 14 measures, 8 of rest, 20, 4 of rest, 17.
    clarinet = [*range(16), *range(23, 44), *range(47, 64)]
    assert numbers(pages[0]) == clarinet
    # The same, and 48 more.
    assert numbers(pages[1], pages[2]) == [*clarinet, *range(64, 112)]
    # 28 measures of rest instead of eight and twenty.
    assert numbers(pages[3]) == [*range(16), 43, *range(47, 64)]


def test_repeats_letters_rests_and_meters_are_read(pages: list[ReadPage]):
    seen = pages[0].read.measures
    places = dict(zip(numbers(pages[0]), seen, strict=True))
    assert [n for n, m in places.items() if m.opens_repeat] == [1]
    assert [n for n, m in places.items() if m.closes_repeat] == [14]
    assert {n: m.letter for n, m in places.items() if m.letter} == {15: "A", 43: "B"}
    assert {n: m.stands_for for n, m in places.items() if m.stands_for > 1} == {15: 8, 43: 4}
    assert {n: m.time for n, m in places.items() if m.time} == {43: "3/4"}


def test_measures_of_a_line_touch_and_lines_lie_below_each_other(pages: list[ReadPage]):
    seen = pages[0].read.measures
    for one, after in pairwise(seen):
        if one.system == after.system:
            assert one.area.right == after.area.left
        else:
            assert after.system == one.system + 1
            assert one.area.bottom <= after.area.top + 1
        assert one.first_line < one.last_line


@pytest.mark.parametrize("kind", ["scan-300", "skewed", "shadowed", "curled", "phone"])
def test_a_picture_of_a_page_has_the_measures_of_the_page(pages: list[ReadPage], kind: str):
    clean = cv2.imdecode(np.frombuffer(pages[0].picture, np.uint8), cv2.IMREAD_GRAYSCALE)
    made = KINDS[kind](np.asarray(clean, np.uint8), np.random.default_rng(3)).grey
    _, data = cv2.imencode(".png", made)
    (page,) = read(data.tobytes())
    assert len(page.read.measures) == len(pages[0].read.measures)


@pytest.mark.skipif(not ocr.is_there(), reason="Tesseract is not installed")
def test_the_numbers_of_a_scan_are_read(pages: list[ReadPage]):
    clean = cv2.imdecode(np.frombuffer(pages[1].picture, np.uint8), cv2.IMREAD_GRAYSCALE)
    made = KINDS["scan-300"](np.asarray(clean, np.uint8), np.random.default_rng(5)).grey
    _, data = cv2.imencode(".png", made)
    (page,) = read(data.tobytes())
    printed = [m.number for m in pages[1].read.measures if m.number]
    found = [m.number for m in page.read.measures if m.number]
    assert set(found) <= set(printed), "what is read is never another number"
    assert len(set(found)) >= 0.6 * len(printed)


def a_picture(kind: str, mode: str = "L", size: tuple[int, int] = (300, 400)) -> bytes:
    data = BytesIO()
    Image.new(mode, size, "white").save(data, kind)
    return data.getvalue()


@pytest.mark.parametrize(
    ("kind", "mode"), [("PNG", "RGBA"), ("JPEG", "RGB"), ("TIFF", "1"), ("WEBP", "RGB")]
)
def test_an_empty_page_of_each_kind_is_read_and_has_no_measure(kind: str, mode: str):
    (page,) = read(a_picture(kind, mode))
    assert page.read.measures == ()
    assert (page.read.width, page.read.height) == (300, 400)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"MThd....", "Pages are a PDF, or pictures"),
        (b"GIF89a....", "Pages are a PDF, or pictures"),
    ],
)
def test_what_is_no_page_is_refused_at_once_in_words(data: bytes, said: str):
    with pytest.raises(UnreadableFile, match=said):
        refuse_pages_at_once([data])


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"%PDF-1.7\nnothing", "damaged"),
        (SET[: len(SET) // 3], "damaged"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * 60, "damaged"),
        (b"\xff\xd8\xff" + b"\0" * 60, "damaged"),
    ],
)
def test_broken_files_are_refused_in_words(data: bytes, said: str):
    with pytest.raises(UnreadableFile, match=said):
        read(data)


def test_a_picture_of_too_many_pixels_is_never_unpacked():
    data = bytearray(a_picture("PNG"))
    data[16:24] = (60_000).to_bytes(4, "big") * 2  # the size in its header
    with pytest.raises(UnreadableFile):
        read(bytes(data))
