"""``crumb schema``: the JSON Schema of what level or plan reads and answers."""

import argparse

from crumb.cli.common import Row
from crumb.cli.level_documents import schema_of_level
from crumb.cli.plan_documents import schema_of_plan


def run(args: argparse.Namespace) -> Row:
    """The JSON Schema of what a verb reads and answers."""
    return schema_of_plan() if args.of == "plan" else schema_of_level()
