"""Engraving: MusicXML to SVG by Verovio.

The engraver is never used to judge a file: it says yes to broken ones. What it gets was written by
our own writer.
"""

import re
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from hashlib import sha256
from importlib.resources import files

import verovio

from crumb.core.errors import NotNotatable
from crumb.core.score.model import Part
from crumb.formats.musicxml.writer import write_part

ENGRAVER = f"verovio-{verovio.toolkit(False).getVersion().split('-')[0]}-2"
"""Part of every cache key: a new engraver or new options draw anew. Raise the last number then."""

_NUMBERS = re.compile(r'<g [^>]*class="mNum[^"]*"[^>]*?(/>|>.*?</g>)', re.DOTALL)
_MAX_PAGE_HEIGHT = 60000


@dataclass(frozen=True, slots=True)
class Layout:
    """How a drawing is laid out; ``width`` in Verovio units (a staff space is 18)."""

    width: int
    scale: int = 100
    breaks: str = "auto"
    system_spacing: int = 8
    numbers: bool = True
    margin: int = 60
    """Above; less below."""


PAGE = Layout(width=2000, system_spacing=16)
PHONE_PAGE = Layout(width=900, system_spacing=16)
SNIPPET = Layout(width=1500)
PHONE_SNIPPET = Layout(width=780)
PRINTED = Layout(width=1500, margin=8)
LAYOUTS = {
    "page": PAGE,
    "phone-page": PHONE_PAGE,
    "snippet": SNIPPET,
    "phone-snippet": PHONE_SNIPPET,
}

# Verovio keeps its fonts and state per thread: where a thread was not told of the fonts, it
# draws an empty page and calls that a success. So one thread of ours engraves for the process.
_thread = ThreadPoolExecutor(max_workers=1, thread_name_prefix="engraver")
_toolkit: "verovio.toolkit | None" = None


def engraving_key(part: Part, layout: Layout) -> str:
    """The name of a drawing: the same music and layout have the same one."""
    text = f"{ENGRAVER}|{layout}|{write_part(part, name_printed=False)}"
    return sha256(text.encode()).hexdigest()


def engrave(part: Part, layout: Layout) -> str:
    """The part as one SVG drawing that scales to the width it is given.

    Raises:
        NotNotatable: the engraver drew nothing.
    """
    xml = write_part(part, name_printed=False)
    svg = _thread.submit(_render, xml, _options(layout, xml)).result()
    if 'class="measure"' not in svg:
        raise NotNotatable("This music could not be engraved.")
    return svg if layout.numbers else _NUMBERS.sub("", svg)


def _options(layout: Layout, xml: str) -> dict[str, object]:
    return {
        "pageWidth": layout.width,
        "pageHeight": _MAX_PAGE_HEIGHT,
        "adjustPageHeight": True,
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
    """On the engraver's own thread only."""
    global _toolkit
    if _toolkit is None:
        verovio.enableLog(verovio.LOG_OFF)
        verovio.setDefaultResourcePath(str(files("verovio") / "data"))
        _toolkit = verovio.toolkit()
    _toolkit.setOptions(options)  # every option is said each time: nothing is left from before
    _toolkit.loadData(xml)
    return str(_toolkit.renderToSVG(1))
