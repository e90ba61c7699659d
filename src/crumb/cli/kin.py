"""``crumb kin``: measures of the same material."""

import argparse

from crumb.cli.common import Row, chosen_part, load_score
from crumb.core.similarity.finding import find_kin
from crumb.core.similarity.model import Stretch


def run(args: argparse.Namespace) -> list[Row]:
    """Pairs of stretches that are alike, and how."""
    score = load_score(args.file)
    parts = [chosen_part(score, args.part)] if args.part else list(score.parts)

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
