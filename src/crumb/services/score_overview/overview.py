"""A piece as a whole: its passages, and how each section stands on them."""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from statistics import fmean
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.mastery.section import section_standing
from crumb.core.rehearsal.planner import PassageNow, SectionNow, room_tempo
from crumb.core.score.position import absolute
from crumb.core.score_overview.keys import keys_at
from crumb.core.score_overview.passages import ScorePassage, passages, shared_length
from crumb.core.score_overview.splitting import plays_in
from crumb.core.score_overview.standing import ChunkNow, alike, chunks_of, player_on
from crumb.core.tempo.ladder import seconds_of
from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, get_piece, load_part, piece_with_parts
from crumb.services.library.surveys import survey_of
from crumb.services.people.roster import SectionView, list_sections
from crumb.store.queries import score_overview as ask
from crumb.store.queries.mastery import marks
from crumb.store.queries.score_overview import ChunkOn
from crumb.store.tables import Piece


@dataclass(frozen=True, slots=True)
class Desk:
    """A section with one part of the score in front of it.

    Of a divided section only those who play this part; ``name`` is then the part's.
    """

    hand: PartInHand
    section: SectionView
    chunks: tuple[ChunkOn, ...]
    name: str
    students: tuple[UUID, ...]


@dataclass(frozen=True, slots=True)
class SectionOn:
    """A section on a passage: load (no unit), standing in words, how many it is open for.

    Who is ``at_tempo`` may have a seam open still.

    ``tempo`` is what four of five who have work there hold; None: not known yet.
    """

    desk: int
    load: float
    standing: str
    at_tempo: int
    open: int
    tempo: int | None


@dataclass(frozen=True, slots=True)
class PassageOn:
    """A passage with what every section that plays in it does there."""

    passage: ScorePassage
    seconds: Fraction
    sections: tuple[SectionOn, ...]
    open: int
    of: int


@dataclass(frozen=True, slots=True)
class Bottleneck:
    """The section and passage that hold the tempo of the whole piece down."""

    passage: int
    desk: int
    tempo: int


@dataclass(frozen=True, slots=True)
class ScoreView:
    """A piece as a whole.

    ``floor`` is the slowest that every part bears, ``ceiling`` what the weakest section holds
    (none: not known yet), both in beats a minute.
    """

    piece: Piece
    goal: Fraction
    desks: tuple[Desk, ...]
    passages: tuple[PassageOn, ...]
    now: tuple[PassageNow, ...]
    floor: Fraction | None
    ceiling: int | None
    bottleneck: Bottleneck | None
    is_split: bool


@dataclass(frozen=True, slots=True)
class Room:
    """Absent students, and those who are away from the next rehearsal on."""

    absent: frozenset[UUID] = frozenset()
    away_next: frozenset[UUID] = frozenset()


def view(session: Session, actor: Actor, piece_id: UUID, room: Room | None = None) -> ScoreView:
    """How a piece stands, by passage and section.

    Raises:
        NotFound: no such piece.
    """
    room = room or Room()
    piece = get_piece(session, actor, piece_id)
    hands = hands_of(session, actor, piece_id)
    desks = desks_of(session, actor, hands)
    found = passages([hand.part for hand in hands])
    stood = stood_by(session, desks)
    heard = ask.heard_on(session, [hand.row.id for hand in hands])
    goal = min((hand.row.goal_bpm for hand in hands), default=Fraction(0))
    kin = alike(ask.kin_of(session, piece_id), found)
    loads = {h.row.id: [m.load for m in survey_of(h).measures] for h in hands}
    now, on = [], []
    for place, passage in enumerate(found):
        seconds = _seconds(hands, passage)
        here = [desk for desk in desks if plays_in(desk.hand.part, passage)]
        sections = tuple(_section(desk, passage, stood, heard, room) for desk in here)
        key = keys_at(here[0].hand.part, passage.first)[0] if here else ""
        now.append(PassageNow(passage.name, seconds, sections, kin[place], key))
        lines = tuple(
            _on(desks.index(desk), loads[desk.hand.row.id], passage, section, goal)
            for desk, section in zip(here, sections, strict=True)
        )
        players = sum(len(section.players) for section in sections)
        on.append(PassageOn(passage, seconds, lines, now[-1].open, players))
    neck = _bottleneck(on)
    floors = [hand.row.floor_bpm for hand in hands if hand.row.floor_bpm is not None]
    return ScoreView(
        piece=piece,
        goal=goal,
        desks=tuple(desks),
        passages=tuple(on),
        now=tuple(now),
        floor=max(floors, default=None),
        ceiling=neck.tempo if neck else None,
        bottleneck=neck,
        is_split=any(desk.chunks for desk in desks),
    )


def hands_of(session: Session, actor: Actor, piece_id: UUID) -> list[PartInHand]:
    """The parts of a piece that are wanted and have notes, all of one length, in score order."""
    _, rows = piece_with_parts(session, actor, piece_id)
    wanted = [row for row in rows if not row.is_set_aside and row.version_of_id is None]
    hands = [load_part(session, actor, row.id) for row in wanted]
    length = shared_length([hand.part for hand in hands])
    return [hand for hand in hands if len(hand.part.measures) == length and hand.part.has_notes]


