"""Drills as they were sent, at hand in each process: what was sent never changes."""

from collections import OrderedDict
from collections.abc import Sequence
from typing import Any
from uuid import UUID

from crumb.core.intake.facts import SentDrillFacts
from crumb.services.errors import NotFound
from crumb.store.codecs.intake import step_facts_from
from crumb.store.codecs.sent import drill_from_json
from crumb.store.pipeline import Script, batch
from crumb.store.queries import record_evidence as ask

_MOST = 4_000


_known: OrderedDict[UUID, SentDrillFacts] = OrderedDict()
_received: OrderedDict[tuple[UUID, UUID], None] = OrderedDict()
"""Which drill was sent to which student, as far as this process has met it: that stays so, too."""
_MOST_RECEIVED = 50_000


def received_drills(
    program_id: UUID, student_id: UUID, items: Sequence[UUID]
) -> Script[dict[UUID, SentDrillFacts]]:
    """Some drills that were sent to a student.

    Raises:
        NotFound: one was not.
    """
    drills = yield from known_drills(items)
    unsure = [item for item in drills if (item, student_id) not in _received]
    if unsure:
        (rows,) = yield batch(ask.received(program_id, student_id, unsure))
        if {row[0] for row in rows} != set(unsure):
            raise NotFound("This is not on your list.")
        for item in unsure:
            _received[item, student_id] = None
        while len(_received) > _MOST_RECEIVED:
            _received.popitem(last=False)
    return drills


def known_drills(items: Sequence[UUID]) -> Script[dict[UUID, SentDrillFacts]]:
    """Some drills; those that this process has not met yet are read.

    Raises:
        NotFound: there is no such drill.
    """
    found = {item: known for item in items if (known := _known.get(item)) is not None}
    missing = [item for item in dict.fromkeys(items) if item not in found]
    if missing:
        (rows,) = yield batch(ask.sent_drills(missing))
        for row in rows:
            found[row[0]] = _known[row[0]] = _read(row)
        while len(_known) > _MOST:
            _known.popitem(last=False)
    if len(found) < len(set(items)):
        raise NotFound("This is not on your list.")
    return found


def _read(row: Sequence[Any]) -> SentDrillFacts:
    item, part_id, root_id, sent_at, frozen, steps = row
    if frozen is None:
        raise NotFound("This was sent before the last upgrade and is not ready yet.")
    return SentDrillFacts(
        item,
        part_id,
        root_id,
        sent_at,
        drill_from_json(frozen),
        step_facts_from(steps),
    )
