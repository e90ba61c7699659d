"""Recompute levels, climbs and snapshots; one unit of work for each part and drill."""

import logging
from collections.abc import Collection
from uuid import UUID

from sqlalchemy.exc import OperationalError

from crumb.services.evidence import levels
from crumb.services.evidence.rebuild import Difference, rebuild_climbs, rebuild_levels
from crumb.services.sending.snapshot import snapshot_old
from crumb.store.queries import evidence as ask
from crumb.store.queries import mastery, sending
from crumb.store.unit_of_work import NewSession, unit_of_work

log = logging.getLogger("crumb.jobs")


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


def renew(new_session: NewSession, most: int | None = None) -> int:
    """Recompute the levels that wait or that older rules left, student by student.

    What cannot be recomputed is set aside and told in the log: it holds up nobody else.

    Args:
        new_session: opens a session; every student on a part is committed by itself.
        most: so many students on a part at most; None for all.

    Returns:
        How many of them there were.
    """
    with new_session() as session:
        waiting = mastery.waiting(session)[:most]
    for part_id, student_id in waiting:
        try:
            with unit_of_work(new_session) as session:
                levels.renew(session, part_id, student_id)
        except OperationalError:
            raise  # the database is away: that stops everybody
        except Exception:
            log.exception("levels set aside", extra={"part": part_id, "student": student_id})
            with unit_of_work(new_session) as session:
                mastery.set_aside(session, part_id, student_id)
    return len(waiting)


def freeze_all(new_session: NewSession) -> int:
    """Write down what was sent before sending wrote it down; how many drills there were."""
    with new_session() as session:
        items = sending.not_frozen(session)
    for item_id in items:
        with unit_of_work(new_session) as session:
            snapshot_old(session, item_id)
    return len(items)