def desks_of(session: Session, actor: Actor, hands: Sequence[PartInHand]) -> list[Desk]:
    """Players of each part, in score order, with the chunks in force for them."""
    ids = [hand.row.id for hand in hands]
    maps = ask.maps_in_force(session, ids)
    players = ask.players_of(session, ids)
    sections = {section.id: section for section in list_sections(session, actor)}
    seats = ask.seats(session, ids)
    parts_of: dict[UUID, list[UUID]] = {}
    for hand in hands:
        for part_id, section_id in players:
            if part_id == hand.row.id and section_id in sections:
                parts_of.setdefault(section_id, []).append(part_id)
    return [
        Desk(
            hand,
            sections[section_id],
            tuple(maps.get((hand.row.id, section_id)) or maps.get((hand.row.id, None)) or ()),
            hand.row.name if len(parts) > 1 else sections[section_id].name,
            _seated(sections[section_id], hand.row.id, parts, seats),
        )
        for hand in hands
        for section_id, parts in parts_of.items()
        if hand.row.id in parts
    ]


def _seated(
    section: SectionView,
    part_id: UUID,
    parts: Sequence[UUID],
    seats: Mapping[UUID, frozenset[UUID]],
) -> tuple[UUID, ...]:
    """The players of a part in a section: those who were sent it, else the section's first part."""
    students = [student for student, _ in section.students]
    if len(parts) == 1:
        return tuple(students)
    return tuple(
        student
        for student in students
        if part_id in ((seats.get(student, frozenset()) & set(parts)) or {parts[0]})
    )


def _seconds(hands: Sequence[PartInHand], passage: ScorePassage) -> Fraction:
    hand = hands[0]
    begin, end = absolute(hand.part, passage.span.start), absolute(hand.part, passage.span.end)
    return seconds_of(end - begin, tempo=hand.row.goal_bpm, beat=hand.beat)


@dataclass(frozen=True, slots=True)
class Stood:
    """Standings: a row for each student, and the place of each chunk in it."""

    rows: Mapping[UUID, Sequence[ChunkNow]]
    places: Mapping[UUID, int]

    def on(self, chunks: Iterable[UUID]) -> Callable[[UUID], list[ChunkNow]]:
        """The standing of a student on some chunks."""
        wanted = [self.places[chunk] for chunk in chunks]
        nothing = [ChunkNow()] * len(wanted)

        def of(student: UUID) -> list[ChunkNow]:
            row = self.rows.get(student)
            return nothing if row is None else [row[place] for place in wanted]

        return of


def stood_by(session: Session, desks: Sequence[Desk]) -> Stood:
    """Levels of everybody who plays in a score."""
    students = sorted({student for desk in desks for student in desk.students})
    chunks = list({chunk.id: chunk for desk in desks for chunk in desk.chunks}.values())
    ids = [chunk.id for chunk in chunks]
    rows = {}
    for student, found in marks(session, students, ids).items():
        row = [ChunkNow()] * len(ids)
        for place, (level, seam_in, seam_out), secure in zip(
            found.places, found.levels, found.secure, strict=True
        ):
            chunk = chunks[place]
            row[place] = ChunkNow(level, seam_in or chunk.opens, seam_out or chunk.closes, secure)
        rows[student] = row
    return Stood(rows, {chunk: place for place, chunk in enumerate(ids)})


def _section(
    desk: Desk, passage: ScorePassage, stood: Stood, heard: Sequence[ask.HeardOn], room: Room
) -> SectionNow:
    places = chunks_of([chunk.span for chunk in desk.chunks], passage)
    here = stood.on(desk.chunks[place].id for place in places)
    players = tuple(
        player_on(
            here(student),
            is_absent=student in room.absent,
            is_away_next=student in room.away_next,
        )
        for student in desk.students
    )
    symptoms = tuple(
        one.symptom
        for one in heard
        if one.part_id == desk.hand.row.id
        and one.first < passage.last
        and one.last >= passage.first
        and (one.section_id == desk.section.id or one.student_id in desk.students)
    )
    is_pitched = any(note.pitch for m in desk.hand.part.measures for note in m.notes)
    key = keys_at(desk.hand.part, passage.first)[1] if is_pitched else ""
    return SectionNow(desk.name, players, symptoms, key)


def _on(
    place: int, loads: Sequence[float], passage: ScorePassage, section: SectionNow, goal: Fraction
) -> SectionOn:
    here = loads[passage.first : passage.last]
    alone = PassageNow(passage.name, Fraction(0), (section,))
    tempo, is_known = room_tempo(alone, goal)
    return SectionOn(
        desk=place,
        load=fmean(here) if here else 0.0,
        standing=section_standing([player.level for player in section.players]),
        at_tempo=sum(player.level >= AT_TEMPO for player in section.players),
        open=len(section.open),
        tempo=tempo if is_known else None,
    )


def _bottleneck(on: Sequence[PassageOn]) -> Bottleneck | None:
    found = [
        Bottleneck(place, section.desk, section.tempo)
        for place, passage in enumerate(on)
        for section in passage.sections
        if section.tempo is not None and section.open
    ]
    return min(found, key=lambda one: one.tempo, default=None)
