"""Closed sets of words that tables, schemas and the page share.

A set that belongs to one room stands in that room; these belong to several. Check constraints, the
description of the API and the page's client are made of them.
"""

from enum import StrEnum


class Role(StrEnum):
    """A person's role in a program."""

    DIRECTOR = "director"
    ASSISTANT = "assistant"
    HELPER = "helper"
    STUDENT = "student"


class SchoolWords(StrEnum):
    """School English: measures and quarter notes, or bars and crotchets."""

    US = "us"
    UK = "uk"


class Paper(StrEnum):
    """Size of the paper that sheets are printed on."""

    US_LETTER = "us-letter"
    A4 = "a4"


class PlayerLevel(StrEnum):
    """How far the players of a drill are; a drill's usual settings follow it."""

    BEGINNER = "beginner"
    INTERMEDIATE = "intermediate"
    ADVANCED = "advanced"


class ItemRole(StrEnum):
    """The place of a drill in an assignment: this week's focus, or upkeep of an earlier one."""

    FOCUS = "focus"
    UPKEEP = "upkeep"


class JobKind(StrEnum):
    """The work that a worker takes out of a request's time."""

    IMPORT = "import"
    SHEETS = "sheets"
    TAKE = "take"
    PAGES = "pages"


class JobState(StrEnum):
    """How far a job is."""

    WAITING = "waiting"
    WORKING = "working"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class TakeState(StrEnum):
    """How far a take is: waiting to be made playable, ready to be heard, or unreadable."""

    WAITING = "waiting"
    READY = "ready"
    FAILED = "failed"


class MarkLayer(StrEnum):
    """The layer of a mark: its writer, and so its readers."""

    DIRECTOR = "director"
    LEADER = "leader"
    OWN = "own"


class KinVerdict(StrEnum):
    """A director's verdict on two similar passages."""

    CONFIRMED = "confirmed"
    REFUSED = "refused"


class Permission(StrEnum):
    """A right. A role is no more than its rights; ``services.access`` has their table."""

    READ_MUSIC = "read_music"
    KEEP_MUSIC = "keep_music"
    SEND = "send"
    SEE_PLAYERS = "see_players"
    HEAR = "hear"
    KEEP_PEOPLE = "keep_people"
    KEEP_ACCOUNT = "keep_account"
    TICK = "tick"
    PRACTISE = "practise"
