"""The ``crumb`` command: the heart on files alone, without a server or a database.

Exit status: 0; 2 for a wrong call; 3 for a file that cannot be used.
"""

import argparse
import json
import sys
from collections.abc import Callable, Sequence

from crumb.cli import (
    chunks,
    drill,
    drills,
    kin,
    ladder,
    level,
    parts,
    plan,
    schema,
    score,
    sheet,
    survey,
)
from crumb.cli.common import day, exact
from crumb.cli.tables import readable
from crumb.core.drills.ladder_fit import (
    USUAL_MINUTES,
)
from crumb.core.drills.model import INTERMEDIATE, LEVELS
from crumb.core.errors import CrumbError, UnreadableFile
from crumb.core.tempo.ladder import SCALES
from crumb.formats.sheets import (
    PAPERS,
)


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

    parts_command = command("parts", parts.run, "the parts of a file")
    score_command = command("score", score.run, "every measure and note of a part")
    chunks_command = command("chunks", chunks.run, "split a part into chunks")
    read_command = command("survey", survey.run, "where a part is hard, and why")
    kin_command = command("kin", kin.run, "measures of the same material")
    command("drills", drills.run, "the drill catalogue")
    drill_command = command("drill", drill.run, "make a drill from a span")
    sheet_command = command(
        "sheet", sheet.run, "print a practice sheet of one or more drills on a span"
    )
    level_command = command("level", level.run, "where a student stands on a chunk, from evidence")
    level_command.add_argument("file", nargs="?")
    level_command.add_argument("--goal", type=exact)
    level_command.add_argument("--today", type=day)
    level_command.add_argument(
        "--lines", action="store_true", help="a document a line on standard input"
    )
    plan_command = command(
        "plan", plan.run, "a student's minutes from today to the date, from a spec"
    )
    plan_command.add_argument("file", nargs="?")
    plan_command.add_argument(
        "--lines", action="store_true", help="a spec a line on standard input"
    )
    schema_command = command(
        "schema", schema.run, "the JSON Schema of what level or plan reads and answers"
    )
    schema_command.add_argument("of", choices=("level", "plan"))
    rungs_command = command("ladder", ladder.run, "the rungs of a tempo ladder")
    for with_file in (
        parts_command,
        score_command,
        chunks_command,
        read_command,
        kin_command,
        drill_command,
        sheet_command,
    ):
        with_file.add_argument("file")
    for with_part in (
        score_command,
        chunks_command,
        read_command,
        kin_command,
        drill_command,
        sheet_command,
    ):
        with_part.add_argument("--part")
    chunks_command.add_argument("--by", default="measures:2")
    read_command.add_argument("--instrument")
    read_command.add_argument("--tempo", type=exact)
    drill_command.add_argument("--drill", required=True)
    sheet_command.add_argument("--drill", required=True, action="append")
    for of_drill in (drill_command, sheet_command):
        of_drill.add_argument("--span", required=True)
        of_drill.add_argument("--set", action="append", default=[], metavar="KEY=VALUE")
        of_drill.add_argument("--tempo", type=exact)
        of_drill.add_argument("--goal", type=exact)
        of_drill.add_argument("--step", type=exact)
        of_drill.add_argument("--minutes", type=int, default=USUAL_MINUTES)
        of_drill.add_argument("--level", choices=LEVELS, default=INTERMEDIATE)
    sheet_command.add_argument("--out", required=True)
    sheet_command.add_argument("--paper", choices=PAPERS, default=PAPERS[-1])
    sheet_command.add_argument("--boxes", action="store_true")
    drill_command.add_argument("--out")
    rungs_command.add_argument("--start", type=exact, required=True)
    rungs_command.add_argument("--goal", type=exact, required=True)
    rungs_command.add_argument("--step", type=exact, required=True)
    rungs_command.add_argument("--scale", choices=SCALES, default="clicks")
    return parser


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
    sys.stdout.write(json.dumps(result, ensure_ascii=False) if args.json else readable(result))
    sys.stdout.write("\n")
    return 0
