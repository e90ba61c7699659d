"""Several rhythms of a run in turn: hold cycles, all ways of long and short, the standard set.

Common practice, no source.
"""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import islice

from crumb.core.drills.build import written_step
from crumb.core.drills.kinds.variations import (
    GROUP,
    HELD_UNITS,
    OF_A_SET,
    eased,
    group_of,
    holding,
    proof,
    said,
    variation_kind,
)
from crumb.core.drills.minutes import cycle_seconds
from crumb.core.drills.model import (
    LEARN,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.patterns import (
    EVEN,
    PATTERNS,
    TITLES,
    Pattern,
    fits_a_beat,
    long_short_ways,
    read_pattern,
    scaled,
    written_unit,
)
from crumb.core.drills.rhythm_variation import runs_of, variation_step
from crumb.core.drills.runs import Run, find_figures
from crumb.core.drills.settings import AUTO
from crumb.core.score.model import ZERO


def _hold_cycle(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    runs = runs_of(passage)
    group = group_of(passage, settings, runs)
    times = int(settings["variation_repetitions"])
    passage.need_short(times * (group + 1) + int(settings["repetitions"]))
    even = written_step(passage, name="Even", repetitions=times, kind=LEARN)
    steps = [
        variation_step(
            passage,
            runs,
            holding(passage, settings, hold, group),
            name=f"Hold {hold} of {group}",
            repetitions=times,
        )
        for hold in range(1, group + 1)
    ]
    last = replace(proof(passage, settings), name="Even, as written")
    return (even, *eased(steps, settings), last)


HOLD_CYCLE = variation_kind(
    "hold-cycle",
    "Hold each in turn",
    _hold_cycle,
    use_when="Every note of the group should have its turn to be listened to.",
    how="Even; then the first of every group held, the second, … the last; then even.",
    clean_means="The held note steady and in tune, the quick ones even, in every pass.",
    extra=(GROUP, HELD_UNITS),
    direction=False,
    times=OF_A_SET,
)


def _all_ways(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    runs = runs_of(passage)
    group = group_of(passage, settings, runs)
    ways = long_short_ways(min(group, 5) if group != 6 else 3)
    given = int(settings["held_units"])
    most = min(int(settings["most"]), len(ways))
    passage.need_short(most * int(settings["variation_repetitions"]) + int(settings["repetitions"]))
    steps = [
        variation_step(
            passage,
            runs,
            lambda run, way=way: _way_pattern(way, written_unit(run.unit), given),  # type: ignore[misc]
            name="".join("–" if long else "·" for long in way),
            repetitions=int(settings["variation_repetitions"]),
            say="– is long, · is short.",
        )
        for way in ways[:most]
    ]
    return (*eased(steps, settings), proof(passage, settings))


def _way_pattern(way: Sequence[bool], unit: Fraction, held: int) -> Pattern:
    """The long notes held for so many units; if that is left open, for what fits a beat best."""
    long, short = sum(way), len(way) - sum(way)
    holds = (Fraction(2), Fraction(3), Fraction(4), Fraction(3, 2))
    fitting = next((h for h in holds if fits_a_beat((h * long + short) * unit)), holds[0])
    return tuple(unit * ((held or fitting) if is_long else 1) for is_long in way)


ALL_WAYS = variation_kind(
    "long-short-ways",
    "Every way of long and short",
    _all_ways,
    use_when="A cell of three to five notes must be sure from every one of its notes.",
    how="The ways to make some notes of each group long, those with one long note first.",
    extra=(
        replace(GROUP, high=5),
        Parameter(
            "most", "How many ways", 5, low=1, high=30, by_level={"beginner": 2, "advanced": 8}
        ),
        HELD_UNITS,
    ),
    direction=False,
    times=OF_A_SET,
)

_SET = ("long-short", "short-long", "long-short-short", "short-short-long", "even-threes")
_SET_IN_THREES = (
    "long-short-short",
    "short-short-long",
    "short-long-short",
    "long-short",
    "short-long",
)
_MORE = ("short-long-short", "long-quick-three", "quick-three-long", "sway-a", "sway-c")
_COUNTS = (1, 2, 5, 7, 12)
"""As many passes as the minutes left hold, common practice, no source."""


def _standard_set(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    """Seven passes: five of the table, one of one's own, the original.

    Where the music has one of these rhythms already, even values take that pass.
    """
    figures = () if passage.runs else find_figures(passage.events)
    runs = figures or runs_of(passage)
    minutes = int(settings["minutes"])
    if not minutes:
        times = int(settings["variation_repetitions"]) * (int(settings["passes"]) - 1)
        passage.need_short(times + int(settings["repetitions"]))
        return _passes(passage, settings, runs, int(settings["passes"]))
    # Always at least the original; always fewer rather than longer than what is left.
    made = [_passes(passage, settings, runs, count) for count in _COUNTS]
    lasting = [steps for steps in made if _minutes_of(passage, steps) <= minutes]
    return lasting[-1] if lasting else made[0]


def _minutes_of(passage: Passage, steps: Sequence[Step]) -> Fraction:
    return cycle_seconds(steps, tempo=passage.working_tempo, beat=passage.beat) / 60


def _passes(
    passage: Passage, settings: Settings, runs: Sequence[Run], count: int
) -> tuple[Step, ...]:
    """The set in so many passes, the original the last of them."""
    in_threes = group_of(passage, {"group": 0}, runs) in (3, 6)
    order = dict.fromkeys((*(_SET_IN_THREES if in_threes else _SET), *_MORE))
    names = list(islice(order, max(count - 2, 0)))
    times = int(settings["variation_repetitions"])
    steps = [_set_pass(passage, runs, name, times) for name in names]
    if count > 2:
        steps.append(_own_pass(passage, runs, str(settings["own"]), times, in_threes=in_threes))
    elif count == 2:
        steps.append(_set_pass(passage, runs, next(iter(order)), times))
    return (*eased(steps, settings), proof(passage, settings))


def _own_pass(
    passage: Passage, runs: Sequence[Run], text: str, times: int, *, in_threes: bool
) -> Step:
    """The pass of one's own: typed in as it stands, or the usual one for fours or for sixes."""
    if text == AUTO:
        usual = PATTERNS["sway-quick-four" if in_threes else "long-quick-three"]
        return variation_step(
            passage,
            runs,
            lambda run: scaled(usual, run.unit),
            name=TITLES["sway-quick-four" if in_threes else "long-quick-three"],
            repetitions=times,
        )
    own = read_pattern(text)
    return variation_step(passage, runs, lambda _: own, name=f"Own: {said(own)}", repetitions=times)


def _set_pass(passage: Passage, runs: Sequence[Run], name: str, times: int) -> Step:
    pattern = PATTERNS[name]
    printed = all(_is_printed(run, scaled(pattern, run.unit)) for run in runs)
    if not printed:
        return variation_step(
            passage,
            runs,
            lambda run: scaled(pattern, run.unit),
            name=TITLES[name],
            repetitions=times,
        )
    return variation_step(
        passage,
        runs,
        lambda run: EVEN if run.unit != EVEN[0] else (Fraction(1, 2),),
        name="Even",
        repetitions=times,
        say=f"{TITLES[name]} is what is printed: this pass is even instead.",
    )


def _is_printed(run: Run, pattern: Pattern) -> bool:
    scale = sum(pattern, ZERO) / sum(run.figure, ZERO) if run.figure else ZERO
    is_figure = bool(run.figure) and pattern == tuple(value * scale for value in run.figure)
    return is_figure or pattern == (run.unit,) * len(pattern)


STANDARD_SET = variation_kind(
    "standard-set",
    "Standard set of rhythms",
    _standard_set,
    use_when="A run has to become even and quick, and there is time for a whole set.",
    how="Long-short, short-long, long-short-short, short-short-long, triplets, your own, as"
    " written.",
    extra=(
        Parameter(
            "passes",
            "Passes, the original included",
            7,
            low=2,
            high=12,
            by_level={"beginner": 2, "intermediate": 5, "advanced": 7},
        ),
        Parameter("own", "Own pattern", AUTO),
        Parameter("minutes", "As many as fit in minutes (0: as many as said)", 0, low=0, high=60),
    ),
    direction=False,
    times=OF_A_SET,
)


KINDS: tuple[DrillKind, ...] = (HOLD_CYCLE, ALL_WAYS, STANDARD_SET)
