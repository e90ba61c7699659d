"""``crumb drill``: a drill made from a span, told or written to a file."""

import argparse
from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

from crumb.cli.common import Row, WrongCall, chosen_part, load_score, number, write_file
from crumb.cli.drill_on_span import DrillOnSpan, drill_on_span
from crumb.cli.sheet import sheet_pdf
from crumb.core.drills import (
    Drill,
    burst_of,
)
from crumb.core.drills.ladder_fit import (
    Climb,
    rungs_within,
)
from crumb.core.score.joining import joined
from crumb.core.score.model import Part
from crumb.core.score.naming import span_label
from crumb.core.tempo.ladder import (
    notes_per_second,
)
from crumb.formats.engraving import engrave
from crumb.formats.layout import SNIPPET
from crumb.formats.midi import Piece, write_pieces
from crumb.formats.musicxml.writer import write_part


def run(args: argparse.Namespace) -> Row:
    """A drill on a span; written to a file, too, if ``--out`` says so."""
    part = chosen_part(load_score(args.file), args.part)
    made = drill_on_span(args, part, args.drill)
    drill, goal, beat, rungs = made.drill, made.goal, made.beat, made.rungs
    if args.out:
        _export(made, Path(args.out))
    seconds, fastest = made.sent.cycle_seconds, made.sent.fastest
    climbs = not (drill.at_goal or drill.stays)
    return {
        "drill": drill.name,
        "span": span_label(part, drill.span),
        "goal": number(goal),
        "beat": str(beat),
        "settings": drill.settings,
        "at_goal": drill.at_goal,
        "coverage": dict(zip(("turned", "notes"), made.turned, strict=True)),
        "steps": [_step_row(part, drill, i, rungs[0], goal) for i in range(len(drill.steps))],
        "minutes": float(seconds / 60),
        "minutes_exact": str(seconds / 60),
        "rungs": [number(rung) for rung in rungs],
        "notes_per_click": str(beat / fastest),
        "notes_per_second": [
            round(float(notes_per_second(tempo=rung, beat=beat, unit=fastest)), 3) for rung in rungs
        ],
        "climb_minutes": float(made.sent.climb_seconds / 60),
        "rungs_in_minutes": rungs_within(
            drill.steps, rungs=rungs, beat=beat, seconds=Fraction(args.minutes * 60)
        ),
        "finer": _climb_row(made.found.finer) if climbs else None,
        "shorter": _climb_row(made.found.shorter) if climbs else None,
    }


def _climb_row(climb: Climb | None) -> Row | None:
    if climb is None:
        return None
    return {
        "step": number(climb.step),
        "rungs": [number(rung) for rung in climb.rungs],
        "climb_minutes": float(climb.seconds / 60),
    }


def _step_row(part: Part, drill: Drill, place: int, tempo: Fraction, goal: Fraction) -> Row:
    step = drill.steps[place]
    burst = burst_of(step, goal)
    return {
        "name": step.name,
        "tempo": number(tempo * step.pace),
        "click": str(step.click),
        "click_at": str(step.click_at),
        "clicks": [str(at) for at in step.clicks],
        "say": step.say,
        "on_slip": step.slip,
        "as_written": step.as_written,
        "repetitions": step.repetitions,
        "kind": step.kind,
        "quarters": str(step.quarters),
        "notes": [
            {
                "at": str(sound.at),
                "duration": str(sound.duration),
                "pitch": sound.pitch.name if sound.pitch else None,
                "midi": sound.midi,
            }
            for sound in step.sounds
        ],
        "burst_tempo": number(burst) if burst is not None else None,
    }


def _export(made: DrillOnSpan, path: Path) -> None:
    drill, tempo, beat = made.drill, made.rungs[0], made.beat
    sheet = joined([s.part for s in drill.steps], [s.name for s in drill.steps])
    writers: dict[str, Callable[[], bytes]] = {
        ".musicxml": lambda: write_part(sheet, title=drill.name).encode(),
        ".mid": lambda: write_pieces(
            [Piece(s.part, tempo * s.pace) for s in drill.steps], beat=beat
        ),
        ".svg": lambda: engrave(sheet, SNIPPET).encode(),
        ".pdf": lambda: sheet_pdf(made.part, [made]),
    }
    if path.suffix not in writers:
        raise WrongCall(f"--out ends in {', '.join(writers)}.")
    write_file(path, writers[path.suffix]())
