"""Drills of release: a rest before a change, a long note before a fast group."""

from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.build import bare, laid_step, note_ids, plural, with_length, written_step
from crumb.core.drills.gaps import gapped_step
from crumb.core.drills.model import (
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
from crumb.core.score.model import ZERO
from crumb.core.score.notating import Event


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
        gapped_step(
            passage,
            [at],
            passage.beat * share,
            name=f"{said} of rest before note {at + 1}",
            said=said[:1].lower() + said[1:],
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


_LONGS = (4, 2, 1)
"""Beats of the long note, stage by stage (common practice, no source)."""


def _long_before(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("A stroke cannot be held long before a fast group.")
    if not passage.runs:
        raise DrillDoesNotFit("No fast group here: it takes four equal notes in a row.")
    longest = int(settings["beats"])
    times = int(settings["set_repetitions"])
    stages = list(dict.fromkeys((longest, *(b for b in _LONGS if b < longest))))
    passage.need_short(times * len(stages) + int(settings["repetitions"]))
    groups = note_ids(e for run in passage.runs for e in passage.events[run.first : run.last])
    steps = [
        laid_step(
            passage,
            _with_longs(passage, beats),
            name=f"{plural(beats, 'beat')} long, then the group",
            kind=SET,
            repetitions=times,
            say="A full long note first; the air or bow keeps moving into the group.",
            turned=groups,
        )
        for beats in stages
    ]
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _with_longs(passage: Passage, beats: int) -> list[Event]:
    """The line with a long note in front of each fast group, on its first pitch and on a beat."""
    row: list[Event] = []
    at = ZERO
    starts = {run.first for run in passage.runs}
    lead = passage.span.start.at
    for place, event in enumerate(passage.events):
        if place in starts:
            off_beat = -(lead + at) % passage.beat
            if row and off_beat:
                row.append(Event(off_beat))
                at += off_beat
            long = with_length(bare(event), passage.beat * beats)
            row.append(long)
            at += long.duration
        row.append(event)
        at += event.duration
    return [*row, passage.landing] if passage.landing else row


LONG_BEFORE = DrillKind(
    name="long-before-fast",
    title="Long before fast",
    family="Isolation",
    use_when="The tongue or bow locks in a fast group, or the air stops before it.",
    how="Before every fast group a long note on its first pitch: 4 beats, 2, 1; then as written.",
    clean_means="The group is as free as the long note was; no tightening.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="A run: four or more equal notes in a row.",
    make=_long_before,
    parameters=(
        Parameter("beats", "First long note, in beats", 4, low=1, high=8),
        replace(SETTING, default=3),
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
