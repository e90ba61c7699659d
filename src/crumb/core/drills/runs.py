"""Finding runs: what rhythm variations work on."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.model import Note, Part
from crumb.core.score.notating import Event
from crumb.core.score.position import Span
from crumb.core.score.slicing import LANDING_SUFFIX, slice_span

SHORTEST_RUN = 4


@dataclass(frozen=True, slots=True)
class Run:
    """Successive notes of equal length: events ``first`` up to ``last`` (not included)."""

    first: int
    last: int
    unit: Fraction

    @property
    def count(self) -> int:
        """How many notes."""
        return self.last - self.first


def span_events(part: Part, span: Span) -> tuple[list[Event], Event | None]:
    """A span as one row of notes, chords and rests, and its landing apart.

    Raises:
        DrillDoesNotFit: the span has two independent voices, or grace notes that a changed rhythm
            would leave without a place.
    """
    cut = slice_span(part, span)
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
            if note.grace:
                raise DrillDoesNotFit(
                    "There are grace notes in this chunk; a new rhythm leaves them no place."
                    " Use it alone or as a backward chain."
                )
            _add(row, offset + note.at, note)
    held = Event(part.measures[span.end.index].time.beat, tuple(landing)) if landing else None
    return [Event(length, tuple(notes)) for _, length, notes in row], held


def _add(row: list[tuple[Fraction, Fraction, list[Note]]], at: Fraction, note: Note) -> None:
    if row:
        last_at, length, notes = row[-1]
        if note.sounds and notes and at == last_at and note.duration == length:
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
                "Two voices move on their own here; a rhythm variation works on one line."
            )
    row.append((at, note.duration, [note] if note.sounds else []))


def find_runs(events: Sequence[Event]) -> tuple[Run, ...]:
    """The longest stretches of four or more notes of equal length without a rest between."""
    runs = []
    first = 0
    for i in range(1, len(events) + 1):
        ends = i == len(events) or events[i].is_rest or events[i].duration != events[first].duration
        if ends:
            if not events[first].is_rest and i - first >= SHORTEST_RUN:
                runs.append(Run(first, i, events[first].duration))
            first = i
    return tuple(runs)
