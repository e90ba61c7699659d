"""What a student sees of practice, as it goes over the wire."""

from crumb.api.schemas.practice import ClimbOut, TodayItemOut, WayOut, WaysOut
from crumb.core.drills.comparing import Comparison
from crumb.core.tempo.climb import Climb
from crumb.services.practice.today import TodayItem


def climb_out(climb: Climb) -> ClimbOut:
    """Where a student stands on a ladder."""
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
