"""Files of pages, told by their content; each page read: its picture, its measures, its words."""

from collections.abc import Iterator, Sequence
from contextlib import ExitStack
from dataclasses import dataclass

import cv2
import numpy as np

from crumb.core.errors import UnreadableFile
from crumb.core.pages.model import Area, PageRead, Word
from crumb.core.pages.wording import with_words
from crumb.formats.pages import ocr, pdf, pictures
from crumb.formats.pages.ink import Grey
from crumb.formats.pages.limits import MOST_BYTES, MOST_PAGES
from crumb.formats.pages.page_reader import read_picture


@dataclass(frozen=True, slots=True)
class ReadPage:
    """A page: what was read of it, and its picture as PNG."""

    read: PageRead
    picture: bytes
    is_drawn: bool


def is_pages(data: bytes) -> bool:
    """Whether a file is a PDF or a picture."""
    return is_pdf(data) or pictures.is_picture(data)


def is_pdf(data: bytes) -> bool:
    """Whether a file begins as a PDF does."""
    return b"%PDF-" in data[:1024]


def refuse_pages_at_once(files: Sequence[bytes]) -> None:
    """Refuse what is plainly no page, before anybody waits for it.

    Raises:
        UnreadableFile: says why.
    """
    if not files:
        raise UnreadableFile("Choose at least one file.")
    if sum(len(data) for data in files) > MOST_BYTES:
        raise UnreadableFile(
            f"Bring in at most {MOST_BYTES // 1_000_000} MB at a time: split the file in two."
        )
    for data in files:
        if not data:
            raise UnreadableFile("One of these files is empty.")
        if not is_pages(data):
            raise UnreadableFile(
                "Pages are a PDF, or pictures: PNG, JPEG, TIFF, WebP. Bring in MusicXML, MIDI, ABC"
                " and MEI one file at a time."
            )


class Sources:
    """The files of a set of pages, opened one after another."""

    def __init__(self, files: Sequence[bytes]) -> None:
        """Args: files: each a PDF or a picture."""
        self._files = files
        self._stack = ExitStack()
        self._open: tuple[int, pdf.Document] | None = None

    def __enter__(self) -> "Sources":
        return self

    def __exit__(self, *_: object) -> None:
        self._stack.close()

    def pages(self) -> list[tuple[int, int]]:
        """Every page: its file, and its number in it.

        Raises:
            UnreadableFile: a file cannot be opened, or there are too many pages.
        """
        found: list[tuple[int, int]] = []
        for place, data in enumerate(self._files):
            if is_pdf(data):
                with pdf.opened(data) as document:
                    count = len(document)
            else:
                count = pictures.count_of(data)
            found.extend((place, number) for number in range(count))
            if len(found) > MOST_PAGES:
                raise UnreadableFile(f"Bring in at most {MOST_PAGES} pages at a time.")
        return found

    def read(self, source: int, number: int, turn: int) -> ReadPage:
        """A page, turned by quarter turns to the right.

        Raises:
            UnreadableFile: it cannot be read.
        """
        data = self._files[source]
        if not is_pdf(data):
            return read_grey(pictures.read_picture_page(data, number), turn)
        if self._open is None or self._open[0] != source:
            self._stack.close()
            self._open = (source, self._stack.enter_context(pdf.opened(data)))
        page = pdf.read_page(self._open[1], number)
        if not page.is_drawn or turn % 4:
            return read_grey(page.grey, turn)
        return _read_drawn(page)


def _read_drawn(page: pdf.PdfPage) -> ReadPage:
    seen = read_picture(page.grey, is_clean=True)
    share = seen.grey.shape[1] / page.grey.shape[1]
    words = page.words if share == 1 else tuple(_scaled(page.words, share))
    measures = with_words(seen.measures, words, seen.rests)
    height, width = seen.grey.shape
    return ReadPage(PageRead(width, height, measures, tuple(words)), _png(seen.grey), True)


def _scaled(words: Sequence[Word], share: float) -> Iterator[Word]:
    for word in words:
        a = word.area
        edges = (round(n * share) for n in (a.left, a.top, a.right, a.bottom))
        yield Word(word.text, Area(*edges))


def read_grey(grey: Grey, turn: int = 0) -> ReadPage:
    """A page of a picture, turned by quarter turns to the right."""
    seen = read_picture(pdf.turned(grey, turn))
    words = ocr.words_on(seen.grey, seen.measures, seen.space or 20.0)
    measures = with_words(seen.measures, words, seen.rests)
    height, width = seen.grey.shape
    return ReadPage(PageRead(width, height, measures, words), _png(seen.grey), False)


def _png(grey: Grey) -> bytes:
    """A page of thirty-two greys, paper white: small, and as sharp as it was."""
    few = np.where(grey >= 224, 255, grey // 8 * 8).astype(np.uint8)
    _, data = cv2.imencode(".png", few, [cv2.IMWRITE_PNG_COMPRESSION, 6])
    return data.tobytes()
