"""Which section plays which part, which parts are wanted, and new versions of a piece."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.instruments.names import desk_of
from crumb.core.instruments.players import may_play
from crumb.core.instruments.table import INSTRUMENTS
from crumb.core.names import name_key
from crumb.core.score.matching import carried_measures
from crumb.core.score.model import Part
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.evidence import levels
from crumb.services.library.pieces import PartInHand, get_piece, load_part
from crumb.services.library.surveys import refresh_survey
from crumb.services.maps import versions
from crumb.services.people.roster import SectionView, create_section, list_sections
from crumb.store.codecs.reports import ReportLine, Said, report_from_json, report_to_json
from crumb.store.queries import kin, locks, maps, marks, pieces, seats, tags
from crumb.store.tables import (
    ChunkMapVersion,
    Mark,
    PartMap,
    PartSection,
    Piece,
    PiecePart,
)


def suggest(session: Session, actor: Actor, rows: Sequence[PiecePart]) -> None:
    """Give each part to the one section that plays its instrument, if there is just one."""
    sections = list_sections(session, actor)
    for row in rows:
        section = section_for(sections, row.name, row.played_on)
        if section is not None:
            session.add(PartSection(part_id=row.id, section_id=section.id))
    session.flush()


def section_for(sections: Sequence[SectionView], name: str, played_on: str) -> SectionView | None:
    """The one section that plays a part, by the part's name and instrument; None: none or many."""
    same = [s for s in sections if name_key(s.name) == name_key(name)]
    fits = same or [s for s in sections if may_play(s.name, name, played_on)]
    numbered = [s for s in fits if desk_of(s.name) == desk_of(name)]
    fits = numbered or fits
    return fits[0] if len(fits) == 1 else None


@dataclass(frozen=True, slots=True)
class PartWish:
    """The director's wish for a part: wanted or not, its instrument, its players."""

    part_id: UUID
    is_set_aside: bool
    played_on: str
    section_ids: tuple[UUID, ...]
    new_section: str = ""


def sections_by_part(session: Session, actor: Actor) -> dict[UUID, list[UUID]]:
    """Section ids of every part of the program."""
    return seats.sections_by_part(session, actor.program_id)


def put_parts(session: Session, actor: Actor, piece_id: UUID, wishes: Sequence[PartWish]) -> Piece:
    """Say which parts are wanted and who plays them; sections that are named anew are made.

    Raises:
        NotAccepted: an instrument or a section that is not known.
        NotFound: a part of another piece.
    """
    piece = get_piece(session, actor, piece_id)
    known = {section.id for section in list_sections(session, actor)}
    names = {instrument.name for instrument in INSTRUMENTS}
    made: dict[str, UUID] = {name_key(s.name): s.id for s in list_sections(session, actor)}
    locks.have_parts(session, [wish.part_id for wish in wishes])
    for wish in wishes:
        hand = load_part(session, actor, wish.part_id, for_change=True)
        if hand.row.piece_id != piece.id or wish.played_on not in names:
            raise NotAccepted("This part or instrument is not known here.")
        if not set(wish.section_ids) <= known:
            raise NotAccepted("There is no such section.")
        chosen = list(wish.section_ids)
        key = name_key(wish.new_section)
        if key:
            if key not in made:
                made[key] = create_section(session, actor, wish.new_section).id
            chosen.append(made[key])
        hand.row.is_set_aside = wish.is_set_aside
        if hand.row.played_on != wish.played_on:
            hand.row.played_on = wish.played_on
            refresh_survey(session, hand)
        seats.put(session, wish.part_id, chosen)
    return piece


# New versions ------------------------------------------------------------------------------------


def carry_over(
    session: Session,
    actor: Actor,
    old_piece_id: UUID,
    piece: Piece,
    rows: Sequence[PiecePart],
) -> None:
    """Move what was done on a piece to its new version, part by part, and say what could not be."""
    old_piece = get_piece(session, actor, old_piece_id)
    old_rows = pieces.parts_in(session, old_piece_id)
    locks.have_parts(session, [old.id for old in old_rows])
    lines = report_from_json(piece.report)
    taken: set[UUID] = set()
    for row in rows:
        old = _counterpart(row, [o for o in old_rows if o.id not in taken])
        if old is None:
            lines.append(_said(row.name, "This part is new: nothing to move to it."))
            continue
        taken.add(old.id)
        lines.extend(_said(row.name, text) for text in _carry_part(session, actor, old, row))
    gone = "Not in the new version. What students practiced on it is kept."
    lines.extend(_said(old.name, gone) for old in old_rows if old.id not in taken)
    piece.title = old_piece.title
    piece.objectives = list(old_piece.objectives)
    piece.report = report_to_json(lines)
    session.flush()
    old_piece.replaced_by_id = piece.id


