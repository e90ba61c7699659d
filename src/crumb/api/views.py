"""From what services return to what goes over the wire."""

from collections.abc import Iterable, Mapping, Sequence
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.api import schemas as s
from crumb.core.drills import DrillKind, drill_kind
from crumb.core.drills.ranking import Ranked, Situation
from crumb.core.drills.recipes import RecipeItem
from crumb.core.score.address import span_label
from crumb.core.score.marks import KINDS
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Sound, beat_positions
from crumb.core.split.order import ordered
from crumb.core.split.proposals import seams
from crumb.core.tempo.climb import Climb
from crumb.core.tempo.ladder import start_tempo
from crumb.services.bench import LadderSettings, StepView, Worked, engraved, fastest_notes
from crumb.services.kinship import KinView
from crumb.services.music import PartInHand
from crumb.services.practice import TodayItem
from crumb.services.preparing import instrument_of
from crumb.services.splitting import ChunkView, MapView
from crumb.services.surveying import survey_of
from crumb.services.wall import Cell
from crumb.services.who import Who
from crumb.store.tables import Mark, Piece, PiecePart


def part_out(row: PiecePart, section_ids: Sequence[UUID] = ()) -> s.PartOut:
    """A part at a glance."""
    return s.PartOut(
        id=row.id,
        name=row.name,
        instrument=row.instrument,
        goal_bpm=float(row.goal_bpm),
        played_on=row.played_on,
        is_set_aside=row.is_set_aside,
        section_ids=list(section_ids),
        **{**_UNSAID, **row.facts},
    )


# Facts that parts brought in by an earlier version do not have yet.
_UNSAID = {"transpose": 0, "playing_seconds": 0.0, "measures_played": 0}


def piece_out(
    piece: Piece, parts: list[PiecePart], sections: Mapping[UUID, Sequence[UUID]]
) -> s.PieceOut:
    """A piece with its parts and who plays them."""
    return s.PieceOut(
        id=piece.id,
        title=piece.title,
        composer=piece.composer,
        file_name=piece.file_name,
        created_at=piece.created_at,
        parts=[part_out(row, sections.get(row.id, ())) for row in parts],
        report=[s.ReportLine(**line) for line in piece.report],
    )


def measures_out(hand: PartInHand) -> list[s.MeasureOut]:
    """The measures as a score view needs them."""
    beats: dict[int, list[str]] = {}
    for place in beat_positions(hand.part):
        beats.setdefault(place.index, []).append(str(place.at))
    return [
        s.MeasureOut(number=m.number, length=str(m.length), beats=beats.get(m.index, []))
        for m in hand.part.measures
    ]


def part_detail(piece: Piece, hand: PartInHand) -> s.PartDetail:
    """A part for the Splitter."""
    return s.PartDetail(
        piece_id=piece.id,
        title=piece.title,
        composer=piece.composer,
        part=part_out(hand.row),
        beat=str(hand.beat),
        start_bpm=float(start_tempo(hand.row.goal_bpm)),
        measures=measures_out(hand),
    )


def position_out(position: Position) -> s.PositionOut:
    """A position."""
    return s.PositionOut(index=position.index, at=str(position.at))


def position_in(position: s.PositionOut) -> Position:
    """A position from the wire."""
    return Position(position.index, Fraction(position.at))


def chunk_out(chunk: ChunkView) -> s.ChunkOut:
    """A chunk."""
    return s.ChunkOut(
        id=chunk.id,
        label=chunk.label,
        start=position_out(chunk.span.start),
        end=position_out(chunk.span.end),
        landing=chunk.span.landing,
    )


def map_out(hand: PartInHand, view: MapView) -> s.MapOut:
    """A chunk map with its seams and its order worked out."""
    spans = [c.span for c in view.chunks]
    places = [c.id for c in view.chunks]
    by_hand = [places.index(i) for i in view.order.by_hand if i in places]
    order = ordered(hand.part, survey_of(hand), spans, view.order.kind, by_hand)
    return s.MapOut(
        version=view.version,
        edit=view.edit,
        can_undo=view.can_undo,
        can_redo=view.can_redo,
        chunks=[chunk_out(c) for c in view.chunks],
        levels=[[chunk_out(c) for c in level] for level in view.levels],
        edges=[
            s.EdgeOut(at=position_out(e.at), depth=e.depth, reasons=list(e.reasons))
            for e in view.edges
        ],
        seams=[
            s.SeamOut(
                label=span_label(hand.part, seam),
                start=position_out(seam.start),
                end=position_out(seam.end),
            )
            for seam in seams(hand.part, spans)
        ],
        order=s.OrderOut.model_validate(
            {
                "kind": view.order.kind,
                "chunk_ids": [places[i] for i in order.places],
                "why": order.why,
            }
        ),
        section_id=view.section_id,
    )


def survey_out(hand: PartInHand) -> s.SurveyOut:
    """A survey."""
    found = survey_of(hand)
    return s.SurveyOut(
        instrument=found.instrument,
        crux=found.crux,
        crux_number=found.measures[found.crux].number,
        measures=[
            s.MeasureLoadOut(
                load=m.load,
                beats=list(m.beats),
                notes_per_second=m.notes_per_second,
                spots=[
                    s.SpotOut(at=position_out(x.at), kind=x.kind, why=x.why, weight=x.weight)
                    for x in m.spots
                ],
            )
            for m in found.measures
        ],
        objectives=[
            s.ObjectiveOut(kind=o.kind, text=o.text, measures=list(o.measures))
            for o in found.objectives
        ],
    )


