"""Engraving: MusicXML to SVG by Verovio.

The engraver is never used to judge a file: it says yes to broken ones. What it gets was written by
our own writer. A server has it done in a process that can be killed (``engraver``).
"""

import re
from concurrent.futures import ThreadPoolExecutor
from hashlib import sha256
from importlib.metadata import version
from importlib.resources import files
from typing import TYPE_CHECKING

from crumb.core.errors import NotNotatable
from crumb.core.pages.crops import crop_text
from crumb.core.score.model import Part
from crumb.formats.layout import Layout
from crumb.formats.lettered import numbers_beside_letters
from crumb.formats.musicxml.writer import write_part
from crumb.formats.words_apart import words_apart

if TYPE_CHECKING:
    import verovio

ENGRAVER = f"verovio-{version('verovio')}-5"
"""Part of every cache key: a new engraver or new options draw anew. Raise the last number then."""

_NUMBERS = re.compile(r'<g [^>]*class="mNum[^"]*"[^>]*?(/>|>.*?</g>)', re.DOTALL)
_PLAYED_OUT = re.compile(
    r'(?<=<repeat direction="backward") times="[0-9]+"'
    r'|(?<=<sound)( (dacapo|dalsegno|tocoda|fine|segno|coda|forward-repeat)="[^"]*")+'
)
_LETTERS = re.compile(
    r"<direction [^>]*><direction-type><rehearsal>[^<]*</rehearsal></direction-type>"
    r"(<offset>[^<]*</offset>)?(<staff>[^<]*</staff>)?</direction>"
)
_MAX_PAGE_HEIGHT = 60000


# Verovio keeps its fonts and state per thread: where a thread was not told of the fonts, it
# draws an empty page and calls that a success. So one thread of ours engraves for the process.
_thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="engraver")
_toolkit: "verovio.toolkit | None" = None


def drawn_text(part: Part) -> str:
    """The notation of a part as the engraver gets it.

    How often a stretch is repeated, and where a jump leads, is left out: neither is drawn (its
    words are), and the engraver would play it out. A part on pages is drawn by its crops.
    """
    if part.is_on_pages:
        return crop_text(part)
    return _PLAYED_OUT.sub("", write_part(part, name_printed=False))


def without_letters(xml: str) -> str:
    """Notation of our own writing without its rehearsal letters, where they are printed already.

    Crops of pages stay as they are.
    """
    return _LETTERS.sub("", xml)


def engraving_key(xml: str, layout: Layout) -> str:
    """The name of a drawing: the same music and layout have the same one."""
    return sha256(f"{ENGRAVER}|{layout}|{xml}".encode()).hexdigest()


def engrave(part: Part, layout: Layout) -> str:
    """The part as one SVG drawing that scales to the width it is given, drawn in this process.

    Raises:
        NotNotatable: the engraver drew nothing.
    """
    return engrave_text(drawn_text(part), layout)


def engrave_text(xml: str, layout: Layout) -> str:
    """The same of notation of our own writing."""
    return _thread.submit(render, xml, layout).result()


def render(xml: str, layout: Layout) -> str:
    """One SVG of notation of our own writing. Always call it on the same thread of a process.

    Raises:
        NotNotatable: the engraver drew nothing.
    """
    svg = _render(xml, _options(layout, xml))
    if 'class="measure"' not in svg:
        raise NotNotatable("This music could not be engraved.")
    if not layout.numbers:
        return words_apart(_NUMBERS.sub("", svg))
    return words_apart(numbers_beside_letters(svg, xml))


def _options(layout: Layout, xml: str) -> dict[str, object]:
    return {
        "pageWidth": layout.width,
        "pageHeight": _MAX_PAGE_HEIGHT,
        "adjustPageHeight": True,
        "adjustPageWidth": layout.trimmed,
        "pageMarginTop": layout.margin,
        "pageMarginBottom": layout.margin * 2 // 3,
        "pageMarginLeft": min(layout.margin, 30),
        "pageMarginRight": min(layout.margin, 30),
        "scale": layout.scale,
        "breaks": layout.breaks,
        "header": "none",
        "footer": "none",
        "svgViewBox": True,
        "svgFormatRaw": True,
        "svgRemoveXlink": True,
        "mnumInterval": 1 if layout.numbers else 0,
        "staffLineWidth": 0.2,
        "spacingStaff": 10,
        "spacingSystem": layout.system_spacing,
        # Ids that are the same from run to run, and differ between drawings on one page.
        "xmlIdSeed": int(sha256(xml.encode()).hexdigest()[:7], 16),
        "font": "Leland",
    }


def _render(xml: str, options: dict[str, object]) -> str:
    # Imported here: who only asks for a drawing's key needs no engraver.
    import verovio

    global _toolkit
    if _toolkit is None:
        verovio.enableLog(verovio.LOG_OFF)
        verovio.setDefaultResourcePath(str(files("verovio") / "data"))
        _toolkit = verovio.toolkit()
    _toolkit.setOptions(options)  # every option is said each time: nothing is left from before
    _toolkit.loadData(xml)
    return str(_toolkit.renderToSVG(1))
