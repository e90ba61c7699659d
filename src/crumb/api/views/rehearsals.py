"""Answers about rehearsals, and the sectionals that students lead."""

from crumb.api.schemas.rehearsals import (
    HomeLineOut,
    MeanwhileOut,
    RehearsalItemOut,
    RehearsalOut,
    RoomDrillOut,
    WrittenKeyOut,
)
from crumb.core.rehearsal.planner import RehearsalItem
from crumb.core.rehearsal.room_drills import RoomDrill
from crumb.services.rehearsal.rehearsals import KeptRehearsal


def item_out(item: RehearsalItem) -> RehearsalItemOut:
    """A line of a rehearsal, thought of or kept."""
    return RehearsalItemOut(
        kind=item.kind,
        name=item.name,
        minutes=item.minutes,
        why=item.why,
        do=item.do,
        tempo_bpm=item.tempo,
        drill=None if item.drill is None else _drill_out(item.drill),
        sections=list(item.sections),
        meanwhile=[MeanwhileOut(section=one.section, say=one.say) for one in item.meanwhile],
        written=[WrittenKeyOut(section=section, key=key) for section, key in item.written],
    )


def _drill_out(drill: RoomDrill) -> RoomDrillOut:
    return RoomDrillOut(
        key=drill.key, title=drill.title, percussion=drill.percussion, times=drill.times
    )


def rehearsal_out(kept: KeptRehearsal) -> RehearsalOut:
    """A rehearsal that is kept."""
    row = kept.row
    return RehearsalOut(
        id=row.id,
        piece_id=row.piece_id,
        title=kept.title,
        section_id=row.section_id,
        section=kept.section,
        day=row.day,
        minutes=row.minutes,
        items=[item_out(line.item) for line in kept.items],
        absent=list(row.absent),
        done=kept.done,
        ended_at=row.ended_at,
        sent_home_at=row.sent_home_at,
        home=[
            HomeLineOut(section=one.section, place=one.place, drill=one.drill, left=one.left)
            for one in kept.home
        ],
    )
