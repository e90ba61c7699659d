"""``crumb level``: where a student stands on a chunk, from evidence."""

import argparse
from pathlib import Path

from crumb.cli.common import Row, WrongCall, answer_lines
from crumb.cli.level_documents import LevelIn, level_of, read_evidence, read_level
from crumb.core.errors import UnreadableFile
from crumb.core.tempo.ladder import (
    FASTEST,
    SLOWEST,
)


def run(args: argparse.Namespace) -> Row | None:
    """A student's standing; with ``--lines`` it is answered line by line."""
    if args.lines:
        answer_lines(lambda text: level_of(read_level(text)))
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
