"""Every table, by subject. Each row belongs to a program."""

from crumb.store.base import Base
from crumb.store.tables.evidence import (
    ClimbRow,
    Diary,
    Evidence,
    Heard,
    Hearing,
    Mastery,
    Retraction,
    SlipPlace,
    WayRating,
)
from crumb.store.tables.idempotency import IdempotencyKey
from crumb.store.tables.jobs import Job, WorkerSeen
from crumb.store.tables.maps import Chunk, ChunkMapVersion, ChunkTag, PartMap
from crumb.store.tables.music import KinLink, Mark, Notation, PartSection, Piece, PiecePart
from crumb.store.tables.pages import PageRow, PageSet
from crumb.store.tables.people import (
    Charge,
    Invitation,
    KnownDevice,
    Person,
    Program,
    Section,
    SectionMember,
    SignedIn,
    SignInGate,
)
from crumb.store.tables.plans import PlanDay, PlanRow
from crumb.store.tables.rehearsals import PutOff, RehearsalRow
from crumb.store.tables.sending import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    RecipeRow,
    SentStep,
    Sheet,
)
from crumb.store.tables.takes import StyleBrief, Take, TakeChoice, TakeTask

__all__ = [
    "Assignment",
    "AssignmentItem",
    "AssignmentStudent",
    "Base",
    "Charge",
    "Chunk",
    "ChunkMapVersion",
    "ChunkTag",
    "ClimbRow",
    "Diary",
    "Evidence",
    "Heard",
    "Hearing",
    "IdempotencyKey",
    "Invitation",
    "Job",
    "KinLink",
    "KnownDevice",
    "Mark",
    "Mastery",
    "Notation",
    "PageRow",
    "PageSet",
    "PartMap",
    "PartSection",
    "Person",
    "Piece",
    "PiecePart",
    "PlanDay",
    "PlanRow",
    "Program",
    "PutOff",
    "RecipeRow",
    "RehearsalRow",
    "Retraction",
    "Section",
    "SectionMember",
    "SentStep",
    "Sheet",
    "SignInGate",
    "SignedIn",
    "SlipPlace",
    "StyleBrief",
    "Take",
    "TakeChoice",
    "TakeTask",
    "WayRating",
    "WorkerSeen",
]
