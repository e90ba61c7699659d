"""Versions of a chunk map: an edit makes one, undo and redo go between them."""

from dataclasses import replace
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.matching import carried_position
from crumb.core.score.position import Position
from crumb.core.split import nested
from crumb.core.split.nested import NestedMap
from crumb.services.access import Actor
from crumb.services.errors import ChangedMeanwhile
from crumb.services.evidence import levels
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import (
    MapView,
    OrderWish,
    keep_chunks,
    map_of,
    nested_of,
    order_of,
    view_of,
)
from crumb.services.maps.edits import Change, Desk
from crumb.services.people.roster import get_section
from crumb.store.codecs import maps as codec
from crumb.store.queries import maps
from crumb.store.tables import ChunkMapVersion, PartMap


def step_through(
    session: Session,
    actor: Actor,
    part_id: UUID,
    version: int,
    *,
    back: bool,
    section_id: UUID | None = None,
) -> MapView:
    """Undo (back) or redo one edit.

    Raises:
        ChunkEditRefused: there is nothing to undo or redo.
        ChangedMeanwhile: the map was edited elsewhere.
    """
    hand, row = _locked(session, actor, part_id, version, section_id)
    target = row.cursor + (-1 if back else 1)
    exists = target == 0 or session.get(ChunkMapVersion, (row.id, target)) is not None
    if target < 0 or not exists:
        raise ChunkEditRefused("There is nothing to undo." if back else "There is nothing to redo.")
    row.cursor = target
    session.flush()
    view = view_of(session, hand, row)
    shown = {chunk.id for level in view.levels for chunk in level}
    levels.refresh_chunks(session, hand, shown)
    return view


def _locked(
    session: Session, actor: Actor, part_id: UUID, version: int, section_id: UUID | None
) -> tuple[PartInHand, PartMap]:
    hand = load_part(session, actor, part_id, for_change=True)
    row = map_of(session, hand, section_id)
    session.refresh(row, ["cursor"])
    if row.cursor != version:
        raise ChangedMeanwhile("The chunks were changed somewhere else; here they are as they are.")
    return hand, row


def apply(
    session: Session,
    actor: Actor,
    part_id: UUID,
    version: int,
    change: Change,
    section_id: UUID | None = None,
) -> MapView:
    """Make one change to the map in force; ``version`` is the state the director saw.

    Raises:
        ChunkEditRefused: the change cannot be; the map stays as it is.
        ChangedMeanwhile: the map was edited elsewhere.
    """
    hand, row = _locked(session, actor, part_id, version, section_id)
    before = session.get(ChunkMapVersion, (row.id, version))
    desk = Desk(hand, nested_of(session, hand, before), order_of(before))
    made = change.edit(desk)
    after, order = (desk.map, made) if isinstance(made, OrderWish) else (made, desk.order)
    if not after.is_split:
        raise ChunkEditRefused("Split the part first.")
    if (after, order) == (desk.map, desk.order):
        return view_of(session, hand, row)
    # A new edit after undo takes the place of what was undone.
    maps.forget_after(session, row.id, version)
    _store_version(session, hand, row, after, order, change.name)
    return view_of(session, hand, row)


def _store_version(
    session: Session,
    hand: PartInHand,
    row: PartMap,
    after: NestedMap,
    order: OrderWish,
    name: str,
) -> None:
    spans = [after.level(hand.part, depth).spans for depth in range(after.depth)]
    ids, made = keep_chunks(session, hand, spans)
    row.cursor += 1
    session.add(
        ChunkMapVersion(
            map_id=row.id,
            number=row.cursor,
            chunk_ids=ids[0],
            inner=[[str(i) for i in level] for level in ids[1:]],
            edges=codec.edges_to_json(after.edges),
            quiet=codec.quiet_to_json(after.quiet),
            order_by=order.kind,
            by_hand=[str(i) for i in order.by_hand],
            edit=name,
        )
    )
    session.flush()
    levels.refresh_chunks(session, hand, made)


def carried_version(
    session: Session,
    before: PartInHand,
    hand: PartInHand,
    version: ChunkMapVersion,
    carried: dict[int, int],
    target: PartMap,
) -> tuple[int, list[str]]:
    """Put the edges of an old version's map into a new version's.

    Returns:
        How many edges were moved, and the places of those that could not be.
    """
    old = nested_of(session, before, version)
    edges, lost = [], []
    for edge in old.edges:
        at = carried_position(edge.at, carried)
        if at is None or not Position(0, Fraction(0)) < at < Position(
            len(hand.part.measures), at.at
        ):
            lost.append(f"before measure {before.part.measures[edge.at.index].number}")
        else:
            edges.append(replace(edge, at=at))
    made = nested.split_at_edges(hand.part, NestedMap(), edges)
    quiet = ((depth, carried_position(at, carried)) for depth, at in old.quiet)
    made = replace(made, quiet=frozenset((d, at) for d, at in quiet if at is not None))
    _store_version(session, hand, target, made, order_of(version), "New version")
    return len(edges), lost


def own_map(session: Session, actor: Actor, part_id: UUID, section_id: UUID) -> MapView:
    """Give a section a map of its own, as everybody's stands now; if it has one, that.

    Raises:
        NotFound: no such part or section.
    """
    hand = load_part(session, actor, part_id, for_change=True)
    get_section(session, actor, section_id)
    row = map_of(session, hand, section_id)
    if row.section_id is None:
        before = session.get(ChunkMapVersion, (row.id, row.cursor))
        made = PartMap(id=uuid4(), part_id=part_id, section_id=section_id, cursor=0)
        session.add(made)
        session.flush()
        if before is not None:
            _store_version(
                session, hand, made, nested_of(session, hand, before), order_of(before), before.edit
            )
        row = made
    return view_of(session, hand, row)
