"""A program's rules of levels: show, try on today's levels, change, put back."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Source
from crumb.core.mastery.chunk import Rules
from crumb.core.mastery.levels import NAMES
from crumb.core.mastery.replay import replay, standing_of
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.evidence import levels
from crumb.services.evidence.history import by_student
from crumb.store.codecs.mastery import rules_from, rules_to_json
from crumb.store.queries import mastery as ask

CONFIRMING = (Source.HEARING, Source.MEASURED, Source.HELPER)
"""Sources that may confirm the last level; a player's own count never does."""


@dataclass(frozen=True, slots=True)
class Effect:
    """How many cells stand at each level by today's rules, and by others."""

    now: tuple[int, ...]
    then: tuple[int, ...]
    raised: int
    lowered: int


def rules_of(session: Session, actor: Actor) -> Rules:
    """The rules of a program."""
    return rules_from(ask.rules_kept(session, actor.program_id))


def checked(rules: Rules) -> Rules:
    """The rules, if they can be.

    Raises:
        NotAccepted: says what cannot.
    """
    if not 1 <= rules.in_a_row <= 10:
        raise NotAccepted("One to ten clean in a row can be asked for.")
    if not 0.3 <= rules.steady <= 0.95:
        raise NotAccepted("Steady lies between 30 and 95 % of goal.")
    if not rules.steady <= rules.linked <= 1:
        raise NotAccepted("Linked lies between steady and goal.")
    if not rules.confirming <= frozenset(CONFIRMING) or not rules.confirming:
        raise NotAccepted("Somebody else confirms the last level: a hearing, a take, a helper.")
    return rules


def effect_of(session: Session, actor: Actor, rules: Rules) -> Effect:
    """Today's levels under other rules; nothing is changed.

    Raises:
        NotAccepted: no such rules.
    """
    rules = checked(rules)
    pairs = list(_pairs(session, actor, rules))
    now, then = (Counter(pair[side] for pair in pairs) for side in (0, 1))
    return Effect(
        tuple(now[level] for level in range(len(NAMES))),
        tuple(then[level] for level in range(len(NAMES))),
        sum(after > before for before, after in pairs),
        sum(after < before for before, after in pairs),
    )


def _pairs(session: Session, actor: Actor, rules: Rules) -> Iterable[tuple[int, int]]:
    """The level of each cell where anything was played, as it is and as it would be."""
    for part_id in ask.parts_of(session, actor.program_id):
        part = levels.graded(session, part_id)
        in_force = ask.chunks_in_force(session, part_id)
        targets = [t for i, t in levels.chunks_of_part(session, part) if i in in_force]
        others = [replace(target, rules=rules) for target in targets]
        for played in by_student(session, part_id).values():
            before, after = replay(targets, played), replay(others, played)
            for target, other in zip(targets, others, strict=True):
                if before[target.span].last is not None:
                    yield (
                        standing_of(before[target.span], target).level,
                        standing_of(after[other.span], other).level,
                    )


def change(session: Session, actor: Actor, rules: Rules) -> None:
    """Put other rules in force; every level is worked out anew, by a worker or when played on.

    Raises:
        NotAccepted: no such rules.
    """
    ask.keep_rules(session, actor.program_id, rules_to_json(checked(rules)))
