"""Evidence folded chunk by chunk: by where it lies, in the order it was played.

Evidence is matched to chunks by span alone, so that splitting anew moves no level. A fold's size
does not grow with what went into it: one repetition more always costs the same.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import date, datetime
from fractions import Fraction

from crumb.core.evidence.model import Evidence, Source, What
from crumb.core.mastery import chunk
from crumb.core.mastery.chunk import BOTH, DEFAULTS, ChunkEvidence, Edges, Rules, Standing, Where
from crumb.core.score.position import Span


@dataclass(frozen=True, slots=True)
class Target:
    """A chunk that evidence is held against: where it lies, its goal, the rules, its seams."""

    span: Span
    goal: Fraction
    rules: Rules = DEFAULTS
    edges: Edges = BOTH


@dataclass(frozen=True, slots=True)
class ReplayState:
    """A chunk's fold with what orders it: ``last`` is the last thing folded in.

    ``clean`` and ``slips`` count passes of the whole chunk.
    """

    fold: chunk.Fold
    clean: int = 0
    slips: int = 0
    last: tuple[datetime, int] | None = None

    def comes_after(self, evidence: Evidence) -> bool:
        """Whether something later was folded in already: then all must be folded anew."""
        return self.last is not None and evidence.order < self.last


def nothing(target: Target) -> ReplayState:
    """Nothing played yet."""
    return ReplayState(chunk.empty(target.goal))


def where_of(played: Span, here: Span) -> Where | None:
    """The share of a chunk that a span covers, landings aside; None if it lies elsewhere."""
    if played.end <= here.start or here.end <= played.start:
        return None
    before, after = played.start < here.start, here.end < played.end
    if played.covers(here):
        if before and after:
            return Where.WIDER
        return Where.WIDER_IN if before else Where.WIDER_OUT if after else Where.CHUNK
    if before:
        return Where.SEAM_IN
    return Where.SEAM_OUT if after else Where.INSIDE


def advance_state(kept: ReplayState, evidence: Evidence, target: Target) -> ReplayState:
    """A fold with one more thing in it, which came no earlier than the last."""
    where = where_of(evidence.span, target.span)
    if not evidence.counts or where is None:
        return kept
    if evidence.source is Source.REHEARSED:  # nobody in a room is heard alone
        return kept
    if evidence.what is What.HEARING and where not in chunk.COVERING:
        return kept
    one = ChunkEvidence(
        evidence.day or evidence.at.date(),
        evidence.what,
        evidence.tempo,
        evidence.is_clean,
        evidence.kind,
        evidence.as_written,
        where,
        evidence.rhythm,
        evidence.source,
        evidence.is_aided,
        evidence.level,
    )
    fold = chunk.noted(kept.fold, one, target.goal, target.rules, target.edges)
    kept = replace(kept, fold=fold, last=evidence.order)
    if one.what is What.HEARING or not one.covers:
        return kept
    if one.is_clean:
        return replace(kept, clean=kept.clean + 1)
    return replace(kept, slips=kept.slips + 1)


def standing_of(kept: ReplayState, target: Target, today: date | None = None) -> Standing:
    """The standing that a fold shows."""
    return chunk.standing(kept.fold, target.goal, today, target.rules, target.edges)


def replay(targets: Iterable[Target], evidence: Iterable[Evidence]) -> dict[Span, ReplayState]:
    """Everything a student played on a part, folded for each of some chunks in the order played."""
    in_order = sorted(evidence, key=lambda one: one.order)
    by_span: dict[Span, list[int]] = {}
    for place, one in enumerate(in_order):
        by_span.setdefault(one.span, []).append(place)
    found = {}
    for target in targets:
        # Evidence shares few spans: where one lies is asked once for each pair.
        touching = (at for played, at in by_span.items() if where_of(played, target.span))
        kept = nothing(target)
        for place in sorted(place for places in touching for place in places):
            kept = advance_state(kept, in_order[place], target)
        found[target.span] = kept
    return found
