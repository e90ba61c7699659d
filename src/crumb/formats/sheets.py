"""Practice sheets on paper: PDF by Typst, black on white, with a margin for a pencil.

What is printed: the masked chunk large, the steps of each drill smaller and side by side, what is
the same in all of them once, the ladder as boxes to tick under the drill it belongs to, the
minutes, the cautions, and a code that finds the sheet again.
"""

import json
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from hashlib import sha256
from importlib.resources import files
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory

import segno

from crumb.core.drills.sent import SentDrill, SentStep
from crumb.core.score.position import Span
from crumb.core.tempo.ladder import written
from crumb.core.vocabulary import Paper
from crumb.core.words import US, said_in
from crumb.formats.layout import PRINTED, PRINTED_STEP

PAPERS = tuple(Paper)
_TEXT_WIDTH: Mapping[str, float] = {Paper.A4: 169.0, Paper.US_LETTER: 175.0}
"""Millimetres between the margins; the right one is left for a pencil."""
_GUTTER = 5.0
_LETTER = 1.95
"""Millimetres of a letter of a step's name, on the average and generously."""
_MOST_TOKENS = 12
_DRAWN_LINKS = 3
"""Steps of a chain that are engraved; further ones say enough by their measures and beats."""
_BEATS = {Fraction(1): "♩", Fraction(3, 2): "♩.", Fraction(1, 2): "♪", Fraction(2): "half note"}
_WIDE = re.compile(r'viewBox="0 0 ([0-9.]+) ')


@dataclass(frozen=True, slots=True)
class PrintedStep:
    """A step on paper; ``svg`` is empty where its name says enough."""

    name: str
    times: int = 0
    svg: str = ""
    burst: str = ""


@dataclass(frozen=True, slots=True)
class PrintedDrill:
    """A drill on paper with its ladder; ``says`` are sentences for all steps or some of them."""

    title: str
    how: str
    clean_means: str
    minutes: str
    steps: tuple[PrintedStep, ...]
    rungs: tuple[Fraction, ...]
    beat_name: str
    says: tuple[str, ...] = ()
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
    """One player's sheet; without a code nothing typed in finds it again."""

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


# What is printed of a drill -----------------------------------------------------------------------


def printed_drill(
    drill: SentDrill,
    steps: Sequence[SentStep],
    drawings: Sequence[str | None],
    *,
    minutes: str,
    role: str = "",
) -> PrintedDrill:
    """A drill as it is printed, each sentence once.

    Args:
        drill: as it was sent.
        steps: of it.
        drawings: of the steps; None where a step is not drawn.
        minutes: how long a day, in words.
        role: focus or upkeep, where that is told.
    """
    return PrintedDrill(
        title=drill.title,
        how=drill.how,
        clean_means=drill.clean_means,
        minutes=minutes,
        role=role,
        steps=tuple(
            PrintedStep(step.name, step.repetitions, svg or "", _burst(drill, step))
            for step, svg in zip(steps, drawings, strict=True)
        ),
        says=tuple(_said_once(steps)),
        rungs=drill.rungs,
        beat_name=_BEATS.get(drill.beat, "beat"),
        caution=drill.caution,
    )


def is_drawn(step: SentStep, place: int, whole: Span) -> bool:
    """Whether a step shows something that its chunk above it does not."""
    if not step.as_written:
        return True
    is_whole = (step.covers.start, step.covers.end) == (whole.start, whole.end)
    return not is_whole and place < _DRAWN_LINKS


def _said_once(steps: Sequence[SentStep]) -> list[str]:
    """Sentences about the steps, each once, with the numbers of its steps."""
    numbers: dict[str, list[int]] = {}
    for number, step in enumerate(steps, 1):
        if step.say:
            numbers.setdefault(step.say, []).append(number)
    if len(numbers) == 1 and len(next(iter(numbers.values()))) >= len(steps) - 1:
        return list(numbers)
    return [f"{_listed(found)}: {say}" for say, found in numbers.items()]


def _listed(numbers: Sequence[int]) -> str:
    """``1``, ``1–4``, ``1, 3``."""
    if len(numbers) > 1 and numbers[-1] - numbers[0] == len(numbers) - 1:
        return f"{numbers[0]}–{numbers[-1]}"
    return ", ".join(str(number) for number in numbers)


def _burst(drill: SentDrill, step: SentStep) -> str:
    burst = step.burst_tempo(drill.goal)
    if burst is None or burst == drill.goal:
        return ""
    return f"as fast as the goal at {written(burst)}"


# PDF ----------------------------------------------------------------------------------------------


def print_sheets(
    sheets: Sequence[PracticeSheet],
    *,
    paper: str = Paper.US_LETTER,
    boxes: bool = False,
    words: str = US,
) -> bytes:
    """A PDF of all the sheets, each beginning on a page of its own.

    Args:
        sheets: at least one.
        paper: one of ``PAPERS``.
        boxes: whether each repetition has a circle to tick too.
        words: whose school English what is ours is printed in.
    """
    import typst  # here, for the server only hands the setting on

    if not sheets:
        raise ValueError("no sheet to print")
    if paper not in PAPERS:
        raise ValueError(f"no such paper: {paper}")
    with TemporaryDirectory(prefix="crumb-sheets-") as folder:
        root = Path(folder)
        page = _Page(root, _TEXT_WIDTH[paper], boxes, words)
        data = {"paper": paper, "sheets": [_sheet(page, sheet) for sheet in sheets]}
        (root / "data.json").write_text(json.dumps(data, ensure_ascii=False))
        template = files("crumb.formats") / "sheet.typ"
        (root / "sheet.typ").write_text(template.read_text())
        made = typst.compile(str(root / "sheet.typ"), root=str(root), format="pdf")
    assert isinstance(made, bytes)
    return made


