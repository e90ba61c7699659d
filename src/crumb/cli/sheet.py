"""``crumb sheet``: a practice sheet of one or more drills on a span."""

import argparse
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from crumb.cli.common import Row, WrongCall, chosen_part, load_score, write_file
from crumb.cli.drill_on_span import DrillOnSpan, drill_on_span
from crumb.core.score.model import Part
from crumb.core.score.naming import span_label
from crumb.core.score.slicing import slice_span
from crumb.formats.engraving import drawn_text, engrave, engrave_text, without_letters
from crumb.formats.layout import PRINTED, PRINTED_STEP
from crumb.formats.sheets import (
    PAPERS,
    PracticeSheet,
    PrintedChunk,
    is_drawn,
    print_sheets,
    printed_drill,
)


def run(args: argparse.Namespace) -> Row:
    """Print a sheet, and tell what is on it."""
    path = Path(args.out)
    if path.suffix != ".pdf":
        raise WrongCall("--out of a sheet ends in .pdf.")
    score = load_score(args.file)
    part = chosen_part(score, args.part)
    made = [drill_on_span(args, part, name) for name in args.drill]
    write_file(path, sheet_pdf(part, made, title=score.title, paper=args.paper, boxes=args.boxes))
    return {
        "out": str(path),
        "span": span_label(part, made[0].drill.span),
        "drills": [one.drill.name for one in made],
        "climb_minutes": float(sum(one.sent.climb_seconds for one in made) / 60),
    }


def sheet_pdf(
    part: Part,
    made: Sequence[DrillOnSpan],
    *,
    title: str = "",
    paper: str = PAPERS[-1],
    boxes: bool = False,
) -> bytes:
    """A practice sheet: the chunk, its drills with their ladders, the cautions."""
    span = made[0].drill.span
    label = span_label(part, span)
    drills = []
    for one in made:
        sent = one.sent
        drawings = [
            engrave_text(
                without_letters(drawn_text(step.part)),
                replace(PRINTED_STEP, numbers=step.as_written),
            )
            if step.part.has_notes and is_drawn(sent.steps[place], place, span)
            else None
            for place, step in enumerate(one.drill.steps)
        ]
        minutes = f"{max(1, round(sent.climb_seconds / 60))} min"
        drills.append(printed_drill(sent, sent.steps, drawings, minutes=minutes))
    svg = engrave(slice_span(part, span), PRINTED) if part.has_notes else ""
    sheet = PracticeSheet(
        name=title or part.name,
        section="",
        piece=part.name if title else label,
        part="",
        due="",
        minutes_a_day=0,
        code="",
        link="",
        chunks=(PrintedChunk(label, svg, tuple(drills)),),
    )
    return print_sheets([sheet], paper=paper, boxes=boxes)
