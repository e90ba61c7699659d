"""Rhythm variations: the pitches of a run stay, the values change.

Values are exact quarter notes. The patterns, the standard set and the burst arithmetic are common
practice, no source. Where a pattern does not divide the run, the rest of the pattern is cut and the
landing is held; a pattern of three over groups of four shifts until it comes round.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import cycle, islice, product
from math import lcm

from crumb.core.drills.making import laid_step, note_ids, with_length, written_step
from crumb.core.drills.model import (
    LEARN,
    RHYTHM_KNOWN,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.runs import Run, find_figures
from crumb.core.drills.settings import PROVING
from crumb.core.errors import BadSetting, DrillDoesNotFit, NotNotatable
from crumb.core.score.model import ZERO, Time
from crumb.core.score.notating import Event, values_of

Pattern = tuple[Fraction, ...]
PatternOf = Callable[[Run], Pattern]


def _pattern(text: str) -> Pattern:
    return tuple(Fraction(value) for value in text.split())


PATTERNS: Mapping[str, Pattern] = {
    "long-short": _pattern("3/4 1/4"),
    "short-long": _pattern("1/4 3/4"),
    "long-short-short": _pattern("1/2 1/4 1/4"),
    "short-short-long": _pattern("1/4 1/4 1/2"),
    "short-long-short": _pattern("1/4 1/2 1/4"),
    "even-threes": _pattern("1/3 1/3 1/3"),
    "long-quick-three": _pattern("1/2 1/6 1/6 1/6"),
    "quick-three-long": _pattern("1/6 1/6 1/6 1/2"),
    "sway-a": _pattern("1/2 1/2 1/4 1/4"),
    "sway-b": _pattern("1/2 1/4 1/4 1/2"),
    "sway-c": _pattern("1/4 1/4 1/2 1/2"),
    "sway-quick-four": _pattern("1/2 1/2 1/8 1/8 1/8 1/8"),
    "fives": _pattern("1/5 1/5 1/5 1/5 1/5"),
}
EVEN = _pattern("1/4")
_TITLES = {
    "long-short": "Long-short",
    "short-long": "Short-long",
    "long-short-short": "Long-short-short",
    "short-short-long": "Short-short-long",
    "short-long-short": "Short-long-short",
    "even-threes": "Even threes",
    "long-quick-three": "Long and quick three",
    "quick-three-long": "Quick three and long",
    "sway-a": "Sway, longs first",
    "sway-b": "Sway, longs outside",
    "sway-c": "Sway, longs last",
    "sway-quick-four": "Sway with quick four",
    "fives": "Fives",
}
_MOST_VALUES = 16


def hold_pattern(*, hold: int, group: int, held_units: int, unit: Fraction) -> Pattern:
    """Hold the ``hold``-th of every ``group`` notes for ``held_units`` units, the rest for one."""
    return tuple(unit * (held_units if i == hold else 1) for i in range(1, group + 1))


def rotated(pattern: Pattern, by: int) -> Pattern:
    """The pattern begun ``by`` notes later."""
    by %= len(pattern)
    return pattern[by:] + pattern[:by]


def comes_round_after(pattern_notes: int, group: int) -> int:
    """Notes until a pattern starts on the first of a group again."""
    return lcm(pattern_notes, group)


def long_short_ways(notes: int) -> tuple[tuple[bool, ...], ...]:
    """Every way to make some of ``notes`` long and the others short: 2ⁿ − 2 of them.

    Those with one long note come first, then two, and so on; True is long.
    """
    ways = [way for way in product((True, False), repeat=notes) if 0 < sum(way) < notes]
    return tuple(sorted(ways, key=lambda way: (sum(way), tuple(not long for long in way))))


def read_pattern(text: str) -> Pattern:
    """A pattern as written down: fractions of a quarter note between spaces or commas.

    Raises:
        BadSetting: not fractions, none, too many, or of a length nobody could write or play.
    """
    values = []
    for word in text.replace(",", " ").replace("·", " ").split():
        top, _, bottom = word.partition("/")
        if not (top.isdigit() and len(top) <= 3 and (not bottom or bottom.isdigit())):
            raise BadSetting(f"“{word[:20]}” is no value: write quarters such as 1/2 1/4 1/4.")
        if bottom and not 0 < int(bottom[:4]) <= 256:
            raise BadSetting(f"“{word[:20]}” is no value: write quarters such as 1/2 1/4 1/4.")
        value = Fraction(int(top), int(bottom or 1))
        if not 0 < value <= 8:
            raise BadSetting("A value of a pattern is more than 0 and at most 8 quarter notes.")
        values.append(value)
    if not 1 <= len(values) <= _MOST_VALUES:
        raise BadSetting(f"A pattern has between 1 and {_MOST_VALUES} values.")
    try:
        for value in values:
            values_of(value)
    except NotNotatable as error:
        raise BadSetting(error.message) from error
    return tuple(values)


def varied(events: Sequence[Event], runs: Sequence[Run], pattern_of: PatternOf) -> list[Event]:
    """The row with every run in its new rhythm; what stands between the runs stays."""
    result: list[Event] = []
    place = 0
    for run in runs:
        result.extend(events[place : run.first])
        values = cycle(pattern_of(run))
        result.extend(with_length(event, next(values)) for event in events[run.first : run.last])
        place = run.last
    result.extend(events[place:])
    return result


def backward_runs(events: Sequence[Event], runs: Sequence[Run]) -> list[Event]:
    """The row with the notes of every run from its last to its first."""
    row = list(events)
    for run in runs:
        row[run.first : run.last] = row[run.first : run.last][::-1]
    return row


def drill_meter(time: Time, pattern_length: Fraction) -> tuple[Time, Fraction | None]:
    """A meter whose barlines fall where the pattern comes round, and what a beam may join.

    The part's own meter where it fits a whole number of patterns (or the other way round);
    otherwise one pattern a measure, so that the group can be seen.
    """
    fits = (time.length / pattern_length).denominator == 1
    if fits or (pattern_length / time.length).denominator == 1:
        return time, None
    for unit in (4, 8, 16, 32, 64, 128):
        beats = pattern_length * unit / 4
        if beats.denominator == 1:
            return Time(str(beats), unit), pattern_length
    return time, None


def runs_of(passage: Passage) -> tuple[Run, ...]:
    """The runs of a passage.

    Raises:
        DrillDoesNotFit: there is none.
    """
    if not passage.runs:
        raise DrillDoesNotFit("No run here: a rhythm variation needs four equal notes in a row.")
    return passage.runs


def variation_step(
    passage: Passage,
    runs: Sequence[Run],
    pattern_of: PatternOf,
    *,
    name: str,
    repetitions: int,
    backward: bool = False,
    say: str = "",
) -> Step:
    """One pass of the runs in another rhythm, its burst worked out on the fastest run."""
    events = backward_runs(passage.events, runs) if backward else passage.events
    row = varied(events, runs, pattern_of)
    patterns = {pattern_of(run) for run in runs}
    length = sum(max(patterns, key=sum), ZERO)
    time, group = drill_meter(passage.meter, length)
    landing = [passage.landing] if passage.landing else []
    fastest = min(runs, key=lambda run: run.unit)
    pattern = pattern_of(fastest)
    longest = max(pattern)
    long_notes = (
        row[run.first + i]
        for run in runs
        for i in range(run.count)
        if pattern_of(run)[i % len(pattern_of(run))] == max(pattern_of(run))
    )
    return laid_step(
        passage,
        [*row, *landing],
        name=name + (", backward" if backward else ""),
        kind=LEARN,
        repetitions=repetitions,
        time=time,
        group=group,
        click=passage.beat if time == passage.meter else length,
        say=say or _round_said(pattern, fastest),
        burst=min(pattern) / fastest.unit,
        turned=note_ids(long_notes) if longest > min(pattern) else None,
    )


def _round_said(pattern: Pattern, run: Run) -> str:
    """Where a pattern that does not fit the group comes round again."""
    group = int(1 / run.unit) if run.unit < 1 else 0
    if group < 2 or len(pattern) < 2:
        return ""
    after = comes_round_after(len(pattern), group)
    if after in (group, len(pattern)) or after >= run.count:
        return ""
    return f"Groups of {len(pattern)} over {group}: they meet again after {after} notes."


_VARIATION = Parameter(
    "variation_repetitions",
    "Clean in the new rhythm",
    4,
    low=1,
    high=20,
    by_level={"beginner": 2},
)
_DIRECTION = Parameter("notes", "Notes", "forward", choices=("forward", "backward"))
_CAUTION = (
    "Not for players whose inner pulse is still weak, until someone has heard them do it right."
)
_INSTEAD = ("alone", "backward", "each-note")


def _proof(passage: Passage, settings: Settings) -> Step:
    return written_step(passage, repetitions=int(settings["repetitions"]))


def _pair(
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
    return (step, _proof(passage, settings))


def _kind(
    name: str,
    title: str,
    make: Callable[[Passage, Settings], tuple[Step, ...]],
    *,
    use_when: str,
    how: str,
    clean_means: str = "Even within the pattern, the short notes light and quick, no note lost.",
    extra: tuple[Parameter, ...] = (),
    direction: bool = True,
) -> DrillKind:
    """A rhythm variation: they differ in their pattern and their words only."""
    return DrillKind(
        name=name,
        title=title,
        family="Rhythm variations",
        use_when=use_when,
        how=how,
        clean_means=clean_means,
        on_slip="Play it again; the count of clean ones starts anew.",
        needs="A run: four or more equal notes in a row.",
        make=make,
        parameters=(*extra, *((_DIRECTION,) if direction else ()), _VARIATION, PROVING),
        caution=_CAUTION,
        least_level=RHYTHM_KNOWN,
        instead=_INSTEAD,
    )


def _said(pattern: Pattern) -> str:
    return " ".join(str(value) for value in pattern)


def _of_table(name: str) -> Callable[[Passage, Settings], tuple[Step, ...]]:
    def make(passage: Passage, settings: Settings) -> tuple[Step, ...]:
        by = int(settings.get("rotation", 0))
        pattern = rotated(PATTERNS[name], by)
        runs = runs_of(passage)
        if all(set(pattern) == {run.unit} for run in runs):
            raise DrillDoesNotFit("This is the rhythm that is printed already.")
        turned = f", from note {by + 1}" if by else ""
        return _pair(passage, settings, name=_TITLES[name] + turned, pattern_of=lambda _: pattern)

    return make


def _table_kind(name: str, use_when: str, *, turns: bool = False) -> DrillKind:
    pattern = PATTERNS[name]
    extra = (
        (Parameter("rotation", "Begin the pattern how many notes later", 0, low=0, high=5),)
        if turns
        else ()
    )
    return _kind(
        name,
        _TITLES[name],
        _of_table(name),
        use_when=use_when,
        how=f"{_said(pattern)} of a quarter note, through the run; then as written.",
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
    hold, group = int(settings["hold"]), int(settings["group"])
    if hold > group:
        raise BadSetting(f"There is no note {hold} in a group of {group}.")

    def pattern_of(run: Run) -> Pattern:
        return hold_pattern(
            hold=hold, group=group, held_units=int(settings["held_units"]), unit=run.unit
        )

    return _pair(passage, settings, name=f"Hold {hold} of {group}", pattern_of=pattern_of)


_HELD_UNITS = Parameter("held_units", "for how many of its own length", 2, low=2, high=4)
HOLD_DRILL = _kind(
    "hold",
    "Hold one of each group",
    _hold,
    use_when="One note of each group is late or unclear, or a shift needs time to be heard.",
    how="One note of every group is held, the others run at speed; then as written.",
    clean_means="The held note steady and in tune, the quick ones even.",
    extra=(
        Parameter("hold", "Hold note", 1, low=1, high=6),
        Parameter("group", "of each", 4, low=3, high=6),
        _HELD_UNITS,
    ),
)


def _hold_cycle(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    runs = runs_of(passage)
    group, held = int(settings["group"]), int(settings["held_units"])
    times = int(settings["variation_repetitions"])
    even = written_step(passage, name="Even", repetitions=times, kind=LEARN)
    steps = [
        variation_step(
            passage,
            runs,
            lambda run, hold=hold: hold_pattern(  # type: ignore[misc]
                hold=hold, group=group, held_units=held, unit=run.unit
            ),
            name=f"Hold {hold} of {group}",
            repetitions=times,
        )
        for hold in range(1, group + 1)
    ]
    return (even, *steps, replace(_proof(passage, settings), name="Even, as written"))


HOLD_CYCLE = _kind(
    "hold-cycle",
    "Hold each in turn",
    _hold_cycle,
    use_when="Every note of the group should have its turn to be listened to.",
    how="Even; then the first of every group held, the second, … the last; then even.",
    clean_means="The held note steady and in tune, the quick ones even, in every pass.",
    extra=(Parameter("group", "Groups of", 4, low=3, high=6), _HELD_UNITS),
    direction=False,
)


def _own(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    pattern = read_pattern(str(settings["values"]))
    return _pair(passage, settings, name=f"Pattern {_said(pattern)}", pattern_of=lambda _: pattern)


OWN = _kind(
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
        lambda run: (run.unit,) if name == "even" else PATTERNS[name],
        name="Even" if name == "even" else _TITLES[name],
        repetitions=int(settings["variation_repetitions"]),
        backward=True,
    )
    return (step, _proof(passage, settings))


RETROGRADE = replace(
    _kind(
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


def _all_ways(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    runs = runs_of(passage)
    ways = long_short_ways(int(settings["group"]))
    held = int(settings["held_units"])
    steps = [
        variation_step(
            passage,
            runs,
            lambda run, way=way: tuple(run.unit * (held if long else 1) for long in way),  # type: ignore[misc]
            name="".join("–" if long else "·" for long in way),
            repetitions=int(settings["variation_repetitions"]),
            say="– is long, · is short.",
        )
        for way in islice(ways, int(settings["most"]))
    ]
    return (*steps, _proof(passage, settings))


ALL_WAYS = _kind(
    "long-short-ways",
    "Every way of long and short",
    _all_ways,
    use_when="A cell of three to five notes must be sure from every one of its notes.",
    how="The ways to make some notes of each group long, those with one long note first.",
    extra=(
        Parameter("group", "Groups of", 4, low=3, high=5, by_level={"beginner": 3}),
        Parameter(
            "most", "How many ways", 5, low=1, high=30, by_level={"beginner": 2, "advanced": 10}
        ),
        _HELD_UNITS,
    ),
    direction=False,
)

_SET = ("long-short", "short-long", "long-short-short", "short-short-long", "even-threes")
_MORE = ("short-long-short", "long-quick-three", "quick-three-long", "sway-a", "sway-c")


def _standard_set(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    """Seven passes: five of the table, one of one's own, the original.

    Where the music has one of these rhythms already, even values take that pass.
    """
    figures = () if passage.runs else find_figures(passage.events)
    runs = figures or runs_of(passage)
    own = read_pattern(str(settings["own"]))
    names: list[str] = list(islice((*_SET, *_MORE), int(settings["passes"]) - 2))
    times = int(settings["variation_repetitions"])
    steps = [_set_pass(passage, runs, name, times) for name in names]
    if int(settings["passes"]) > 2:
        steps.append(
            variation_step(
                passage, runs, lambda _: own, name=f"Own: {_said(own)}", repetitions=times
            )
        )
    elif not steps:
        steps.append(_set_pass(passage, runs, _SET[0], times))
    return (*steps, _proof(passage, settings))


def _set_pass(passage: Passage, runs: Sequence[Run], name: str, times: int) -> Step:
    pattern = PATTERNS[name]
    printed = all(pattern in (run.figure, (run.unit,) * len(pattern)) for run in runs)
    if not printed:
        return variation_step(
            passage, runs, lambda _: pattern, name=_TITLES[name], repetitions=times
        )
    return variation_step(
        passage,
        runs,
        lambda run: EVEN if run.unit != EVEN[0] else (Fraction(1, 2),),
        name="Even",
        repetitions=times,
        say=f"{_TITLES[name]} is what is printed: this pass is even instead.",
    )


STANDARD_SET = _kind(
    "standard-set",
    "Standard set of rhythms",
    _standard_set,
    use_when="A run has to become even and quick, and there is time for a whole set.",
    how="Long-short, short-long, long-short-short, short-short-long, threes, your own, as written.",
    extra=(
        Parameter(
            "passes",
            "Passes, the original included",
            7,
            low=2,
            high=12,
            by_level={"beginner": 2, "intermediate": 5, "advanced": 7},
        ),
        Parameter("own", "Own pattern", "1/2 1/6 1/6 1/6"),
    ),
    direction=False,
)

KINDS: tuple[DrillKind, ...] = (
    *TABLE_KINDS,
    HOLD_DRILL,
    HOLD_CYCLE,
    ALL_WAYS,
    OWN,
    RETROGRADE,
    STANDARD_SET,
)
