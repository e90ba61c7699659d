"""Shifts, leaps and slides: hearing the way, landing in tune."""

from dataclasses import replace

from crumb.core.drills.build import (
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
from crumb.core.score.model import Note
from crumb.core.score.notating import Event
from crumb.core.score.pitch import moved
from crumb.core.score.position import Span
from crumb.core.survey.strings import HAND, HIGHEST, OPEN


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
    if settings["slide"] != "no":
        both = settings["slide"] == "four ways"
        steps += [
            laid_step(
                passage,
                [replace(with_length(e, beat * 2), gestures=g) for e, g in row],
                name=name,
                kind=LEARN,
                repetitions=int(settings["learning_repetitions"]),
                slip=ON,
                say=say,
                turned=note_ids([before, after]),
            )
            for name, row, say in _slides(passage, at, before, after, both=both)
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


_Slid = tuple[Event, tuple[str, ...]]
_SLIDE = "Slow and heard all the way: hand, slide or voice goes by ear to the arrival."
_GUIDE = (
    "The middle note is the finger that guides the hand: here it sounds, later it is only felt."
)
_FROM, _TO = ("slide:start:1",), ("slide:stop:1",)


def _slides(
    passage: Passage, at: int, before: Event, after: Event, *, both: bool
) -> list[tuple[str, list[_Slid], str]]:
    """The ways to slide: into it and back, by either finger where strings are shifted.

    The old finger slides to the new position and the new one drops; or the new one drops in the
    old position and slides.
    """
    old, new = _guides(passage, at)
    ways: list[tuple[str, list[_Slid], str]] = []
    if old is not None:
        ways.append(
            ("Into it on the old finger", [(before, _FROM), (old, _TO), (after, ())], _GUIDE)
        )
    if new is not None and (both or old is None):
        ways.append(
            ("Into it on the new finger", [(before, ()), (new, _FROM), (after, _TO)], _GUIDE)
        )
    if not ways:
        ways.append(("Into it", [(before, _FROM), (after, _TO)], ""))
    back = [(_back_name(name), _reversed_slide(row), guide) for name, row, guide in ways]
    return [(name, row, f"{_SLIDE} {guide}".strip()) for name, row, guide in (*ways, *back)]


def _back_name(name: str) -> str:
    return name.replace("Into it", "And back")


def _reversed_slide(row: list[_Slid]) -> list[_Slid]:
    other = {_FROM: _TO, _TO: _FROM, (): ()}
    return [(event, other[gestures]) for event, gestures in reversed(row)]


def _guides(passage: Passage, at: int) -> tuple[Event | None, Event | None]:
    """For a shift on one string: the old finger in the new position, the new one in the old."""
    family = passage.instrument.family
    one, two = top(passage.struck[at - 1]), top(passage.struck[at])
    if family not in OPEN or one is None or two is None:
        return None, None
    moved_by = _shift(family, one, two)
    if moved_by == 0:
        return None, None
    return (
        _guide(passage, passage.struck[at - 1][-1], moved_by, (one, two)),
        _guide(passage, passage.struck[at][-1], -moved_by, (one, two)),
    )


def _shift(family: str, one: int, two: int) -> int:
    """Half steps the hand goes if both notes are played on one string; 0 where none has both.

    The lower note is the first finger's and the upper one that of the finger which reaches
    farthest without a stretch (common practice, no source).
    """
    low, high = min(one, two), max(one, two)
    strings = [string for string in OPEN[family] if string < low and high - string <= HIGHEST]
    if not strings or high - low <= HAND[family]:
        return 0
    shift = high - low - HAND[family] + 1
    return shift if two > one else -shift


def _guide(passage: Passage, note: Note, half_steps: int, taken: tuple[int, int]) -> Event | None:
    assert note.pitch is not None
    pitch = moved(note.pitch, diatonic=_letters(half_steps), chromatic=half_steps)
    if pitch.midi in taken:
        return None
    return bare(Event(passage.beat, (replace(note, pitch=pitch, id=f"{note.id}g", tie=None),)))


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
            choices=("yes", "no", "four ways"),
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
