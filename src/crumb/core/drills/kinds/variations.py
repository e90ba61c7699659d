"""Shared by rhythm variations: settings, proof, words."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.build import written_step
from crumb.core.drills.model import (
    RHYTHM_KNOWN,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.patterns import (
    Pattern,
    PatternOf,
    fitting_hold,
    hold_pattern,
    natural_group,
    written_unit,
)
from crumb.core.drills.rhythm_variation import runs_of, variation_step
from crumb.core.drills.runs import Run
from crumb.core.drills.settings import PROVING
from crumb.core.errors import BadSetting

_EASED = Fraction(85, 100)
VARIATION = Parameter(
    "variation_repetitions",
    "Clean in the new rhythm",
    4,
    low=1,
    high=20,
    by_level={"beginner": 2},
)
OF_A_SET = replace(VARIATION, default=2, by_level={})
"""Of several rhythms in a row each is played less often: a set has to fit a day."""
EASE = Parameter(
    "ease",
    "One pass 15 % slower first",
    "no",
    choices=("no", "yes"),
)
DIRECTION = Parameter("notes", "Notes", "forward", choices=("forward", "backward"))
_CAUTION = (
    "Not for players whose inner pulse is still weak, until someone has heard them do it right."
)
_INSTEAD = ("alone", "backward", "each-note")


def proof(passage: Passage, settings: Settings) -> Step:
    """The original, which every set of rhythms ends with."""
    return written_step(passage, repetitions=int(settings["repetitions"]))


def pair(
    passage: Passage, settings: Settings, *, name: str, pattern_of: PatternOf
) -> tuple[Step, ...]:
    """A variation, then the original."""
    step = variation_step(
        passage,
        runs_of(passage),
        pattern_of,
        name=name,
        repetitions=int(settings["variation_repetitions"]),
        backward=settings.get("notes") == "backward",
    )
    return (*eased([step], settings), proof(passage, settings))


def eased(steps: Sequence[Step], settings: Settings) -> tuple[Step, ...]:
    """Before each hard new pattern one pass about 15 % slower, if that is wanted."""
    if settings["ease"] != "yes":
        return tuple(steps)
    return tuple(
        one
        for step in steps
        for one in (
            replace(
                step,
                name=f"{step.name}, 15 % slower",
                repetitions=1,
                pace=_EASED,
                say=f"Once, to hear the pattern. {step.say}".strip(),
            ),
            step,
        )
    )


def variation_kind(
    name: str,
    title: str,
    make: Callable[[Passage, Settings], tuple[Step, ...]],
    *,
    use_when: str,
    how: str,
    clean_means: str = "Even within the pattern, the short notes light and quick, no note lost.",
    extra: tuple[Parameter, ...] = (),
    direction: bool = True,
    times: Parameter = VARIATION,
) -> DrillKind:
    """A rhythm variation: they differ in their pattern and their words only."""
    return DrillKind(
        name=name,
        title=title,
        family="Rhythm variations",
        use_when=use_when,
        how=how,
        clean_means=clean_means,
        on_slip="Play it again and start the count over.",
        needs="A run: four or more equal notes in a row.",
        make=make,
        parameters=(*extra, *((DIRECTION,) if direction else ()), times, EASE, PROVING),
        caution=_CAUTION,
        least_level=RHYTHM_KNOWN,
        instead=_INSTEAD,
    )


def said(pattern: Pattern) -> str:
    """A pattern as it is written down: ``1/2 1/4 1/4``."""
    return " ".join(str(value) for value in pattern)


def holding(passage: Passage, settings: Settings, hold: int, group: int) -> PatternOf:
    """The pattern that holds one note of each group, on a run of any unit."""
    if int(settings["held_units"]) == 1:
        raise BadSetting("A held note lasts at least two of its own length.")

    def pattern_of(run: Run) -> Pattern:
        unit = written_unit(run.unit)
        held = int(settings["held_units"]) or fitting_hold(group, unit)
        return hold_pattern(hold=hold, group=group, held_units=held, unit=unit)

    return pattern_of


def group_of(passage: Passage, settings: Settings, runs: Sequence[Run]) -> int:
    """How many notes are a group: as set, or as the meter and the quickest run have it."""
    given = int(settings["group"])
    if given in (1, 2):
        raise BadSetting("A group has at least three notes here.")
    return given or natural_group(min(run.unit for run in runs), passage.meter)


HELD_UNITS = Parameter(
    "held_units", "for how many of its own length (0: what fits the beat)", 0, low=0, high=4
)
GROUP = Parameter("group", "Groups of (0: as the meter has them)", 0, low=0, high=6)
