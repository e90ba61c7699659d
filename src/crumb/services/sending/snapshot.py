"""Snapshots of drills at sending: later code never changes what was sent."""

from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drills import drill_kind
from crumb.core.drills.sent import SentDrill, sent_drill, sent_step
from crumb.core.score.model import Part
from crumb.formats.engraving import drawn_text
from crumb.services.drills.bench import LadderSettings, Worked, work_out
from crumb.services.library.pieces import load_kept
from crumb.services.maps.chunks import get_chunk
from crumb.store.codecs.sent import drill_to_json
from crumb.store.queries import sending
from crumb.store.tables import Assignment, AssignmentItem


@dataclass(frozen=True, slots=True)
class Snapshot:
    """A drill as it is going to be sent, with the notation of its steps (none: nothing to read)."""

    drill: SentDrill
    notations: tuple[str | None, ...]


def snapshot_of(part: Part, worked: Worked) -> Snapshot:
    """A drill worked out on a part, as it is sent."""
    texts = tuple(drawn_text(s.part) if s.part.is_shown else None for s in worked.drill.steps)
    kind = drill_kind(worked.drill.name)
    drill = sent_drill(
        part,
        kind,
        worked.drill,
        goal=worked.goal,
        rungs=worked.rungs,
        turned=worked.turned,
        way=worked.way,
    )
    return Snapshot(drill, texts)


def store_snapshot(session: Session, item: AssignmentItem, part: Part, worked: Worked) -> None:
    """Write down what a drill is, with the item it is sent as; the item is stored already."""
    made = snapshot_of(part, worked)
    item.frozen = drill_to_json(made.drill)
    keys = [None if xml is None else sending.keep_notation(session, xml) for xml in made.notations]
    kind = drill_kind(worked.drill.name)
    steps = [
        sent_step(part, kind, step, key) for step, key in zip(worked.drill.steps, keys, strict=True)
    ]
    session.flush()
    sending.store_steps(session, item.id, steps)


def snapshot_old(session: Session, item_id: UUID) -> None:
    """Write down what was sent before sending wrote it down, as it is worked out today."""
    item = session.get_one(AssignmentItem, item_id)
    hand = load_kept(session, session.get_one(Assignment, item.assignment_id).part_id)
    chunk = get_chunk(session, hand, item.chunk_id)
    tempo = LadderSettings(item.start_bpm, item.goal_bpm, item.step_bpm)
    worked = work_out(hand, chunk.span, item.drill, item.settings, tempo)
    store_snapshot(session, item, hand.part, worked)
