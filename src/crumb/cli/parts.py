"""``crumb parts``: the parts of a file."""

import argparse

from crumb.cli.common import Row, load_score


def run(args: argparse.Namespace) -> list[Row]:
    """The parts, in score order."""
    return [
        {
            "id": part.id,
            "name": part.name,
            "instrument": part.instrument,
            "transpose": part.transposition.chromatic,
            "measures": len(part.measures),
            "notes": part.attack_count,
        }
        for part in load_score(args.file).parts
    ]
