"""A drill as it was sent: all that practice, paper and evidence need, independent of its maker.

What a step was stays what it was, however the code that made it changes later.
"""

from dataclasses import dataclass
from fractions import Fraction

from crumb.core.drills.minutes import climb_seconds, cycle_seconds
from crumb.core.drills.model import Drill, DrillKind, Setting, Slip, Step
from crumb.core.evidence.model import Kind, Rhythm
from crumb.core.instruments.table import instrument_of
from crumb.core.score.model import Part
from crumb.core.score.position import Span
from crumb.core.score.slicing import span_sounds
from crumb.core.tempo.climb import LADDER, ClimbPlan, ClimbStep, visited
from crumb.core.tempo.ladder import notes_per_second


@dataclass(frozen=True, slots=True)
class Heard:
    """One attack of a step: when and how long in quarter notes, its MIDI key (none: a stroke)."""

    at: Fraction
    duration: Fraction
    midi: int | None
    note_id: str


@dataclass(frozen=True, slots=True)
class SentStep:
    """A step as it was sent; the words are those of :class:`Step`.

    ``attacks`` is how many times something is struck, ``notation`` the key of what is read (none:
    there is nothing to read).
    """

    name: str
    say: str
    kind: Kind
    as_written: bool
    is_aided: bool
    rhythm: Rhythm
    covers: Span
    repetitions: int
    quarters: Fraction
    click: Fraction
    click_at: Fraction
    pace: Fraction
    slip: Slip
    burst: Fraction | None
    attacks: int
    notation: str | None
    sounds: tuple[Heard, ...] = ()
    clicks: tuple[Fraction, ...] = ()

    @property
    def in_climb(self) -> ClimbStep:
        """The step, as the climb needs it."""
        return ClimbStep(
            self.repetitions,
            self.quarters / self.pace,
            self.kind is Kind.SET,
            self.slip,
            free=self.kind is Kind.LEARN,
        )

    def burst_tempo(self, goal: Fraction) -> Fraction | None:
        """The tempo at which its quick notes are as fast as the run at goal."""
        return None if self.burst is None else goal * self.burst


@dataclass(frozen=True, slots=True)
class SentDrill:
    """A drill as it was sent, without or with its steps.

    ``fastest`` is the shortest note of the chunk as written, in quarter notes; ``turned`` how many
    of its ``notes`` have their turn.
    """

    drill: str
    title: str
    how: str
    clean_means: str
    on_slip: str
    caution: str
    at_goal: bool
    settings: dict[str, Setting]
    family: str
    goal: Fraction
    beat: Fraction
    count_in: tuple[Fraction, ...]
    rungs: tuple[Fraction, ...]
    fastest: Fraction
    turned: int
    notes: int
    climb_steps: tuple[ClimbStep, ...]
    steps: tuple[SentStep, ...] = ()
    way: str = LADDER

    @property
    def plan(self) -> ClimbPlan:
        """The drill, as the climb rule needs it."""
        return ClimbPlan(self.climb_steps, self.rungs, self.beat, self.way)

    def seconds_left(self, tempo: Fraction) -> Fraction:
        """Seconds that a climb without a slip still takes from a tempo."""
        left = visited([tempo, *(rung for rung in self.rungs if rung > tempo)], self.way)
        return climb_seconds(self.climb_steps, rungs=left, beat=self.beat)

    @property
    def cycle_seconds(self) -> Fraction:
        """One clean cycle at the first rung."""
        return cycle_seconds(self.climb_steps, tempo=self.rungs[0], beat=self.beat)

    @property
    def climb_seconds(self) -> Fraction:
        """The whole ladder without a slip."""
        rungs = visited(self.rungs, self.way)
        return climb_seconds(self.climb_steps, rungs=rungs, beat=self.beat)

    @property
    def fastest_at_goal(self) -> Fraction:
        """Notes a second in the quickest notes as written, at goal."""
        return notes_per_second(tempo=self.goal, beat=self.beat, unit=self.fastest)


def sent_drill(
    part: Part,
    kind: DrillKind,
    drill: Drill,
    *,
    goal: Fraction,
    rungs: tuple[Fraction, ...],
    turned: tuple[int, int],
    way: str = LADDER,
) -> SentDrill:
    """A drill on a part as it is sent, the notation of its steps apart.

    Args:
        part: the music.
        kind: the drill's entry in the catalogue.
        drill: made from the part.
        goal: beats a minute.
        rungs: of the ladder, as far as the drill climbs one.
        turned: how many of how many notes have their turn.
        way: how it is climbed, one of ``crumb.core.tempo.climb.WAYS``.
    """
    time = part.measures[drill.span.start.index].time
    lengths = [s.duration for s in span_sounds(part, drill.span) if s.duration > 0]
    steps = tuple(sent_step(part, kind, step, None) for step in drill.steps)
    return SentDrill(
        drill=kind.name,
        title=kind.title,
        how=kind.how,
        clean_means=kind.clean_means,
        on_slip=kind.on_slip,
        caution=kind.caution,
        at_goal=drill.at_goal,
        settings=drill.settings,
        family=instrument_of(part).family,
        goal=goal,
        beat=time.beat,
        count_in=time.groups,
        rungs=rungs,
        fastest=min(lengths, default=time.beat),
        turned=turned[0],
        notes=turned[1],
        climb_steps=tuple(step.in_climb for step in steps),
        steps=steps,
        way=way,
    )


def sent_step(part: Part, kind: DrillKind, step: Step, notation: str | None) -> SentStep:
    """A step of a drill on a part, as it is sent."""
    struck = [s for s in step.sounds if not s.grace]
    return SentStep(
        name=step.name[:80],
        say=step.say[:400],
        kind=Kind(step.kind),
        as_written=step.as_written,
        is_aided=kind.is_aid and not step.as_written,
        rhythm=rhythm_of(part, step),
        covers=step.covers,
        repetitions=step.repetitions,
        quarters=step.quarters,
        click=step.click,
        click_at=step.click_at,
        pace=step.pace,
        slip=Slip(step.slip),
        burst=step.burst,
        attacks=len({s.at for s in struck}),
        notation=notation,
        sounds=tuple(
            Heard(
                s.at,
                s.duration,
                s.midi,
                s.note_id,
            )
            for s in struck
        ),
        clicks=step.clicks,
    )


def rhythm_of(part: Part, step: Step) -> Rhythm:
    """Written, if everything is struck when it is in the music, on whatever pitches."""
    if step.as_written:
        return Rhythm.WRITTEN
    played = {s.at for s in step.sounds if not s.grace}
    printed = {s.at for s in span_sounds(part, step.covers) if not s.grace}
    return Rhythm.WRITTEN if played == printed else Rhythm.FREE
