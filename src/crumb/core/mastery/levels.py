"""How far a student owns a chunk, read from repetitions.

Levels here: 0 new, 1 notes, 3 steady, 5 at tempo. The evidence each needs is common practice, no
source. A repetition of a longer span proves what lies inside it; parts proved apart do not prove
the whole. Only unvaried repetitions of kind ``prove`` lift a chunk above level 1.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import chain

from crumb.core.score.position import Span

NEW, NOTES, STEADY, AT_TEMPO = 0, 1, 3, 5
NAMES = {NEW: "new", NOTES: "notes", STEADY: "steady", AT_TEMPO: "at tempo"}
IN_A_ROW = 3
STEADY_SHARE = Fraction(6, 10)


@dataclass(frozen=True, slots=True)
class Repetition:
    """One playing, as evidence."""

    span: Span
    tempo: Fraction
    is_clean: bool
    kind: str
    as_written: bool


@dataclass(frozen=True, slots=True)
class Standing:
    """The level of a chunk, the fastest proved tempo, and why in plain words.

    ``latest`` is the place of the last repetition that touched the whole chunk, among those given.
    """

    level: int
    proved_tempo: Fraction | None
    why: str
    clean: int
    slips: int
    latest: int | None


def standing(span: Span, goal: Fraction, repetitions: Sequence[Repetition]) -> Standing:
    """Where a student stands on one span; see :func:`standings`."""
    return standings((span,), goal, repetitions)[span]


def standings(
    spans: Iterable[Span], goal: Fraction, repetitions: Sequence[Repetition]
) -> dict[Span, Standing]:
    """Where a student stands on each span, from repetitions in the order they were played.

    Args:
        spans: the chunks as they are cut today.
        goal: goal tempo of the part.
        repetitions: everything the student played on this part; for each chunk, what does not
            cover it is passed over.
    """
    # Repetitions share few spans: whether one covers a chunk is asked once for each pair of spans.
    places: dict[Span, list[int]] = {}
    for place, repetition in enumerate(repetitions):
        places.setdefault(repetition.span, []).append(place)
    result = {}
    for span in spans:
        covering = [found for played, found in places.items() if played.covers(span)]
        result[span] = _fold(goal, repetitions, sorted(chain.from_iterable(covering)))
    return result


def _fold(goal: Fraction, repetitions: Sequence[Repetition], counted: Sequence[int]) -> Standing:
    level, proved = NEW, None
    clean = slips = notes_row = 0
    proving: list[Fraction] = []
    for place in counted:
        repetition = repetitions[place]
        proves = repetition.kind == "prove" and repetition.as_written
        if not repetition.is_clean:
            slips += 1
            notes_row = 0
            if proves:
                proving.clear()
            continue
        clean += 1
        notes_row += 1
        if notes_row >= IN_A_ROW:
            level = max(level, NOTES)
        if proves:
            proving.append(repetition.tempo)
            if len(proving) >= IN_A_ROW:
                secured = min(proving[-IN_A_ROW:])
                proved = max(proved or secured, secured)
    if proved is not None and proved >= goal * STEADY_SHARE:
        level = AT_TEMPO if proved >= goal else STEADY
    latest = counted[-1] if counted else None
    return Standing(level, proved, _why(level, proved, goal, clean), clean, slips, latest)


def _why(level: int, proved: Fraction | None, goal: Fraction, clean: int) -> str:
    if level == NEW:
        return "Nothing clean yet." if not clean else "Not yet three clean in a row."
    if proved is None:
        return "The notes are there; not yet proved as written."
    share = int(proved * 100 / goal)
    if level == NOTES:
        return f"Three clean in a row at {float(proved):g}: {share} % of goal, steady from 60 %."
    if level == STEADY:
        return f"Three clean in a row as written at {float(proved):g}, {share} % of goal."
    return f"Three clean in a row as written at {float(proved):g}, goal {float(goal):g}."
