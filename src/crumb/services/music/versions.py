"""The part that a section reads: its own, or a version made for its instrument."""

from dataclasses import replace
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.instruments.table import Instrument, instrument_named
from crumb.core.instruments.versions import is_version_needed, octave_away, version_for
from crumb.formats.musicxml.writer import write_part
from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, get_chunk, keep_chunks, map_of
from crumb.services.music.preparation import facts_of
from crumb.services.people.roster import SectionView
from crumb.store.codecs.facts import facts_to_json
from crumb.store.queries import maps, pieces, seats
from crumb.store.tables import Chunk, ChunkMapVersion, PartMap, PiecePart


def instrument_of_section(section: SectionView) -> Instrument:
    """The part that a section plays, by its name."""
    return instrument_named(section.name)


def reading_of(
    session: Session, actor: Actor, hand: PartInHand, section: SectionView
) -> PartInHand:
    """The part as a section reads it when it is sent something; nothing is stored.

    Its own part of the piece, if it is mapped to one; the part itself, if it can be read; a
    version already made for its instrument; or a new version, whose row is not in the database.

    Raises:
        NotForInstrument: the music has nothing that its instrument could play.
    """
    own = _own_part(session, hand, section.id)
    if own == hand.row.id:
        return hand
    if own is not None and own == hand.row.version_of_id:
        return hand  # a lick an octave away is read as it was made
    if own is not None:
        return load_part(session, actor, own)
    theirs = instrument_of_section(section)
    if not is_version_needed(hand.part, hand.instrument, theirs):
        return hand
    kept = pieces.version_for(session, hand.row.id, played_on=theirs.name)
    if kept is not None:
        return load_part(session, actor, kept)
    part = replace(version_for(hand.part, theirs), id=hand.part.id)
    name = f"{theirs.name}, from {hand.row.name}"
    return PartInHand(_row_of(hand, name, theirs.name), part)


def _row_of(hand: PartInHand, name: str, played_on: str) -> PiecePart:
    """The row of a version of a part, which is not in the database yet."""
    part_id = uuid4()
    return PiecePart(
        id=part_id,
        root_id=part_id,
        program_id=hand.row.program_id,
        piece_id=hand.row.piece_id,
        place=hand.row.place,
        name=name[:120],
        instrument=played_on,
        notation="",
        facts={},
        goal_bpm=hand.row.goal_bpm,
        floor_bpm=hand.row.floor_bpm,
        festival_bpm=hand.row.festival_bpm,
        played_on=played_on,
        version_of_id=hand.row.id,
    )


def _own_part(session: Session, hand: PartInHand, section_id: UUID) -> UUID | None:
    """The part of the piece that a section is mapped to; this one, if it is mapped to several."""
    found = seats.parts_played_by(session, hand.row.piece_id, section_id)
    if hand.row.id in found:
        return hand.row.id
    return found[0] if found else None


def keep(session: Session, original: PartInHand, reading: PartInHand) -> None:
    """Store a new version with the chunk map of the part it was made from; kept ones stay."""
    if reading.row.notation:
        return
    row = reading.row
    row.notation = write_part(reading.part)
    row.facts = facts_to_json(facts_of(reading.part))
    row.place = pieces.last_place(session, row.piece_id) + 1
    session.add(row)
    session.flush()
    session.add(PartMap(id=row.id, part_id=row.id, section_id=None, cursor=0))
    session.flush()
    _copy_map(session, original, row)


def octave_version(
    session: Session, actor: Actor, part_id: UUID, chunk_id: UUID, way: int
) -> tuple[UUID, ChunkView]:
    """A part of its own with one chunk an octave higher (1) or lower (-1), and that chunk in it.

    What is played of it is evidence for it alone: the lick has a level in each register. Made
    once, it is the same part each time.

    Raises:
        NotFound: no such part or chunk.
        NotForInstrument: it leaves the comfortable range.
    """
    hand = load_part(session, actor, part_id, for_change=True)
    chunk = get_chunk(session, hand, chunk_id)
    label = chunk.label.replace("→", "")
    name = f"{hand.row.name}, {label} an octave {'higher' if way > 0 else 'lower'}"[:120]
    made_id = pieces.version_called(session, hand.row.id, name)
    if made_id is None:
        moved = octave_away(hand.part, chunk.span, way, hand.instrument)
        row = _row_of(hand, name, hand.row.played_on)
        made_id, row.instrument = row.id, hand.row.instrument
        keep(session, hand, PartInHand(row, moved))
    made = load_part(session, actor, made_id)
    ids, _ = keep_chunks(session, made, [[chunk.span]])
    return made_id, get_chunk(session, made, ids[0][0])


def _copy_map(session: Session, original: PartInHand, row: PiecePart) -> None:
    kept_map = map_of(session, original)
    version = session.get(ChunkMapVersion, (kept_map.id, kept_map.cursor))
    if version is None:
        return
    ids = {*version.chunk_ids, *(UUID(i) for level in version.inner for i in level)}
    copies: dict[UUID, UUID] = {}
    for chunk in maps.chunks_by_id(session, ids):
        copies[chunk.id] = uuid4()
        session.add(
            Chunk(
                id=copies[chunk.id],
                part_id=row.id,
                start_index=chunk.start_index,
                start_at=chunk.start_at,
                end_index=chunk.end_index,
                end_at=chunk.end_at,
                landing=chunk.landing,
                opens=chunk.opens,
                closes=chunk.closes,
            )
        )
    session.add(
        ChunkMapVersion(
            map_id=row.id,
            number=1,
            chunk_ids=[copies[i] for i in version.chunk_ids],
            edges=version.edges,
            quiet=version.quiet,
            inner=[[str(copies[UUID(i)]) for i in level] for level in version.inner],
            order_by=version.order_by if version.order_by != "hand" else "front",
            by_hand=[],
            edit="As in the part it was made from",
        )
    )
    session.get_one(PartMap, row.id).cursor = 1
    session.flush()
