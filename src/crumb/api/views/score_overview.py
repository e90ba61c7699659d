"""Answers about a score as a whole, split and sent for everybody."""

from collections.abc import Iterable

from crumb.api.schemas.score_overview import (
    BottleneckOut,
    DeskOfScore,
    PassageOut,
    ScoreOut,
    SectionOnOut,
    SentToOut,
)
from crumb.services.score_overview.overview import ScoreView
from crumb.services.score_overview.sending import SentTo


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
