"""The ``crumb`` command: the heart on files alone, without a server or a database.

Exit status: 0; 2 for a wrong call; 3 for a file that cannot be used.
"""

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from functools import cached_property
from pathlib import Path

from crumb.core.drills import (
    CATALOGUE,
    Drill,
    DrillKind,
    burst_of,
    coverage,
    drill_kind,
    make_drill,
    passage_of,
)
from crumb.core.drills.fitting import (
    USUAL_MINUTES,
    Climb,
    Fitted,
    fitted,
    rungs_within,
    start_of,
)
from crumb.core.drills.model import INTERMEDIATE, LEVELS
from crumb.core.drills.sent import SentDrill, sent_drill
from crumb.core.errors import CrumbError, UnreadableFile
from crumb.core.instruments.table import instrument_named
from crumb.core.kin.finding import find_kin
from crumb.core.kin.model import Stretch
from crumb.core.score.address import find_span
from crumb.core.score.glance import UNSAID_GOAL, goal_of, main_beat
from crumb.core.score.joining import joined
from crumb.core.score.model import Measure, Note, Part, Score
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span
from crumb.core.score.slicing import slice_span
from crumb.core.split import proposals
from crumb.core.split.nested import Edge, NestedMap, divided
from crumb.core.survey.load import survey
from crumb.core.survey.model import Survey
from crumb.core.tempo.ladder import (
    FASTEST,
    SCALES,
    SLOWEST,
    ladder,
    notes_per_second,
    start_tempo,
)
from crumb.formats.engraving import drawn_text, engrave, engrave_text, without_letters
from crumb.formats.layout import PRINTED, PRINTED_STEP, SNIPPET
from crumb.formats.midi import Piece, write_pieces
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import read_music
from crumb.formats.sheets import (
    PAPERS,
    PracticeSheet,
    PrintedChunk,
    is_drawn,
    print_sheets,
    printed_drill,
)
from crumb.lines import LevelIn, level_of, read_evidence, read_level, schema_of_level
from crumb.plan_lines import plan_of, read_plan, schema_of_plan

Row = dict[str, object]


def number(value: Fraction) -> int | float:
    """An exact number as JSON writes numbers."""
    return int(value) if value.denominator == 1 else float(value)


def _fraction(text: str) -> Fraction:
    try:
        if len(text) > 12:
            raise ValueError(text)
        value = Fraction(text)
    except (ValueError, ZeroDivisionError) as error:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is not a number") from error
    return value


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no day such as 2026-09-30") from error


def _load(path: str) -> Score:
    try:
        data = Path(path).read_bytes()
    except OSError as error:
        raise UnreadableFile(f"{path}: {error.strerror or 'cannot be read'}.") from error
    return read_music(data).score


class WrongCall(CrumbError):
    """The command was called in a way it does not know."""


def _part(score: Score, part_id: str | None) -> Part:
    if part_id is None and len(score.parts) == 1:
        return score.parts[0]
    for part in score.parts:
        if part_id is not None and part_id in (part.id, part.name):
            return part
    known = ", ".join(part.id for part in score.parts)
    raise WrongCall(f"Name a part with --part: {known}.")


def _parts(args: argparse.Namespace) -> list[Row]:
    return [
        {
            "id": part.id,
            "name": part.name,
            "instrument": part.instrument,
            "transpose": part.transposition.chromatic,
            "measures": len(part.measures),
            "notes": part.attack_count,
        }
        for part in _load(args.file).parts
    ]


def _note_row(part: Part, note: Note) -> Row:
    slurs = [slur.end for slur in note.slurs]
    return {
        "at": str(note.at),
        "duration": str(note.duration),
        "pitch": note.pitch.name if note.pitch else None,
        "midi": part.transposition.sounding(note.pitch).midi if note.pitch else None,
        "voice": note.voice,
        "staff": note.staff,
        "grace": bool(note.grace),
        "tie": note.tie,
        "articulations": list(note.articulations),
        "slur": slurs[0] if len(slurs) == 1 else slurs or None,
    }


