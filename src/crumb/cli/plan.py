"""``crumb plan``: a student's minutes from today to the date."""

import argparse
from pathlib import Path

from crumb.cli.common import Row, WrongCall, answer_lines
from crumb.cli.plan_documents import plan_of, read_plan
from crumb.core.errors import UnreadableFile


def run(args: argparse.Namespace) -> Row | None:
    """A plan; with ``--lines`` it is answered line by line."""
    if args.lines:
        answer_lines(lambda text: plan_of(read_plan(text)))
        return None
    if args.file is None:
        raise WrongCall("Say crumb plan SPEC.json, or --lines.")
    try:
        text = Path(args.file).read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise UnreadableFile(f"{args.file} cannot be read.") from error
    return plan_of(read_plan(text))
