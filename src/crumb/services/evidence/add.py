"""The one writer of evidence: whatever says how a student played comes in here.

In one transaction it is stored and the levels and climbs that follow from it are brought up to
date, under the locks of ``store.queries.locks``. The same thing handed in twice changes nothing.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill
from crumb.core.evidence.doubts import Around, Asked, doubt_of
from crumb.core.evidence.model import Doubt, Evidence, Kind, Rhythm, Source, What
from crumb.core.score.position import Position, Span
from crumb.core.tempo.climb import Climb, is_jump
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence.read import span_of_row
from crumb.services.standings import climbs, levels
from crumb.services.standings.climbs import Place
from crumb.services.standings.levels import Graded
from crumb.services.who import Role, Who
from crumb.store.codecs.sent import drill_from_json
from crumb.store.queries import evidence as kept
from crumb.store.queries import locks, sending
from crumb.store.tables import AssignmentItem, Retraction
from crumb.store.tables import Evidence as EvidenceRow

RULES = 1
"""Which rules a repetition was judged under; raised when doubts or levels are told differently."""


@dataclass(frozen=True, slots=True)
class HandedIn:
    """A repetition of a step that was sent. ``tempo`` is None without a click."""

    id: UUID
    item_id: UUID
    step: int
    tempo: Fraction | None
    is_clean: bool
    at: datetime
    reason: str = ""
    source: Source = Source.SELF


@dataclass(frozen=True, slots=True)
class Noted:
    """A repetition or a hearing of a span of a part that belongs to nothing that was sent."""

    id: UUID
    part_id: UUID
    span: Span
    at: datetime
    tempo: Fraction | None = None
    is_clean: bool | None = True
    kind: Kind = Kind.PROVE
    as_written: bool = True
    is_aided: bool = False
    rhythm: Rhythm = Rhythm.WRITTEN
    source: Source = Source.SELF
    level: int | None = None
    by_id: UUID | None = None
    reason: str = ""
    asked: Asked | None = None
    """What one pass is, where it can be told: what nobody can play is doubted."""


@dataclass(slots=True)
class Changed:
    """What handing in changed, and nothing else: climbs by drill, levels by chunk, doubts by id."""

    climbs: dict[UUID, Climb] = field(default_factory=dict)
    levels: dict[UUID, int] = field(default_factory=dict)
    doubts: dict[UUID, Doubt] = field(default_factory=dict)

    def join(self, other: "Changed") -> None:
        """Take in what something else changed."""
        self.climbs |= other.climbs
        self.levels |= other.levels
        self.doubts |= other.doubts


@dataclass(frozen=True, slots=True)
class _Step:
    """A step that was played, as it was sent."""

    item: sending.SentItem
    drill: SentDrill
    row: Any


def hand_in(
    session: Session,
    who: Who,
    handed_in: Sequence[HandedIn],
    taken_back: Sequence[UUID] = (),
    *,
    now: datetime | None = None,
) -> Changed:
    """Store what a student played on drills that were sent, and what was taken back of it.

    What a step was is read from what was sent, not from the device. What cannot be is kept all the
    same, but proves nothing (``doubts``). A repetition and its taking back may come together.

    Raises:
        NotFound: a drill or step the student was not sent, or nothing of theirs to take back.
        NotAccepted: an id that belongs to somebody else.
    """
    steps = _steps(session, who, handed_in)
    known = kept.owners(session, [one.id for one in handed_in] + list(taken_back))
    if any(owner != who.person_id for owner in known.values()):
        raise NotAccepted("This repetition has the mark of another one; play it again.")
    old = _rows(session, [i for i in taken_back if i in known])
    wanted = {s.item.part_id for s in steps.values()} | {row.part_id for row in old}
    parts = _locked(session, who.person_id, wanted)
    # Anew, now that nobody else can write: another device may have been quicker.
    known = kept.owners(session, [one.id for one in handed_in])
    new = [one for one in handed_in if one.id not in known]
    gone = set(taken_back)
    if not gone <= {row.id for row in old} | {one.id for one in handed_in}:
        raise NotFound("There is no such repetition to take back.")
    changed = Changed()
    if new:
        _add(session, who, new, steps, parts, gone, changed, now or datetime.now(UTC))
    _retract(session, gone)
    _without(session, who.person_id, [row for row in old if row.id in gone], parts, changed)
    session.commit()
    return changed


def note(session: Session, who: Who, student_id: UUID, noted: Sequence[Noted]) -> Changed:
    """Store what was noted of a student outside of anything sent: in free practice, or heard.

    The caller has seen to it that ``who`` may.
    """
    parts = _locked(session, student_id, {one.part_id for one in noted})
    known = kept.owners(session, [one.id for one in noted])
    new = [one for one in noted if one.id not in known]
    changed = Changed()
    now = datetime.now(UTC)
    neighbours = kept.around(session, student_id, [one.at for one in new], but=[])
    rows = [
        _noted_row(who, student_id, one, near, now)
        for one, near in zip(new, neighbours, strict=True)
    ]
    if rows:
        kept.store(session, rows)
    for part in parts.values():
        mine = [_evidence_of(row) for row in rows if row["part_id"] == part.id]
        changed.levels |= levels.fold_in(session, part, student_id, mine)
    changed.doubts = {row["id"]: row["doubt"] for row in rows if row["doubt"]}
    session.commit()
    return changed


def store_ticks(
    session: Session, who: Who, student_id: UUID, handed_in: Sequence[HandedIn]
) -> None:
    """Store what a sheet of paper says a student played, inside a larger change, which commits."""
    student = Who(student_id, who.program_id, Role.STUDENT, time_zone=who.time_zone)
    steps = _steps(session, student, handed_in)
    parts = _locked(session, student_id, {s.item.part_id for s in steps.values()})
    known = kept.owners(session, [one.id for one in handed_in])
    new = [one for one in handed_in if one.id not in known]
    if new:
        _add(session, student, new, steps, parts, set(), Changed(), datetime.now(UTC))


def _steps(
    session: Session, who: Who, handed_in: Sequence[HandedIn]
) -> Mapping[tuple[UUID, int], _Step]:
    if not handed_in:
        return {}
    wanted = {one.item_id for one in handed_in}
    items = sending.sent_items(session, who.program_id, who.person_id, wanted)
    rows = sending.steps_at(session, items, {one.step for one in handed_in})
    drills = {
        i: drill_from_json(item.frozen) for i, item in items.items() if item.frozen is not None
    }
    found: dict[tuple[UUID, int], _Step] = {}
    for one in handed_in:
        if one.item_id not in drills:
            raise NotFound("This is not on your list.")
        key = (one.item_id, one.step)
        if key not in rows:
            raise NotFound("This drill has no such step.")
        found[key] = _Step(items[one.item_id], drills[one.item_id], rows[key])
    return found


def _rows(session: Session, ids: Sequence[UUID]) -> Sequence[EvidenceRow]:
    if not ids:
        return ()
    return session.scalars(select(EvidenceRow).where(EvidenceRow.id.in_(ids))).all()


def _locked(session: Session, student_id: UUID, part_ids: Iterable[UUID]) -> dict[UUID, Graded]:
    """The parts concerned with their later versions, which nobody changes from now on."""
    wanted = set(part_ids)
    locks.share_parts(session, wanted)
    parts = {part_id: levels.graded(session, part_id) for part_id in wanted}
    later = {one.id for part in parts.values() for one in part.everything()} - wanted
    locks.share_parts(session, later)
    locks.have_student(session, student_id)
    return parts


def _add(
    session: Session,
    who: Who,
    new: Sequence[HandedIn],
    steps: Mapping[tuple[UUID, int], _Step],
    parts: Mapping[UUID, Graded],
    gone: set[UUID],
    changed: Changed,
    now: datetime,
) -> None:
    """Store repetitions and fold in what of them stands."""
    in_order = sorted(new, key=lambda one: (one.at, one.id.int))
    items = {one.item_id for one in in_order}
    places = _places(session, who.person_id, items, steps)
    neighbours = kept.around(session, who.person_id, [o.at for o in in_order], but=list(gone))
    rows: list[dict[str, Any]] = []
    late: set[UUID] = set()
    nearest: datetime | None = None
    for one, near in zip(in_order, neighbours, strict=True):
        step = steps[one.item_id, one.step]
        place = places[one.item_id]
        before = max((at for at in (near.before, nearest) if at is not None), default=None)
        doubt = _doubt(one, step, place, Around(before, near.after), now)
        rows.append(_row(who, one, step, doubt))
        if one.id in gone:
            continue
        if doubt in (Doubt.NONE, Doubt.JUMP):
            if one.source is Source.SELF:
                nearest = one.at
            order = (one.at, one.id.int)
            if place.last is not None and order < place.last:
                late.add(one.item_id)
            else:
                made = climbs.played(one.step, one.tempo, one.is_clean, one.at, one.source)
                places[one.item_id] = climbs.advanced(step.drill.plan, place, made, order)
        if doubt:
            changed.doubts[one.id] = doubt
    kept.store(session, rows)
    _retract(session, gone & {one.id for one in in_order})
    for item_id in late:
        plan = next(s.drill.plan for (i, _), s in steps.items() if i == item_id)
        places[item_id] = climbs.climbed_anew(session, plan, item_id, who.person_id)
    kept.save_climbs(session, [climbs.row_of(i, who.person_id, p) for i, p in places.items()])
    changed.climbs |= {i: place.climb for i, place in places.items()}
    for part in parts.values():
        mine = [_evidence_of(r) for r in rows if r["part_id"] == part.id and r["id"] not in gone]
        changed.levels |= levels.fold_in(session, part, who.person_id, mine)


def _places(
    session: Session,
    student_id: UUID,
    items: set[UUID],
    steps: Mapping[tuple[UUID, int], _Step],
) -> dict[UUID, Place]:
    stored = kept.climbs(session, student_id, items)
    plans = {item_id: step.drill.plan for (item_id, _), step in steps.items()}
    return {i: climbs.place_of(plans[i], stored.get(i)) for i in items}


def _doubt(one: HandedIn, step: _Step, place: Place, near: Around, now: datetime) -> Doubt:
    if one.source is Source.PAPER:
        return Doubt.NONE  # a day's ticks have no moments of their own
    row, drill = step.row, step.drill
    asked = Asked(
        quarters=row.quarters / row.pace,
        attacks=row.attacks,
        beat=drill.beat,
        goal=drill.goal,
        sent_at=step.item.sent_at,
    )
    leaps = one.tempo is not None and is_jump(drill.plan, place.climb, one.tempo)
    return doubt_of(asked, tempo=one.tempo, at=one.at, around=near, now=now, is_jump=leaps)


def _row(who: Who, one: HandedIn, step: _Step, doubt: Doubt) -> dict[str, Any]:
    row = step.row
    return {
        "id": one.id,
        "program_id": who.program_id,
        "student_id": who.person_id,
        "part_id": step.item.part_id,
        "what": What.REPETITION,
        "item_id": one.item_id,
        "step": one.step,
        "step_name": row.name,
        "kind": row.kind,
        "as_written": row.as_written,
        "is_aided": row.is_aided,
        "rhythm": row.rhythm,
        "start_index": row.start_index,
        "start_at": row.start_at,
        "end_index": row.end_index,
        "end_at": row.end_at,
        "tempo_bpm": one.tempo,
        "is_clean": one.is_clean,
        "level": None,
        "by_id": None,
        "reason": one.reason[:400],
        "played_at": one.at,
        "local_day": one.at.astimezone(ZoneInfo(who.time_zone)).date(),
        "source": one.source,
        "doubt": doubt,
        "rules": RULES,
    }


def _noted_row(
    who: Who, student_id: UUID, one: Noted, near: Around, now: datetime
) -> dict[str, Any]:
    is_heard = one.level is not None
    if is_heard and one.by_id is None:
        raise NotAccepted("A hearing is somebody's: say whose.")
    doubt = Doubt.NONE
    if one.asked is not None and one.source in (Source.SELF, Source.HELPER):
        doubt = doubt_of(one.asked, tempo=one.tempo, at=one.at, around=near, now=now)
    return {
        "id": one.id,
        "program_id": who.program_id,
        "student_id": student_id,
        "part_id": one.part_id,
        "what": What.HEARING if is_heard else What.REPETITION,
        "item_id": None,
        "step": None,
        "step_name": "",
        "kind": one.kind,
        "as_written": one.as_written,
        "is_aided": one.is_aided,
        "rhythm": one.rhythm,
        "start_index": one.span.start.index,
        "start_at": one.span.start.at,
        "end_index": one.span.end.index,
        "end_at": one.span.end.at,
        "tempo_bpm": one.tempo,
        "is_clean": one.is_clean,
        "level": one.level,
        "by_id": one.by_id,
        "reason": one.reason[:400],
        "played_at": one.at,
        "local_day": one.at.astimezone(ZoneInfo(who.time_zone)).date(),
        "source": one.source,
        "doubt": doubt,
        "rules": RULES,
    }


def _retract(session: Session, gone: Iterable[UUID]) -> None:
    rows = [{"evidence_id": i, "retracted_at": func.now()} for i in sorted(gone)]
    for row in rows:
        session.execute(
            insert(Retraction).values(row).on_conflict_do_nothing(index_elements=["evidence_id"])
        )


def _without(
    session: Session,
    student_id: UUID,
    rows: Sequence[EvidenceRow],
    parts: Mapping[UUID, Graded],
    changed: Changed,
) -> None:
    """Bring levels and climbs up to date after something stored was taken back."""
    by_part: dict[UUID, set[Span]] = {}
    for row in rows:
        by_part.setdefault(row.part_id, set()).add(span_of_row(row))
    for part_id, spans in by_part.items():
        changed.levels |= levels.refold_spans(session, parts[part_id], student_id, list(spans))
    for item_id in {row.item_id for row in rows if row.item_id is not None}:
        item = session.get_one(AssignmentItem, item_id)
        place = climbs.climbed_anew(session, sending.drill_of(item).plan, item_id, student_id)
        kept.save_climbs(session, [climbs.row_of(item_id, student_id, place)])
        changed.climbs[item_id] = place.climb


def _evidence_of(row: Mapping[str, Any]) -> Evidence:
    return Evidence(
        span=Span(
            Position(row["start_index"], row["start_at"]), Position(row["end_index"], row["end_at"])
        ),
        at=row["played_at"],
        id=row["id"].int,
        what=row["what"],
        tempo=row["tempo_bpm"],
        is_clean=bool(row["is_clean"]),
        kind=Kind(row["kind"]),
        as_written=row["as_written"],
        is_aided=row["is_aided"],
        rhythm=Rhythm(row["rhythm"]),
        source=row["source"],
        level=row["level"],
        doubt=row["doubt"],
    )
