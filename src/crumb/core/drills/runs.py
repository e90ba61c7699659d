"""Finding runs: what rhythm variations work on."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.model import Note, Part
from crumb.core.score.notating import Event
from crumb.core.score.position import Span
from crumb.core.score.slicing import LANDING_SUFFIX

SHORTEST_RUN = 4


@dataclass(frozen=True, slots=True)
class Run:
    """Successive notes of equal length: events ``first`` up to ``last`` (not included)."""

    first: int
    last: int
    unit: Fraction
    figure: tuple[Fraction, ...] = ()
    """The rhythm that a stretch of unequal notes repeats, where it is no plain run."""

    @property
    def count(self) -> int:
        """How many notes."""
        return self.last - self.first


def span_events(
    part: Part, span: Span, cut: Part, *, drop_grace: bool = False
) -> tuple[list[Event], Event | None]:
    """A span (and its ``cut``) as one row of notes, chords and rests, and its landing apart.

    Raises:
        DrillDoesNotFit: the span has two independent voices, or grace notes that a changed rhythm
            would leave without a place.
    """
    landing: list[Note] = []
    row: list[tuple[Fraction, Fraction, list[Note]]] = []
    for measure in cut.measures:
        offset = cut.starts[measure.index - cut.measures[0].index]
        for note in sorted(measure.notes, key=lambda n: n.at):
            if note.hidden or note.cue:
                continue
            if note.id.endswith(LANDING_SUFFIX) or f"{LANDING_SUFFIX}t" in note.id:
                if note.tie in (None, "start"):
                    landing.append(note)
                continue
            if note.grace and drop_grace:
                continue
            if note.grace:
                raise DrillDoesNotFit(
                    "There are grace notes in this chunk; a new rhythm leaves them no place."
                )
            _add(row, offset + note.at, note)
    held = Event(part.measures[span.end.index].time.beat, tuple(landing)) if landing else None
    return [Event(length, tuple(notes)) for _, length, notes in row], held


def _add(row: list[tuple[Fraction, Fraction, list[Note]]], at: Fraction, note: Note) -> None:
    if row:
        last_at, length, notes = row[-1]
        if note.sounds and notes and at == last_at and note.duration == length:
            # Two voices in unison are one note to whoever plays the line.
            if note.pitch is None or all(n.pitch != note.pitch for n in notes):
                notes.append(note)
            return
        is_held = note.tie in ("continue", "stop") and any(n.pitch == note.pitch for n in notes)
        if is_held and at == last_at + length:
            row[-1] = (last_at, length + note.duration, notes)
            return
        if is_held:
            return  # another member of a chord that is tied over as a whole
        if at < last_at + length:
            raise DrillDoesNotFit(
                "Two voices move on their own here; this drill works on one line."
            )
    row.append((at, note.duration, [note] if note.sounds else []))


_FIGURES = tuple(
    tuple(Fraction(n, 4) for n in row) for row in ((3, 1), (1, 3), (2, 1, 1), (1, 1, 2), (1, 2, 1))
)


def find_figures(events: Sequence[Event]) -> tuple[Run, ...]:
    """Stretches of four or more notes that repeat one uneven figure: dotted pairs and their kin.

    Their unit is the even value that would take the same time.
    """
    runs = []
    first = 0
    while first < len(events):
        found = _figure_at(events, first)
        if found is None:
            first += 1
            continue
        runs.append(found)
        first = found.last
    return tuple(runs)


def _figure_at(events: Sequence[Event], first: int) -> Run | None:
    for figure in _FIGURES:
        scale = events[first].duration / figure[0]
        last = first
        while (
            last < len(events)
            and not events[last].is_rest
            and events[last].duration == figure[(last - first) % len(figure)] * scale
        ):
            last += 1
        count = (last - first) // len(figure) * len(figure)
        if count >= max(SHORTEST_RUN, 2 * len(figure)):
            return Run(first, first + count, sum(figure) * scale / len(figure), figure)
    return None


def find_runs(events: Sequence[Event]) -> tuple[Run, ...]:
    """The longest stretches of four or more notes of equal length without a rest between."""
    runs = []
    first = 0
    for i in range(1, len(events) + 1):
        ends = (
            i == len(events)
            or events[i].is_rest
            or events[first].is_rest  # as long as a note, it is none
            or events[i].duration != events[first].duration
        )
        if ends:
            if not events[first].is_rest and i - first >= SHORTEST_RUN:
                runs.append(Run(first, i, events[first].duration))
            first = i
    return tuple(runs)