def print_music(
    title: str, steps: Sequence[tuple[str, str]], *, paper: str = Paper.US_LETTER
) -> bytes:
    """A PDF of engraved music alone: a title and named drawings."""
    drill = PrintedDrill(
        title="",
        how="",
        clean_means="",
        minutes="",
        steps=tuple(PrintedStep(name, svg=svg) for name, svg in steps),
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
        chunks=(PrintedChunk("", "", (drill,)),),
    )
    return print_sheets([sheet], paper=paper)


@dataclass(frozen=True, slots=True)
class _Page:
    """The folder of drawings while a PDF is made, and the width of its lines."""

    root: Path
    width: float
    boxes: bool
    words: str

    def said(self, text: str) -> str:
        """A sentence of ours in the words of the school."""
        return said_in(self.words, text)

    def drawn(self, svg: str) -> str:
        """Keep a drawing once under its own hash; its name, or nothing for none."""
        if not svg:
            return ""
        svg = _BEAT_SIGN.sub(lambda found: _readable(found[1]), svg)
        name = f"{sha256(svg.encode()).hexdigest()[:24]}.svg"
        path = self.root / name
        if not path.exists():
            path.write_text(svg)
        return name

    def breadth(self, svg: str, units: int) -> float:
        """How wide a drawing is in millimetres where a full line of it has so many units."""
        found = _WIDE.search(svg)
        return min(float(found[1]) / units, 1.0) * self.width if found else 0.0


_BEAT_SIGN = re.compile(r'<tspan font-family="Leland"[^>]*font-size="[0-9]+px">([^<]*)</tspan>')
_SIGNS = {
    "\ueca2": "whole note",
    "\ueca3": "half note",
    "\ueca5": "♩",
    "\ueca7": "♪",
    "\uecb7": ".",
}


def _readable(signs: str) -> str:
    """The sign of a beat in a font that paper has: the engraver's own draws nothing there."""
    text = "".join(_SIGNS.get(sign, "") for sign in signs)
    return f'<tspan font-size="405px">{text}</tspan>'


def _sheet(page: _Page, sheet: PracticeSheet) -> dict[str, object]:
    known: set[str] = set()
    return {
        "name": sheet.name,
        "section": sheet.section,
        "piece": sheet.piece,
        "part": sheet.part,
        "due": sheet.due,
        "minutes": sheet.minutes_a_day,
        "code": sheet.code,
        "plain": not sheet.piece,
        "qr": page.drawn(_qr(sheet.link)) if sheet.link else "",
        "chunks": [
            {
                "label": chunk.label,
                "svg": page.drawn(chunk.svg),
                "width": page.breadth(chunk.svg, PRINTED.width),
                "drills": [_drill(page, drill, known) for drill in chunk.drills],
            }
            for chunk in sheet.chunks
        ],
        "objectives": list(sheet.objectives),
        "arrow": any("→" in chunk.label for chunk in sheet.chunks),
        "cautions": [page.said(caution) for caution in _cautions(sheet)],
    }


_SAID_ANYWAY = re.compile(r"Pain, numbness or tingling: stop, rest, tell the teacher\. ?")


def _cautions(sheet: PracticeSheet) -> list[str]:
    """Cautions, each once, without those that stand on every sheet."""
    found = (d.caution for c in sheet.chunks for d in c.drills)
    return list(dict.fromkeys(said for c in found if (said := _SAID_ANYWAY.sub("", c).strip())))


def _drill(page: _Page, drill: PrintedDrill, known: set[str]) -> dict[str, object]:
    """A drill as printed; its instructions only where the sheet has it for the first time."""
    is_new = drill.title not in known
    known.add(drill.title)
    return {
        "title": page.said(drill.title),
        "how": page.said(drill.how) if is_new else "",
        "clean": page.said(drill.clean_means) if is_new else "",
        "minutes": drill.minutes,
        "role": drill.role,
        "beat": page.said(drill.beat_name),
        "says": [page.said(sentence) for sentence in drill.says],
        "rungs": [written(rung) for rung in drill.rungs],
        "short": len(drill.steps) == 1 and not drill.steps[0].svg,
        "rows": _rows(page, [_step(page, s, n) for n, s in enumerate(drill.steps, 1)]),
    }


def _step(page: _Page, step: PrintedStep, number: int) -> dict[str, object]:
    count = f"×{step.times}" if step.times else ""
    tokens = step.times if page.boxes and step.times <= _MOST_TOKENS else 0
    letters = len(step.name) + len(count) + len(step.burst) + 3 * bool(step.burst) + 4
    drawing = page.breadth(step.svg, PRINTED_STEP.width)
    return {
        "number": number,
        "name": page.said(step.name),
        "count": count,
        "burst": step.burst,
        "tokens": tokens,
        "svg": page.drawn(step.svg),
        "width": drawing,
        "cell": min(max(drawing, letters * _LETTER + tokens * 4.4), page.width),
    }


def _rows(page: _Page, steps: Sequence[dict[str, object]]) -> list[list[dict[str, object]]]:
    """Steps side by side, as many as a line holds."""
    rows: list[list[dict[str, object]]] = []
    left = 0.0
    for step in steps:
        cell = float(str(step["cell"]))
        if not rows or left < cell + _GUTTER:
            rows.append([])
            left = page.width + _GUTTER
        rows[-1].append(step)
        left -= cell + _GUTTER
    return rows


def _qr(link: str) -> str:
    out = BytesIO()
    segno.make(link, error="m", micro=False).save(out, kind="svg", scale=4, border=2)
    return out.getvalue().decode()
