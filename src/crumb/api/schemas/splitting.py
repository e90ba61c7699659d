"""Chunk maps and kin."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import Depth, Given, Place, PositionOut, Version
from crumb.api.spoken import Said
from crumb.core.plan.model import Order
from crumb.core.similarity.model import Relation
from crumb.core.vocabulary import KinVerdict


class ChunkOut(BaseModel):
    """A chunk of a map; ``tab`` is its label as it fits on a bracket."""

    id: UUID
    label: str
    tab: str
    start: PositionOut
    end: PositionOut
    landing: bool


class PassageIn(Given):
    """A passage: words (``31.3 to 33``, ``line 4``), or a first and a last chunk.

    Neither: all of the part.
    """

    words: Annotated[str, Field(max_length=120)] = ""
    first_id: UUID | None = None
    last_id: UUID | None = None


class OctaveIn(Given):
    """Which way a chunk is moved."""

    way: Literal["up", "down"]


class OctaveOut(BaseModel):
    """The part with a chunk an octave away, and the chunk in it."""

    part_id: UUID
    chunk: ChunkOut


class EdgeOut(BaseModel):
    """A cut, the depth from which it divides the part, and why it is there."""

    at: PositionOut
    depth: int
    reasons: list[Said]


class OrderOut(BaseModel):
    """In which order the chunks are learned, and why."""

    kind: Order
    chunk_ids: list[UUID]
    why: Said


class SeamOut(BaseModel):
    """The crossing from one chunk into the next."""

    label: str
    start: PositionOut
    end: PositionOut


class MapOut(BaseModel):
    """The chunk map in force; version 0 is not split yet.

    ``levels`` are the chunks at each depth; the first is ``chunks``. ``section_id``: whose own map
    this is, nothing for everybody's.
    """

    version: int
    edit: str
    can_undo: bool
    can_redo: bool
    chunks: list[ChunkOut]
    levels: list[list[ChunkOut]]
    edges: list[EdgeOut]
    seams: list[SeamOut]
    order: OrderOut
    section_id: UUID | None


class StretchOut(BaseModel):
    """Measures of a part, first and last by index."""

    part_id: UUID
    part: str
    label: str
    first: int
    last: int


class KinOut(BaseModel):
    """Two stretches that are alike, and what the director said of it."""

    id: UUID
    a: StretchOut
    b: StretchOut
    relation: Relation
    text: Said
    verdict: KinVerdict | None
    differs: int


class ClaimIn(Given):
    """A claim of similarity: ``53 is 33 a step lower``."""

    text: Annotated[str, Field(max_length=200)]


class ClaimOut(BaseModel):
    """Whether it is, in words; ``first_index``: which note of the earlier stretch first differs."""

    holds: bool
    said: Said
    first_index: int | None


class CornerOut(BaseModel):
    """A measure by its first and last note; ``breaks``: why it does not start as those before."""

    index: int
    number: str
    first: str
    last: str
    step: int | None
    breaks: str


class TagOut(BaseModel):
    """A technique, what it is called, and whether a person said so."""

    tag: str
    name: str
    by_hand: bool


class TaggedOut(BaseModel):
    """A chunk and the techniques it asks for."""

    chunk_id: UUID
    label: str
    tags: list[TagOut]


class TagIn(Given):
    """On, or off whatever the survey finds."""

    on: bool


class TagNameOut(BaseModel):
    """A technique there is a tag for."""

    tag: str
    name: str


class TagFoundOut(BaseModel):
    """A chunk that has a tag."""

    piece: str
    part_id: UUID
    part: str
    chunk: ChunkOut


class VerdictIn(Given):
    """Confirmed, refused, or open again."""

    verdict: KinVerdict | None


class DeltaIn(Given):
    """Make a chunk of what differs."""

    version: Version


class SplitByMeasures(Given):
    """Split the part again, n measures a chunk."""

    op: Literal["by-measures"]
    version: Version
    measures: Annotated[int, Field(ge=0, le=1000)]


class SplitHere(Given):
    """Split at a place."""

    op: Literal["split"]
    version: Version
    depth: Depth = 0
    at: PositionOut


class MergeNext(Given):
    """Merge a chunk with the next."""

    op: Literal["merge"]
    version: Version
    depth: Depth = 0
    place: Place


class MoveEdge(Given):
    """Move a chunk's end by beats."""

    op: Literal["move-edge"]
    version: Version
    depth: Depth = 0
    place: Place
    beats: Annotated[int, Field(ge=-64, le=64)]


class MoveEdgeTo(Given):
    """Move a chunk's end to a place."""

    op: Literal["move-edge-to"]
    version: Version
    depth: Depth = 0
    place: Place
    at: PositionOut


class SetLanding(Given):
    """Landing on or off."""

    op: Literal["landing"]
    version: Version
    depth: Depth = 0
    place: Place
    on: bool


class Propose(Given):
    """Split the part again by a proposal."""

    op: Literal["propose"]
    version: Version
    by: Literal["phrases", "lines", "marks", "load"]


class SplitInside(Given):
    """Split a chunk inside, at these edges or others, or merge all chunks inside it."""

    op: Literal["split-inside", "split-inside-other", "merge-inside"]
    version: Version
    depth: Depth = 0
    place: Place


class PutInOrder(Given):
    """Say in which order the chunks are learned."""

    op: Literal["order"]
    version: Version
    kind: Order
    by_hand: Annotated[list[UUID], Field(max_length=2000)] = []


class StepThrough(Given):
    """Undo or redo."""

    op: Literal["undo", "redo"]
    version: Version


MapEdit = Annotated[
    SplitByMeasures
    | SplitHere
    | MergeNext
    | MoveEdge
    | MoveEdgeTo
    | SetLanding
    | Propose
    | SplitInside
    | PutInOrder
    | StepThrough,
    Field(discriminator="op"),
]