def _measure_row(part: Part, measure: Measure) -> Row:
    return {
        "index": measure.index,
        "number": measure.number,
        "length": str(measure.length),
        "nominal": str(measure.nominal),
        "time": measure.time.text,
        "key": measure.key.fifths,
        "tempo": number(measure.tempo.per_minute) if measure.tempo else None,
        "tempo_beat": str(measure.tempo.beat) if measure.tempo else None,
        "marks": [
            {"at": str(mark.at), "kind": mark.kind, "text": mark.text}
            for mark in measure.directions
        ],
        "notes": [_note_row(part, note) for note in measure.notes if note.sounds],
    }


def _score(args: argparse.Namespace) -> Row:
    part = _part(_load(args.file), args.part)
    return {
        "id": part.id,
        "name": part.name,
        "instrument": part.instrument,
        "transpose": part.transposition.chromatic,
        "measures": [_measure_row(part, measure) for measure in part.measures],
    }


def _position_row(part: Part, position: Position) -> Row:
    numbered = position.index < len(part.measures)
    return {
        "index": position.index,
        "number": part.measures[position.index].number if numbered else None,
        "at": str(position.at),
    }


def _edges(part: Part, by: str) -> list[Edge]:
    how, _, size = by.partition(":")
    if how == "measures" and size.isdecimal() and len(size) < 6:
        return proposals.every(part, int(size))
    if by == "load":
        return proposals.by_load(part, _surveyed(part, None, None))
    ways = {
        "phrases": proposals.by_phrases,
        "lines": proposals.by_lines,
        "marks": proposals.by_marks,
    }
    if by not in ways:
        raise WrongCall("Say --by phrases, lines, marks, load or measures:N, such as measures:2.")
    return ways[by](part)


def _chunks(args: argparse.Namespace) -> list[Row]:
    part = _part(_load(args.file), args.part)
    made = divided(part, NestedMap(), _edges(part, str(args.by)))
    return [
        {
            "label": span_label(part, span),
            "start": _position_row(part, span.start),
            "end": _position_row(part, span.end),
            "landing": span.landing,
            "reasons": list(made.reasons_at(span.start)) or ["the start"],
        }
        for span in made.level(part, 0).spans
    ]


def _surveyed(part: Part, instrument: str | None, tempo: Fraction | None) -> Survey:
    transpose = part.transposition.chromatic
    played_on = instrument_named(instrument or part.instrument, transpose=transpose)
    if instrument and played_on.family == "other" and instrument.casefold() != "instrument":
        raise WrongCall(f"There is no instrument called {instrument[:40]}.")
    if instrument is None and played_on.family == "other":
        played_on = instrument_named(part.name, transpose=transpose)
    beat = main_beat(part)
    goal = (tempo or goal_of(part)) * beat
    if goal <= 0:
        raise WrongCall("A tempo is above 0.")
    return survey(part, played_on, goal_quarters=goal)


def _survey(args: argparse.Namespace) -> Row:
    part = _part(_load(args.file), args.part)
    found = _surveyed(part, args.instrument, args.tempo)
    return {
        "instrument": found.instrument,
        "measures": [
            {
                "index": m.index,
                "number": m.number,
                "load": round(m.load, 3),
                "beats": [round(load, 3) for load in m.beats],
                "notes_per_second": round(m.notes_per_second, 3),
                "spots": [{"at": str(s.at.at), "kind": s.kind, "why": s.why} for s in m.spots],
            }
            for m in found.measures
        ],
        "crux": {"index": found.crux, "number": part.measures[found.crux].number},
        "objectives": [{"kind": o.kind, "text": o.text} for o in found.objectives],
    }


