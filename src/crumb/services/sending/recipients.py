"""Recipients: every player in their own notation, with the director's exceptions.

Exceptions (common practice, no source): an absent player gets it a week later; an injured one
without the instrument; one who is ahead only what is open; one may go in score order; one may get
smaller pieces.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drill_names import DrillName
from crumb.core.drills import drill_kind, fits, passage_of
from crumb.core.errors import CrumbError, DrillDoesNotFit
from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.score.model import Part
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span, landing_notes
from crumb.core.split import proposals
from crumb.core.vocabulary import ItemRole
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings, Worked, work_out
from crumb.services.errors import NotAccepted
from crumb.services.library.pieces import PartInHand
from crumb.services.maps.chunks import ChunkView
from crumb.services.music.versions import reading_of
from crumb.services.people.roster import SectionView
from crumb.store.queries import mastery

ABSENT, INJURED, AHEAD, OWN_ORDER, SMALLER = "absent", "injured", "ahead", "own order", "smaller"
EXCEPTIONS = (ABSENT, INJURED, AHEAD, OWN_ORDER, SMALLER)
_LATER = timedelta(days=7)
_SILENT = (DrillName.NAME_IT, DrillName.COUNT_IT)
_SIGHTLESS = (DrillName.COUNT_IT, DrillName.ALONE)
"""What stands in for a drill that an instrument's version of the music does not fit."""


@dataclass(frozen=True, slots=True)
class ItemRequest:
    """A drill on a chunk as the director chose it; ``role`` is focus or upkeep."""

    chunk: ChunkView
    drill: str
    settings: Mapping[str, object]
    ladder: LadderSettings
    role: str = ItemRole.FOCUS
    every: int = 1


@dataclass(frozen=True, slots=True)
class ReceivedItem:
    """A drill that a player gets; ``note`` says what Crumb changed for this player."""

    span: Span
    label: str
    worked: Worked
    ladder: LadderSettings
    role: str
    note: str = ""
    every: int = 1


@dataclass(frozen=True, slots=True)
class RecipientGroup:
    """Players of one section who get the same."""

    section: SectionView
    students: tuple[tuple[UUID, str], ...]
    reading: PartInHand
    items: tuple[ReceivedItem, ...]
    due_on: date
    exception: str = ""
    why_nothing: str = ""


def recipient_groups(
    session: Session,
    actor: Actor,
    hand: PartInHand,
    section: SectionView,
    items: Sequence[ItemRequest],
    *,
    due_on: date,
    exceptions: Mapping[UUID, str],
) -> list[RecipientGroup]:
    """The drills of a section, and apart of students with an exception.

    Raises:
        NotForInstrument, CrumbError: the drills cannot be made for it.
    """
    reading = reading_of(session, actor, hand, section)
    got = [_for_reading(reading, wish) for wish in items]
    plain = tuple(s for s in section.students if s[0] not in exceptions)
    made = [RecipientGroup(section, plain, reading, tuple(got), due_on)] if plain else []
    for student in section.students:
        kind = exceptions.get(student[0])
        if kind is None:
            continue
        if kind not in EXCEPTIONS:
            raise NotAccepted(f"There is no exception called {kind[:20]}.")
        made.append(_excepted(session, reading, section, student, got, due_on, kind))
    return made


def _excepted(
    session: Session,
    reading: PartInHand,
    section: SectionView,
    student: tuple[UUID, str],
    got: Sequence[ReceivedItem],
    due_on: date,
    kind: str,
) -> RecipientGroup:
    items = list(got)
    why = ""
    if kind == ABSENT:
        due_on += _LATER
    elif kind == INJURED:
        items = [_silent(reading, item) for item in got]
    elif kind == OWN_ORDER:
        items.sort(key=lambda item: item.span.start)
    elif kind == SMALLER:
        items = _once(small for item in got for small in _smaller(reading, item))
    elif kind == AHEAD:
        levels = levels_of(session, reading, [student[0]])
        items = [i for i in got if levels.get((student[0], _key(i.span)), 0) < AT_TEMPO]
        why = "" if items else "Everything here is at tempo already."
    return RecipientGroup(section, (student,), reading, tuple(items), due_on, kind, why)