def kin_out(view: KinView) -> s.KinOut:
    """A kin link."""
    link = view.link
    ends = (
        (link.a_part_id, view.a_part, view.a_label, link.a_first, link.a_last),
        (link.b_part_id, view.b_part, view.b_label, link.b_first, link.b_last),
    )
    a, b = (
        s.StretchOut(part_id=part_id, part=part, label=label, first=first, last=last)
        for part_id, part, label, first, last in ends
    )
    return s.KinOut(
        id=link.id,
        a=a,
        b=b,
        relation=s.Relation(link.relation),
        text=view.text,
        verdict=None if link.verdict is None else s.Verdict(link.verdict),
        differs=len(link.differs),
    )


def mark_out(mark: Mark, who: Who) -> s.MarkOut:
    """A mark."""
    return s.MarkOut(
        id=mark.id,
        layer=s.Layer(mark.layer),
        kind=mark.kind,
        name=KINDS[mark.kind],
        text=mark.text,
        at=s.PositionOut(index=mark.index, at=str(mark.at)),
        section_id=mark.section_id,
        is_mine=mark.author_id == who.person_id,
    )


def drill_out(kind: DrillKind) -> s.DrillOut:
    """A catalogue entry."""
    return s.DrillOut(
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
            s.ParameterOut(
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


def ladder_in(ladder: s.LadderIn) -> LadderSettings:
    """A ladder from the wire."""
    return LadderSettings(
        start=s.to_fraction(ladder.start_bpm),
        goal=s.to_fraction(ladder.goal_bpm),
        step=s.to_fraction(ladder.step_bpm),
    )


def worked_out(
    session: Session,
    worked: Worked,
    chunk: ChunkView,
    layout: str,
    hand: PartInHand,
    drawn: int = 999,
) -> s.WorkedOut:
    """A drill worked out, its first steps drawn."""
    part = hand.part
    return s.WorkedOut(
        drill=worked.drill.name,
        title=drill_kind(worked.drill.name).title,
        chunk=chunk_out(chunk),
        settings=worked.drill.settings,
        beat=str(worked.beat),
        beats_in_measure=worked.beats_in_measure,
        rungs=[float(rung) for rung in worked.rungs],
        cycle_seconds=float(worked.cycle_seconds),
        climb_seconds=float(worked.climb_seconds),
        notes_per_second_at_goal=float(fastest_notes(worked, worked.goal)),
        at_goal=worked.drill.at_goal,
        turned=worked.turned[0],
        notes=worked.turned[1],
        family=instrument_of(part).family,
        steps=[_step_out(part, view) for view in engraved(session, worked, layout, drawn)],
    )


def _step_out(part: Part, view: StepView) -> s.StepOut:
    step = view.step
    return s.StepOut(
        name=step.name,
        kind=step.kind,
        repetitions=step.repetitions,
        quarters=str(step.quarters),
        click=str(step.click),
        click_at=str(step.click_at),
        pace=float(step.pace),
        slip=step.slip,  # type: ignore[arg-type]
        say=step.say,
        as_written=step.as_written,
        burst_bpm=None if view.burst_tempo is None else float(view.burst_tempo),
        svg=view.svg,
        sounds=sounds_out(part, step.sounds),
    )


def sounds_out(part: Part, found: Iterable[Sound]) -> list[s.SoundOut]:
    """What sounds, at sounding pitch; grace notes are left to the player."""
    return [
        s.SoundOut(
            at=str(sound.at),
            duration=str(sound.duration),
            midi=part.transposition.sounding(sound.pitch).midi if sound.pitch else None,
            note=sound.note_id,
        )
        for sound in found
        if not sound.grace
    ]


def ranking_out(found: Sequence[Ranked], situation: Situation) -> s.RankingOut:
    """Drills for a chunk, best first."""
    return s.RankingOut(
        level=situation.level,
        days_left=situation.days_left,
        drills=[
            s.RankedOut(
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


def recipe_items_out(items: Iterable[RecipeItem]) -> list[s.RecipeItemIO]:
    """Drills of a recipe."""
    return [
        s.RecipeItemIO.model_validate(
            {"stage": item.stage, "drill": item.drill, "settings": dict(item.settings)}
        )
        for item in items
    ]


def climb_out(climb: Climb) -> s.ClimbOut:
    """Where a student stands on a ladder."""
    return s.ClimbOut(
        tempo=float(climb.tempo),
        step=climb.step,
        in_a_row=climb.in_a_row,
        slips_in_a_row=climb.slips_in_a_row,
        done=sorted(climb.done),
        cycles=climb.cycles,
        is_finished=climb.is_finished,
        told=climb.told,
        last_at=None if climb.last_at is None else float(climb.last_at),
    )


def today_out(line: TodayItem) -> s.TodayItemOut:
    """A line of today's list."""
    return s.TodayItemOut(
        item_id=line.item.id,
        title=line.title,
        part=line.part_name,
        chunk=line.chunk.label,
        drill=drill_kind(line.item.drill).title,
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


def cell_out(cell: Cell) -> s.CellOut:
    """Where a student stands on a chunk."""
    return s.CellOut(level=cell.level, why=cell.why, last_played_at=cell.last_played_at)
