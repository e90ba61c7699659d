"""Housekeeping: ``python -m crumb.admin rebuild-levels``.

Levels are a projection of evidence. This works every one out anew, stores it, and says where what
was stored differed; the exit status is 1 then.
"""

import sys

from crumb.services.standings import rebuild
from crumb.store.session import new_session


def main(arguments: list[str]) -> int:
    """Run one command."""
    if arguments != ["rebuild-levels"]:
        sys.stderr.write("Say: python -m crumb.admin rebuild-levels\n")
        return 2
    with new_session() as session:
        differing = rebuild(session)
    for student, chunk, stored, true in differing:
        sys.stdout.write(f"student {student}, chunk {chunk}: stored {stored}, now {true}\n")
    sys.stdout.write(f"{len(differing)} levels differed from their evidence.\n")
    return 1 if differing else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
