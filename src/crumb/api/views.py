"""From what services return to what goes over the wire."""

from collections.abc import Iterable, Mapping, Sequence
from fractions import Fraction
from uuid import UUID

from crumb.api.schemas.common import PositionOut, to_fraction
from crumb.api.schemas.drills import (
    DrillOut,
    LadderIn,
    ParameterOut,
    RankedOut,
    RankingOut,
    RecipeItemIO,
    SoundOut,
    StepOut,
    WorkedOut,
)
from crumb.api.schemas.marks import Layer, MarkOut
from crumb.api.schemas.music import (
    MeasureLoadOut,
    MeasureOut,
    ObjectiveOut,
    PartDetail,
    PartOut,
    PieceOut,
    ReportLine,
    SpotOut,
    SurveyOut,
)
from crumb.api.schemas.practice import ClimbOut, TodayItemOut
from crumb.api.schemas.splitting import (
    ChunkOut,
    EdgeOut,
    KinOut,
    MapOut,
    OrderOut,
    Relation,
    SeamOut,
    StretchOut,
    Verdict,
)
from crumb.api.schemas.wall import CellOut
from crumb.core.drills import DrillKind
from crumb.core.drills.ranking import Ranked, Situation
from crumb.core.drills.recipes import RecipeItem
from crumb.core.drills.sent import SentDrill, SentStep
from crumb.core.score.address import span_label
from crumb.core.score.marks import KINDS
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Sound, beat_positions
from crumb.core.split.order import ordered
from crumb.core.split.proposals import seams
from crumb.core.tempo.climb import Climb
from crumb.core.tempo.ladder import start_tempo
from crumb.services.drills.working import LadderSettings
from crumb.services.maps.chunks import ChunkView, MapView
from crumb.services.music.kinship import KinView
from crumb.services.music.library import PartInHand
from crumb.services.music.surveying import survey_of
from crumb.services.practice.today import TodayItem
from crumb.services.standings.wall import Cell
from crumb.services.who import Who
from crumb.store.codecs.facts import facts_from_json, facts_to_json
from crumb.store.codecs.reports import report_from_json
from crumb.store.tables import Mark, Piece, PiecePart


def part_out(row: PiecePart, section_ids: Sequence[UUID] = ()) -> PartOut:
    """A part at a glance."""
    return PartOut(
        id=row.id,
        name=row.name,
        instrument=row.instrument,
        goal_bpm=float(row.goal_bpm),
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
    )


def measures_out(hand: PartInHand) -> list[MeasureOut]:
    """The measures as a score view needs them."""
    beats: dict[int, list[str]] = {}
    for place in beat_positions(hand.part):
        beats.setdefault(place.index, []).append(str(place.at))
    return [
        MeasureOut(number=m.number, length=str(m.length), beats=beats.get(m.index, []))
        for m in hand.part.measures
    ]


def part_detail(piece: Piece, hand: PartInHand) -> PartDetail:
    """A part for the Splitter."""
    return PartDetail(
        piece_id=piece.id,
        title=piece.title,
        composer=piece.composer,
        part=part_out(hand.row),
        beat=str(hand.beat),
        start_bpm=float(start_tempo(hand.row.goal_bpm)),
        measures=measures_out(hand),
    )


def position_out(position: Position) -> PositionOut:
    """A position."""
    return PositionOut(index=position.index, at=str(position.at))


def position_in(position: PositionOut) -> Position:
    """A position from the wire."""
    return Position(position.index, Fraction(position.at))


def chunk_out(chunk: ChunkView) -> ChunkOut:
    """A chunk."""
    return ChunkOut(
        id=chunk.id,
        label=chunk.label,
        start=position_out(chunk.span.start),
        end=position_out(chunk.span.end),
        landing=chunk.span.landing,
    )


def map_out(hand: PartInHand, view: MapView) -> MapOut:
    """A chunk map with its seams and its order worked out."""
    spans = [c.span for c in view.chunks]
    places = [c.id for c in view.chunks]
    by_hand = [places.index(i) for i in view.order.by_hand if i in places]
    order = ordered(hand.part, survey_of(hand), spans, view.order.kind, by_hand)
    return MapOut(
        version=view.version,
        edit=view.edit,
        can_undo=view.can_undo,
        can_redo=view.can_redo,
        chunks=[chunk_out(c) for c in view.chunks],
        levels=[[chunk_out(c) for c in level] for level in view.levels],
        edges=[
            EdgeOut(at=position_out(e.at), depth=e.depth, reasons=list(e.reasons))
            for e in view.edges
        ],
        seams=[
            SeamOut(
                label=span_label(hand.part, seam),
                start=position_out(seam.start),
                end=position_out(seam.end),
            )
            for seam in seams(hand.part, spans)
        ],
        order=OrderOut.model_validate(
            {
                "kind": view.order.kind,
                "chunk_ids": [places[i] for i in order.places],
                "why": order.why,
            }
        ),
        section_id=view.section_id,
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
        verdict=None if link.verdict is None else Verdict(link.verdict),
        differs=len(link.differs),
    )


