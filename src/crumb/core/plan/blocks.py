"""Blocks: the minutes that one chunk has at a stretch, at least a cycle of a drill.

Fewer minutes are a crumb: the drill is set up, and over before it did anything. How many passes a
cycle is worth was measured on four hundred spans of an open corpus (``tools/sweep_drills.py`` makes
them); who works at the edge plays half as many again (our own choice).
"""

from collections.abc import Mapping
from math import ceil

from crumb.core.drill_names import DrillName
from crumb.core.plan.projection import Projected

LEAST_BLOCK, USUAL_BLOCK = 4, 5
"""Minutes: fewer are not worth it, and more are for days on which minutes are left."""
SHOWING, _SHOWN_FROM = 2, 0.93
"""Minutes of what only has to be shown as written, and of goal, from where on that is so."""
CAPS = (5, 8, 12, 16)
"""Minutes that one chunk has in a day at most: the next number where minutes would be idle."""
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
"""Plain passes that last as long as one clean cycle, the median."""
_SLIPPING = 1.5


def cycle_minutes(drill: str, one: Projected) -> float:
    """Minutes of one cycle of a drill on a chunk at what is secure, with the slips of the edge."""
    passes = _PASSES.get(drill, _USUAL_PASSES)
    return _SLIPPING * passes * one.pass_seconds(max(one.secure, 1.0)) / 60


def block_minutes(one: Projected) -> int:
    """Whole minutes at a stretch: a cycle of a usual drill, or what showing it takes."""
    if one.share >= _SHOWN_FROM:
        return SHOWING
    cycle = _SLIPPING * _USUAL_PASSES * one.pass_seconds(max(one.secure, 1.0)) / 60
    return min(max(ceil(cycle), LEAST_BLOCK), USUAL_BLOCK)
