"""The ``crumb`` command: the heart on files alone, without a server or a database.

Exit status: 0; 2 for a wrong call; 3 for a file that cannot be used.
"""

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from fractions import Fraction
from pathlib import Path

from crumb.core.drills import (
    CATALOGUE,
    Drill,
    DrillKind,
    burst_of,
    coverage,
    cycle_seconds,
    make_drill,
    passage_of,
)
from crumb.core.drills.model import INTERMEDIATE, LEVELS
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
from crumb.core.split import proposals
from crumb.core.split.nested import Edge, NestedMap, divided
from crumb.core.survey.load import survey
from crumb.core.survey.model import Survey
from crumb.core.tempo.ladder import SCALES, ladder, start_tempo
from crumb.formats.engraving import engrave
from crumb.formats.layout import SNIPPET
from crumb.formats.midi import Piece, write_pieces
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import read_music
from crumb.formats.sheets import print_music

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
    if how == "measures" and size.isdigit():
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


def _drill(args: argparse.Namespace) -> Row:
    part = _part(_load(args.file), args.part)
    span = find_span(part, args.span)
    passage = passage_of(part, span)
    drill = make_drill(
        part, span, args.drill, _settings(args.set), level=args.level, passage=passage
    )
    goal = args.goal or _default_goal(part, span)
    tempo = args.tempo or start_tempo(goal)
    beat = part.measures[span.start.index].time.beat
    if not 10 <= tempo <= 400 or not 10 <= goal <= 400:
        raise WrongCall("A tempo lies between 10 and 400 beats a minute.")
    if drill.at_goal:
        tempo = goal
    if args.out:
        _export(drill, Path(args.out), tempo, beat)
    seconds = cycle_seconds(drill.steps, tempo=tempo, beat=beat)
    turned, notes = coverage(passage, drill)
    return {
        "drill": drill.name,
        "span": span_label(part, drill.span),
        "goal": number(goal),
        "beat": str(beat),
        "settings": drill.settings,
        "at_goal": drill.at_goal,
        "coverage": {"turned": turned, "notes": notes},
        "steps": [_step_row(part, drill, i, tempo, goal) for i in range(len(drill.steps))],
        "minutes": float(seconds / 60),
        "minutes_exact": str(seconds / 60),
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


def _export(drill: Drill, path: Path, tempo: Fraction, beat: Fraction) -> None:
    sheet = joined([s.part for s in drill.steps], [s.name for s in drill.steps])
    writers: dict[str, Callable[[], bytes]] = {
        ".musicxml": lambda: write_part(sheet, title=drill.name).encode(),
        ".mid": lambda: write_pieces(
            [Piece(s.part, tempo * s.pace) for s in drill.steps], beat=beat
        ),
        ".svg": lambda: engrave(sheet, SNIPPET).encode(),
        ".pdf": lambda: print_music(
            f"{drill.name}, {sheet.name}", [(s.name, engrave(s.part, SNIPPET)) for s in drill.steps]
        ),
    }
    if path.suffix not in writers:
        raise WrongCall(f"--out ends in {', '.join(writers)}.")
    try:
        path.write_bytes(writers[path.suffix]())
    except OSError as error:
        raise WrongCall(f"{path}: {error.strerror}.") from error


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
    rungs = command("ladder", _ladder, "the rungs of a tempo ladder")
    for with_file in (parts, score, chunks, read, kin, drill):
        with_file.add_argument("file")
    for with_part in (score, chunks, read, kin, drill):
        with_part.add_argument("--part")
    chunks.add_argument("--by", default="measures:2")
    read.add_argument("--instrument")
    read.add_argument("--tempo", type=_fraction)
    drill.add_argument("--span", required=True)
    drill.add_argument("--drill", required=True)
    drill.add_argument("--set", action="append", default=[], metavar="KEY=VALUE")
    drill.add_argument("--tempo", type=_fraction)
    drill.add_argument("--goal", type=_fraction)
    drill.add_argument("--level", choices=LEVELS, default=INTERMEDIATE)
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
    sys.stdout.write(json.dumps(result, ensure_ascii=False) if args.json else _readable(result))
    sys.stdout.write("\n")
    return 0
