"""What lets go before it moves: a rest before a change, a long note before a fast group."""

from fractions import Fraction

from crumb.core.drills.making import (
    bare,
    laid_step,
    note_ids,
    with_length,
    written_step,
)
from crumb.core.drills.model import (
    LEARN,
    ON,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, PROVING, SETTING, note_number
from crumb.core.drills.spots import sudden_change
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.notating import Event


def _with_gap(passage: Passage, at: int, gap: Fraction) -> list[Event]:
    """The line with silence before its attack ``at``."""
    row: list[Event] = []
    attack = 0
    for event in passage.plain_events:
        if not event.is_rest:
            if attack == at and gap:
                row.append(Event(gap))
            attack += 1
        row.append(event)
    return row


def _rest_gap(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    found = sudden_change(passage)
    if str(settings["at"]) == AUTO and found is None:
        raise DrillDoesNotFit(
            "No sudden change here: no new dynamic, bow or finger, and no leap of an octave."
        )
    at = note_number(passage, settings["at"], otherwise=found or 0)
    if at == 0:
        raise DrillDoesNotFit("The change stands at the very start: take the notes before it too.")
    steps = [
        laid_step(
            passage,
            _with_gap(passage, at, passage.beat * share),
            name=f"{said} of rest before note {at + 1}",
            kind=LEARN,
            repetitions=int(settings["learning_repetitions"]),
            slip=ON,
            say="Let go on both sides of the gap; be ready before it ends.",
        )
        for share, said in (
            (Fraction(1), "A beat"),
            (Fraction(1, 2), "Half a beat"),
            (Fraction(1, 4), "A quarter of a beat"),
        )
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


REST_GAP = DrillKind(
    name="rest-gap",
    title="Rest in the gap",
    family="Isolation",
    use_when="A sudden dynamic, register or pizzicato change comes late or tense.",
    how="A beat of rest before the change, then half a beat, a quarter, none.",
    clean_means="The change is there at once and calm; no tension before or after it.",
    on_slip="Go on; the next pass of the same gap tells.",
    needs="A sudden change inside the chunk, or the number of the note it falls on.",
    make=_rest_gap,
    parameters=(Parameter("at", "Before note", AUTO), LEARNING, PROVING),
    instead=("two-notes", "alone"),
)


def _long_before(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("A stroke cannot be held long before a fast group.")
    if not passage.runs:
        raise DrillDoesNotFit("No fast group here: it takes four equal notes in a row.")
    run = min(passage.runs, key=lambda r: r.unit)
    length = passage.beat * int(settings["beats"])
    lead = with_length(bare(passage.events[run.first]), length)
    group = list(passage.events[run.first : run.last])
    landing = [passage.landing] if passage.landing and run.last == len(passage.events) else []
    return (
        laid_step(
            passage,
            [lead, *group, *landing],
            name="Long, then the group",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            say="A full long note first; the air or bow keeps moving into the group.",
            turned=note_ids(group),
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


LONG_BEFORE = DrillKind(
    name="long-before-fast",
    title="Long before fast",
    family="Isolation",
    use_when="The tongue or bow locks in a fast group, or the air stops before it.",
    how="A full long note on the first pitch, then the fast group without a break.",
    clean_means="The group is as free as the long note was; no tightening.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="A run: four or more equal notes in a row.",
    make=_long_before,
    parameters=(
        Parameter("beats", "Long note, in beats", 4, low=2, high=8),
        SETTING,
        PROVING,
    ),
    caution="Brass and reeds: rest about as long as you play. A locked jaw or tongue: stop and"
    " rest.",
    same_pitches=False,
    instead=("articulation", "alone"),
)

KINDS = (
    REST_GAP,
    LONG_BEFORE,
)
