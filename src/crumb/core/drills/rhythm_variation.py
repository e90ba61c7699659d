"""Runs in another rhythm: strung anew on beats, as one step with its burst.

Where a pattern does not divide the run, the rest of the pattern is cut and the last note is held to
the beat; what stands between the runs stays (common practice, no source).
"""

from collections.abc import Sequence
from fractions import Fraction
from itertools import cycle

from crumb.core.drills.build import laid_step, note_ids, with_length
from crumb.core.drills.model import (
    LEARN,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.patterns import (
    Pattern,
    PatternOf,
    comes_round_after,
    drill_meter,
    natural_group,
)
from crumb.core.drills.runs import Run
from crumb.core.errors import DrillDoesNotFit, NotNotatable
from crumb.core.score.model import ZERO, Time
from crumb.core.score.notating import Event, values_of

_NAMES_OF_UNITS = {
    Fraction(2): "half notes",
    Fraction(1): "quarters",
    Fraction(1, 2): "eighths",
    Fraction(1, 4): "sixteenths",
    Fraction(1, 8): "thirty-seconds",
    Fraction(2, 3): "quarter triplets",
    Fraction(1, 3): "triplets",
    Fraction(1, 6): "sextuplets",
}


class _Row:
    """A row of events that grows, and fills up to a beat where something has to start on one."""

    def __init__(self, time: Time, *, is_struck: bool) -> None:
        self._time = time
        self._is_struck = is_struck
        self._at = ZERO
        self.events: list[Event] = []

    def add(self, event: Event) -> None:
        """One more event."""
        self.events.append(event)
        self._at += event.duration

    def add_whole(self, event: Event) -> None:
        """One more event that no barline cuts, if it fits a measure at all."""
        room = self._time.length - self._at % self._time.length
        if room < event.duration <= self._time.length:
            self.fill(self._time.length)
        self.add(event)

    def fill(self, grid: Fraction) -> None:
        """Hold the last note up to the beat, and rest from there to the next place of a grid."""
        if not self.events:
            return
        gap = -(self._at % self._time.length) % grid
        to_beat = min(-self._at % min(self._time.beat, grid), gap)
        if to_beat and not self._is_struck and self._hold(to_beat):
            gap -= to_beat
        if gap and _is_written(gap):
            self.add(Event(gap))

    def _hold(self, longer: Fraction) -> bool:
        last = self.events[-1]
        if last.is_rest or not _is_written(last.duration + longer):
            return False
        self.events[-1] = with_length(last, last.duration + longer)
        self._at += longer
        return True


def _is_written(duration: Fraction) -> bool:
    try:
        values_of(duration)
    except NotNotatable:
        return False
    return True


def varied(
    passage: Passage,
    events: Sequence[Event],
    runs: Sequence[Run],
    pattern_of: PatternOf,
    time: Time,
) -> list[Event]:
    """The row with every run in its new rhythm, begun on its beat; the landing as its last note."""
    row = _Row(time, is_struck=passage.is_struck)
    place = 0
    for run in runs:
        for event in events[place : run.first]:
            row.add_whole(event)
        pattern = pattern_of(run)
        length = sum(pattern, ZERO)
        is_even = (time.length / length).denominator == 1
        row.fill(length if is_even else time.beat)
        for event, value in zip(events[run.first : run.last], cycle(pattern), strict=False):
            row.add(with_length(event, value))
        row.fill(time.beat)
        place = run.last
    for event in events[place:]:
        row.add_whole(event)
    if passage.landing:
        row.fill(time.beat)
        row.add_whole(
            passage.landing
            if time == passage.meter
            else with_length(passage.landing, max(time.beat, Fraction(1)))
        )
    return row.events


def backward_runs(events: Sequence[Event], runs: Sequence[Run]) -> list[Event]:
    """The row with the notes of every run from its last to its first."""
    row = list(events)
    for run in runs:
        row[run.first : run.last] = row[run.first : run.last][::-1]
    return row


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
    """One pass of the runs in another rhythm, its burst that of the quickest notes."""
    events = backward_runs(passage.events, runs) if backward else passage.events
    patterns = {run: pattern_of(run) for run in runs}
    lengths = [sum(pattern, ZERO) for pattern in patterns.values()]
    time = drill_meter(passage.meter, lengths)
    shares = {run.unit: min(pattern) / run.unit for run, pattern in patterns.items()}
    long_notes = [
        events[run.first + i]
        for run, pattern in patterns.items()
        for i in range(run.count)
        if pattern[i % len(pattern)] == max(pattern) > min(pattern)
    ]
    fastest = min(runs, key=lambda run: run.unit)
    told = [say or _round_said(patterns[fastest], fastest, passage.meter), _shares_said(shares)]
    return laid_step(
        passage,
        varied(passage, events, runs, pattern_of, time),
        name=name + (", backward" if backward else ""),
        kind=LEARN,
        repetitions=repetitions,
        time=time,
        group=max(lengths) if max(lengths) <= 3 else None,
        click=passage.beat if time == passage.meter else min(time.beat, Fraction(1)),
        say=" ".join(sentence for sentence in told if sentence),
        burst=min(shares.values()),
        turned=note_ids(long_notes) if long_notes else None,
    )


def _round_said(pattern: Pattern, run: Run, meter: Time) -> str:
    """Where a pattern that does not fit the group comes round again."""
    group = natural_group(run.unit, meter)
    if len(pattern) < 2:
        return ""
    after = comes_round_after(len(pattern), group)
    if after in (group, len(pattern)) or after >= run.count:
        return ""
    return f"Groups of {len(pattern)} over {group}: they meet again after {after} notes."


def _shares_said(shares: dict[Fraction, Fraction]) -> str:
    """Where runs of several units reach the speed of the goal at different tempos: each of them."""
    if len(set(shares.values())) < 2:
        return ""
    told = [
        f"{_NAMES_OF_UNITS.get(unit, f'notes of {unit} of a quarter')} at {round(share * 100)} %"
        for unit, share in sorted(shares.items(), reverse=True)
    ]
    return f"As fast as the goal: {', '.join(told)} of goal tempo."
