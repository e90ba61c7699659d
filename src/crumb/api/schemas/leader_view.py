"""Shapes of what a section shows the student who leads it."""

from uuid import UUID

from pydantic import BaseModel

from crumb.api.schemas.common import Given
from crumb.api.spoken import Said


class OwnSectionOut(BaseModel):
    """A section with a leader that one plays in, and whether one shows them how far one is."""

    id: UUID
    name: str
    leaders: list[str]
    is_led: bool
    shows: bool


class ShowsIn(Given):
    """Whether the leader of one's section may count oneself."""

    shows: bool


class ChunkShownOut(BaseModel):
    """A chunk, and how many of those who show it have it at tempo."""

    label: Said
    have: int


class PartShownOut(BaseModel):
    """A part as its section leader sees it: counts, no names."""

    section: str
    title: str
    part: str
    of: int
    chunks: list[ChunkShownOut]


class LeadingOut(BaseModel):
    """One's sections with their leaders, and what those show that one leads."""

    sections: list[OwnSectionOut]
    shown: list[PartShownOut]
