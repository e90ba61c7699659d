"""Blocks: the minutes of one chunk at a stretch, at least one cycle of its drill.

With fewer minutes a student sets a drill up and stops before it works. The lengths of cycles were
measured on a hundred spans of an open corpus; ``tests/formats/test_drill_cycles.py`` measures them
again.
"""

from collections.abc import Mapping
from math import ceil

from crumb.core.drill_names import DrillName
from crumb.core.plan.ladders import SLIPPING
from crumb.core.plan.projection import Projected

LEAST_BLOCK, LONGEST_BLOCK = 4, 5
"""Minutes of a block (our own choice)."""
SHOWING, _SHOWN_FROM = 2, 0.93
"""Minutes of showing a chunk as written, and the share of goal from which that is all it needs."""
CAPS = (5, 8, 12, 16)
"""The most minutes of a chunk in a day. The next cap holds only where minutes would be idle."""
_USUAL_PASSES = 12.0
_PASSES: Mapping[str, float] = {
    DrillName.ALONE: 3.0,
    DrillName.CUMULATIVE: 8.0,
    DrillName.SUBDIVISION_CLICK: 8.0,
    DrillName.OFF_BEAT_CLICK: 8.0,
    DrillName.FIRST_BEAT_CLICK: 8.0,
    DrillName.TWO_NOTES: 10.0,
    DrillName.STANDARD_SET: 14.0,
    DrillName.ADD_A_NOTE: 14.0,
    DrillName.EVERY_NOTE: 13.0,
    DrillName.BLOCKS: 14.0,
    DrillName.HAND_ORDER: 14.0,
    DrillName.HOLD_CYCLE: 15.0,
    DrillName.IN_CONTEXT: 16.0,
    DrillName.BACKWARD: 18.0,
    DrillName.CLOSE_GAPS: 45.0,
}
"""Passes of the chunk that last as long as one clean cycle of a drill: the median."""
KNOWN_DRILLS = frozenset(_PASSES)
"""The drills whose cycles were measured; any other counts as usual."""


def passes_of(drill: str) -> float:
    """Passes of a chunk that last as long as one clean cycle of a drill on it."""
    return _PASSES.get(drill, _USUAL_PASSES)


def cycle_minutes(passes: float, one: Projected) -> float:
    """Minutes of a cycle of so many passes at secure tempo, with the slips that come with work."""
    return SLIPPING * passes * one.pass_seconds(max(one.secure, 1.0)) / 60


def block_minutes(one: Projected) -> int:
    """Whole minutes of a chunk's block: a cycle of a usual drill, or time to show the chunk."""
    if one.share >= _SHOWN_FROM:
        return SHOWING
    cycle = ceil(cycle_minutes(_USUAL_PASSES, one))
    return min(max(cycle, LEAST_BLOCK), LONGEST_BLOCK)