def _for_reading(reading: PartInHand, wish: ItemRequest) -> ReceivedItem:
    """A wish made for the notation a section reads; another drill where that one finds nothing."""
    part = reading.part
    span = wish.chunk.span
    if span.end.index > len(part.measures):
        raise NotAccepted(f"{reading.row.name} has no measures {wish.chunk.label}.")
    note = ""
    drill, settings = wish.drill, wish.settings
    try:
        worked = work_out(reading, span, drill, settings, wish.ladder)
    except DrillDoesNotFit as error:
        passage = passage_of(part, span)
        offered = error.facts.get("instead")
        names = [*(offered if isinstance(offered, list) else []), *_SIGHTLESS]
        drill = next((name for name in names if fits(passage, name)), "")
        if not drill:
            raise
        note = f"{drill_kind(drill).title} in place of {drill_kind(wish.drill).title}"
        worked = work_out(reading, span, drill, {}, wish.ladder)
    return ReceivedItem(
        span, span_label(part, span), worked, wish.ladder, wish.role, note, wish.every
    )


def _silent(reading: PartInHand, item: ReceivedItem) -> ReceivedItem:
    """The item without the instrument: named, or else counted."""
    passage = passage_of(reading.part, item.span)
    name = next((n for n in _SILENT if fits(passage, n)), None)
    if name is None:
        return replace(item, note="To listen to and follow only")
    worked = work_out(reading, item.span, name, {}, item.ladder)
    return replace(item, worked=worked, note="Without the instrument")


def _smaller(reading: PartInHand, item: ReceivedItem) -> list[ReceivedItem]:
    """The item on the pieces of its chunk; as it is where the chunk is as small as one gets."""
    part = reading.part
    try:
        edges = proposals.inner(part, item.span, 1)
    except CrumbError:
        return [item]
    cuts = [e.at for e in edges if item.span.start < e.at < item.span.end]
    starts, ends = [item.span.start, *cuts], [*cuts, item.span.end]
    pieces = []
    for start, end in zip(starts, ends, strict=True):
        span = _piece(part, item.span, start, end)
        passage = passage_of(part, span)
        if not passage.attacks and not passage.is_blank:
            continue
        drill = item.worked.drill
        name = drill.name if fits(passage, drill.name) else DrillName.ALONE
        settings = drill.settings if name == drill.name else {}
        try:
            worked = work_out(reading, span, name, settings, item.ladder)
        except CrumbError:
            worked = work_out(reading, span, DrillName.ALONE, {}, item.ladder)
        pieces.append(
            replace(item, span=span, label=span_label(part, span), worked=worked, note="Smaller")
        )
    return pieces or [item]


def _once(items: Iterable[ReceivedItem]) -> list[ReceivedItem]:
    """Each drill on each piece once: two that do not fit both became the same plain one."""
    kept: dict[tuple[str, Span], ReceivedItem] = {}
    for item in items:
        kept.setdefault((item.worked.drill.name, item.span), item)
    return list(kept.values())


def _piece(part: Part, whole: Span, start: Position, end: Position) -> Span:
    if end == whole.end:
        return Span(start, end, whole.landing)
    return Span(start, end, bool(landing_notes(part, end)))


SpanKey = tuple[int, Fraction, int, Fraction]


def _key(span: Span) -> SpanKey:
    return (span.start.index, span.start.at, span.end.index, span.end.at)


def levels_of(
    session: Session, reading: PartInHand, students: Sequence[UUID]
) -> dict[tuple[UUID, SpanKey], int]:
    """Students' levels on the chunks of a part, by the chunk's span."""
    rows = mastery.levels_on_spans(session, reading.row.id, students)
    return {(student, (a, b, c, d)): level for student, level, a, b, c, d in rows}


def level_on(levels: Mapping[tuple[UUID, SpanKey], int], student_id: UUID, span: Span) -> int:
    """A student's level on a span, 0 where nothing is known."""
    return levels.get((student_id, _key(span)), 0)
