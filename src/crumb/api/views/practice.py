"""Practice as it goes over the wire."""

from collections.abc import Sequence
from fractions import Fraction

from crumb.api.schemas.practice import (
    ClimbOut,
    DiaryOut,
    LineIn,
    LineOut,
    NewsOut,
    OtherOut,
    SlipIn,
    SlipKindOut,
    TodayItemOut,
    WayOut,
    WaysOut,
)
from crumb.core.drills.alternatives import Other
from crumb.core.drills.comparison import Comparison
from crumb.core.drills.sent import SentDrill
from crumb.core.evidence.diary import DiaryKind, Line, seconds_by_category
from crumb.core.evidence.slips import LABELS, judged
from crumb.core.score.position import Position
from crumb.core.tempo.climb import Climb
from crumb.services.evidence.diary import LineSaid, News, SlipSaid
from crumb.services.practice.today import TodayItem


def climb_out(climb: Climb) -> ClimbOut:
    """State of a student's climb."""
    return ClimbOut(
        tempo=float(climb.tempo),
        reach=float(climb.reach),
        step=climb.step,
        in_a_row=climb.in_a_row,
        slips_in_a_row=climb.slips_in_a_row,
        done=sorted(climb.done),
        cycles=climb.cycles,
        is_finished=climb.is_finished,
        told=climb.told,
        last_at=None if climb.last_at is None else float(climb.last_at),
    )


def today_out(line: TodayItem) -> TodayItemOut:
    """A line of today's list."""
    return TodayItemOut(
        item_id=line.item.id,
        title=line.title,
        part=line.part_name,
        chunk=line.chunk.label,
        drill=line.drill.title,
        minutes=line.seconds / 60,
        tempo=float(line.climb.tempo),
        goal_bpm=float(line.item.goal_bpm),
        is_finished=line.climb.is_finished,
        due_on=line.due_on,
        level=line.level,
        role=line.item.role,  # type: ignore[arg-type]
        note=line.item.note,
        rests=line.rests,
        waits=line.waits,
        is_at_goal=line.is_at_goal,
    )


def slip_kinds_out(drill: SentDrill) -> list[SlipKindOut]:
    """Kinds of slip that a drill judges."""
    counts = judged(drill.drill, drill.settings)
    return [
        SlipKindOut(kind=kind, label=label, is_judged=kind in counts)
        for kind, label in LABELS.items()
    ]


def other_out(other: Other) -> OtherOut:
    """A drill that may be taken in another's place."""
    return OtherOut(drill=other.kind.name, title=other.kind.title, why=other.why)


def slip_in(slip: SlipIn) -> SlipSaid:
    """Details of a slip, from the wire."""
    at = None if slip.at is None else Position(slip.at.index, Fraction(slip.at.at))
    return SlipSaid(slip.id, slip.repetition_id, at, slip.what)


def line_in(line: LineIn) -> LineSaid:
    """A line of a diary, from the wire."""
    said = line.model_dump(mode="json", exclude={"id", "at", "kind", "item_id"})
    return LineSaid(line.id, DiaryKind(line.kind), line.at, line.item_id, said)


def line_out(line: Line) -> LineOut:
    """A line of a diary."""
    return LineOut(at=line.at, day=line.day, kind=line.kind, said=dict(line.said))  # type: ignore[arg-type]


def diary_out(lines: Sequence[Line]) -> DiaryOut:
    """A diary."""
    return DiaryOut(
        seconds=seconds_by_category(reversed(lines)), lines=[line_out(line) for line in lines]
    )


def news_out(news: News) -> NewsOut:
    """A line that a teacher should see."""
    return NewsOut(student_id=news.student_id, student=news.student, line=line_out(news.line))


def ways_out(found: Comparison) -> WaysOut:
    """Two ways compared."""
    return WaysOut(
        ways=[
            WayOut(
                name=way.name,
                clean=way.clean,
                tries=way.tries,
                sure_bpm=None if way.sure_at is None else float(way.sure_at),
                intonation=None if way.intonation is None else float(way.intonation),
                tone=None if way.tone is None else float(way.tone),
            )
            for way in found.ways
        ],
        verdict=found.verdict,
    )
