"""Who is asking."""

from dataclasses import dataclass
from typing import Literal
from uuid import UUID

Role = Literal["director", "student"]


@dataclass(frozen=True, slots=True)
class Who:
    """The signed-in person; every query is scoped by ``program_id``."""

    person_id: UUID
    program_id: UUID
    role: Role
    name: str
    program_name: str
    class_code: str