def _kin(args: argparse.Namespace) -> list[Row]:
    score = _load(args.file)
    parts = [_part(score, args.part)] if args.part else list(score.parts)

    def end(stretch: Stretch) -> Row:
        return {"part": parts[stretch.part].id, "from": stretch.first, "to": stretch.last}

    return [
        {
            "a": end(kin.a),
            "b": end(kin.b),
            "relation": kin.relation,
            "interval": kin.interval,
            "steps": kin.steps,
            "scale": str(kin.scale),
            "later": str(kin.later),
            "differs": [{"index_in_a": d.index, "a": d.a, "b": d.b} for d in kin.differs],
        }
        for kin in find_kin(parts)
    ]


def _kind_row(kind: DrillKind) -> Row:
    return {
        "name": kind.name,
        "title": kind.title,
        "family": kind.family,
        "parameters": [
            {
                "name": p.name,
                "label": p.label,
                "default": p.default,
                "choices": list(p.choices),
                **({} if p.choices else {"low": p.low, "high": p.high}),
            }
            for p in kind.parameters
        ],
        "needs": kind.needs,
        "use_when": kind.use_when,
    }


def _drills(_: argparse.Namespace) -> list[Row]:
    return [_kind_row(kind) for kind in CATALOGUE]


def _settings(pairs: Sequence[str]) -> dict[str, object]:
    settings: dict[str, object] = {}
    for pair in pairs:
        name, equals, value = pair.partition("=")
        if not equals:
            raise WrongCall(f"Say --set name=value, not --set {pair}.")
        settings[name] = value
    return settings


def _default_goal(part: Part, span: Span) -> Fraction:
    tempo = part.measures[span.start.index].tempo
    beat = part.measures[span.start.index].time.beat
    return tempo.quarters / beat if tempo else UNSAID_GOAL


@dataclass(frozen=True)
class _Made:
    """A drill on a span with its tempos: what is told of it, played and printed."""

    part: Part
    drill: Drill
    goal: Fraction
    beat: Fraction
    rungs: tuple[Fraction, ...]
    found: Fitted
    turned: tuple[int, int]

    @cached_property
    def sent(self) -> SentDrill:
        return sent_drill(
            self.part,
            drill_kind(self.drill.name),
            self.drill,
            goal=self.goal,
            rungs=self.rungs,
            turned=self.turned,
        )


def _made(args: argparse.Namespace, part: Part, name: str) -> _Made:
    span = find_span(part, args.span)
    goal = args.goal or _default_goal(part, span)
    beat = part.measures[span.start.index].time.beat
    for tempo in (goal, args.tempo or goal):
        if not SLOWEST <= tempo <= FASTEST:
            raise WrongCall("A tempo lies between 10 and 400 beats a minute.")
    if not 1 <= args.minutes <= 240:
        raise WrongCall("--minutes lies between 1 and 240.")
    passage = passage_of(part, span, args.tempo or start_tempo(goal))
    drill = make_drill(part, span, name, _settings(args.set), level=args.level, passage=passage)
    start = args.tempo or start_of(drill.steps, goal)
    top = max(goal, start)
    found = fitted(drill.steps, start=start, goal=top, beat=beat, minutes=args.minutes)
    rungs = ladder(start=start, goal=top, step=args.step or found.climb.step)
    return _Made(part, drill, goal, beat, drill.climbed(rungs), found, coverage(passage, drill))


def _drill(args: argparse.Namespace) -> Row:
    part = _part(_load(args.file), args.part)
    made = _made(args, part, args.drill)
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


def _export(made: _Made, path: Path) -> None:
    drill, tempo, beat = made.drill, made.rungs[0], made.beat
    sheet = joined([s.part for s in drill.steps], [s.name for s in drill.steps])
    writers: dict[str, Callable[[], bytes]] = {
        ".musicxml": lambda: write_part(sheet, title=drill.name).encode(),
        ".mid": lambda: write_pieces(
            [Piece(s.part, tempo * s.pace) for s in drill.steps], beat=beat
        ),
        ".svg": lambda: engrave(sheet, SNIPPET).encode(),
        ".pdf": lambda: _sheet_pdf(made.part, [made]),
    }
    if path.suffix not in writers:
        raise WrongCall(f"--out ends in {', '.join(writers)}.")
    _write(path, writers[path.suffix]())


