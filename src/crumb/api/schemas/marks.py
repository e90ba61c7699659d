"""Marks in a part."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, StringConstraints

from crumb.api.schemas.common import Given, PositionOut
from crumb.api.schemas.music import MeasureOut
from crumb.core.vocabulary import MarkLayer


class MarkIn(Given):
    """Something to write into a part."""

    kind: Annotated[str, StringConstraints(max_length=20)]
    text: Annotated[str, StringConstraints(max_length=80)] = ""
    at: PositionOut
    section_id: UUID | None = None
    as_leader: bool = False


class MarkOut(BaseModel):
    """Something written into a part."""

    id: UUID
    layer: MarkLayer
    kind: str
    name: str
    text: str
    at: PositionOut
    section_id: UUID | None
    is_mine: bool


class MyScoreOut(BaseModel):
    """A part as a student sees it: engraved with its marks."""

    title: str
    part: str
    measures: list[MeasureOut]
    svg: str
    marks: list[MarkOut]
    leads: bool
