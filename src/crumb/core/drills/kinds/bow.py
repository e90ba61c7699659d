"""Down-bow and up-bow, worked out stroke by stroke."""

from collections.abc import Mapping
from dataclasses import replace

from crumb.core.drills.build import marked_step, written_step
from crumb.core.drills.model import (
    LEARN,
    ON,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import LEARNING, PROVING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.model import Measure, Note, Part, Slur
from crumb.core.survey.strings import OPEN

_STRINGS = frozenset(OPEN)


def bow_directions(part: Part) -> dict[str, str]:
    """Down-bow or up-bow for the first note of each stroke, by note id, from a down-bow.

    A slur is one stroke; a pickup starts up; printed bowings reset the order.
    """
    found: dict[str, str] = {}
    is_down = not (part.measures[0].index == 0 and part.has_pickup)
    open_slurs = 0
    for measure in part.measures:
        for note in sorted(measure.notes, key=lambda n: n.at):
            if not note.sounds or note.in_chord or note.grace or note.hidden or note.cue:
                continue
            starts_stroke = open_slurs == 0 and note.tie in (None, "start")
            if starts_stroke:
                printed = [tag for tag, _ in note.technical if tag in ("up-bow", "down-bow")]
                if printed:
                    is_down = printed[0] == "down-bow"
                found[note.id] = "down-bow" if is_down else "up-bow"
                is_down = not is_down
            for slur in note.slurs:
                open_slurs = max(open_slurs + (1 if slur.end == "start" else -1), 0)
    return found


def wrong_downbeats(part: Part, plan: Mapping[str, str]) -> list[str]:
    """Ids of the notes on a downbeat that come on an up-bow."""
    return [
        note.id
        for measure in part.measures
        for note in measure.notes
        if plan.get(note.id) == "up-bow" and note.at == 0 and measure.length == measure.nominal
    ]


def _strokes_before(part: Part, note_id: str) -> list[Note]:
    """The strokes in front of a note without a rest between, the nearest first."""
    row: list[Note] = []
    for measure in part.measures:
        for note in sorted(measure.notes, key=lambda n: n.at):
            if note.id == note_id:
                return row[::-1]
            if note.is_rest or note.hidden:
                row = []
            elif note.is_attack and not note.in_chord and not note.grace and not note.cue:
                row.append(note)
    return []


def mended(part: Part, way: str) -> Part | None:
    """The part with its wrong downbeats put right in one way; None where that cannot be done.

    Args:
        part: one line of a bowed instrument.
        way: ``slur`` joins the last two strokes before such a downbeat, ``ups`` takes two ups.
    """
    for _ in range(_MOST_MENDED):
        wrong = wrong_downbeats(part, bow_directions(part))
        if not wrong:
            return part
        before = _strokes_before(part, wrong[0])
        if len(before) < 2 or (way == "slur" and any(n.slurs or n.tie for n in before[:2])):
            return None
        last, last_but_one = before[:2]
        changes = {
            last.id: replace(last, slurs=(Slur(1, "stop"),))
            if way == "slur"
            else replace(last, technical=(("up-bow", ""), *_unbowed(last)))
        }
        if way == "slur":
            changes[last_but_one.id] = replace(last_but_one, slurs=(Slur(1, "start"),))
        part = _changed(part, changes)
    return None


_MOST_MENDED = 64


def _changed(part: Part, changes: Mapping[str, Note]) -> Part:
    measures = tuple(
        replace(m, notes=tuple(changes.get(n.id, n) for n in m.notes)) for m in part.measures
    )
    return replace(part, measures=measures)


def _unbowed(note: Note) -> tuple[tuple[str, str], ...]:
    return tuple(t for t in note.technical if t[0] not in ("up-bow", "down-bow"))


def _marked(step: Step, name: str, say: str, part: Part | None = None) -> Step:
    """A written step with every stroke's direction printed, its bowing mended if that is given."""
    shown = replace(step, part=part) if part is not None else step
    plan = bow_directions(shown.part)

    def change(_: Measure, note: Note) -> Note:
        mark = plan.get(note.id)
        return replace(note, technical=((mark, ""), *_unbowed(note))) if mark else note

    return replace(marked_step(shown, name=name, kind=LEARN, change=change), say=say)


_MENDINGS = (
    ("slur", "Slur the last two", "The last two strokes before the downbeat share one bow."),
    ("ups", "Two ups", "Two up-bows in a row, a small stop between, and the downbeat is down."),
)
_SHARES = (
    ("below the mark", "In the lower half: put a mark on the stick and stay below it."),
    ("above the mark", "In the upper half: stay above the mark, arm open."),
)


def _bow_plan(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if passage.instrument.family not in _STRINGS:
        raise DrillDoesNotFit("A bow plan is for bowed strings.")
    passage.need_one_line()
    times = int(settings["learning_repetitions"])
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON)
    wrong = wrong_downbeats(base.part, bow_directions(base.part))
    numbers = [m.number for m in base.part.measures if any(n.id in wrong for n in m.notes)]
    told = f" The downbeat of {', '.join(numbers[:4])} comes on an up-bow." if numbers else ""
    steps = [
        _marked(
            base, "Bow alone", "Say down and up aloud, bow in the air or on an open string." + told
        ),
        _marked(base, "With the plan", "Play it with every stroke as marked."),
    ]
    if wrong and settings["mend"] == "yes":
        for way, name, say in _MENDINGS:
            part = mended(base.part, way)
            if part is not None:
                steps.append(_marked(base, name, say, part))
    if settings["shares"] == "yes":
        steps += [_marked(base, f"With the plan, {where}", say) for where, say in _SHARES]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


BOW_PLAN = DrillKind(
    name="bow-plan",
    title="Bow plan",
    family="Technique",
    use_when="The bow ends on the wrong side, or runs out.",
    how="Every stroke's direction worked out; the bow alone, with the notes, and where a downbeat"
    " comes up, two ways out of it; then as written.",
    clean_means="Each stroke goes its way and there is bow left for the next.",
    on_slip="Go on; look at where the bow was.",
    needs="A bowed string instrument and one line.",
    make=_bow_plan,
    parameters=(
        Parameter("mend", "Where a downbeat comes up, show ways out", "yes", choices=("yes", "no")),
        Parameter("shares", "Below and above a mark on the bow", "no", choices=("no", "yes")),
        LEARNING,
        PROVING,
    ),
    families=_STRINGS,
    instead=("articulation", "alone"),
)

KINDS = (BOW_PLAN,)
