"""Down-bow and up-bow, worked out stroke by stroke."""

from dataclasses import replace

from crumb.core.drills.making import (
    marked_step,
    written_step,
)
from crumb.core.drills.model import (
    LEARN,
    ON,
    DrillKind,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import LEARNING, PROVING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.model import Measure, Note, Part
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


def _bow_plan(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if passage.instrument.family not in _STRINGS:
        raise DrillDoesNotFit("A bow plan is for bowed strings.")
    passage.need_one_line()
    times = int(settings["learning_repetitions"])
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON)
    plan = bow_directions(base.part)
    wrong = [
        measure.number
        for measure in base.part.measures
        for note in measure.notes
        if plan.get(note.id) == "up-bow" and note.at == 0 and measure.length == measure.nominal
    ]
    say = "Say down and up aloud, bow in the air or on an open string."
    if wrong:
        say += (
            f" The downbeat of {', '.join(wrong[:4])} comes on an up-bow: slur the last two before"
            " it, or take two ups."
        )

    def change(_: Measure, note: Note) -> Note:
        mark = plan.get(note.id)
        others = tuple(t for t in note.technical if t[0] not in ("up-bow", "down-bow"))
        return replace(note, technical=((mark, ""), *others)) if mark else note

    air = replace(marked_step(base, name="Bow alone", kind=LEARN, change=change), say=say)
    played = replace(air, name="With the plan", say="Play it with every stroke as marked.")
    return (air, played, written_step(passage, repetitions=int(settings["repetitions"])))


BOW_PLAN = DrillKind(
    name="bow-plan",
    title="Bow plan",
    family="Technique",
    use_when="The bow ends on the wrong side, or runs out.",
    how="Every stroke's direction worked out; the bow alone, then with the notes; then as written.",
    clean_means="Each stroke goes its way and there is bow left for the next.",
    on_slip="Go on; look at where the bow was.",
    needs="A bowed string instrument and one line.",
    make=_bow_plan,
    parameters=(LEARNING, PROVING),
    families=_STRINGS,
    instead=("articulation", "alone"),
)

KINDS = (BOW_PLAN,)
