"""Wind band and string orchestra: split for everybody, and some weeks of practice."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.score.model import Score
from crumb.core.score.position import Span
from crumb.demo import march, reel
from crumb.demo.history import Player
from crumb.demo.playing import DAYS_OF_HISTORY, long_over, play
from crumb.formats.musicxml.writer import write_score
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.library import pieces
from crumb.services.maps import chunks
from crumb.services.maps.chunks import ChunkView
from crumb.services.music import imports, seating
from crumb.services.people.roster import SectionView, list_sections
from crumb.services.score_overview import splitting
from crumb.services.sending.assignment_request import AssignmentRequest, RequestedItem
from crumb.services.sending.assignments import chunk_for, send
from crumb.store.files import FileStore
from crumb.store.tables import PiecePart


@dataclass(frozen=True, slots=True)
class Ensemble:
    """A piece with who plays it, how well, and how far the work on it has come."""

    score: Score
    file_name: str
    sections: Mapping[str, str]
    """The section that plays each part."""
    strength: Mapping[str, float]
    """A section's tempo, as a share of goal, at which its first player is clean half the time."""
    worked_on: tuple[int, int]
    """Measures that were worked on so far; the rest waits."""
    blocks: tuple[int, int]
    """Of the passages worked on, how many make the first block that was joined, and both."""
    start: int
    step: int


def band() -> Ensemble:
    """The wind band with its march."""
    return Ensemble(
        score=march.march(),
        file_name="saltgrass-march.musicxml",
        sections={
            "Flute": "Flutes",
            "Oboe": "Oboes",
            "Clarinet 1": "Clarinets",
            "Clarinet 2": "Clarinets",
            "Alto saxophone 1": "Alto saxophones",
            "Alto saxophone 2": "Alto saxophones",
            "Trumpet 1": "Trumpets",
            "Trumpet 2": "Trumpets",
            "Horn in F": "Horns",
            "Trombone 1": "Trombones",
            "Trombone 2": "Trombones",
            "Glockenspiel": "Percussion",
            "Snare drum": "Percussion",
        },
        strength={
            "Flutes": 1.08,
            "Oboes": 1.1,
            "Clarinets": 1.02,
            "Alto saxophones": 1.0,
            "Trumpets": 1.04,
            "Horns": 0.94,
            "Trombones": 0.9,
            "Percussion": 1.06,
        },
        worked_on=(0, 64),
        blocks=(4, 12),
        start=92,
        step=7,
    )


def strings() -> Ensemble:
    """The string orchestra with its reel."""
    return Ensemble(
        score=reel.reel(),
        file_name="tern-island-reel.musicxml",
        sections={
            "Violin I": "Violins I",
            "Violin II": "Violins II",
            "Viola": "Violas",
            "Cello": "Cellos",
            "Double bass": "Basses",
        },
        strength={
            "Violins I": 1.06,
            "Violins II": 1.0,
            "Violas": 0.96,
            "Cellos": 1.08,
            "Basses": 1.04,
        },
        worked_on=(0, 24),
        blocks=(2, 6),
        start=86,
        step=8,
    )


_ENDED_DAYS_AGO = 3
_MOST_DAYS = 5


def bring_in(session: Session, files: FileStore, actor: Actor, ensemble: Ensemble) -> None:
    """A piece with who plays it, its chunks, and what was done on it."""
    score = ensemble.score
    data = write_score(score.parts, title=score.title, composer=score.composer).encode()
    piece = imports.store_score(
        session, files, actor, score=score, file_name=ensemble.file_name, data=data
    )
    _, parts = pieces.piece_with_parts(session, actor, piece.id)
    sections = {section.name: section for section in list_sections(session, actor)}
    seats = {part.id: sections[ensemble.sections[part.name]] for part in parts}
    _seat(session, actor, piece.id, parts, seats)
    splitting.split(session, actor, piece.id, splitting.SplitRequest(by="measures", measures=4))
    for part in parts:
        section = seats[part.id]
        divided = [other.name for other in parts if seats[other.id] == section]
        players = _chairs(divided.index(part.name), len(divided), section)
        _weeks(session, actor, ensemble, part, section, players)


def _seat(
    session: Session,
    actor: Actor,
    piece_id: UUID,
    parts: Sequence[PiecePart],
    seats: Mapping[UUID, SectionView],
) -> None:
    wishes = [
        seating.PartWish(part.id, False, part.played_on, (seats[part.id].id,)) for part in parts
    ]
    seating.put_parts(session, actor, piece_id, wishes)


def _chairs(place: int, of: int, section: SectionView) -> list[UUID]:
    """Who plays the part at a place among those of a section: all, or its share of the students."""
    students = [student for student, _ in section.students]
    share = -(-len(students) // of)
    return students[place * share : (place + 1) * share]


def _weeks(
    session: Session,
    actor: Actor,
    ensemble: Ensemble,
    part: PiecePart,
    section: SectionView,
    players: Sequence[UUID],
) -> None:
    """What was sent in the weeks before, is over now, and what everybody did of it."""
    hand = pieces.load_part(session, actor, part.id)
    first, last = ensemble.worked_on
    worked = [
        chunk
        for chunk in chunks.view_map(session, hand).chunks
        if first <= chunk.span.start.index <= last and not _rests(hand, chunk)
    ]
    if not worked or not players:
        return
    today = datetime.now().astimezone().date()
    ladder = LadderSettings(Fraction(ensemble.start), hand.row.goal_bpm, Fraction(ensemble.step))
    items = [RequestedItem(chunk.id, "alone", {}, ladder) for chunk in worked]
    first_block, both = ensemble.blocks
    for passage in (worked[:first_block], worked[first_block:both]):
        if len(passage) > 1:
            span = Span(passage[0].span.start, passage[-1].span.end)
            joined = chunk_for(session, hand, span)
            items.append(RequestedItem(joined, "alone", {}, ladder))
    wish = AssignmentRequest(
        part.id, (section.id,), today, 20, tuple(items), only=frozenset(players)
    )
    sent = send(session, actor, wish, today)
    begun = datetime.now(UTC) - timedelta(days=DAYS_OF_HISTORY // 2)
    ended = today - timedelta(days=_ENDED_DAYS_AGO)
    assignment = long_over(session, actor, sent, begun, ended)
    strength = ensemble.strength[section.name]
    hows = {
        student: Player(secure=strength - 0.025 * place, days=0.75)
        for place, student in enumerate(players)
    }
    play(session, actor, assignment, hows, begun, apart=1, at_most=_MOST_DAYS, salt=part.name)


def _rests(hand: pieces.PartInHand, chunk: ChunkView) -> bool:
    measures = hand.part.measures[chunk.span.start.index : chunk.span.end.index]
    return not any(note.is_attack for measure in measures for note in measure.notes)