def mark_out(mark: Mark, who: Who) -> MarkOut:
    """A mark."""
    return MarkOut(
        id=mark.id,
        layer=Layer(mark.layer),
        kind=mark.kind,
        name=KINDS[mark.kind],
        text=mark.text,
        at=PositionOut(index=mark.index, at=str(mark.at)),
        section_id=mark.section_id,
        is_mine=mark.author_id == who.person_id,
    )


def drill_out(kind: DrillKind) -> DrillOut:
    """A catalogue entry."""
    return DrillOut(
        name=kind.name,
        title=kind.title,
        family=kind.family,
        use_when=kind.use_when,
        how=kind.how,
        clean_means=kind.clean_means,
        on_slip=kind.on_slip,
        needs=kind.needs,
        caution=kind.caution,
        at_goal=kind.at_goal,
        least_level=kind.least_level,
        parameters=[
            ParameterOut(
                name=p.name,
                label=p.label,
                default=p.default,
                choices=list(p.choices),
                low=p.low,
                high=p.high,
                is_text=p.is_text,
                by_level=dict(p.by_level),
            )
            for p in kind.parameters
        ],
    )


def ladder_in(ladder: LadderIn) -> LadderSettings:
    """A ladder from the wire."""
    return LadderSettings(
        start=to_fraction(ladder.start_bpm),
        goal=to_fraction(ladder.goal_bpm),
        step=to_fraction(ladder.step_bpm),
    )


def worked_out(drill: SentDrill, chunk: ChunkView, drawings: Sequence[str | None]) -> WorkedOut:
    """A drill with the drawings of its steps, as far as there are any."""
    drawn = [*drawings, *[None] * len(drill.steps)]
    return WorkedOut(
        drill=drill.drill,
        title=drill.title,
        chunk=chunk_out(chunk),
        settings=drill.settings,
        beat=str(drill.beat),
        beats_in_measure=drill.beats_in_measure,
        rungs=[float(rung) for rung in drill.rungs],
        cycle_seconds=float(drill.cycle_seconds),
        climb_seconds=float(drill.climb_seconds),
        notes_per_second_at_goal=float(drill.fastest_at_goal),
        at_goal=drill.at_goal,
        turned=drill.turned,
        notes=drill.notes,
        family=drill.family,
        steps=[_step_out(drill, s, svg) for s, svg in zip(drill.steps, drawn, strict=False)],
    )


def _step_out(drill: SentDrill, step: SentStep, svg: str | None) -> StepOut:
    burst = step.burst_tempo(drill.goal)
    return StepOut(
        name=step.name,
        kind=step.kind,
        repetitions=step.repetitions,
        quarters=str(step.quarters),
        click=str(step.click),
        click_at=str(step.click_at),
        pace=float(step.pace),
        slip=step.slip.value,
        say=step.say,
        as_written=step.as_written,
        burst_bpm=None if burst is None else float(burst),
        svg=svg,
        sounds=[
            SoundOut(at=str(s.at), duration=str(s.duration), midi=s.midi, note=s.note_id)
            for s in step.sounds
        ],
    )


def sounds_out(part: Part, found: Iterable[Sound]) -> list[SoundOut]:
    """What sounds, at sounding pitch; grace notes are left to the player."""
    return [
        SoundOut(
            at=str(sound.at),
            duration=str(sound.duration),
            midi=part.transposition.sounding(sound.pitch).midi if sound.pitch else None,
            note=sound.note_id,
        )
        for sound in found
        if not sound.grace
    ]


def ranking_out(found: Sequence[Ranked], situation: Situation) -> RankingOut:
    """Drills for a chunk, best first."""
    return RankingOut(
        level=situation.level,
        days_left=situation.days_left,
        drills=[
            RankedOut(
                drill=one.kind.name,
                reasons=list(one.reasons),
                warnings=list(one.warnings),
                refused=one.refused,
                rests=one.rests,
                steps=one.steps,
            )
            for one in found
        ],
    )


def recipe_items_out(items: Iterable[RecipeItem]) -> list[RecipeItemIO]:
    """Drills of a recipe."""
    return [
        RecipeItemIO.model_validate(
            {"stage": item.stage, "drill": item.drill, "settings": dict(item.settings)}
        )
        for item in items
    ]


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
    )


def cell_out(cell: Cell) -> CellOut:
    """Where a student stands on a chunk."""
    return CellOut(level=cell.level, why=cell.why, last_played_at=cell.last_played_at)
