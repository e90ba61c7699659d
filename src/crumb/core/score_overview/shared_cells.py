"""Cells of the Wall put together, so that players with the same chunks get one thing to do."""

from collections.abc import Hashable, Iterable
from typing import TypeVar

Student = TypeVar("Student", bound=Hashable)
Chunk = TypeVar("Chunk", bound=Hashable)


def shared_cells(
    cells: Iterable[tuple[Student, Chunk]],
) -> list[tuple[frozenset[Student], frozenset[Chunk]]]:
    """Players who have the same chunks, with those chunks: as few groups as there can be.

    Args:
        cells: player and chunk of each; one that comes twice counts once.
    """
    of_student: dict[Student, set[Chunk]] = {}
    for student, chunk in cells:
        of_student.setdefault(student, set()).add(chunk)
    groups: dict[frozenset[Chunk], set[Student]] = {}
    for student, chunks in of_student.items():
        groups.setdefault(frozenset(chunks), set()).add(student)
    return [(frozenset(students), chunks) for chunks, students in groups.items()]
