"""A chunk's level from 0 to 6, its seams, its secure tempo: folded from evidence in order.

What each level is shown by stands in :class:`Rules` and in :func:`standing`; the numbers are common
practice, no source. A hearing sets the level, up or down; a player's own count reaches 5 at most.
Aided, varied or partial repetitions prove nothing. The fold's size does not grow with the history.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from fractions import Fraction
from functools import lru_cache
from itertools import takewhile
from typing import NamedTuple

from crumb.core.evidence.model import Kind, Rhythm, Source, What
from crumb.core.mastery import secure, spacing
from crumb.core.mastery.levels import (
    AT_TEMPO,
    KEPT,
    LINKED,
    NAMES,
    NEW,
    NOTES,
    RHYTHM,
    STEADY,
    STEADY_SHARE,
)
from crumb.core.tempo.ladder import written

IN_A_ROW = 3
LINKED_SHARE = Fraction(75, 100)
NOTHING_PLAYED = "Nothing played yet."

_SURE = frozenset({Source.HEARING, Source.MEASURED})


class Where(StrEnum):
    """The share of a chunk that a repetition covers: all of it, a seam, more, or less."""

    CHUNK = "chunk"
    SEAM_IN = "seam-in"
    SEAM_OUT = "seam-out"
    WIDER = "wider"
    WIDER_IN = "wider-in"
    WIDER_OUT = "wider-out"
    INSIDE = "inside"


COVERING = frozenset({Where.CHUNK, Where.WIDER, Where.WIDER_IN, Where.WIDER_OUT})
_SEAMS = {
    Where.SEAM_IN: ("in",),
    Where.WIDER_IN: ("in",),
    Where.SEAM_OUT: ("out",),
    Where.WIDER_OUT: ("out",),
    Where.WIDER: ("in", "out"),
}


@dataclass(frozen=True, slots=True)
class Edges:
    """Which seams a chunk has: a part's first chunk has none before it, its last none after."""

    into: bool = True
    out: bool = True


BOTH = Edges()


@dataclass(frozen=True, slots=True)
class Rules:
    """Rules of levels: clean in a row, shares of goal, and sources that confirm the last."""

    in_a_row: int = IN_A_ROW
    steady: Fraction = STEADY_SHARE
    linked: Fraction = LINKED_SHARE
    confirming: frozenset[Source] = _SURE


DEFAULTS = Rules()


@dataclass(frozen=True, slots=True)
class ChunkEvidence:
    """A piece of evidence on a chunk, on the program's ``day``."""

    day: date
    what: What = What.REPETITION
    tempo: Fraction | None = None
    is_clean: bool = True
    kind: Kind = Kind.PROVE
    as_written: bool = True
    where: Where = Where.CHUNK
    rhythm: Rhythm = Rhythm.WRITTEN
    source: Source = Source.SELF
    is_aided: bool = False
    level: int | None = None

    @property
    def covers(self) -> bool:
        """Whether the whole chunk was played."""
        return self.where in COVERING

    @property
    def proves(self) -> bool:
        """Whether it can prove a tempo: as written, unaided, with a click, meant to."""
        plain = self.as_written and not self.is_aided and self.kind is Kind.PROVE
        return plain and self.tempo is not None

    @property
    def seams(self) -> tuple[str, ...]:
        """The seams it crosses."""
        return _SEAMS.get(self.where, ())


class Row(NamedTuple):
    """Clean proofs that follow each other: their tempos, the newest last, and the fastest row."""

    running: tuple[Fraction, ...] = ()
    proved: Fraction | None = None

    def played(self, tempo: Fraction, *, is_clean: bool, length: int) -> "Row":
        """The row with one more proof in it."""
        if not is_clean:
            return self._replace(running=())
        running = (*self.running, tempo)[-length:]
        if len(running) < length:
            return self._replace(running=running)
        return Row(running, max(self.proved or min(running), min(running)))

    def at(self, tempo: Fraction) -> bool:
        """Whether a row was proved at a tempo or faster."""
        return self.proved is not None and self.proved >= tempo


class Fold(NamedTuple):
    """All that the next thing noted needs to know of those before it.

    ``cap`` is the level a failed cold try left, ``reached`` the day of level 5, ``cold`` that of
    the first cold success after it. A named tuple, because it is copied several times for each
    repetition that was ever played, and copies of those are four times as quick.
    """

    belief: secure.Belief
    notes: int = 0
    rhythm: int = 0
    has_notes: bool = False
    has_rhythm: bool = False
    chunk: Row = Row()
    seam_in: Row = Row()
    seam_out: Row = Row()
    solid: Fraction | None = None
    best: Fraction | None = None
    heard: int | None = None
    is_confirmed: bool = False
    reached: date | None = None
    cold: date | None = None
    cap: int | None = None
    kept: spacing.SpacingState | None = None
    last: date | None = None
    repetitions: int = 0
    first: float | None = None
    """The first secure tempo that rests on enough passes."""
    missed: spacing.SpacingState | None = None
    """The spacing before a missed cold try: the next pass decides if it was only hard."""
    ear_slips: int = 0
    """Slips in a row at goal or slower that a measured take shows."""


