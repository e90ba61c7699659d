"""Pages of a PDF: each as grey pixels, with the words that are text in it."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import numpy as np
import pypdfium2
import pypdfium2.raw as pdfium
from numpy.typing import NDArray

from crumb.core.errors import UnreadableFile
from crumb.core.pages.model import Area, Word
from crumb.formats.pages.ink import Grey
from crumb.formats.pages.limits import HIGHEST, MOST_PAGES, WIDEST

Document = pypdfium2.PdfDocument
_SCALE = 300 / 72
_MOST_CHARACTERS = 20_000
_MOST_OBJECTS = 4_000
"""Looked at to tell drawn music from a picture of it."""
_MOST_POINTS = 14_400
"""The largest page that a PDF may have (ISO 32000-1, annex C.2)."""
_PICTURE_SHARE = 0.5
"""Of a page, under a picture: then it was scanned."""


@dataclass(frozen=True, slots=True)
class PdfPage:
    """A page of a PDF as it is looked at."""

    grey: Grey
    words: tuple[Word, ...]
    is_drawn: bool


@contextmanager
def opened(data: bytes) -> Iterator[pypdfium2.PdfDocument]:
    """A PDF, closed at the end.

    Raises:
        UnreadableFile: it is locked, broken or too long; says so.
    """
    try:
        document = pypdfium2.PdfDocument(data)
    except pypdfium2.PdfiumError as error:
        raise UnreadableFile(_reason(error)) from error
    try:
        count = len(document)
        if count > MOST_PAGES:
            raise UnreadableFile(
                f"This PDF has {count} pages. Bring in at most {MOST_PAGES} at a time."
            )
        if count == 0:
            raise UnreadableFile("There is no page in this PDF.")
        yield document
    finally:
        document.close()


def _reason(error: pypdfium2.PdfiumError) -> str:
    if (
        getattr(error, "err_code", None) == pdfium.FPDF_ERR_PASSWORD
        or "password" in str(error).lower()
    ):
        return "This PDF is locked with a password. Save it without one and bring it in again."
    return "This PDF is damaged: open it, print it to a new PDF, and bring that in."


def read_page(document: pypdfium2.PdfDocument, number: int) -> PdfPage:
    """One page.

    Raises:
        UnreadableFile: it cannot be drawn.
    """
    try:
        page = document[number]
    except pypdfium2.PdfiumError as error:
        raise UnreadableFile(f"Page {number + 1} of this PDF is damaged.") from error
    try:
        width, height = page.get_size()
        if not (1 <= width <= _MOST_POINTS and 1 <= height <= _MOST_POINTS):
            raise UnreadableFile(f"Page {number + 1} of this PDF has no usable size.")
        scale = min(_SCALE, WIDEST / width, HIGHEST / height)
        drawn = page.render(scale=scale, grayscale=True, no_smoothpath=False)
        grey = drawn.to_numpy()
        grey = np.array(grey[:, :, 0] if grey.ndim == 3 else grey)
        is_drawn = not _is_picture(page, width * height)
        words = _words(page, scale, height) if is_drawn else ()
        return PdfPage(grey, words, is_drawn)
    except pypdfium2.PdfiumError as error:
        raise UnreadableFile(f"Page {number + 1} of this PDF cannot be drawn.") from error
    finally:
        page.close()


def _is_picture(page: pypdfium2.PdfPage, whole: float) -> bool:
    """Whether a picture covers most of a page."""
    for count, found in enumerate(page.get_objects(max_depth=3)):
        if count > _MOST_OBJECTS:
            break
        if found.type == pdfium.FPDF_PAGEOBJ_IMAGE:
            left, bottom, right, top = found.get_bounds()
            if (right - left) * (top - bottom) > _PICTURE_SHARE * whole:
                return True
    return False


def _words(page: pypdfium2.PdfPage, scale: float, height: float) -> tuple[Word, ...]:
    text = page.get_textpage()
    try:
        count = min(text.count_chars(), _MOST_CHARACTERS)
        words: list[Word] = []
        letters: list[tuple[str, tuple[float, float, float, float]]] = []
        last = (0.0, 0.0, 0.0, 0.0)
        for place in range(count):
            code = pdfium.FPDFText_GetUnicode(text, place)
            letter = chr(code) if 32 < code < 0x110000 and not 0xE000 <= code < 0xF900 else " "
            box = text.get_charbox(place, loose=False)
            wide = text.get_charbox(place, loose=True)
            if letter.isspace():
                _end(words, letters, scale, height)
                continue
            if box[2] <= box[0]:  # the second letter of a ligature has no box of its own
                if letters:
                    letters.append((letter, letters[-1][1]))
                continue
            if letters and not _goes_on(last, wide):
                _end(words, letters, scale, height)
            letters.append((letter, box))
            last = wide
        _end(words, letters, scale, height)
        return tuple(words)
    finally:
        text.close()


def _goes_on(
    before: tuple[float, float, float, float], box: tuple[float, float, float, float]
) -> bool:
    """Whether a letter stands close behind another, on the same line."""
    size = max(before[3] - before[1], box[3] - box[1])
    gap = box[0] - before[2]
    overlap = min(before[3], box[3]) - max(before[1], box[1])
    return -0.6 * size < gap < 0.7 * size and overlap > -0.3 * size


def _end(
    words: list[Word],
    letters: list[tuple[str, tuple[float, float, float, float]]],
    scale: float,
    height: float,
) -> None:
    if letters:
        boxes = [box for _, box in letters]
        words.append(
            Word(
                "".join(letter for letter, _ in letters)[:120],
                Area(
                    round(min(b[0] for b in boxes) * scale),
                    round((height - max(b[3] for b in boxes)) * scale),
                    round(max(b[2] for b in boxes) * scale),
                    round((height - min(b[1] for b in boxes)) * scale),
                ),
            )
        )
        letters.clear()


def turned(grey: NDArray[np.uint8], quarters: int) -> Grey:
    """A page turned by quarter turns to the right."""
    return np.ascontiguousarray(np.rot90(grey, -quarters % 4))
