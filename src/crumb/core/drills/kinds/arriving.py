"""Shifts, leaps and slides: hearing the way, landing in tune."""

from dataclasses import replace

from crumb.core.drills.making import (
    bare,
    is_landing,
    laid_step,
    marked_step,
    note_ids,
    with_length,
    written_step,
)
from crumb.core.drills.model import (
    ANEW,
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
from crumb.core.drills.spots import top, widest_leap
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.notating import Event
from crumb.core.score.pitch import moved
from crumb.core.score.position import Span
from crumb.core.survey.strings import OPEN
from crumb.core.survey.strings import path as string_path


def _hold_arrival(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no leap to land.")
    found = widest_leap(passage)
    if str(settings["at"]) == AUTO and found is None:
        raise DrillDoesNotFit("No leap here: nothing wider than a major third.")
    at = note_number(passage, settings["at"], otherwise=found or 0)
    if at == 0:
        raise DrillDoesNotFit("The first note has nothing to arrive from.")
    times = int(settings["set_repetitions"])
    beat = passage.beat
    before, after = _sounding(passage, at - 1), _sounding(passage, at)
    steps: list[Step] = []
    if settings["slide"] == "yes":
        guide = _guide(passage, at)
        steps += [
            laid_step(
                passage,
                [
                    with_length(_sliding(event, end, place), beat * 2)
                    for place, (event, end) in enumerate(zip(row, ends, strict=True))
                ],
                name=name,
                kind=LEARN,
                repetitions=int(settings["learning_repetitions"]),
                slip=ON,
                say="Slow and heard all the way: hand, slide or voice goes by ear to the arrival."
                + (" The small middle note is the finger that guides." if guide else ""),
                turned=note_ids(row),
            )
            for name, row in (
                ("Into it", [before, *guide, after]),
                ("And back", [after, *guide, before]),
            )
            for ends in [["start", *["both"] * len(guide), "stop"]]
        ]
    arrival = Span(passage.span.start, passage.attacks[at], landing=True)
    steps.append(
        marked_step(
            written_step(
                passage, arrival, name="Stop on it", kind=SET, repetitions=times, slip=ANEW
            ),
            name=f"Stop on note {at + 1}",
            kind=SET,
            change=lambda _, note: replace(note, fermata=True) if is_landing(note) else note,
        )
    )
    steps[-1] = replace(
        steps[-1], say="Stay on the arrival. If it is out of tune, begin the chunk again."
    )
    more = int(settings["after"])
    if more and at + 1 < len(passage.attacks) + passage.has_landing:
        last = min(at + more, len(passage.attacks))
        span = passage.notes_span(0, last)
        if span != passage.span:
            steps.append(
                written_step(
                    passage,
                    span,
                    name=f"Through it, {last - at} more",
                    kind=SET,
                    repetitions=times,
                    slip=ANEW,
                )
            )
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _sounding(passage: Passage, place: int) -> Event:
    return bare(Event(passage.beat, (passage.struck[place][-1],)))


def _sliding(event: Event, end: str, place: int) -> Event:
    """One end of a slide on an event; in the middle one ends and another begins."""
    ends = {"start": (place,), "stop": (), "both": (place,)}[end]
    gestures = tuple(f"slide:start:{n + 1}" for n in ends)
    if end != "start":
        gestures = (f"slide:stop:{place}", *gestures)
    return replace(event, gestures=gestures)


def _guide(passage: Passage, at: int) -> list[Event]:
    """For a shift on one string: the pitch that the old finger has in the new position."""
    family = passage.instrument.family
    one, two = top(passage.struck[at - 1]), top(passage.struck[at])
    if family not in OPEN or one is None or two is None:
        return []
    before, after = string_path(family, [one, two])
    if not before or not after or before.string != after.string or not before.height:
        return []
    moved_by = after.base - before.base
    if moved_by == 0:
        return []
    note = passage.struck[at - 1][-1]
    assert note.pitch is not None
    guide = moved(note.pitch, diatonic=_letters(moved_by), chromatic=moved_by)
    if guide.midi in (one, two):
        return []
    return [bare(Event(passage.beat, (replace(note, pitch=guide, id=f"{note.id}g"),)))]


def _letters(half_steps: int) -> int:
    sign = 1 if half_steps > 0 else -1
    octaves, rest = divmod(abs(half_steps), 12)
    return sign * (octaves * 7 + (0, 1, 1, 2, 2, 3, 3, 4, 5, 5, 6, 6)[rest])


HOLD_ARRIVAL = DrillKind(
    name="hold-arrival",
    title="Hold on arrival",
    family="Isolation",
    use_when="A shift, leap or slide misses or arrives out of tune.",
    how="Slide audibly into the note and back; stop on it; then through it; then as written.",
    clean_means="The arrival is in tune at once, without feeling for it.",
    on_slip="Go back to the beginning of the chunk, until it lands.",
    needs="A leap of a fourth or more, or the number of the note.",
    make=_hold_arrival,
    parameters=(
        Parameter("at", "Arrive on note", AUTO),
        Parameter("after", "Then how many notes more", 3, low=0, high=12),
        Parameter(
            "slide",
            "Slide into it first",
            "no",
            choices=("yes", "no"),
            by_family=dict.fromkeys([*OPEN, "trombone"], "yes"),
        ),
        LEARNING,
        SETTING,
        PROVING,
    ),
    caution="Small hands: do not force a stretch. Trombone: lock the slide when not playing.",
    same_pitches=False,
    instead=("two-notes", "alone"),
)

KINDS = (HOLD_ARRIVAL,)