@dataclass(frozen=True, slots=True)
class Standing:
    """Standing of a student on a chunk. Tempos in beats a minute.

    ``passes`` is how many tell of secure tempo; ``is_clean_last``: whether the last proof held.
    ``joined_in`` and ``joined_out`` count the clean crossings in a row that show a seam.
    """

    level: int
    seam_in: bool
    seam_out: bool
    secure: secure.Secure
    passes: int
    solid: Fraction | None
    best_single: Fraction | None
    is_clean_last: bool
    due: date | None
    next: str
    why: str
    joined_in: int
    joined_out: int
    first: float | None = None
    """The first secure tempo that rests on enough passes; None before that."""
    heard: int | None = None
    """The level of the last hearing; None before the first."""

    @property
    def gained(self) -> float:
        """Beats a minute by which secure tempo has grown since then."""
        return 0.0 if self.first is None else max(self.secure.median - self.first, 0.0)

    @property
    def name(self) -> str:
        """Of the level."""
        return NAMES[self.level]


def empty(goal: Fraction) -> Fold:
    """Nothing noted yet."""
    return Fold(secure.prior(goal))


def noted(
    fold: Fold, one: ChunkEvidence, goal: Fraction, rules: Rules = DEFAULTS, edges: Edges = BOTH
) -> Fold:
    """A fold with one more thing in it, which came no earlier than the last."""
    if one.what is What.HEARING:
        return _heard(fold, one, goal)
    is_cold = one.covers and fold.last != one.day and one.proves and (one.tempo or 0) >= goal
    before = _level(fold, goal, rules, edges) if is_cold else NEW
    fold = fold._replace(last=one.day, repetitions=fold.repetitions + 1)
    if one.covers:
        fold = _covering(fold, one, goal, rules)
    if one.proves and one.tempo is not None:
        if "in" in one.seams:
            row = fold.seam_in.played(one.tempo, is_clean=one.is_clean, length=rules.in_a_row)
            fold = fold._replace(seam_in=row)
        if "out" in one.seams:
            row = fold.seam_out.played(one.tempo, is_clean=one.is_clean, length=rules.in_a_row)
            fold = fold._replace(seam_out=row)
    return _kept_up(fold, one, before, goal, rules, edges, is_cold=is_cold)


def _heard(fold: Fold, one: ChunkEvidence, goal: Fraction) -> Fold:
    level = one.level if one.level is not None else NEW
    is_high = level >= AT_TEMPO
    reached = (fold.reached or one.day) if is_high else None
    return fold._replace(
        belief=secure.after_hearing(fold.belief, level=level, goal=goal, day=one.day),
        heard=level,
        notes=0,
        rhythm=0,
        has_notes=False,
        has_rhythm=False,
        chunk=Row(),
        is_confirmed=is_high,
        reached=reached,
        cold=fold.cold if is_high else None,
        cap=None,
        missed=None,
        ear_slips=0,
        kept=(fold.kept or spacing.begun(one.day)) if is_high else None,
    )


def _covering(fold: Fold, one: ChunkEvidence, goal: Fraction, rules: Rules) -> Fold:
    """What a pass of the whole chunk says of notes, rhythm and tempo."""
    notes = fold.notes + 1 if one.is_clean else 0
    in_rhythm = one.rhythm is Rhythm.WRITTEN and one.tempo is not None
    rhythm = (fold.rhythm + 1 if one.is_clean else 0) if in_rhythm else fold.rhythm
    fold = fold._replace(
        notes=notes,
        rhythm=rhythm,
        has_notes=fold.has_notes or notes >= rules.in_a_row,
        has_rhythm=fold.has_rhythm or rhythm >= rules.in_a_row,
    )
    if one.tempo is None or not one.as_written or one.is_aided:
        return fold
    is_sure = one.source in rules.confirming
    belief = secure.after(
        fold.belief, tempo=one.tempo, is_clean=one.is_clean, day=one.day, is_heard=is_sure
    )
    best = max(fold.best or one.tempo, one.tempo) if one.is_clean else fold.best
    fold = fold._replace(belief=belief, best=best)
    if fold.first is None and belief.passes >= secure.ENOUGH:
        fold = fold._replace(first=round(secure.secure_of(belief, goal).median, 2))
    if not one.proves:
        return fold
    row = fold.chunk.played(one.tempo, is_clean=one.is_clean, length=rules.in_a_row)
    solid = fold.solid if row.proved is None else max(fold.solid or row.proved, row.proved)
    is_confirming = is_sure and one.is_clean and one.tempo >= goal
    if is_sure and one.tempo <= goal:
        fold = fold._replace(ear_slips=0 if one.is_clean else fold.ear_slips + 1)
    return fold._replace(chunk=row, solid=solid, is_confirmed=fold.is_confirmed or is_confirming)


