"""Pages of music whose barlines are known: engraved by Verovio, drawn into a PDF by Typst.

The barlines are read from the engraver's own drawing, so that nothing of ours decides what is
right.
"""

import re
import tempfile
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path

import numpy as np
import pypdfium2
import typst
import verovio
from lxml import etree
from numpy.typing import NDArray

_SVG = "{http://www.w3.org/2000/svg}"
_STROKE = re.compile(r"M\s*(-?[\d.]+)[ ,]+(-?[\d.]+)\s*L\s*(-?[\d.]+)[ ,]+(-?[\d.]+)")
A4 = (210.0, 297.0)  # millimetres


@dataclass(frozen=True, slots=True)
class Look:
    """How a page is engraved; ``scale`` in percent of the engraver's own size."""

    font: str
    scale: int = 40
    line: float = 0.15
    system_spacing: int = 12
    linear: float = 0.25
    numbers: bool = True


@dataclass(frozen=True, slots=True)
class Bar:
    """A barline of one staff, in parts of the page's width and height."""

    x: float
    top: float
    bottom: float


@dataclass(frozen=True, slots=True)
class Engraved:
    """A page: its drawing and the barlines in it; the numbers of the measures in reading order."""

    svg: str
    bars: tuple[Bar, ...]
    measures: int


def engraved_pages(xml: str, look: Look) -> list[Engraved]:
    """The pages of a score."""
    verovio.enableLog(verovio.LOG_OFF)
    toolkit = verovio.toolkit()
    toolkit.setResourcePath(str(files("verovio") / "data"))
    toolkit.setOptions(
        {
            "font": look.font,
            "pageWidth": 2100,
            "pageHeight": 2970,
            "scale": look.scale,
            "breaks": "auto",
            "header": "none",
            "footer": "none",
            "mnumInterval": 0,
            "staffLineWidth": look.line,
            "barLineWidth": look.line * 2,
            "spacingSystem": look.system_spacing,
            "spacingLinear": look.linear,
            "xmlIdSeed": 7,
        }
    )
    toolkit.loadData(xml)
    pages = []
    for number in range(1, toolkit.getPageCount() + 1):
        svg = toolkit.renderToSVG(number)
        pages.append(_page(svg))
    return pages


def _page(svg: str) -> Engraved:
    root = etree.fromstring(svg.encode())
    inner = next(e for e in root.iter(f"{_SVG}svg") if "definition-scale" in e.get("class", ""))
    width, height = (float(n) for n in inner.get("viewBox", "0 0 1 1").split()[2:])
    margin = next(e for e in inner.iter(f"{_SVG}g") if e.get("class") == "page-margin")
    moved = re.findall(r"-?[\d.]+", margin.get("transform", "translate(0 0)"))
    left, top = float(moved[0]), float(moved[1])
    staves = []
    for group in inner.iter(f"{_SVG}g"):
        if group.get("class") == "staff":
            lines = [_STROKE.match(p.get("d", "")) for p in group.findall(f"{_SVG}path")]
            heights = [float(line.group(2)) for line in lines if line]
            if len(heights) == 5:
                staves.append((min(heights), max(heights)))
    bars = []
    for group in inner.iter(f"{_SVG}g"):
        if group.get("class") != "barLine":
            continue
        for path in group.iter(f"{_SVG}path"):
            stroke = _STROKE.match(path.get("d", ""))
            if stroke is None:
                continue
            x, upper, _, lower = (float(n) for n in stroke.groups())
            for high, low in sorted(set(staves)):
                if upper - 40 <= high and low <= lower + 40:
                    bars.append(
                        Bar((x + left) / width, (high + top) / height, (low + top) / height)
                    )
    measures = sum(group.get("class") == "measure" for group in inner.iter(f"{_SVG}g"))
    return Engraved(svg, tuple(dict.fromkeys(bars)), measures)


def pdf_of(pages: list[Engraved], path: Path) -> None:
    """The pages as a PDF of drawn music."""
    with tempfile.TemporaryDirectory() as folder:
        for number, page in enumerate(pages):
            (Path(folder) / f"{number}.svg").write_text(page.svg)
        width, height = A4
        source = f"#set page(width: {width}mm, height: {height}mm, margin: 0mm)\n"
        source += "\n".join(f'#image("{n}.svg", width: 100%)' for n in range(len(pages)))
        (Path(folder) / "pages.typ").write_text(source)
        path.write_bytes(typst.compile(str(Path(folder) / "pages.typ")))


def picture_of(path: Path, number: int, dpi: int = 300) -> NDArray[np.uint8]:
    """A page of a PDF as grey pixels."""
    document = pypdfium2.PdfDocument(path)
    try:
        page = document[number]
        grey = page.render(scale=dpi / 72, grayscale=True).to_numpy()
        return np.array(grey[:, :, 0] if grey.ndim == 3 else grey)
    finally:
        document.close()
