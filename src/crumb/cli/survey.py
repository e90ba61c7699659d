"""``crumb survey``: where a part is hard, and why."""

import argparse

from crumb.cli.common import Row, chosen_part, load_score, surveyed


def run(args: argparse.Namespace) -> Row:
    """Load, spots, crux and objectives of a part."""
    part = chosen_part(load_score(args.file), args.part)
    found = surveyed(part, args.instrument, args.tempo)
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