def _kept_up(
    fold: Fold,
    one: ChunkEvidence,
    before: int,
    goal: Fraction,
    rules: Rules,
    edges: Edges,
    *,
    is_cold: bool,
) -> Fold:
    """What happens at tempo and above: reached, tried cold, dropped by one, won back."""
    if is_cold and before >= AT_TEMPO and fold.kept is not None and one.day > fold.kept.last:
        return _tried_cold(fold, fold.kept, one, before, goal, rules, edges)
    if fold.missed is not None and one.proves and one.covers:
        fold = _tried_again(fold, fold.missed, one, goal)
    if fold.ear_slips >= rules.in_a_row and _level(fold, goal, rules, edges) >= AT_TEMPO:
        cap = _dropped(AT_TEMPO, fold, goal, rules, edges)
        return _capped(fold, cap)._replace(is_confirmed=False, cold=None)
    is_at_goal = len(fold.chunk.running) == rules.in_a_row and min(fold.chunk.running) >= goal
    if is_at_goal and fold.cap is not None and fold.cap < AT_TEMPO:
        fold = fold._replace(cap=None)
    if fold.reached is None and _level(fold, goal, rules, edges) >= AT_TEMPO:
        fold = fold._replace(reached=one.day, kept=fold.kept or spacing.begun(one.day))
    return fold


def _tried_cold(
    fold: Fold,
    before_it: spacing.SpacingState,
    one: ChunkEvidence,
    before: int,
    goal: Fraction,
    rules: Rules,
    edges: Edges,
) -> Fold:
    """The first try of a day at goal: a slip costs a level if the try was due."""
    how = spacing.Try.CLEAN if one.is_clean else spacing.Try.MISSED
    fold = fold._replace(kept=spacing.tried(before_it, one.day, how), missed=None)
    if one.is_clean:
        cap = None if fold.cap == AT_TEMPO else fold.cap
        return fold._replace(cold=fold.cold or one.day, cap=cap)
    if one.day >= before_it.due:
        fold = _capped(fold, _dropped(before, fold, goal, rules, edges))
    return fold._replace(missed=before_it)


def _tried_again(
    fold: Fold, before_it: spacing.SpacingState, one: ChunkEvidence, goal: Fraction
) -> Fold:
    """The pass after a cold slip: clean at goal on the same day, the try was hard, not missed."""
    fold = fold._replace(missed=None)
    was_due = one.day >= before_it.due
    is_same_day = fold.kept is not None and fold.kept.last == one.day
    if is_same_day and one.is_clean and (one.tempo or 0) >= goal:
        kept = spacing.tried(before_it, one.day, spacing.Try.SECOND)
        return fold._replace(kept=kept, cap=None if was_due else fold.cap)
    return fold._replace(cold=None) if was_due else fold


def _capped(fold: Fold, cap: int) -> Fold:
    """A chunk that has to be proved again before it stands above a level."""
    return fold._replace(cap=cap, chunk=fold.chunk._replace(running=()), ear_slips=0)


def _dropped(before: int, fold: Fold, goal: Fraction, rules: Rules, edges: Edges) -> int:
    """The level below; a chunk at tempo with an open seam was never linked."""
    if before == AT_TEMPO and not all(_seams(fold, goal, rules, edges)):
        return STEADY
    return before - 1


@lru_cache(maxsize=256)
def _share(goal: Fraction, share: Fraction) -> Fraction:
    """The few goals there are times the few shares there are: asked at every repetition."""
    return goal * share


def _seams(fold: Fold, goal: Fraction, rules: Rules, edges: Edges) -> tuple[bool, bool]:
    """Whether each seam is shown; one that is not there is."""
    tempo = _share(goal, rules.linked)
    return (
        not edges.into or fold.seam_in.at(tempo),
        not edges.out or fold.seam_out.at(tempo),
    )


