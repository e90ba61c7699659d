"""Drills, ladders, rankings and recipes, from and to the wire."""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from math import ceil

from crumb.api.schemas.common import to_fraction
from crumb.api.schemas.drills import (
    DrillOut,
    LadderIn,
    LadderOut,
    OtherLadderOut,
    ParameterOut,
    RankedOut,
    RankingOut,
    RecipeItemIO,
    SoundOut,
    StepOut,
    WorkedOut,
)
from crumb.api.views.places import chunk_out
from crumb.core.drills import DrillKind, drill_kind
from crumb.core.drills.ladder_fit import Climb, rungs_within
from crumb.core.drills.ranking import Ranked, Situation
from crumb.core.drills.recipes import RecipeItem
from crumb.core.drills.sent import SentDrill, SentStep
from crumb.core.score.model import Part
from crumb.core.score.naming import span_label
from crumb.core.score.position import Sound
from crumb.core.score.slicing import bars_of
from crumb.services.drills.bench import LadderSettings, Worked
from crumb.services.maps.chunks import ChunkView


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
        stays=kind.stays,
        least_level=kind.least_level,
        parameters=[
            ParameterOut(
                name=p.name,
                label=p.label,
                default=p.default,
                choices=list(p.choices),
                choice_labels=list(p.choices),
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
        start=None if ladder.start_bpm is None else to_fraction(ladder.start_bpm),
        goal=to_fraction(ladder.goal_bpm),
        step=None if ladder.step_bpm is None else to_fraction(ladder.step_bpm),
        minutes=ladder.minutes,
        scale=ladder.scale,
        way=ladder.way,
    )


def ladder_out(worked: Worked, minutes: int) -> LadderOut | None:
    """The ladder of a drill that climbs one, and what others would cost."""
    if worked.fitted is None:
        return None
    steps = worked.drill.steps
    return LadderOut(
        start_bpm=float(worked.start),
        step_bpm=float(worked.step),
        minutes=minutes,
        today=rungs_within(
            steps, rungs=worked.rungs, beat=worked.beat, seconds=Fraction(minutes * 60)
        ),
        finer=_climb_out(worked.fitted.finer),
        shorter=_climb_out(worked.fitted.shorter),
    )


def _climb_out(climb: Climb | None) -> OtherLadderOut | None:
    if climb is None:
        return None
    return OtherLadderOut(
        step_bpm=float(climb.step), rungs=len(climb.rungs), seconds=ceil(climb.seconds)
    )


def worked_out(
    part: Part,
    drill: SentDrill,
    chunk: ChunkView,
    drawings: Sequence[str | None],
    ladder: LadderOut | None = None,
) -> WorkedOut:
    """A drill on a part with the drawings of its steps, as far as there are any."""
    drawn = [*drawings, *[None] * len(drill.steps)]
    return WorkedOut(
        drill=drill.drill,
        title=drill.title,
        chunk=chunk_out(chunk),
        settings=drill.settings,
        beat=str(drill.beat),
        count_in=[str(beat) for beat in drill.count_in],
        rungs=[float(rung) for rung in drill.rungs],
        way=drill.way,  # type: ignore[arg-type]
        cycle_seconds=float(drill.cycle_seconds),
        climb_seconds=ceil(drill.climb_seconds),
        notes_per_second_at_goal=float(drill.fastest_at_goal),
        notes_a_click=float(drill.beat / drill.fastest),
        at_goal=drill.at_goal,
        stays=drill_kind(drill.drill).stays,
        ladder=ladder,
        turned=drill.turned,
        notes=drill.notes,
        family=drill.family,
        steps=[_step_out(part, drill, s, svg) for s, svg in zip(drill.steps, drawn, strict=False)],
    )


def _step_out(part: Part, drill: SentDrill, step: SentStep, svg: str | None) -> StepOut:
    burst = step.burst_tempo(drill.goal)
    return StepOut(
        name=step.name,
        place=span_label(part, step.covers),
        kind=step.kind,
        repetitions=step.repetitions,
        quarters=str(step.quarters),
        click=str(step.click),
        click_at=str(step.click_at),
        clicks=[str(at) for at in step.clicks],
        bars=[str(at) for at in bars_of(part, step.covers)] if step.as_written else [],
        pace=float(step.pace),
        slip=step.slip,
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
    """Sounds at sounding pitch; grace notes are left to the player."""
    return [
        SoundOut(
            at=str(sound.at),
            duration=str(sound.duration),
            midi=sound.midi,
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
