"""The Desk: what needs a director today, the most pressing first, each line with its reason.

Rules and numbers are common practice, no source. Nobody is ranked; a line is there for what to do.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from fractions import Fraction
from itertools import groupby

IDLE_DAYS = 5
FADING_DAYS = 3
OWED_DAYS = 3
STUCK_DAYS = 3
_STUCK_SHARE = Fraction(1, 2)
_SEVERAL = 3
_NAMED = 5
_NEAR = {1: "tomorrow", 0: "today", -1: "yesterday"}


class LineKind(StrEnum):
    """Why a line is there, the most pressing first."""

    HURTS = "hurts"
    REFUSED = "refused"
    TAKES = "takes"
    OWED = "owed"
    STUCK = "stuck"
    IDLE = "idle"
    FADING = "fading"


@dataclass(frozen=True, slots=True)
class StudentName:
    """Somebody a line is about."""

    id: str
    name: str


@dataclass(frozen=True, slots=True)
class Said:
    """A student's report that a teacher should see."""

    who: StudentName
    kind: LineKind
    what: str
    day: date


@dataclass(frozen=True, slots=True)
class WeekOn:
    """A student's last week on one drill of a chunk."""

    who: StudentName
    part: str
    chunk: str
    place: str
    days: int
    clean: int
    slips: int
    tempo: Fraction
    goal: Fraction


@dataclass(frozen=True, slots=True)
class LastSeen:
    """When a student with open work practised last; None: never since it was sent."""

    who: StudentName
    sent_on: date
    last: date | None


@dataclass(frozen=True, slots=True)
class Due:
    """A chunk that was kept and is due for a cold check since some day."""

    who: StudentName
    part: str
    place: str
    since: date


@dataclass(frozen=True, slots=True)
class TakesHandedIn:
    """A take of a chunk that nobody heard yet."""

    who: StudentName
    part: str
    chunk: str
    place: str
    on: date


@dataclass(frozen=True, slots=True)
class TakesOwed:
    """Takes a section was asked for: until when, of how many, and who has not handed them in."""

    task: str
    section: str
    due_on: date
    of: int
    missing: tuple[StudentName, ...]


@dataclass(frozen=True, slots=True)
class Line:
    """A line of the Desk. ``key`` tells it from the others for as long as its reason holds."""

    key: str
    kind: LineKind
    say: str
    why: str
    students: tuple[StudentName, ...]
    part: str = ""
    chunk: str = ""


def lines(
    *,
    today: date,
    said: Iterable[Said] = (),
    weeks: Iterable[WeekOn] = (),
    seen: Iterable[LastSeen] = (),
    due: Iterable[Due] = (),
    takes: Iterable[TakesHandedIn] = (),
    asked: Iterable[TakesOwed] = (),
) -> tuple[Line, ...]:
    """Everything that needs a director, the most pressing first; nothing where nothing does."""
    return (
        *_said(said),
        *_takes(takes, today),
        *_owed(asked, today),
        *_stuck(weeks),
        *_idle(seen, today),
        *_fading(due, today),
    )


def is_stuck(week: WeekOn) -> bool:
    """Whether somebody came back to a place day after day and slips there as often as not."""
    played = week.clean + week.slips
    return (
        week.days >= STUCK_DAYS
        and week.tempo < week.goal
        and Fraction(week.slips, max(played, 1)) >= _STUCK_SHARE
    )


_FEELINGS = {"hurts": "that it hurts", "tight": "that it is tight"}


def _said(said: Iterable[Said]) -> Iterable[Line]:
    for one in sorted(
        said, key=lambda s: (s.kind != LineKind.HURTS, -s.day.toordinal(), s.who.name)
    ):
        if one.kind is LineKind.HURTS:
            say = f"{one.who.name} said {_FEELINGS.get(one.what, one.what)}"
            why = "Rest comes first; a clinician decides what it is. Leave out what tires."
        else:
            say = f"{one.who.name} could not hand something in"
            why = one.what
        key = f"{one.kind}:{one.who.id}:{one.day.isoformat()}:{one.what[:20]}"
        yield Line(key, one.kind, say, why, (one.who,))


def _takes(takes: Iterable[TakesHandedIn], today: date) -> Iterable[Line]:
    """Takes of one chunk are heard one after the other: one line for all of them."""
    by_chunk: dict[str, list[TakesHandedIn]] = {}
    for take in takes:
        by_chunk.setdefault(take.chunk, []).append(take)
    for chunk, here in sorted(by_chunk.items(), key=lambda item: min(t.on for t in item[1])):
        oldest = (today - min(take.on for take in here)).days
        waits = "since today" if oldest < 1 else f"for {oldest} {'day' if oldest == 1 else 'days'}"
        # One more take is another reason: a line that was put off comes back with it.
        yield Line(
            f"takes:{chunk}:{len(here)}",
            LineKind.TAKES,
            f"{len(here)} {'take' if len(here) == 1 else 'takes'} of {here[0].place} to hear",
            f"The oldest waits {waits}.",
            tuple({take.who.id: take.who for take in here}.values()),
            here[0].part,
            chunk,
        )


def _owed(asked: Iterable[TakesOwed], today: date) -> Iterable[Line]:
    """From the day before it is due, and for a few days after; then it is no news any more."""
    for task in sorted(asked, key=lambda one: one.due_on):
        left = (task.due_on - today).days
        if not task.missing or not -OWED_DAYS <= left <= 1:
            continue
        when = _NEAR.get(left, f"{-left} days ago")
        names = _named([who.name for who in task.missing])
        yield Line(
            f"owed:{task.task}:{left}",
            LineKind.OWED,
            f"{len(task.missing)} of {task.of} {task.section} have takes to hand in, due {when}",
            f"{names}. Ask what keeps them.",
            task.missing,
        )