def _level(fold: Fold, goal: Fraction, rules: Rules, edges: Edges) -> int:
    level = NEW
    seams = all(_seams(fold, goal, rules, edges))
    if fold.has_notes:
        level = NOTES
    if fold.has_rhythm:
        level = RHYTHM
    if fold.chunk.at(_share(goal, rules.steady)):
        level = LINKED if seams else STEADY
    if fold.chunk.at(goal):
        level = AT_TEMPO
    if fold.heard is not None:
        level = max(level, fold.heard if seams else min(fold.heard, AT_TEMPO))
    is_later = fold.cold is not None and fold.reached is not None and fold.cold > fold.reached
    if level == AT_TEMPO and is_later and seams and fold.is_confirmed:
        level = KEPT
    return level if fold.cap is None else min(level, fold.cap)


def standing(
    fold: Fold,
    goal: Fraction,
    today: date | None = None,
    rules: Rules = DEFAULTS,
    edges: Edges = BOTH,
) -> Standing:
    """The standing that a fold shows on a day (otherwise on its last) against a goal tempo."""
    level = _level(fold, goal, rules, edges)
    seam_in, seam_out = _seams(fold, goal, rules, edges)
    return Standing(
        level=level,
        seam_in=seam_in,
        seam_out=seam_out,
        secure=secure.secure_of(fold.belief, goal, today),
        passes=fold.belief.passes,
        solid=fold.solid,
        best_single=fold.best,
        is_clean_last=bool(fold.chunk.running),
        due=fold.kept.due if fold.kept is not None and level >= LINKED else None,
        next=_next(fold, level, goal, rules, seam_in=seam_in, seam_out=seam_out),
        why=_why(fold, level, goal, _open(seam_in=seam_in, seam_out=seam_out)),
        joined_in=_joined(fold.seam_in, goal, rules),
        joined_out=_joined(fold.seam_out, goal, rules),
        first=fold.first,
        heard=fold.heard,
    )


def _joined(row: Row, goal: Fraction, rules: Rules) -> int:
    """How many of the crossings that show a seam there are; all of them once it is shown."""
    tempo = _share(goal, rules.linked)
    if row.at(tempo):
        return rules.in_a_row
    fast = takewhile(lambda crossed: crossed >= tempo, reversed(row.running))
    return sum(1 for _ in fast)


def stood(
    evidence: Iterable[ChunkEvidence],
    goal: Fraction,
    today: date | None = None,
    rules: Rules = DEFAULTS,
) -> Standing:
    """The standing that evidence, in the order it was noted, adds up to."""
    fold = empty(goal)
    for one in evidence:
        fold = noted(fold, one, goal, rules)
    return standing(fold, goal, today, rules)


# In words ---------------------------------------------------------------------------------------


def _open(*, seam_in: bool, seam_out: bool) -> list[str]:
    """Where seams are open, in words."""
    return [name for name, is_shown in (("into", seam_in), ("out of", seam_out)) if not is_shown]


def _why(fold: Fold, level: int, goal: Fraction, open_seams: Sequence[str]) -> str:
    if fold.repetitions == 0 and fold.heard is None:
        return NOTHING_PLAYED
    if fold.cap is not None and level == fold.cap:
        return f"A cold or measured try failed: down to {NAMES[level]} until it is proved again."
    if fold.heard == KEPT and level == AT_TEMPO and open_seams:
        return f"Heard at level 6. Still open: the seam {' and '.join(open_seams)} it."
    if fold.heard is not None and fold.heard >= level:
        return f"Heard at level {fold.heard}, {NAMES[fold.heard]}."
    proved = fold.chunk.proved
    if level == KEPT:
        return "Clean at goal at the first try of a later day, both seams shown, and confirmed."
    if level >= STEADY and proved is not None:
        share = int(proved * 100 / goal)
        return f"Clean in a row as written at {written(proved)}, {share} % of goal."
    if level == RHYTHM:
        return "Clean in a row in the written rhythm."
    if level == NOTES:
        return "Clean in a row, in any rhythm."
    return "Not yet clean often enough in a row."


def _next(
    fold: Fold, level: int, goal: Fraction, rules: Rules, *, seam_in: bool, seam_out: bool
) -> str:
    times = f"{rules.in_a_row} clean in a row"
    open_seams = _open(seam_in=seam_in, seam_out=seam_out)
    linked = written(goal * rules.linked)
    if level < NOTES:
        return f"{times}, in any rhythm and at any tempo."
    if level < RHYTHM:
        return f"{times} in the written rhythm with a click."
    if level < STEADY:
        return f"{times} as written at {written(goal * rules.steady)} or more."
    if open_seams:
        return f"The seam {' and '.join(open_seams)} it: {times} at {linked} or more."
    if level < AT_TEMPO:
        return f"{times} as written at {written(goal)}."
    if level == KEPT:
        return "Try it cold when it is due."
    if fold.cold is None:
        return "Clean at goal at the first try of a later day."
    return "A hearing or a measured take confirms it."
