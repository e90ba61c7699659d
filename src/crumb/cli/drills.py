"""``crumb drills``: the catalogue."""

import argparse

from crumb.cli.common import Row
from crumb.core.drills import (
    CATALOGUE,
    DrillKind,
)


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


def run(_: argparse.Namespace) -> list[Row]:
    """Every drill with its parameters."""
    return [_kind_row(kind) for kind in CATALOGUE]