def _said(part: str, text: str) -> ReportLine:
    return ReportLine(Said.MOVED, part, text)


def _counterpart(row: PiecePart, old: Sequence[PiecePart]) -> PiecePart | None:
    by_name = [o for o in old if name_key(o.name) == name_key(row.name)]
    same_instrument = [o for o in old if o.played_on == row.played_on]
    return next(iter(by_name or same_instrument or (old if len(old) == 1 else [])), None)


def _carry_part(session: Session, actor: Actor, old: PiecePart, row: PiecePart) -> list[str]:
    before, after = load_part(session, actor, old.id), load_part(session, actor, row.id)
    carried = carried_measures(before.part, after.part)
    row.replaces_id, row.root_id = old.id, old.root_id
    row.carried = {str(a): b for a, b in carried.items()}
    row.goal_bpm, row.floor_bpm, row.festival_bpm = old.goal_bpm, old.floor_bpm, old.festival_bpm
    row.played_on = old.played_on or row.played_on
    row.is_set_aside = old.is_set_aside
    if old.page_map is not None:
        row.page_map = {
            name: [carried[index] for index in indexes if index in carried]
            for name, indexes in old.page_map.items()
        }
    seats.put(session, row.id, seats.sections_on(session, old.id))
    said = _carry_maps(session, before, after, carried)
    said.extend(_carry_marks(session, old, row, carried, before.part))
    _carry_verdicts(session, old, row, carried)
    tags.carry(session, old.id, row.id, carried)
    refresh_survey(session, after)
    levels.refresh_part(session, after.row.id)
    changed = [m.number for m in before.part.measures if m.index not in carried]
    if changed:
        shown = ", ".join(changed[:8]) + (" and more" if len(changed) > 8 else "")
        said.append(f"Measures of the old version that changed or are gone: {shown}.")
    else:
        said.append("Every measure of the old version is here; all that was practiced counts.")
    return said


def _carry_maps(
    session: Session, before: PartInHand, hand: PartInHand, carried: dict[int, int]
) -> list[str]:
    said = []
    for old_map in maps.maps_of(session, before.row.id):
        version = session.get(ChunkMapVersion, (old_map.id, old_map.cursor))
        if version is None:
            continue
        target = session.get(PartMap, hand.row.id)
        if old_map.section_id is not None or target is None:
            target = PartMap(
                id=uuid4(), part_id=hand.row.id, section_id=old_map.section_id, cursor=0
            )
            session.add(target)
            session.flush()
        kept, lost = versions.carried_version(session, before, hand, version, carried, target)
        if lost:
            said.append(f"Edges that could not be moved: {', '.join(lost[:8])}.")
        if kept:
            said.append(f"Chunks moved over, with {kept} edges.")
    return said


def _carry_marks(
    session: Session, old: PiecePart, row: PiecePart, carried: dict[int, int], part: Part
) -> list[str]:
    lost = []
    for mark in marks.everything(session, old.id):
        if mark.index not in carried:
            lost.append(f"{mark.text or mark.kind} in measure {part.measures[mark.index].number}")
            continue
        session.add(
            Mark(
                id=uuid4(),
                program_id=mark.program_id,
                part_id=row.id,
                section_id=mark.section_id,
                author_id=mark.author_id,
                layer=mark.layer,
                kind=mark.kind,
                text=mark.text,
                index=carried[mark.index],
                at=mark.at,
            )
        )
    return [f"Marks that could not be moved: {', '.join(lost[:8])}."] if lost else []


def _carry_verdicts(
    session: Session, old: PiecePart, row: PiecePart, carried: dict[int, int]
) -> None:
    """A kin link that was confirmed or refused stays so where both its ends are the same music."""
    for link in kin.judged_inside(session, old.id):
        ends = (link.a_first, link.a_last, link.b_first, link.b_last)
        if any(end not in carried for end in ends):
            continue
        a_first, b_first = carried[link.a_first], carried[link.b_first]
        kin.judge_alike(session, row.id, link, a_first=a_first, b_first=b_first)