def _write(path: Path, data: bytes) -> None:
    try:
        path.write_bytes(data)
    except OSError as error:
        raise WrongCall(f"{path}: {error.strerror}.") from error


def _sheet(args: argparse.Namespace) -> Row:
    path = Path(args.out)
    if path.suffix != ".pdf":
        raise WrongCall("--out of a sheet ends in .pdf.")
    score = _load(args.file)
    part = _part(score, args.part)
    made = [_made(args, part, name) for name in args.drill]
    _write(path, _sheet_pdf(part, made, title=score.title, paper=args.paper, boxes=args.boxes))
    return {
        "out": str(path),
        "span": span_label(part, made[0].drill.span),
        "drills": [one.drill.name for one in made],
        "climb_minutes": float(sum(one.sent.climb_seconds for one in made) / 60),
    }


def _sheet_pdf(
    part: Part,
    made: Sequence[_Made],
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


def _level(args: argparse.Namespace) -> Row | None:
    if args.lines:
        _line_by_line(lambda text: level_of(read_level(text)))
        return None
    if args.file is None or args.goal is None:
        raise WrongCall("Say crumb level EVIDENCE.jsonl --goal BPM, or --lines.")
    try:
        lines = Path(args.file).read_text(encoding="utf-8").splitlines()
    except (OSError, UnicodeDecodeError) as error:
        raise UnreadableFile(f"{args.file} cannot be read.") from error
    if not SLOWEST <= args.goal <= FASTEST:
        raise WrongCall("A tempo lies between 10 and 400 beats a minute.")
    asked = LevelIn(goal=float(args.goal), today=args.today, evidence=read_evidence(lines))
    return level_of(asked)


def _plan(args: argparse.Namespace) -> Row | None:
    if args.lines:
        _line_by_line(lambda text: plan_of(read_plan(text)))
        return None
    if args.file is None:
        raise WrongCall("Say crumb plan SPEC.json, or --lines.")
    try:
        text = Path(args.file).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise UnreadableFile(f"{args.file} cannot be read.") from error
    return plan_of(read_plan(text))


def _line_by_line(answered: Callable[[str], Row]) -> None:
    """Answer each document of standard input as soon as it is known; a bad one says why."""
    for text in sys.stdin:
        if not text.strip():
            continue
        try:
            answer = answered(text)
        except CrumbError as error:
            answer = {"error": error.message}
        sys.stdout.write(json.dumps(answer, ensure_ascii=False) + "\n")
        sys.stdout.flush()


def _schema(args: argparse.Namespace) -> Row:
    return schema_of_plan() if args.of == "plan" else schema_of_level()


def _ladder(args: argparse.Namespace) -> Row:
    rungs = ladder(start=args.start, goal=args.goal, step=args.step, scale=args.scale)
    return {"rungs": [number(rung) for rung in rungs]}


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="crumb", description="Chunks, drills and tempo ladders.")
    parser.add_argument("--json", action="store_true", help="print one JSON document")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(
        name: str, run: Callable[[argparse.Namespace], object], text: str
    ) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text)
        made.add_argument("--json", action="store_true", default=argparse.SUPPRESS)
        made.set_defaults(run=run)
        return made

    parts = command("parts", _parts, "the parts of a file")
    score = command("score", _score, "every measure and note of a part")
    chunks = command("chunks", _chunks, "split a part into chunks")
    read = command("survey", _survey, "where a part is hard, and why")
    kin = command("kin", _kin, "measures of the same material")
    command("drills", _drills, "the drill catalogue")
    drill = command("drill", _drill, "make a drill from a span")
    sheet = command("sheet", _sheet, "print a practice sheet of one or more drills on a span")
    level = command("level", _level, "where a student stands on a chunk, from evidence")
    level.add_argument("file", nargs="?")
    level.add_argument("--goal", type=_fraction)
    level.add_argument("--today", type=_day)
    level.add_argument("--lines", action="store_true", help="a document a line on standard input")
    plan = command("plan", _plan, "a student's minutes from today to the date, from a spec")
    plan.add_argument("file", nargs="?")
    plan.add_argument("--lines", action="store_true", help="a spec a line on standard input")
    schema = command("schema", _schema, "the JSON Schema of what level or plan reads and answers")
    schema.add_argument("of", choices=("level", "plan"))
    rungs = command("ladder", _ladder, "the rungs of a tempo ladder")
    for with_file in (parts, score, chunks, read, kin, drill, sheet):
        with_file.add_argument("file")
    for with_part in (score, chunks, read, kin, drill, sheet):
        with_part.add_argument("--part")
    chunks.add_argument("--by", default="measures:2")
    read.add_argument("--instrument")
    read.add_argument("--tempo", type=_fraction)
    drill.add_argument("--drill", required=True)
    sheet.add_argument("--drill", required=True, action="append")
    for of_drill in (drill, sheet):
        of_drill.add_argument("--span", required=True)
        of_drill.add_argument("--set", action="append", default=[], metavar="KEY=VALUE")
        of_drill.add_argument("--tempo", type=_fraction)
        of_drill.add_argument("--goal", type=_fraction)
        of_drill.add_argument("--step", type=_fraction)
        of_drill.add_argument("--minutes", type=int, default=USUAL_MINUTES)
        of_drill.add_argument("--level", choices=LEVELS, default=INTERMEDIATE)
    sheet.add_argument("--out", required=True)
    sheet.add_argument("--paper", choices=PAPERS, default=PAPERS[-1])
    sheet.add_argument("--boxes", action="store_true")
    drill.add_argument("--out")
    rungs.add_argument("--start", type=_fraction, required=True)
    rungs.add_argument("--goal", type=_fraction, required=True)
    rungs.add_argument("--step", type=_fraction, required=True)
    rungs.add_argument("--scale", choices=SCALES, default="clicks")
    return parser


