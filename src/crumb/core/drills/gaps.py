"""Silence put into a passage, and what surrounds it kept: dynamics, words, slurs, the key.

A gap of whole beats is printed as rests. A shorter one would push every note after it off its
beat: there the music stands as it is written, with a breath mark and how long the breath lasts,
and only the sound and the click wait.
"""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from crumb.core.drills.build import laid_step, marked_step, word_at, written_step
from crumb.core.drills.model import DOWN, LEARN, Slip, Step
from crumb.core.drills.passage import Passage
from crumb.core.evidence.model import Kind
from crumb.core.score.model import Direction, Key, Measure, Note
from crumb.core.score.notating import Event
from crumb.core.score.position import Position, absolute

_KEPT = frozenset({"dynamic", "wedge", "words"})


def gapped_step(
    passage: Passage,
    places: Sequence[int],
    gap: Fraction,
    *,
    name: str,
    said: str,
    repetitions: int,
    kind: Kind = LEARN,
    slip: Slip = DOWN,
    say: str = "",
) -> Step:
    """The passage with silence before some of its attacks.

    Args:
        passage: the music.
        places: which attacks, from 0.
        gap: the silence before each, in quarter notes.
        name: of the step.
        said: how long the gap is, in words; printed where it cannot be written as rests.
        repetitions: how often.
        kind: what the repetitions are for.
        slip: what a slip does.
        say: what the player is told.

    Raises:
        DrillDoesNotFit: two voices move on their own.
    """
    if (gap / passage.beat).denominator == 1:
        return laid_step(
            passage,
            _with_rests(passage, frozenset(places), gap),
            name=name,
            kind=kind,
            repetitions=repetitions,
            slip=slip,
            say=say,
        )
    return _breathing(
        passage,
        places,
        gap,
        said,
        written_step(passage, name=name, repetitions=repetitions, kind=kind, slip=slip, say=say),
    )


# As rests ---------------------------------------------------------------------------------------


def _with_rests(passage: Passage, places: frozenset[int], gap: Fraction) -> list[Event]:
    marks, keys = _marks_by_time(passage), _keys_by_time(passage)
    begin = absolute(passage.part, passage.span.start)
    row: list[Event] = []
    at, attack, is_slurred = begin, 0, False
    for event in passage.plain_events:
        key = keys.pop(at, None)
        ends = _slur_ends(event)
        goes_on = ends[-1] == "start" if ends else is_slurred
        if any(note.is_attack for note in event.model):
            if attack in places and gap:
                # A slur ends before the silence and begins anew after it.
                if is_slurred and row:
                    row[-1] = replace(row[-1], slurs=_without_lone((*row[-1].slurs, "stop")))
                    ends = ("start",) if goes_on else ()
                row.append(Event(gap, key=key))
                key = None
            attack += 1
        is_slurred = goes_on
        row.append(replace(event, slurs=ends, directions=marks.pop(at, ()), key=key))
        at += event.duration
    return _paired(row)


def _slur_ends(event: Event) -> tuple[str, ...]:
    """Ends of slurs on an event, stops first; of several slurs at once the outermost count."""
    ends = {slur.end for note in event.model for slur in note.slurs}
    return tuple(end for end in ("stop", "start") if end in ends)


def _without_lone(ends: tuple[str, ...]) -> tuple[str, ...]:
    """A slur that starts and stops on one note is none."""
    return tuple(e for e in ends if e != "start" or "stop" not in ends[ends.index("start") :])


def _paired(row: Sequence[Event]) -> list[Event]:
    """Slurs that have lost their other end taken off."""
    made = list(row)
    opened: int | None = None
    for place, event in enumerate(row):
        kept = []
        for end in event.slurs:
            # A second slur inside one has no end of its own in a single row.
            if (end == "stop") == (opened is None):
                continue
            kept.append(end)
            opened = place if end == "start" else None
        made[place] = replace(event, slurs=tuple(kept))
    if opened is not None:
        last = made[opened]
        made[opened] = replace(last, slurs=tuple(e for e in last.slurs if e != "start"))
    return made


def _marks_by_time(passage: Passage) -> dict[Fraction, tuple[Direction, ...]]:
    """Dynamics, hairpins and words by the event they stand at, or the next one."""
    starts: list[Fraction] = []
    at = absolute(passage.part, passage.span.start)
    for event in passage.plain_events:
        starts.append(at)
        at += event.duration
    found: dict[Fraction, list[Direction]] = {}
    is_open = False
    for measure in passage.cut.measures:
        begin = passage.part.starts[measure.index]
        for mark in sorted(measure.directions, key=lambda d: d.at):
            if mark.kind not in _KEPT:
                continue
            is_stop = mark.kind == "wedge" and mark.text == "stop"
            later = [start for start in starts if start >= begin + mark.at]
            if not later or (is_stop and not is_open):
                continue
            if mark.kind == "wedge":
                is_open = not is_stop
            found.setdefault(later[0], []).append(mark)
    if is_open:
        found = {
            start: [mark for mark in marks if mark.kind != "wedge"]
            for start, marks in found.items()
        }
    return {start: tuple(marks) for start, marks in found.items()}


def _keys_by_time(passage: Passage) -> dict[Fraction, Key]:
    """Where the key changes inside the passage, and to what."""
    measures = passage.cut.measures
    return {
        passage.part.starts[after.index]: after.key
        for before, after in pairwise(measures)
        if after.key != before.key
    }


# As a breath ------------------------------------------------------------------------------------


def _breathing(
    passage: Passage, places: Sequence[int], gap: Fraction, said: str, base: Step
) -> Step:
    lead = absolute(passage.part, passage.span.start)
    waits = sorted(absolute(passage.part, passage.attacks[place]) - lead for place in places)
    before = {passage.attacks[place - 1] for place in places if place}
    first = word_at(passage, places[0], said) if places else None

    def change(measure: Measure, note: Note) -> Note:
        ends = Position(measure.index, note.at) in before and note.is_attack
        if not ends or note.in_chord or "breath-mark" in note.articulations:
            return note
        return replace(note, articulations=(*note.articulations, "breath-mark"))

    step = marked_step(base, name=base.name, kind=base.kind, change=change, words=first)

    def later(at: Fraction) -> Fraction:
        return at + gap * sum(1 for wait in waits if wait <= at)

    return replace(
        step,
        sounds=tuple(replace(sound, at=later(sound.at)) for sound in step.sounds),
        quarters=step.quarters + gap * len(waits),
        clicks=tuple(later(at) for at in _click_times(step)),
    )


def _click_times(step: Step) -> tuple[Fraction, ...]:
    if step.clicks:
        return step.clicks
    times = []
    at = step.click_at
    while step.click and at < step.quarters:
        times.append(at)
        at += step.click
    return tuple(times)
