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
)
from crumb.core.drills.model import DrillKind

CATALOGUE: tuple[DrillKind, ...] = (
    *isolation.KINDS,
    *clicks.KINDS,
    *easing.KINDS,
    *arriving.KINDS,
    *articulation.KINDS,
    *chaining.KINDS,
    *rhythm.KINDS,
    *emphasis.KINDS,
    *attempo.KINDS,
    *reading.KINDS,
    *pitches.KINDS,
    *hands.KINDS,
    *bow.KINDS,
    *context.KINDS,
    *added_last.KINDS,
)