def _cell(value: object) -> str:
    if isinstance(value, list):
        return (
            f"{len(value)} …"
            if value and isinstance(value[0], dict)
            else ", ".join(map(str, value))
        )
    if isinstance(value, dict):
        return " ".join(str(v) for v in value.values() if v is not None)
    return "" if value is None else str(value)


def _table(rows: Sequence[Row]) -> str:
    if not rows:
        return "Nothing."
    heads = [
        head for head in rows[0] if not isinstance(rows[0][head], dict) or head in ("start", "end")
    ]
    cells = [heads, *([_cell(row[head]) for head in heads] for row in rows)]
    widths = [min(max(len(row[i]) for row in cells), 40) for i in range(len(heads))]
    return "\n".join(
        "  ".join(cell[:40].ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip()
        for row in cells
    )


def _readable(result: object) -> str:
    if isinstance(result, list):
        return _table(result)
    if not isinstance(result, dict):
        return str(result)
    lines = []
    for name, value in result.items():
        if isinstance(value, list) and value and isinstance(value[0], dict):
            lines.append(_table(value))
        else:
            lines.append(f"{name}: {_cell(value)}")
    return "\n".join(lines)


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; see the module's docstring for the exit status."""
    args = _parser().parse_args(argv)
    try:
        result = args.run(args)
    except UnreadableFile as error:
        sys.stderr.write(f"{error.message}\n")
        return 3
    except CrumbError as error:
        sys.stderr.write(f"{error.message}\n")
        return 2
    if result is None:
        return 0  # answered already, line by line
    sys.stdout.write(json.dumps(result, ensure_ascii=False) if args.json else _readable(result))
    sys.stdout.write("\n")
    return 0
