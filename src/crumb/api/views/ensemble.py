"""The score as a whole, rehearsals and the Desk, for the wire."""

from collections.abc import Iterable, Sequence
from datetime import date
from uuid import UUID

from crumb.api.schemas.ensemble import (
    BottleneckOut,
    ChunkShownOut,
    DateAheadOut,
    DeskLineOut,
    DeskOfScore,
    DeskOut,
    HomeLineOut,
    LeadingOut,
    MeanwhileOut,
    OwnSectionOut,
    PartShownOut,
    PassageOut,
    RehearsalItemOut,
    RehearsalOut,
    RoomDrillOut,
    ScoreOut,
    SectionOnOut,
    SentToOut,
    WrittenKeyOut,
)
from crumb.core.ensemble.rehearsing import RehearsalItem
from crumb.core.ensemble.room import RoomDrill
from crumb.services.ensemble.desk import DeskView
from crumb.services.ensemble.leading import OwnSection, PartShown
from crumb.services.ensemble.rehearsing import Kept
from crumb.services.ensemble.score import ScoreView
from crumb.services.ensemble.sending import SentTo


def score_out(found: ScoreView) -> ScoreOut:
    """A piece as a whole."""
    neck = found.bottleneck
    return ScoreOut(
        piece_id=found.piece.id,
        title=found.piece.title,
        goal_bpm=float(found.goal),
        floor_bpm=None if found.floor is None else float(found.floor),
        ceiling_bpm=found.ceiling,
        is_split=found.is_split,
        desks=[
            DeskOfScore(
                section_id=desk.section.id,
                section=desk.name,
                part_id=desk.hand.row.id,
                part=desk.hand.row.name,
                students=len(desk.students),
                chunks=len(desk.chunks),
            )
            for desk in found.desks
        ],
        passages=[
            PassageOut(
                name=on.passage.name,
                first=on.passage.first,
                last=on.passage.last,
                seconds=float(on.seconds),
                open=on.open,
                of=on.of,
                kin=sorted(now.kin),
                sections=[
                    SectionOnOut(
                        desk=section.desk,
                        load=section.load,
                        standing=section.standing,
                        at_tempo=section.at_tempo,
                        open=section.open,
                        tempo_bpm=section.tempo,
                    )
                    for section in on.sections
                ],
            )
            for on, now in zip(found.passages, found.now, strict=True)
        ],
        bottleneck=None
        if neck is None
        else BottleneckOut(passage=neck.passage, desk=neck.desk, tempo_bpm=neck.tempo),
    )


def sent_out(found: Iterable[SentTo]) -> list[SentToOut]:
    """Sections that were sent something."""
    return [
        SentToOut(section=one.section, part=one.part, students=one.students, why_not=one.why_not)
        for one in found
    ]


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


def rehearsal_out(kept: Kept) -> RehearsalOut:
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


def desk_out(found: DeskView, today: date) -> DeskOut:
    """What needs a director."""
    return DeskOut(
        more=found.more,
        put_off=found.put_off,
        lines=[
            DeskLineOut(
                key=line.key,
                kind=line.kind.value,
                say=line.say,
                why=line.why,
                student_ids=[UUID(who.id) for who in line.students],
                students=[who.name for who in line.students],
                part_id=UUID(line.part) if line.part else None,
                chunk_id=UUID(line.chunk) if line.chunk else None,
            )
            for line in found.lines
        ],
        dates=[
            DateAheadOut(
                plan_id=one.plan_id,
                piece_id=one.piece_id,
                piece=one.piece,
                part=one.part,
                section=one.section,
                on=one.on,
                days=(one.on - today).days,
            )
            for one in found.dates
        ],
    )


def leading_out(sections: Sequence[OwnSection], shown: Sequence[PartShown]) -> LeadingOut:
    """One's sections with their leaders, and what is shown to oneself."""
    return LeadingOut(
        sections=[
            OwnSectionOut(
                id=one.id,
                name=one.name,
                leaders=list(one.leaders),
                is_led=one.is_led,
                shows=one.shows,
            )
            for one in sections
        ],
        shown=[
            PartShownOut(
                section=one.section,
                title=one.title,
                part=one.part,
                of=one.of,
                chunks=[ChunkShownOut(label=c.label, have=c.have) for c in one.chunks],
            )
            for one in shown
        ],
    )
