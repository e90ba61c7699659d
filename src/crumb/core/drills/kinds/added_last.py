"""Drills that leave ornaments or slurs for last, until the line is sure."""

from dataclasses import replace

from crumb.core.drills.build import marked_step, written_step
from crumb.core.drills.model import (
    SET,
    DrillKind,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import PROVING, SETTING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.model import Part, Slur
from crumb.core.score.position import sounds
from crumb.core.score.slicing import mended


def _without_ornaments(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    inside = [n for m in passage.cut.measures for n in m.notes]
    if not any(n.ornaments or n.grace for n in inside):
        raise DrillDoesNotFit("There is no ornament or grace note here to leave out.")
    base = written_step(
        passage,
        repetitions=int(settings["set_repetitions"]),
        kind=SET,
        say="The plain line first, in the tempo it will keep when the ornament comes.",
    )
    plain_rows = [
        replace(m, notes=tuple(replace(n, ornaments=()) for n in m.notes if not n.grace))
        for m in base.part.measures
    ]
    measures = with_accidentals(mended(plain_rows), keep=True)
    part = replace(base.part, measures=measures)
    lead = base.covers.start.at
    plain = replace(
        base,
        name="Without ornaments",
        part=part,
        sounds=tuple(replace(s, at=s.at - lead) for s in sounds(part)),
        as_written=False,
    )
    return (plain, written_step(passage, repetitions=int(settings["repetitions"])))


ORNAMENT_LAST = DrillKind(
    name="ornament-last",
    title="Ornament last",
    family="Technique",
    use_when="A trill, turn or grace note upsets the line around it.",
    how="The line without its ornaments until it is sure; then as written.",
    clean_means="The line keeps its tempo and the ornament fits into it.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="An ornament or a grace note.",
    make=_without_ornaments,
    parameters=(SETTING, PROVING),
    instead=("alone", "two-notes"),
)


def _slur_last(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    starts = [
        n.id
        for m in passage.cut.measures
        for n in m.notes
        if any(s.end == "start" for s in n.slurs)
    ]
    if not starts:
        raise DrillDoesNotFit("There is no slur here to leave for last.")
    base = written_step(
        passage,
        repetitions=int(settings["set_repetitions"]),
        kind=SET,
        say="Everything but the slurs is settled first.",
    )
    last = _slur_of(base.part, starts[-1])
    none = marked_step(
        base, name="Without slurs", kind=SET, change=lambda _, n: replace(n, slurs=())
    )
    steps = [none]
    if len(starts) > 1:
        steps.append(
            marked_step(
                base,
                name="All slurs but the last",
                kind=SET,
                change=lambda _, n: replace(
                    n, slurs=tuple(s for s in n.slurs if (n.id, s) not in last)
                ),
            )
        )
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _slur_of(part: Part, start: str) -> frozenset[tuple[str, Slur]]:
    """Both ends, with the ids of their notes, of the slur that begins on a note."""
    begun: Slur | None = None
    for measure in part.measures:
        for note in measure.notes:
            if note.id == start:
                begun = next(s for s in note.slurs if s.end == "start")
                continue
            for slur in note.slurs:
                if begun and slur.end == "stop" and slur.number == begun.number:
                    return frozenset({(start, begun), (note.id, slur)})
    return frozenset()


SLUR_LAST = DrillKind(
    name="slur-last",
    title="Last slur last",
    family="Technique",
    use_when="The slurs hide fingers that are not ready, or the last one always breaks.",
    how="Without slurs, with all but the last, then as written.",
    clean_means="The notes are as clear under the slur as without it.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="A slur.",
    is_aid=True,
    make=_slur_last,
    parameters=(SETTING, PROVING),
    instead=("articulation", "alone"),
)

KINDS = (
    ORNAMENT_LAST,
    SLUR_LAST,
)
