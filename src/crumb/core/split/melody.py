"""A line of notes as phrase finding sees it: onsets, lengths, pitches and places in the measure."""

from dataclasses import dataclass
from fractions import Fraction

from crumb.core.score.meter import lead_of
from crumb.core.score.model import Part
from crumb.core.score.position import Position


@dataclass(frozen=True, slots=True)
class Melody:
    """One voice, ties merged.

    ``onsets`` and ``ends`` are quarter notes from one zero, ``pitches`` MIDI numbers, ``phases``
    offsets in the measure (a pickup counts to the barline). ``measure`` and ``beat`` are quarter
    notes: those of the commonest meter.
    """

    onsets: tuple[Fraction, ...]
    ends: tuple[Fraction, ...]
    pitches: tuple[int, ...]
    phases: tuple[Fraction, ...]
    measure: Fraction
    beat: Fraction

    def __len__(self) -> int:
        """How many notes it has."""
        return len(self.onsets)


def melody_of(part: Part) -> tuple[Melody, tuple[Position, ...]]:
    """The leading voice of a part (its first staff and voice, the top of each chord).

    Returns:
        The melody, and where each of its notes stands in the part.
    """
    onsets: list[Fraction] = []
    ends: list[Fraction] = []
    pitches: list[int] = []
    phases: list[Fraction] = []
    places: list[Position] = []
    weights: dict[tuple[Fraction, Fraction], int] = {}
    for measure in part.measures:
        weights[measure.nominal, measure.time.beat] = (
            weights.get((measure.nominal, measure.time.beat), 0) + 1
        )
        attacks = [n for n in measure.notes if n.sounds and not n.grace and not n.cue]
        if not attacks:
            continue
        staff = min(n.staff for n in attacks)
        first = min((n.voice for n in attacks if n.staff == staff), key=lambda v: (len(v), v))
        start, lead = part.starts[measure.index], lead_of(measure)
        for note in attacks:
            if note.staff != staff or note.voice != first:
                continue
            high = (note.pitch or note.place).midi if (note.pitch or note.place) else 60  # type: ignore[union-attr]
            at = start + note.at
            if note.tie in ("continue", "stop") and ends and ends[-1] == at:
                ends[-1] = at + note.duration
            elif onsets and onsets[-1] == at:
                pitches[-1] = max(pitches[-1], high)
            else:
                onsets.append(at)
                ends.append(at + note.duration)
                pitches.append(high)
                phases.append(note.at + lead)
                places.append(Position(measure.index, note.at))
    measure_length, beat = max(weights, key=lambda key: weights[key])
    melody = Melody(tuple(onsets), tuple(ends), tuple(pitches), tuple(phases), measure_length, beat)
    return melody, tuple(places)
