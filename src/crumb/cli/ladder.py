"""``crumb ladder``: the rungs of a tempo ladder."""

import argparse

from crumb.cli.common import Row, number
from crumb.core.tempo.ladder import (
    ladder,
)


def run(args: argparse.Namespace) -> Row:
    """The rungs between two tempos."""
    rungs = ladder(start=args.start, goal=args.goal, step=args.step, scale=args.scale)
    return {"rungs": [number(rung) for rung in rungs]}
