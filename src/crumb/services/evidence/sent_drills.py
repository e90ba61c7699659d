"""A per-process LRU cache of sent drills, which never change."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from crumb.core.intake.facts import SentDrillFacts
from crumb.services.errors import NotFound
from crumb.services.lru_cache import LruCache
from crumb.store.codecs.intake import step_facts_from
from crumb.store.codecs.sent import drill_from_json
from crumb.store.pipeline import Script, batch
from crumb.store.queries import record_evidence as ask

_known: LruCache[UUID, SentDrillFacts] = LruCache(4_000)
_received: LruCache[tuple[UUID, UUID], bool] = LruCache(50_000)
"""Drills by the students that this process saw them sent to."""


def received_drills(
    program_id: UUID, student_id: UUID, items: Sequence[UUID]
) -> Script[dict[UUID, SentDrillFacts]]:
    """Some drills that were sent to a student.

    Raises:
        NotFound: one was not.
    """
    drills = yield from known_drills(items)
    unsure = [item for item in drills if not _received.get((item, student_id))]
    if unsure:
        (rows,) = yield batch(ask.received(program_id, student_id, unsure))
        if {row[0] for row in rows} != set(unsure):
            raise NotFound("This is not on your list.")
        for item in unsure:
            _received.keep((item, student_id), True)
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
        for facts in map(_read, rows):
            found[facts.id] = _known.keep(facts.id, facts)
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
