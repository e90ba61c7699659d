"""Drills a whole room can do at once: what everybody does, and what percussion does instead.

Rows are common practice, no source. ``drill`` is what goes home where its counts stay open.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from crumb.core.drill_names import DrillName
from crumb.core.mastery.levels import AT_TEMPO, STEADY


@dataclass(frozen=True, slots=True)
class RoomDrill:
    """A drill for the room, ``times`` in a row.

    ``pace``: at the tempo that most hold, slowly (60 per cent of the goal at most), or at goal.
    """

    key: str
    title: str
    do: str
    percussion: str
    drill: str
    times: int = 3
    pace: Literal["held", "slow", "goal"] = "held"


_NAMES = RoomDrill(
    "names",
    "Names, then notes",
    "Say the written names in slow time while the fingers move; then play it slowly.",
    "Snare says the sticking; mallets move over the bars without a sound.",
    DrillName.NAME_IT,
    pace="slow",
)
_COUNT = RoomDrill(
    "count",
    "Count, one pitch, notes",
    "Count it aloud and clap; then the rhythm on the first pitch; then the notes.",
    "Count aloud and play it on the knee, then on the instrument.",
    DrillName.COUNT_IT,
)
_GRID = RoomDrill(
    "grid",
    "On the small beat",
    "The click on the subdivision: as written, everybody on the same grid.",
    "Half of the percussion plays the subdivision softly, the others their part.",
    DrillName.SUBDIVISION_CLICK,
)
_SEAM = RoomDrill(
    "seam",
    "Into the next",
    "The last measure into the first note after it; then two measures on each side.",
    "Keep the pulse through the seam; enter as written.",
    DrillName.SEAMS,
)
_STOPS = RoomDrill(
    DrillName.STOPS,
    "Stops at goal tempo",
    "At goal tempo to each downbeat, hold and look ahead; then stop every two measures.",
    "Play on through the holds, softly: it is the room's clock.",
    DrillName.STOPS,
    pace="goal",
)
_RHYTHMS = RoomDrill(
    "rhythms",
    "Long and short",
    "Long and short, short and long, then as written; the first note leans, the others follow.",
    "The same two rhythms on one surface, hand to hand.",
    DrillName.STANDARD_SET,
)
_OFF_BEAT = RoomDrill(
    "off-beat",
    "Click off the beat",
    "The click sounds between the beats: the beat is the room's own.",
    "Silent, or the off-beat itself on the rim.",
    DrillName.OFF_BEAT_CLICK,
)
_ENDING = RoomDrill(
    "ending",
    "From the end",
    "The last measure, then one more in front each time.",
    "Come in with each start; count the measure before it aloud.",
    DrillName.BACKWARD,
)
_CHORDS = RoomDrill(
    "chords",
    "Slowly, in tune",
    "Each chord held until it is still, lowest part first; then in slow time.",
    "Mallets give the root; the others listen for the releases.",
    DrillName.PITCHES_ONLY,
    pace="slow",
)
ROOM_DRILLS = {
    drill.key: drill
    for drill in (
        *(_NAMES, _COUNT, _GRID, _SEAM, _STOPS),
        *(_RHYTHMS, _OFF_BEAT, _ENDING, _CHORDS),
    )
}
"""By key."""

_FOR_SYMPTOM = {
    "uneven": _RHYTHMS,
    "accidental": _NAMES,
    "rhythm": _COUNT,
    "leap": _ENDING,
    "double-stop": _CHORDS,
    "seam": _SEAM,
    "end": _ENDING,
    "slow": _STOPS,
    "falls-apart": _GRID,
    "pulse": _OFF_BEAT,
    "middle-drags": _GRID,
    "off-beat-bass": _OFF_BEAT,
    "accents": _RHYTHMS,
    DrillName.STOPS: _STOPS,
    "stale": _STOPS,
}
_NOTES_KNOWN, _RHYTHM_KNOWN = 1, 2


def room_drill(levels: Iterable[int], symptoms: Iterable[str], *, open_seams: int) -> RoomDrill:
    """The room's drill for a passage: for a fault heard there, else for where most players stand.

    Args:
        levels: of the players for whom it is open.
        symptoms: keys of ``crumb.core.plan.cures``, the most heard first.
        open_seams: players at tempo whose seams are not shown.
    """
    for symptom in symptoms:
        if symptom in _FOR_SYMPTOM:
            return _FOR_SYMPTOM[symptom]
    below = sorted(level for level in levels if level < AT_TEMPO)
    if open_seams > len(below):
        return _SEAM
    middle = below[len(below) // 2] if below else AT_TEMPO
    if middle < _NOTES_KNOWN:
        return _NAMES
    if middle < _RHYTHM_KNOWN:
        return _COUNT
    return _GRID if middle < STEADY else _STOPS
