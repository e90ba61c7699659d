"""The wind band and its march: split for everybody, and some weeks of rehearsals and practice."""

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.score.position import Span
from crumb.demo import march
from crumb.demo.history import Player
from crumb.demo.playing import DAYS_OF_HISTORY, long_over, play
from crumb.formats.musicxml.writer import write_score
from crumb.services.drills.working import LadderSettings
from crumb.services.ensemble import splitting
from crumb.services.library import pieces
from crumb.services.maps import chunks
from crumb.services.maps.chunks import ChunkView
from crumb.services.music import importing, mapping
from crumb.services.people.roster import SectionView, list_sections
from crumb.services.sending import assigning
from crumb.services.who import Who
from crumb.store.files import FileStore
from crumb.store.tables import PiecePart

_SECTIONS = {
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
}
_STRENGTH = {
    "Flutes": 1.08,
    "Oboes": 1.1,
    "Clarinets": 1.02,
    "Alto saxophones": 1.0,
    "Trumpets": 1.04,
    "Horns": 0.94,
    "Trombones": 0.9,
    "Percussion": 1.06,
}
"""A section's tempo, as a share of goal, at which its first player is clean half of the time."""
_WORKED_ON = (0, 64)
"""Measures that were worked on so far; the rest waits."""
_ENDED_DAYS_AGO = 3
_MOST_DAYS = 5


def bring_in(session: Session, files: FileStore, who: Who) -> UUID:
    """The march with who plays it, its chunks, and what was done on it."""
    score = march.march()
    data = write_score(score.parts, title=score.title, composer=score.composer).encode()
    named = "saltgrass-march.musicxml"
    piece = importing.store_score(session, files, who, score=score, file_name=named, data=data)
    _, parts = pieces.piece_with_parts(session, who, piece.id)
    sections = {section.name: section for section in list_sections(session, who)}
    _seat(session, who, piece.id, parts, sections)
    splitting.split(session, who, piece.id, splitting.SplitWish(by="measures", measures=4))
    for part in parts:
        section = sections[_SECTIONS[part.name]]
        _weeks(session, who, part, section, _chairs(part.name, section))
    return piece.id


def _seat(
    session: Session,
    who: Who,
    piece_id: UUID,
    parts: Sequence[PiecePart],
    sections: Mapping[str, SectionView],
) -> None:
    wishes = [
        mapping.PartWish(part.id, False, part.played_on, (sections[_SECTIONS[part.name]].id,))
        for part in parts
    ]
    mapping.put_parts(session, who, piece_id, wishes)


def _chairs(part: str, section: SectionView) -> list[UUID]:
    """Who plays this part: all, or of a divided section the first or the second half."""
    students = [student for student, _ in section.students]
    divided = [name for name, whose in _SECTIONS.items() if whose == section.name]
    half = (len(students) + 1) // 2
    if len(divided) == 1:
        return students
    return students[:half] if divided.index(part) == 0 else students[half:]


def _weeks(
    session: Session, who: Who, part: PiecePart, section: SectionView, players: Sequence[UUID]
) -> None:
    """What was sent in the weeks before, is over now, and what everybody did of it."""
    hand = pieces.load_part(session, who, part.id)
    first, last = _WORKED_ON
    worked = [
        chunk
        for chunk in chunks.view_map(session, hand).chunks
        if first <= chunk.span.start.index <= last and not _rests(hand, chunk)
    ]
    if not worked or not players:
        return
    today = datetime.now().astimezone().date()
    ladder = LadderSettings(Fraction(92), hand.row.goal_bpm, Fraction(7))
    items = [assigning.WishedItem(chunk.id, "alone", {}, ladder) for chunk in worked]
    for passage in (worked[:4], worked[4:12]):
        if len(passage) > 1:
            span = Span(passage[0].span.start, passage[-1].span.end)
            joined = assigning.chunk_for(session, hand, span)
            items.append(assigning.WishedItem(joined, "alone", {}, ladder))
    wish = assigning.Wish(part.id, (section.id,), today, 20, tuple(items), only=frozenset(players))
    sent = assigning.send(session, who, wish, today)
    begun = datetime.now(UTC) - timedelta(days=DAYS_OF_HISTORY // 2)
    ended = today - timedelta(days=_ENDED_DAYS_AGO)
    assignment = long_over(session, who, sent, begun, ended)
    strength = _STRENGTH[section.name]
    hows = {
        student: Player(secure=strength - 0.025 * place, days=0.75)
        for place, student in enumerate(players)
    }
    play(session, who, assignment, hows, begun, apart=1, at_most=_MOST_DAYS, salt=part.name)


def _rests(hand: pieces.PartInHand, chunk: ChunkView) -> bool:
    measures = hand.part.measures[chunk.span.start.index : chunk.span.end.index]
    return not any(note.is_attack for measure in measures for note in measure.notes)
