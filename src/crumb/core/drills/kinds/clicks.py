"""Drills with another click: on every note, off the beat, on its parts, on the first beat only."""

from fractions import Fraction

from crumb.core.drills.build import written_step
from crumb.core.drills.model import (
    LEARN,
    NOTES_KNOWN,
    ON,
    RHYTHM_KNOWN,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import LEARNING, PROVING, SETTING
from crumb.core.errors import DrillDoesNotFit


def shortest_unit(passage: Passage) -> Fraction:
    """The value that fills the run, or the shortest note of the chunk."""
    values = [event.duration for event in passage.plain_events if not event.is_rest]
    return min(values)


def _every_note(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    unit = shortest_unit(passage)
    pace = unit / passage.beat
    if pace >= 1:
        raise DrillDoesNotFit(
            "No note here is shorter than a beat: the beat clicks on each already."
        )
    first = written_step(
        passage,
        name="One click a note",
        kind=LEARN,
        repetitions=int(settings["learning_repetitions"]),
        pace=pace,
        click=unit / 2,
        slip=ON,
        say="The click goes at goal tempo, one written note on each, its off-beat sounding between."
        " Fingers are set before bow or tongue.",
    )
    steps = [
        written_step(
            passage,
            name=f"{round(share * 100)} % of goal, {_clicked(share)}",
            kind=LEARN,
            repetitions=int(settings["stage_repetitions"]),
            pace=share,
            click=unit if share <= Fraction(1, 2) else None,
            slip=ON,
            say="The fingers stay as far ahead as they were.",
        )
        for share in _stages(pace)
    ]
    return (first, *steps, written_step(passage, repetitions=int(settings["repetitions"])))


_WIDEST = Fraction(4, 3)
"""No stage is more than a third faster than the one before (common practice, no source)."""


def _stages(first: Fraction) -> list[Fraction]:
    """Shares of goal tempo between the first and the whole, in sixteenths, none a leap."""
    found: list[Fraction] = []
    share = first
    while share * _WIDEST < 1:
        share = max(
            (Fraction(n, 16) for n in range(1, 16) if share < Fraction(n, 16) <= share * _WIDEST),
            default=share * _WIDEST,
        )
        found.append(share)
    return found


def _clicked(share: Fraction) -> str:
    return "a click on each note" if share <= Fraction(1, 2) else "a click on the beat"


EVERY_NOTE = DrillKind(
    name="every-note",
    title="Every note on a click",
    family="Isolation",
    use_when="Fingers and bow or tongue do not arrive together.",
    how="Each short note gets a whole click of goal tempo; then faster by stages, up to goal.",
    clean_means="The finger is down before the bow or tongue moves, on every click.",
    on_slip="Go on, and note where it was.",
    needs="Notes shorter than a beat.",
    make=_every_note,
    parameters=(
        LEARNING,
        Parameter("stage_repetitions", "Times at each stage", 1, low=1, high=10),
        PROVING,
    ),
    at_goal=True,
    instead=("alone", "off-beat-click"),
)


def _off_beat(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    half = passage.beat / (3 if passage.beat.numerator % 3 == 0 else 2)
    return (
        written_step(
            passage,
            name="Click off the beat",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            click_at=passage.beat - half,
            say="The click is the off-beat: the beat itself is yours.",
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


OFF_BEAT = DrillKind(
    name="off-beat-click",
    title="Click on the off-beat",
    family="Isolation",
    use_when="It rushes or drags although the beat clicks.",
    how="The metronome sounds between the beats; then on them, as written.",
    clean_means="The click stays exactly in the middle of each beat.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="Any chunk.",
    make=_off_beat,
    parameters=(SETTING, PROVING),
    least_level=NOTES_KNOWN,
    by_measures=True,
)


def _subdivision(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    parts = 3 if passage.beat.numerator % 3 == 0 else 2
    return (
        written_step(
            passage,
            name="Click on the subdivision",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            click=passage.beat / parts,
            say="Count the small beats aloud once, then play on them.",
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


SUBDIVISION = DrillKind(
    name="subdivision-click",
    title="Click on the subdivision",
    family="Isolation",
    use_when="Rests come out short, dotted notes lazy, or slow and free music has no pulse yet.",
    how="The metronome sounds every half beat (every third in compound time); then the beat.",
    clean_means="Every note on or exactly between the clicks; long notes and rests full length.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="Any chunk.",
    make=_subdivision,
    parameters=(SETTING, PROVING),
    by_measures=True,
)


def _first_beat(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    return (
        written_step(
            passage,
            name="Click on the first beat only",
            kind=SET,
            repetitions=int(settings["set_repetitions"]),
            click=passage.first.nominal,
            click_at=-passage.span.start.at % passage.first.nominal,
            say="One click a measure: the beats between are yours.",
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


FIRST_BEAT = DrillKind(
    name="first-beat-click",
    title="Click on the first beat",
    family="Isolation",
    use_when="The pulse leans on the metronome and is lost without it.",
    how="The metronome sounds once a measure; then on every beat, as written.",
    clean_means="Each measure arrives with its click, neither early nor late.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="More than one measure.",
    make=_first_beat,
    parameters=(SETTING, PROVING),
    least_level=RHYTHM_KNOWN,
    by_measures=True,
)

KINDS = (
    EVERY_NOTE,
    OFF_BEAT,
    SUBDIVISION,
    FIRST_BEAT,
)
