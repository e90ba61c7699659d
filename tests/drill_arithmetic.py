"""What must add up in every drill: measures, lengths, pitches in order."""

from fractions import Fraction
from itertools import groupby, pairwise

from crumb.core.drills import Drill, drill_kind
from crumb.core.drills.passage import Passage
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.model import Measure
from crumb.core.score.position import Sound, sounds


def wrong_in_itself(passage: Passage, drill: Drill) -> list[str]:
    """What does not add up in a drill."""
    found = []
    for step in drill.steps:
        found += [
            f"{step.name}: measure {measure.number} does not add up"
            for measure in step.part.measures
            if not _is_full(measure)
        ]
        if step.quarters <= 0 or not step.sounds:
            found.append(f"{step.name}: nothing to play")
        if any(s.at < 0 or s.end > step.quarters for s in step.sounds if not s.grace):
            found.append(f"{step.name}: something sounds outside the step")
    if _is_one_line(passage) and drill_kind(drill.name).same_pitches:
        whole = _order(sounds_of(passage))
        for step in drill.steps:
            order = _order(step.sounds)
            if not any(whole[i : i + len(order)] == order for i in range(len(whole))):
                found.append(f"{step.name}: pitches are not those of the chunk in order")
    return found


def _is_full(measure: Measure) -> bool:
    """Whether the first voice fills the measure without a hole, and none runs over its end."""
    voices: dict[tuple[int, str], list[tuple[Fraction, Fraction]]] = {}
    for note in measure.notes:
        if not note.grace and not note.in_chord:
            voices.setdefault((note.staff, note.voice), []).append((note.at, note.end))
    rows = [sorted(row) for row in voices.values()]
    if any(row[-1][1] > measure.length for row in rows):
        return False
    return any(
        row[0][0] == 0
        and row[-1][1] == measure.length
        and all(a[1] == b[0] for a, b in pairwise(row))
        for row in rows
    )


def _is_one_line(passage: Passage) -> bool:
    try:
        return bool(passage.plain_events) and passage.is_pitched
    except DrillDoesNotFit:
        return False


def sounds_of(passage: Passage) -> tuple[Sound, ...]:
    """What the chunk sounds as written."""
    return sounds(passage.cut)


def _order(found: tuple[Sound, ...]) -> list[tuple[str, ...]]:
    """Chords in order, unisons as one note, what is struck several times in a row once."""
    heard = [s for s in found if s.pitch is not None and not s.grace]
    chords = [
        tuple(sorted({s.pitch.name for s in group if s.pitch}))
        for _, group in groupby(heard, key=lambda s: s.at)
    ]
    return [chord for chord, _ in groupby(chords)]
