"""Rhythm variations: the pitches of a run stay, the values change.

Values are exact quarter notes. The patterns and the burst arithmetic are common practice, no
source. Where the pattern does not divide the run, the rest of the pattern is cut.
"""

from collections.abc import Callable, Sequence
from fractions import Fraction
from itertools import cycle

from crumb.core.drills.isolation import REPETITIONS
from crumb.core.drills.model import LEARN, DrillKind, Maker, Parameter, Settings, Step
from crumb.core.drills.runs import Run, find_runs, span_events
from crumb.core.drills.written import written_step
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.model import ZERO, Part, Time
from crumb.core.score.notating import Event, beam_length, lay_out
from crumb.core.score.position import Span, sounds

Pattern = tuple[Fraction, ...]
LONG_SHORT: Pattern = (Fraction(3, 4), Fraction(1, 4))
SHORT_LONG: Pattern = (Fraction(1, 4), Fraction(3, 4))


def hold_pattern(*, hold: int, group: int, held_units: int, unit: Fraction) -> Pattern:
    """Hold the ``hold``-th of every ``group`` notes for ``held_units`` units, the rest for one."""
    return tuple(unit * (held_units if i == hold else 1) for i in range(1, group + 1))


def varied(events: Sequence[Event], runs: Sequence[Run], pattern_of: "PatternOf") -> list[Event]:
    """The row with every run in its new rhythm; what stands between the runs stays."""
    result: list[Event] = []
    place = 0
    for run in runs:
        result.extend(events[place : run.first])
        values = cycle(pattern_of(run))
        result.extend(Event(next(values), event.model) for event in events[run.first : run.last])
        place = run.last
    result.extend(events[place:])
    return result


PatternOf = Callable[[Run], Pattern]


def drill_meter(time: Time, pattern_length: Fraction) -> tuple[Time, Fraction]:
    """A meter whose barlines fall where the pattern comes round, and what a beam may join.

    The part's own meter where it fits a whole number of patterns (or the other way round);
    otherwise one pattern a measure, so that the group can be seen.
    """
    fits = (time.length / pattern_length).denominator == 1
    if fits or (pattern_length / time.length).denominator == 1:
        return time, beam_length(time)
    for unit in (4, 8, 16, 32, 64, 128):
        beats = pattern_length * unit / 4
        if beats.denominator == 1:
            return Time(str(beats), unit), pattern_length
    return time, beam_length(time)


def _steps(
    part: Part, span: Span, settings: Settings, *, name: str, pattern_of: PatternOf
) -> tuple[Step, ...]:
    events, landing = span_events(part, span)
    runs = find_runs(events)
    if not runs:
        raise DrillDoesNotFit(
            "No run here: a rhythm variation needs four equal notes in a row. Alone and backward"
            " chain fit."
        )
    row = varied(events, runs, pattern_of)
    if landing:
        row.append(landing)
    first = part.measures[span.start.index]
    fastest = min(runs, key=lambda run: run.unit)
    patterns = {pattern_of(run) for run in runs}
    longest = max(patterns, key=sum)
    length = sum(longest, ZERO)
    time, group = drill_meter(first.time, length)
    measures = lay_out(
        row, time=time, key=first.key, clefs=first.clefs, id_prefix="v", beam_group=group
    )
    notation = Part(
        id=part.id,
        name=part.name,
        measures=measures,
        instrument=part.instrument,
        transposition=part.transposition,
        staff_lines=part.staff_lines,
    )
    varied_step = Step(
        name=name,
        kind=LEARN,
        repetitions=int(settings["variation_repetitions"]),
        part=notation,
        sounds=sounds(notation),
        quarters=sum((event.duration for event in row), ZERO),
        click=first.time.beat if time == first.time else length,
        covers=span,
        as_written=False,
        burst=min(pattern_of(fastest)) / fastest.unit,
    )
    original = written_step(part, span, name="As written", repetitions=int(settings["repetitions"]))
    return (varied_step, original)


def _long_short(part: Part, span: Span, settings: Settings) -> tuple[Step, ...]:
    return _steps(part, span, settings, name="Long-short", pattern_of=lambda _: LONG_SHORT)


def _short_long(part: Part, span: Span, settings: Settings) -> tuple[Step, ...]:
    return _steps(part, span, settings, name="Short-long", pattern_of=lambda _: SHORT_LONG)


def _hold(part: Part, span: Span, settings: Settings) -> tuple[Step, ...]:
    hold, group = int(settings["hold"]), int(settings["group"])
    if hold > group:
        raise BadSetting(f"There is no note {hold} in a group of {group}.")

    def pattern_of(run: Run) -> Pattern:
        return hold_pattern(
            hold=hold, group=group, held_units=int(settings["held_units"]), unit=run.unit
        )

    name = f"Hold {hold} of {group}"
    return _steps(part, span, settings, name=name, pattern_of=pattern_of)


_VARIATION = Parameter("variation_repetitions", "Clean in the new rhythm", 4, low=1, high=20)


def _variation(
    name: str,
    title: str,
    make: Maker,
    *,
    use_when: str,
    how: str,
    clean_means: str = "Even within the pattern, the short notes light and quick, no note lost.",
    extra: tuple[Parameter, ...] = (),
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
        parameters=(*extra, _VARIATION, REPETITIONS),
        caution="Not for players whose inner pulse is still weak, until someone has heard them do"
        " it right.",
    )


LONG_SHORT_DRILL = _variation(
    "long-short",
    "Long-short",
    _long_short,
    use_when="A run is uneven, or fingers and bow or tongue are not together.",
    how="Dotted: three quarters of a beat and one quarter, through the run; then as written.",
)
SHORT_LONG_DRILL = _variation(
    "short-long",
    "Short-long",
    _short_long,
    use_when="After long-short, so that the other note of each pair gets its quick turn.",
    how="One quarter of a beat and three quarters, through the run; then as written.",
)
HOLD_DRILL = _variation(
    "hold",
    "Hold one of each group",
    _hold,
    use_when="One note of each group is late or unclear, or a shift needs time to be heard.",
    how="One note of every group is held, the others run at speed; then as written.",
    clean_means="The held note steady and in tune, the quick ones even.",
    extra=(
        Parameter("hold", "Hold note", 1, low=1, high=6),
        Parameter("group", "of each", 4, low=3, high=6),
        Parameter("held_units", "for how many of its own length", 2, low=2, high=4),
    ),
)
