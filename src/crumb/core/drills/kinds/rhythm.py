"""Rhythm variations: the pitches of a run stay, the values change; one pattern each.

The patterns are common practice, no source. A pattern of three over groups of four shifts until it
comes round.
"""

from collections.abc import Callable
from dataclasses import replace

from crumb.core.drills.kinds.variations import (
    GROUP,
    HELD_UNITS,
    eased,
    group_of,
    holding,
    pair,
    proof,
    said,
    variation_kind,
)
from crumb.core.drills.model import (
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.patterns import (
    PATTERNS,
    TITLES,
    read_pattern,
    rotated,
    scaled,
)
from crumb.core.drills.rhythm_variation import runs_of, variation_step
from crumb.core.errors import BadSetting, DrillDoesNotFit


def _of_table(name: str) -> Callable[[Passage, Settings], tuple[Step, ...]]:
    def make(passage: Passage, settings: Settings) -> tuple[Step, ...]:
        by = int(settings.get("rotation", 0))
        pattern = rotated(PATTERNS[name], by)
        runs = runs_of(passage)
        if all(set(scaled(pattern, run.unit)) == {run.unit} for run in runs):
            raise DrillDoesNotFit("This is the rhythm that is printed already.")
        turned = f", from note {by + 1}" if by else ""
        return pair(
            passage,
            settings,
            name=TITLES[name] + turned,
            pattern_of=lambda run: scaled(pattern, run.unit),
        )

    return make


_IN_NOTES = {
    "long-short": "dotted eighth, sixteenth",
    "short-long": "sixteenth, dotted eighth",
    "long-short-short": "eighth, two sixteenths",
    "short-short-long": "two sixteenths, eighth",
    "short-long-short": "sixteenth, eighth, sixteenth",
    "even-threes": "eighth-note triplets",
    "long-quick-three": "an eighth and a sixteenth triplet",
    "quick-three-long": "a sixteenth triplet and an eighth",
    "sway-a": "two eighths, two sixteenths",
    "sway-b": "eighth, two sixteenths, eighth",
    "sway-c": "two sixteenths, two eighths",
    "sway-quick-four": "two eighths, four thirty-seconds",
    "fives": "quintuplets",
}


def _table_kind(name: str, use_when: str, *, turns: bool = False) -> DrillKind:
    extra = (
        (Parameter("rotation", "Begin the pattern how many notes later", 0, low=0, high=5),)
        if turns
        else ()
    )
    return variation_kind(
        name,
        TITLES[name],
        _of_table(name),
        use_when=use_when,
        how=f"Sixteenths become {_IN_NOTES[name]}; longer notes as much longer; then as written.",
        extra=extra,
    )


TABLE_KINDS = (
    _table_kind("long-short", "A run is uneven, or fingers and bow or tongue are not together."),
    _table_kind(
        "short-long", "After long-short, so that the other note of each pair gets its quick turn."
    ),
    _table_kind("long-short-short", "Fingers stumble where three notes follow each other quickly."),
    _table_kind("short-short-long", "The note before the beat is lost on its way to the beat."),
    _table_kind("short-long-short", "The middle notes of a group are passed over."),
    _table_kind("even-threes", "The accent always falls on the same fingers: threes move it."),
    _table_kind(
        "long-quick-three", "At-tempo speed is wanted in small pieces, with time to think."
    ),
    _table_kind("quick-three-long", "The run is quick enough but never arrives calmly."),
    _table_kind("sway-a", "The second half of each group hurries."),
    _table_kind("sway-b", "The middle of each group blurs."),
    _table_kind("sway-c", "The first half of each group hurries."),
    _table_kind(
        "sway-quick-four",
        "Goal speed is beyond reach as yet, but four notes of it are not.",
        turns=True,
    ),
    _table_kind("fives", "The groups have become mechanical: five over four wakes the ear."),
)


def _hold(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    hold, group = int(settings["hold"]), group_of(passage, settings, runs_of(passage))
    if hold > group:
        raise BadSetting(f"There is no note {hold} in a group of {group}.")
    return pair(
        passage,
        settings,
        name=f"Hold {hold} of {group}",
        pattern_of=holding(passage, settings, hold, group),
    )


HOLD_DRILL = variation_kind(
    "hold",
    "Hold one of each group",
    _hold,
    use_when="One note of each group is late or unclear, or a shift needs time to be heard.",
    how="One note of every group is held, the others run at speed; then as written.",
    clean_means="The held note steady and in tune, the quick ones even.",
    extra=(
        Parameter("hold", "Hold note", 1, low=1, high=6),
        replace(GROUP, label="of each (0: as the meter has them)"),
        HELD_UNITS,
    ),
)


def _own(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    pattern = read_pattern(str(settings["values"]))
    return pair(passage, settings, name=f"Pattern {said(pattern)}", pattern_of=lambda _: pattern)


OWN = variation_kind(
    "own-pattern",
    "Own pattern",
    _own,
    use_when="You want a rhythm that is not in the list.",
    how="Your own values, in quarter notes, strung along the run; then as written.",
    extra=(Parameter("values", "Values in quarter notes", "1/2 1/4 1/4 1/4 1/4"),),
)


def _retrograde(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    runs = runs_of(passage)
    name = str(settings["rhythm"])
    step = variation_step(
        passage,
        runs,
        lambda run: (run.unit,) if name == "even" else scaled(PATTERNS[name], run.unit),
        name="Even" if name == "even" else TITLES[name],
        repetitions=int(settings["variation_repetitions"]),
        backward=True,
    )
    return (*eased([step], settings), proof(passage, settings))


RETROGRADE = replace(
    variation_kind(
        "retrograde",
        "Run backward",
        _retrograde,
        use_when="The fingers know the run in one direction only.",
        how="The run from its last note to its first, even or in a rhythm; then as written.",
        extra=(Parameter("rhythm", "Rhythm", "even", choices=("even", *tuple(PATTERNS)[:6])),),
        direction=False,
    ),
    same_pitches=False,
)


KINDS: tuple[DrillKind, ...] = (*TABLE_KINDS, HOLD_DRILL, OWN, RETROGRADE)
