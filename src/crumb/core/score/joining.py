"""Parts one after another as one part."""

from collections.abc import Sequence
from dataclasses import replace

from crumb.core.score.model import ZERO, Barline, Direction, Measure, Part


def joined(parts: Sequence[Part], names: Sequence[str] = ()) -> Part:
    """The steps of a drill on one sheet: each named, each ended by a double bar.

    A rehearsal letter is printed where it comes first.
    Ids get a prefix per step, because two steps may show the same note.
    """
    measures: list[Measure] = []
    letters: set[str] = set()
    for place, part in enumerate(parts):
        for i, measure in enumerate(part.measures):
            notes = tuple(replace(n, id=f"s{place}-{n.id}") for n in measure.notes)
            directions = tuple(
                d for d in measure.directions if d.kind != "rehearsal" or d.text not in letters
            )
            letters |= {measure.rehearsal} if measure.rehearsal else set()
            if i == 0 and place < len(names):
                directions = (Direction(ZERO, "words", names[place]), *directions)
            barlines = measure.barlines
            if i == len(part.measures) - 1 and place + 1 < len(parts):
                kept = tuple(b for b in barlines if b.side == "left")
                barlines = (*kept, Barline("right", "light-light"))
            measures.append(
                replace(
                    measure,
                    index=len(measures),
                    notes=notes,
                    directions=directions,
                    barlines=barlines,
                )
            )
    return replace(parts[0], measures=tuple(measures))
