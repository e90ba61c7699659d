"""Engraving: MusicXML to SVG by Verovio.

The engraver is never used to judge a file: it says yes to broken ones. What it gets was written by
our own writer.
"""

import re
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from hashlib import sha256

import verovio

from crumb.core.score.model import Part
from crumb.formats.musicxml.writer import write_part

ENGRAVER = f"verovio-{verovio.toolkit(False).getVersion().split('-')[0]}-1"
"""Part of every cache key: a new engraver or new options draw anew. Raise the last number then."""

_NUMBERS = re.compile(
    r'<g[^>]*class="mNum"[^>]*>.*?</g>\s*</g>|<g[^>]*class="mNum"[^>]*/>', re.DOTALL
)
_MAX_PAGE_HEIGHT = 60000


@dataclass(frozen=True, slots=True)
class Layout:
    """How a drawing is laid out; ``width`` in Verovio units (a staff space is 18)."""

    width: int
    scale: int = 100
    breaks: str = "auto"
    numbers: bool = True


PAGE = Layout(width=2000)
PHONE_PAGE = Layout(width=900)
SNIPPET = Layout(width=1500)
PHONE_SNIPPET = Layout(width=780)
LAYOUTS = {
    "page": PAGE,
    "phone-page": PHONE_PAGE,
    "snippet": SNIPPET,
    "phone-snippet": PHONE_SNIPPET,
}

_lock = threading.Lock()
_toolkit: "verovio.toolkit | None" = None


@contextmanager
def _engraver() -> Iterator["verovio.toolkit"]:
    """The one toolkit of this process: it keeps state between calls, so one caller at a time."""
    global _toolkit
    with _lock:
        if _toolkit is None:
            verovio.enableLog(verovio.LOG_OFF)
            _toolkit = verovio.toolkit()
        yield _toolkit


def engraving_key(part: Part, layout: Layout) -> str:
    """The name of a drawing: the same music and layout have the same one."""
    text = f"{ENGRAVER}|{layout}|{write_part(part, name_printed=False)}"
    return sha256(text.encode()).hexdigest()


def engrave(part: Part, layout: Layout) -> str:
    """The part as one SVG drawing that scales to the width it is given."""
    xml = write_part(part, name_printed=False)
    seed = int(sha256(xml.encode()).hexdigest()[:7], 16)
    with _engraver() as toolkit:
        toolkit.resetOptions()
        toolkit.setOptions(
            {
                "pageWidth": layout.width,
                "pageHeight": _MAX_PAGE_HEIGHT,
                "adjustPageHeight": True,
                "pageMarginTop": 60,
                "pageMarginBottom": 40,
                "pageMarginLeft": 30,
                "pageMarginRight": 30,
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
                "spacingSystem": 10,
                "xmlIdSeed": seed,
                "font": "Leland",
            }
        )
        toolkit.loadData(xml)
        svg = str(toolkit.renderToSVG(1))
    if not layout.numbers:
        svg = _NUMBERS.sub("", svg)
    return svg
