"""Practice sheets on paper: PDF by Typst, black on white, one or more pages a student.

What is printed: the masked chunk large, each drill engraved with its counts, the ladder as boxes to
tick, the minutes, the cautions, and a code that finds the sheet again.
"""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from hashlib import sha256
from importlib.resources import files
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory

import segno

PAPERS = ("a4", "us-letter")


@dataclass(frozen=True, slots=True)
class PrintedStep:
    """A step on paper; ``svg`` is empty where its name says enough."""

    name: str
    count: str
    say: str = ""
    svg: str = ""
    burst: str = ""


@dataclass(frozen=True, slots=True)
class PrintedDrill:
    """A drill on paper with its ladder."""

    title: str
    how: str
    clean_means: str
    minutes: str
    steps: tuple[PrintedStep, ...]
    rungs: tuple[Fraction, ...]
    beat_name: str
    caution: str = ""
    role: str = ""


@dataclass(frozen=True, slots=True)
class PrintedChunk:
    """A chunk on paper, large, and what is drilled on it."""

    label: str
    svg: str
    drills: tuple[PrintedDrill, ...]


@dataclass(frozen=True, slots=True)
class PracticeSheet:
    """One player's sheet."""

    name: str
    section: str
    piece: str
    part: str
    due: str
    minutes_a_day: int
    code: str
    link: str
    chunks: tuple[PrintedChunk, ...]
    objectives: tuple[str, ...] = ()
    """What the piece is about; on every page."""


def print_sheets(sheets: Sequence[PracticeSheet], *, paper: str = "a4") -> bytes:
    """A PDF of all the sheets, each beginning on a page of its own.

    Args:
        sheets: at least one.
        paper: one of ``PAPERS``.
    """
    import typst  # here, for the server only hands the setting on

    if not sheets:
        raise ValueError("no sheet to print")
    if paper not in PAPERS:
        raise ValueError(f"no such paper: {paper}")
    with TemporaryDirectory(prefix="crumb-sheets-") as folder:
        root = Path(folder)
        data = {"paper": paper, "sheets": [_sheet(root, sheet) for sheet in sheets]}
        (root / "data.json").write_text(json.dumps(data, ensure_ascii=False))
        template = files("crumb.formats") / "sheet.typ"
        (root / "sheet.typ").write_text(template.read_text())
        made = typst.compile(str(root / "sheet.typ"), root=str(root), format="pdf")
    assert isinstance(made, bytes)
    return made


def print_music(title: str, steps: Sequence[tuple[str, str]], *, paper: str = "a4") -> bytes:
    """A PDF of engraved music alone: a title and named drawings."""
    chunk = PrintedChunk(title, "", ())
    drill = PrintedDrill(
        title="",
        how="",
        clean_means="",
        minutes="",
        steps=tuple(PrintedStep(name, "", svg=svg) for name, svg in steps),
        rungs=(),
        beat_name="",
    )
    sheet = PracticeSheet(
        name=title,
        section="",
        piece="",
        part="",
        due="",
        minutes_a_day=0,
        code="",
        link="",
        chunks=(PrintedChunk(chunk.label, "", (drill,)),),
    )
    return print_sheets([sheet], paper=paper)


def _sheet(root: Path, sheet: PracticeSheet) -> dict[str, object]:
    return {
        "name": sheet.name,
        "section": sheet.section,
        "piece": sheet.piece,
        "part": sheet.part,
        "due": sheet.due,
        "minutes": sheet.minutes_a_day,
        "code": sheet.code,
        "qr": _drawn(root, _qr(sheet.link)) if sheet.link else "",
        "chunks": [
            {
                "label": chunk.label,
                "svg": _drawn(root, chunk.svg),
                "drills": [_drill(root, drill) for drill in chunk.drills],
            }
            for chunk in sheet.chunks
        ],
        "objectives": list(sheet.objectives),
        "arrow": any("→" in chunk.label for chunk in sheet.chunks) and bool(sheet.code),
        "cautions": list(
            dict.fromkeys(d.caution for c in sheet.chunks for d in c.drills if d.caution)
        ),
    }


def _drill(root: Path, drill: PrintedDrill) -> dict[str, object]:
    return {
        "title": drill.title,
        "how": drill.how,
        "clean": drill.clean_means,
        "minutes": drill.minutes,
        "role": drill.role,
        "beat": drill.beat_name,
        "rungs": [f"{float(rung):g}" for rung in drill.rungs],
        "steps": [
            {
                "name": step.name,
                "count": step.count,
                "say": step.say,
                "burst": step.burst,
                "svg": _drawn(root, step.svg),
            }
            for step in drill.steps
        ],
    }


def _drawn(root: Path, svg: str) -> str:
    """Keep a drawing once under its own hash; its name, or nothing for none."""
    if not svg:
        return ""
    name = f"{sha256(svg.encode()).hexdigest()[:24]}.svg"
    path = root / name
    if not path.exists():
        path.write_text(svg)
    return name


def _qr(link: str) -> str:
    out = BytesIO()
    segno.make(link, error="m", micro=False).save(out, kind="svg", scale=4, border=2)
    return out.getvalue().decode()
