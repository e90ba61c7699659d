"""How far a student owns a chunk, folded from evidence one thing at a time.

Levels here: 0 new, 1 notes, 3 steady, 5 at tempo. The evidence each needs is common practice, no
source. A repetition of a longer span proves what lies inside it; parts proved apart do not prove
the whole. Only unvaried, unaided repetitions of kind ``prove`` lift a chunk above level 1, and only
with a click. A hearing sets the level, up or down; what is proved after it lifts it again.

A fold's size does not grow with what went into it, so one repetition more always costs the same.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from fractions import Fraction

from crumb.core.evidence.model import Doubt, Evidence, What
from crumb.core.score.position import Span
from crumb.core.tempo.ladder import written

NEW, NOTES, RHYTHM, STEADY, LINKED, AT_TEMPO, KEPT = range(7)
NAMES = ("new", "notes", "rhythm", "steady", "linked", "at tempo", "kept")
IN_A_ROW = 3
STEADY_SHARE = Fraction(6, 10)


@dataclass(frozen=True, slots=True)
class Fold:
    """All that the next repetition of a chunk needs to know of those before it.

    ``running`` are the tempos of the clean proofs that end the row, the newest last; ``proved`` the
    fastest proof ever, ``since`` the fastest after the last hearing; ``heard`` its level.
    """

    clean: int = 0
    slips: int = 0
    row: int = 0
    running: tuple[Fraction, ...] = ()
    has_notes: bool = False
    proved: Fraction | None = None
    since: Fraction | None = None
    heard: int | None = None
    last: tuple[datetime, int] | None = None

    def comes_after(self, evidence: Evidence) -> bool:
        """Whether something later was folded in already: then all must be folded anew."""
        return self.last is not None and evidence.order < self.last


@dataclass(frozen=True, slots=True)
class Standing:
    """The level of a chunk, the fastest proved tempo, and why in plain words."""

    level: int
    proved_tempo: Fraction | None
    why: str
    clean: int
    slips: int
    last_at: datetime | None


def folded(fold: Fold, evidence: Evidence) -> Fold:
    """A fold with one more thing in it, which covers the chunk and is no earlier than the last."""
    if evidence.doubt is not Doubt.NONE:
        return fold
    fold = replace(fold, last=evidence.order)
    if evidence.what is What.HEARING:
        return replace(fold, heard=evidence.level, since=None, has_notes=False, row=0, running=())
    if not evidence.is_clean:
        running = () if evidence.proves else fold.running
        return replace(fold, slips=fold.slips + 1, row=0, running=running)
    row = fold.row + 1
    fold = replace(fold, clean=fold.clean + 1, row=row, has_notes=fold.has_notes or row >= IN_A_ROW)
    if not evidence.proves or evidence.tempo is None:
        return fold
    running = (*fold.running, evidence.tempo)[-IN_A_ROW:]
    if len(running) < IN_A_ROW:
        return replace(fold, running=running)
    secured = min(running)
    return replace(
        fold,
        running=running,
        proved=max(fold.proved or secured, secured),
        since=max(fold.since or secured, secured),
    )


def standing_of(fold: Fold, goal: Fraction) -> Standing:
    """What a fold shows against a goal tempo."""
    level = NEW
    if fold.since is not None and fold.since >= goal * STEADY_SHARE:
        level = AT_TEMPO if fold.since >= goal else STEADY
    elif fold.has_notes:
        level = NOTES
    said = _why(level, fold, goal)
    if fold.heard is not None and fold.heard >= level:
        level, said = fold.heard, f"Heard at level {fold.heard}, {NAMES[fold.heard]}."
    last_at = fold.last[0] if fold.last else None
    return Standing(level, fold.proved, said, fold.clean, fold.slips, last_at)


def standing(span: Span, goal: Fraction, evidence: Sequence[Evidence]) -> Standing:
    """Where a student stands on one span; see :func:`folds`."""
    return standing_of(folds((span,), evidence)[span], goal)


def folds(spans: Iterable[Span], evidence: Iterable[Evidence]) -> dict[Span, Fold]:
    """Everything a student played on a part folded for each of some spans, in the order played.

    For each span, what does not cover it is passed over.
    """
    in_order = sorted(evidence, key=lambda one: one.order)
    by_span: dict[Span, list[int]] = {}
    for place, one in enumerate(in_order):
        by_span.setdefault(one.span, []).append(place)
    found = {}
    for span in spans:
        # Evidence shares few spans: whether one covers a chunk is asked once for each pair.
        places = [p for played, at in by_span.items() if played.covers(span) for p in at]
        fold = Fold()
        for place in sorted(places):
            fold = folded(fold, in_order[place])
        found[span] = fold
    return found


NOTHING_PLAYED = "Nothing played yet."


def _why(level: int, fold: Fold, goal: Fraction) -> str:
    if fold.last is None:
        return NOTHING_PLAYED
    if level == NEW:
        return "Nothing clean yet." if not fold.clean else "Not yet three clean in a row."
    proved = fold.since
    if proved is None:
        return "The notes are there; not yet proved as written."
    share = int(proved * 100 / goal)
    if level == NOTES:
        return f"Three clean in a row at {written(proved)}: {share} % of goal, steady from 60 %."
    if level == STEADY:
        return f"Three clean in a row as written at {written(proved)}, {share} % of goal."
    return f"Three clean in a row as written at {written(proved)}, goal {written(goal)}."
