"""Recompute levels, climbs and snapshots; one unit of work for each part and drill."""

from collections.abc import Collection
from uuid import UUID

from crumb.jobs.one_by_one import one_by_one
from crumb.services.evidence import levels
from crumb.services.evidence.rebuild import Difference, rebuild_climbs, rebuild_levels
from crumb.services.sending.snapshot import snapshot_old
from crumb.store.queries import evidence as ask
from crumb.store.queries import mastery, sending
from crumb.store.unit_of_work import NewSession, unit_of_work


def rebuild(new_session: NewSession, only: Collection[UUID] | None = None) -> list[Difference]:
    """Work levels and climbs out anew, store them, and say where what was stored differed.

    Args:
        new_session: opens a session; every part and every drill is committed by itself.
        only: the parts; None for all of them.
    """
    with new_session() as session:
        parts, items = ask.parts_in_order(session, only), ask.items_in_order(session, only)
    found: list[Difference] = []
    for part_id in parts:
        with unit_of_work(new_session) as session:
            found += rebuild_levels(session, part_id)
    for item_id in items:
        with unit_of_work(new_session) as session:
            found += rebuild_climbs(session, item_id)
    return found


def renew(new_session: NewSession) -> int:
    """Recompute the levels that wait or that older rules left, student by student.

    Returns:
        How many pairs of a part and a student that were.
    """
    with new_session() as session:
        waiting = mastery.waiting(session)
    return one_by_one(
        new_session,
        waiting,
        lambda session, pair: levels.renew(session, *pair),
        lambda session, pair: mastery.set_aside(session, *pair),
    )


def freeze_all(new_session: NewSession) -> int:
    """Write down what was sent before sending wrote it down; how many drills there were."""
    with new_session() as session:
        items = sending.not_frozen(session)
    for item_id in items:
        with unit_of_work(new_session) as session:
            snapshot_old(session, item_id)
    return len(items)
