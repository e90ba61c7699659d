"""Pages that are brought in, as they go over the wire."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Bpm, Exact, Given, GivenOnce
from crumb.api.spoken import Said
from crumb.core.vocabulary import JobState

Pixel = Annotated[int, Field(ge=0, le=20_000)]
Title = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]


class BeginsOut(BaseModel):
    """The part that begins on a page, and the section that plays it."""

    name: str
    played_on: str
    section_id: UUID | None


class PageOut(BaseModel):
    """A page at a glance; ``measures`` is none until it was read."""

    id: UUID
    turn: int
    is_left_out: bool
    begins: BeginsOut | None
    width: int
    height: int
    is_drawn: bool
    message: Said
    measures: int | None
    first_number: int | None
    last_number: int | None
    conflicts: int
    """How many printed numbers differ from counting."""


class PageSetOut(BaseModel):
    """Pages that were brought in together, and how far reading is."""

    id: UUID
    title: str
    composer: str
    files: list[str]
    state: JobState
    stage: str
    done: int
    total: int
    message: Said
    piece_id: UUID | None
    made_at: datetime
    pages: list[PageOut]
    reads_text: bool
    """Whether text in pictures can be read: the program for it is installed."""


class BeginsIn(Given):
    """The part that begins on a page."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    played_on: Annotated[str, StringConstraints(min_length=1, max_length=40)]
    section_id: UUID | None = None


class PageWishIn(Given):
    """A page as the director wants it."""

    id: UUID
    is_left_out: bool = False
    begins: BeginsIn | None = None


class PagesIn(Given):
    """Every page of a set, in order."""

    pages: Annotated[list[PageWishIn], Field(min_length=1, max_length=120)]


class PieceOfPagesIn(GivenOnce):
    """The piece that the pages are."""

    title: Title
    composer: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""
    goal_bpm: Bpm = Decimal(100)


class AreaOut(BaseModel):
    """A rectangle of a page's picture, in pixels."""

    left: int
    top: int
    right: int
    bottom: int


class PageMeasureOut(BaseModel):
    """A measure on a page; ``counted`` is the number by counting, where a printed one differs."""

    area: AreaOut
    first_line: int
    last_line: int
    number: int
    counted: int | None
    said_number: int | None
    stands_for: int
    letter: str
    time: str
    """The meter in force; ``new_time`` is the one that begins here."""
    new_time: str
    quarters: str
    opens_repeat: bool
    closes_repeat: bool
    ending: str


class PageDetail(BaseModel):
    """A page with its measures."""

    id: UUID
    set_id: UUID
    part_name: str
    width: int
    height: int
    measures: list[PageMeasureOut]
    can_undo: bool
    can_redo: bool
    message: Said


class AreaIn(Given):
    """A rectangle that was drawn by hand."""

    left: Pixel
    top: Pixel
    right: Pixel
    bottom: Pixel


class PageActIn(Given):
    """An act on the measures of a page; which fields count depends on ``op``."""

    op: Literal[
        "split", "join", "move", "delete", "add", "number", "letter", "rests", "time", "length",
        "repeat", "ending", "undo", "redo",
    ]  # fmt: skip
    place: Annotated[int, Field(ge=0, le=400)] = 0
    x: Pixel = 0
    area: AreaIn | None = None
    number: Annotated[int, Field(ge=0, le=9999)] | None = None
    text: Annotated[str, StringConstraints(max_length=20)] = ""
    quarters: Exact | None = None
    opens: bool = False
    closes: bool = False
