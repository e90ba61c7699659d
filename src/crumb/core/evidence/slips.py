"""Kinds of slips, the slips that a drill judges, and cures for many of one kind.

Kinds and what each drill judges are common practice, no source.
"""

from collections import Counter
from collections.abc import Iterable, Mapping
from enum import StrEnum

from crumb.core.drill_names import DrillName


class SlipKind(StrEnum):
    """A kind of slip, in a player's words."""

    PITCH = "pitch"
    ACCIDENTAL = "accidental"
    RHYTHM = "rhythm"
    TUNE = "tune"
    TONE = "tone"
    ARTICULATION = "articulation"
    DYNAMICS = "dynamics"
    HANDS = "hands"
    SHIFT = "shift"
    TENSION = "tension"


LABELS: Mapping[SlipKind, str] = {
    SlipKind.PITCH: "Wrong note",
    SlipKind.ACCIDENTAL: "Accidental",
    SlipKind.RHYTHM: "Rhythm",
    SlipKind.TUNE: "Out of tune",
    SlipKind.TONE: "Tone",
    SlipKind.ARTICULATION: "Tongue or bow",
    SlipKind.DYNAMICS: "Loud and soft",
    SlipKind.HANDS: "Fingers, slide, sticks",
    SlipKind.SHIFT: "Shift or leap",
    SlipKind.TENSION: "Tension",
}

STYLE = "Style"
"""As the brief of the passage asks for it: judged at the last level, not before."""
CHECKLIST = (
    "Notes",
    "Rhythm",
    "Evenness",
    "Tone",
    "In tune",
    "Tongue or bow",
    "Loud and soft",
    "Balance",
    "Repeat taken",
    STYLE,
)
"""What a judge's sheet asks for; common practice, no source."""

_ALL = frozenset(SlipKind)
_JUDGED: Mapping[str, frozenset[SlipKind]] = {
    DrillName.COUNT_IT: frozenset({SlipKind.RHYTHM}),
    DrillName.NAME_IT: frozenset({SlipKind.PITCH, SlipKind.ACCIDENTAL}),
    DrillName.SING_AND_FINGER: frozenset({SlipKind.RHYTHM, SlipKind.HANDS, SlipKind.TENSION}),
    DrillName.PITCHES_ONLY: _ALL - {SlipKind.RHYTHM, SlipKind.ARTICULATION, SlipKind.DYNAMICS},
    DrillName.BOW_PLAN: frozenset({SlipKind.ARTICULATION, SlipKind.TENSION}),
    DrillName.HAND_ORDER: frozenset(
        {SlipKind.PITCH, SlipKind.HANDS, SlipKind.SHIFT, SlipKind.TENSION}
    ),
    **dict.fromkeys(
        (
            DrillName.EVERY_NOTE,
            DrillName.OFF_BEAT_CLICK,
            DrillName.SUBDIVISION_CLICK,
            DrillName.FIRST_BEAT_CLICK,
        ),
        _ALL - {SlipKind.DYNAMICS},
    ),
}
_LAYERS: Mapping[str, frozenset[SlipKind]] = {
    "dynamics": frozenset({SlipKind.DYNAMICS, SlipKind.TENSION}),
    "bow or tongue": frozenset({SlipKind.ARTICULATION, SlipKind.TENSION}),
}
_CURES: Mapping[SlipKind, str] = {
    SlipKind.PITCH: "missed",
    SlipKind.ACCIDENTAL: "accidental",
    SlipKind.RHYTHM: "rhythm",
    SlipKind.TUNE: "tune",
    SlipKind.TONE: "tone",
    SlipKind.ARTICULATION: "locked",
    SlipKind.DYNAMICS: "dynamics",
    SlipKind.HANDS: "uneven",
    SlipKind.SHIFT: "leap",
    SlipKind.TENSION: "tension",
}
TELLING = 3
"""Fewer slips of one kind than this are chance (our own choice)."""


def judged(drill: str, settings: Mapping[str, object] | None = None) -> frozenset[SlipKind]:
    """The kinds of slips that count in a drill; others belong to another layer."""
    if drill == DrillName.ONE_LAYER:
        return _LAYERS.get(str((settings or {}).get("layer", "")), _ALL)
    return _JUDGED.get(drill, _ALL)


def cure_of(slips: Iterable[SlipKind]) -> str | None:
    """The row of the table of cures for what was heard most often; None: there is none."""
    counted = Counter(kind for kind in slips if kind in _CURES)
    return next((_CURES[kind] for kind, _ in counted.most_common(1)), None)


def symptoms_of(slips: Iterable[SlipKind]) -> tuple[str, ...]:
    """Rows of the table of cures that slips ask for, the most frequent first."""
    counted = Counter(slips)
    telling = [kind for kind, count in counted.most_common() if count >= TELLING]
    return tuple(_CURES[kind] for kind in telling if kind in _CURES)
