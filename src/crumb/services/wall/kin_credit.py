"""Kin credit on the Wall: one clean pass at a kin chunk's tempo starts a chunk at steady."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.mastery.chunk import Standing
from crumb.core.mastery.kin_credit import lent_level
from crumb.core.mastery.levels import STEADY
from crumb.core.tempo.ladder import written
from crumb.services.evidence.standing import shown_of
from crumb.services.library.pieces import PartInHand
from crumb.services.maps.chunks import ChunkView
from crumb.services.maps.confirmed_kin import confirmed_kin_of
from crumb.services.wall.cells import Cell

Cells = dict[tuple[UUID, UUID], Cell]


def with_loans(
    session: Session,
    hand: PartInHand,
    students: Sequence[UUID],
    chunks: Sequence[ChunkView],
    cells: Cells,
    today: date,
    nothing: Cell,
) -> Cells:
    """Cells with what their kin lend: a level that was confirmed, or the pass that confirms it.

    Only those are asked about that stand under 3 while a kin chunk stands at it or above.
    """
    labels = {chunk.id: chunk.label.replace("→", "") for chunk in chunks}
    found = dict(cells)

    def level_of(student: UUID) -> Mapping[UUID, int]:
        return {c.id: cells.get((student, c.id), nothing).level for c in chunks}

    for loan in _loans(session, hand, students, chunks, level_of, today):
        at = loan.student_id, loan.chunk_id
        found[at] = _lent(found.get(at, nothing), loan.here, loan.kin, labels)
    return found


def raised(
    session: Session,
    hand: PartInHand,
    levels: Mapping[UUID, list[int]],
    chunks: Sequence[ChunkView],
    today: date,
) -> None:
    """Raise the levels in rows of students, a place for each chunk, by what kin lend."""
    places = {chunk.id: place for place, chunk in enumerate(chunks)}

    def level_of(student: UUID) -> Mapping[UUID, int]:
        return {chunk_id: levels[student][place] for chunk_id, place in places.items()}

    for loan in _loans(session, hand, list(levels), chunks, level_of, today):
        row, place = levels[loan.student_id], places[loan.chunk_id]
        if loan.here is not None:
            row[place] = max(row[place], lent_level(loan.here, loan.kin.values()))


@dataclass(frozen=True, slots=True)
class _Loan:
    """A chunk under 3 of a student, how it stands, and how its kin do."""

    student_id: UUID
    chunk_id: UUID
    here: Standing | None
    kin: dict[UUID, Standing]


def _loans(
    session: Session,
    hand: PartInHand,
    students: Sequence[UUID],
    chunks: Sequence[ChunkView],
    level_of: Callable[[UUID], Mapping[UUID, int]],
    today: date,
) -> Iterator[_Loan]:
    kin = confirmed_kin_of(session, hand.row.id, chunks)
    if not kin:
        return
    low: dict[UUID, list[UUID]] = {}
    for student in students:
        level = level_of(student)
        here = [i for i in kin if level[i] < STEADY and any(level[t] >= STEADY for t in kin[i])]
        if here:
            low[student] = here
    if not low:
        return
    wanted = {one for here in low.values() for i in here for one in (i, *kin[i])}
    stands = shown_of(session, hand, list(low), sorted(wanted), today)
    for student, here in low.items():
        own = stands[student]
        for chunk_id in here:
            others = {t: own[t] for t in kin[chunk_id] if t in own}
            yield _Loan(student, chunk_id, own.get(chunk_id), others)


def _lent(
    cell: Cell, here: Standing | None, kin: dict[UUID, Standing], labels: dict[UUID, str]
) -> Cell:
    tempos = {t: s.solid for t, s in kin.items() if s.level >= STEADY and s.solid is not None}
    if not tempos:
        return cell
    best = min(tempos, key=lambda t: tempos[t])
    if here is not None and lent_level(here, kin.values()) > here.level:
        why = f"The same as {labels[best]}, and a clean pass at its tempo confirmed it."
        return replace(cell, level=STEADY, why=why)
    tempo = written(tempos[best])
    say = f"The same as {labels[best]}: one clean pass as written at {tempo} confirms it."
    return replace(cell, next=say)
