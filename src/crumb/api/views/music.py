"""Pieces, parts, surveys and kin, as they go over the wire."""

from collections.abc import Mapping, Sequence
from uuid import UUID

from crumb.api.schemas.music import (
    MeasureLoadOut,
    MeasureOut,
    ObjectiveOut,
    PageMapOut,
    PartDetail,
    PartOut,
    PieceOut,
    ReportLine,
    SpotOut,
    SurveyOut,
)
from crumb.api.schemas.splitting import (
    KinOut,
    StretchOut,
)
from crumb.api.views.places import position_out
from crumb.core.instruments.table import instrument_named
from crumb.core.score.model import ZERO
from crumb.core.score.naming import measure_name
from crumb.core.score.page_map import page_map_of
from crumb.core.score.position import beat_of, beat_positions
from crumb.core.similarity.model import Relation
from crumb.core.vocabulary import KinVerdict
from crumb.services.library.pieces import PartInHand
from crumb.services.library.surveys import survey_of
from crumb.services.music.kin import KinView
from crumb.store.codecs.facts import facts_from_json, facts_to_json
from crumb.store.codecs.reports import report_from_json
from crumb.store.tables import Piece, PiecePart


def part_out(row: PiecePart, section_ids: Sequence[UUID] = ()) -> PartOut:
    """A part at a glance."""
    return PartOut(
        id=row.id,
        name=row.name,
        instrument=row.instrument,
        has_pitch=instrument_named(row.played_on or row.instrument).has_pitch,
        goal_bpm=float(row.goal_bpm),
        floor_bpm=None if row.floor_bpm is None else float(row.floor_bpm),
        festival_bpm=None if row.festival_bpm is None else float(row.festival_bpm),
        played_on=row.played_on,
        is_set_aside=row.is_set_aside,
        section_ids=list(section_ids),
        **facts_to_json(facts_from_json(row.facts)),
    )


def piece_out(
    piece: Piece, parts: list[PiecePart], sections: Mapping[UUID, Sequence[UUID]]
) -> PieceOut:
    """A piece with its parts and who plays them."""
    return PieceOut(
        id=piece.id,
        title=piece.title,
        composer=piece.composer,
        file_name=piece.file_name,
        created_at=piece.created_at,
        parts=[part_out(row, sections.get(row.id, ())) for row in parts],
        report=[
            ReportLine(kind=line.kind.value, part=line.part, text=line.text)
            for line in report_from_json(piece.report)
        ],
        objectives=list(piece.objectives),
    )


def measures_out(hand: PartInHand) -> list[MeasureOut]:
    """The measures as a score view needs them."""
    beats: dict[int, list[str]] = {}
    for place in beat_positions(hand.part):
        beats.setdefault(place.index, []).append(str(place.at))
    return [
        MeasureOut(
            number=m.number,
            length=str(m.length),
            beats=beats.get(m.index, []),
            first_beat=int(beat_of(m, ZERO)),
        )
        for m in hand.part.measures
    ]


def part_detail(piece: Piece, hand: PartInHand, section_ids: Sequence[UUID]) -> PartDetail:
    """A part for the Splitter, the bench and for sending; with those who play it."""
    return PartDetail(
        piece_id=piece.id,
        title=piece.title,
        composer=piece.composer,
        part=part_out(hand.row, section_ids),
        beat=str(hand.beat),
        measures=measures_out(hand),
        objectives=list(piece.objectives),
    )


def page_map_out(hand: PartInHand) -> PageMapOut:
    """Lines and pages by the names of their first measures."""
    found = page_map_of(hand.part)
    return PageMapOut(
        lines=[measure_name(hand.part, i) for i in found.lines],
        pages=[measure_name(hand.part, i) for i in found.pages],
        by_hand=hand.row.page_map is not None,
    )


def survey_out(hand: PartInHand) -> SurveyOut:
    """A survey."""
    found = survey_of(hand)
    return SurveyOut(
        instrument=found.instrument,
        crux=found.crux,
        crux_number=found.measures[found.crux].number,
        measures=[
            MeasureLoadOut(
                load=m.load,
                beats=list(m.beats),
                notes_per_second=m.notes_per_second,
                spots=[
                    SpotOut(at=position_out(x.at), kind=x.kind, why=x.why, weight=x.weight)
                    for x in m.spots
                ],
            )
            for m in found.measures
        ],
        objectives=[
            ObjectiveOut(kind=o.kind, text=o.text, measures=list(o.measures))
            for o in found.objectives
        ],
    )


def kin_out(view: KinView) -> KinOut:
    """A kin link."""
    link = view.link
    ends = (
        (link.a_part_id, view.a_part, view.a_label, link.a_first, link.a_last),
        (link.b_part_id, view.b_part, view.b_label, link.b_first, link.b_last),
    )
    a, b = (
        StretchOut(part_id=part_id, part=part, label=label, first=first, last=last)
        for part_id, part, label, first, last in ends
    )
    return KinOut(
        id=link.id,
        a=a,
        b=b,
        relation=Relation(link.relation),
        text=view.text,
        verdict=None if link.verdict is None else KinVerdict(link.verdict),
        differs=len(link.differs),
    )