def _stuck(weeks: Iterable[WeekOn]) -> Iterable[Line]:
    found = sorted((w for w in weeks if is_stuck(w)), key=lambda w: (w.chunk, w.who.name))
    together, alone = [], []
    for chunk, group in groupby(found, key=lambda week: week.chunk):
        each = _once(group)
        if len(each) >= _SEVERAL:
            names = tuple(week.who for week in each)
            place = each[0].place
            slips = sum(week.slips for week in each)
            together.append(
                Line(
                    f"stuck:{chunk}",
                    LineKind.STUCK,
                    f"{len(each)} are stuck in {place}",
                    f"{slips} slips in the last week, on three days or more each. One fault of"
                    " many is worth minutes in the room.",
                    names,
                    each[0].part,
                    chunk,
                )
            )
        else:
            alone += [_one_stuck(week) for week in each]
    return [*together, *alone]


def _once(group: Iterable[WeekOn]) -> list[WeekOn]:
    """Of several drills of one student on a chunk the one that slipped most."""
    most: dict[str, WeekOn] = {}
    for week in group:
        if week.who.id not in most or week.slips > most[week.who.id].slips:
            most[week.who.id] = week
    return list(most.values())


def _one_stuck(week: WeekOn) -> Line:
    return Line(
        f"stuck:{week.chunk}:{week.who.id}",
        LineKind.STUCK,
        f"{week.who.name} is stuck in {week.place} at {round(week.tempo)}",
        f"{week.slips} of {week.clean + week.slips} slipped, on {week.days} days of the last week."
        " Try another way of drilling it, or a smaller block.",
        (week.who,),
        week.part,
        week.chunk,
    )


def _idle(seen: Iterable[LastSeen], today: date) -> Iterable[Line]:
    found = []
    for one in seen:
        since = max(one.last or one.sent_on, one.sent_on)
        days = (today - since).days
        if days >= IDLE_DAYS:
            found.append((days, one))
    found.sort(key=lambda pair: (-pair[0], pair[1].who.name))
    if len(found) > _SEVERAL:
        yield _all_idle(found)
        return
    for days, one in found:
        why = "Drills are waiting" if one.last else "Nothing was practiced since it was sent"
        yield Line(
            f"idle:{one.who.id}:{(one.last or one.sent_on).isoformat()}",
            LineKind.IDLE,
            f"{one.who.name} has not practiced for {days} days",
            f"{why}. Ask what is in the way; ten minutes are better than none.",
            (one.who,),
        )


def _all_idle(found: Sequence[tuple[int, LastSeen]]) -> Line:
    """Several have the same need: one line, the longest first; with one more it is another line."""
    names = _named([f"{one.who.name} ({days} days)" for days, one in found])
    ids = sorted(one.who.id for _, one in found)
    return Line(
        f"idle:all:{len(ids)}:{ids[0]}:{ids[-1]}",
        LineKind.IDLE,
        f"{len(found)} students have not practiced for {IDLE_DAYS} days or more",
        f"{names}. Drills are waiting. Ask what is in the way; ten minutes are better than none.",
        tuple(one.who for _, one in found),
    )


def _fading(due: Iterable[Due], today: date) -> Iterable[Line]:
    late = [one for one in due if (today - one.since).days >= FADING_DAYS]
    by_student: dict[str, list[Due]] = {}
    for one in sorted(late, key=lambda one: (one.who.name, one.since)):
        by_student.setdefault(one.who.id, []).append(one)
    if len(by_student) > _SEVERAL:
        yield _all_fading(list(by_student.values()), today)
        return
    for found in by_student.values():
        who = found[0].who
        places = ", ".join(one.place for one in found[:3])
        more = f" and {len(found) - 3} more" if len(found) > 3 else ""
        waited = (today - found[0].since).days
        yield Line(
            f"fading:{who.id}:{found[0].since.isoformat()}",
            LineKind.FADING,
            f"{who.name}: cold check of {places}{more}",
            f"Due for {waited} days. Playing fades: hear it once, cold, at goal tempo.",
            (who,),
            found[0].part,
        )


def _all_fading(found: Sequence[Sequence[Due]], today: date) -> Line:
    """Of many students one line: it is the class's habit, not one player's."""
    longest = min(found, key=lambda dues: dues[0].since)
    waited = (today - longest[0].since).days
    return Line(
        f"fading:{len(found) // _SEVERAL}",
        LineKind.FADING,
        f"Cold checks wait for {len(found)} students",
        f"The longest for {waited} days ({longest[0].who.name}, {longest[0].place}). Playing fades:"
        " hear it once, cold, at goal tempo, at the start of a rehearsal.",
        tuple(dues[0].who for dues in found),
        longest[0].part,
    )


def _named(all_: Sequence[str]) -> str:
    """Some of them by name, and how many more there are."""
    others = len(all_) - _NAMED
    return ", ".join(all_[:_NAMED]) + (f" and {others} more" if others > 0 else "")


def most_pressing(found: Sequence[Line], most: int) -> tuple[Line, ...]:
    """The first lines, none of a kind crowded out: every kind has its first one there."""
    first = {line.kind: line for line in reversed(found)}
    kept = found[:most]
    shown = {line.kind for line in kept}
    return (*kept, *(first[kind] for kind in LineKind if kind in first and kind not in shown))
