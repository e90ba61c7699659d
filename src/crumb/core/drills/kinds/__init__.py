"""The kinds of drills, a module for each family; every module lists its own in ``KINDS``."""

from crumb.core.drills.kinds import (
    added_last,
    arriving,
    articulation,
    attempo,
    bow,
    chaining,
    clicks,
    context,
    easing,
    emphasis,
    hands,
    isolation,
    pitches,
    reading,
    rhythm,
    rhythm_sets,
    slowing,
    warming,
    weight,
)
from crumb.core.drills.model import DrillKind
from crumb.core.drills.touch import with_touch

_KINDS = (
    *isolation.KINDS,
    *clicks.KINDS,
    *easing.KINDS,
    *arriving.KINDS,
    *articulation.KINDS,
    *chaining.KINDS,
    *rhythm.KINDS,
    *rhythm_sets.KINDS,
    *emphasis.KINDS,
    *weight.KINDS,
    *attempo.KINDS,
    *reading.KINDS,
    *slowing.KINDS,
    *pitches.KINDS,
    *hands.KINDS,
    *bow.KINDS,
    *warming.KINDS,
    *context.KINDS,
    *added_last.KINDS,
)

CATALOGUE: tuple[DrillKind, ...] = tuple(with_touch(kind) for kind in _KINDS)
