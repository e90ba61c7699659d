"""Codec of sent drills: the head as JSON, the steps as rows."""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import Any
from uuid import UUID

from crumb.core.drills.model import Slip
from crumb.core.drills.sent import Heard, SentDrill, SentStep
from crumb.core.evidence.model import Kind, Rhythm
from crumb.core.score.position import Position, Span
from crumb.core.tempo.climb import LADDER, ClimbStep
from crumb.store.tables import SentStep as SentStepRow

_PLAIN = (
    "drill", "title", "how", "clean_means", "on_slip", "caution", "at_goal", "settings", "family",
    "turned", "notes",
)  # fmt: skip


def drill_to_json(drill: SentDrill) -> dict[str, Any]:
    """The head of a drill that was sent, with what the climb needs of its steps."""
    return {
        **{name: getattr(drill, name) for name in _PLAIN},
        "goal": str(drill.goal),
        "beat": str(drill.beat),
        "count_in": [str(beat) for beat in drill.count_in],
        "fastest": str(drill.fastest),
        "way": drill.way,
        "rungs": [str(rung) for rung in drill.rungs],
        "climb": [
            [s.repetitions, str(s.quarters), s.unbroken, s.slip, s.free] for s in drill.climb_steps
        ],
    }


def drill_from_json(kept: dict[str, Any], steps: Iterable[SentStep] = ()) -> SentDrill:
    """The head of a drill read again, with steps where they are wanted."""
    return SentDrill(
        **{name: kept[name] for name in _PLAIN},
        goal=Fraction(kept["goal"]),
        beat=Fraction(kept["beat"]),
        count_in=_count_in(kept),
        fastest=Fraction(kept["fastest"]),
        rungs=tuple(Fraction(rung) for rung in kept["rungs"]),
        climb_steps=tuple(
            ClimbStep(n, Fraction(quarters), unbroken, slip, free)
            for n, quarters, unbroken, slip, free in kept["climb"]
        ),
        steps=tuple(steps),
        way=kept.get("way", LADDER),
    )


def _count_in(kept: dict[str, Any]) -> tuple[Fraction, ...]:
    """The beats counted in; once only their number was written down."""
    if "count_in" in kept:
        return tuple(Fraction(beat) for beat in kept["count_in"])
    return (Fraction(kept["beat"]),) * int(kept["beats_in_measure"])


def steps_to_rows(item_id: UUID, steps: Sequence[SentStep]) -> list[dict[str, Any]]:
    """A row for each step."""
    return [
        {
            "item_id": item_id,
            "place": place,
            "name": step.name,
            "say": step.say,
            "kind": step.kind,
            "as_written": step.as_written,
            "is_aided": step.is_aided,
            "rhythm": step.rhythm,
            "start_index": step.covers.start.index,
            "start_at": step.covers.start.at,
            "end_index": step.covers.end.index,
            "end_at": step.covers.end.at,
            "repetitions": step.repetitions,
            "quarters": step.quarters,
            "click": step.click,
            "click_at": step.click_at,
            "clicks": [str(at) for at in step.clicks],
            "pace": step.pace,
            "slip": step.slip,
            "burst": step.burst,
            "attacks": step.attacks,
            "notation": step.notation,
            "sounds": [[str(s.at), str(s.duration), s.midi, s.note_id] for s in step.sounds],
        }
        for place, step in enumerate(steps)
    ]


def step_from_row(row: SentStepRow) -> SentStep:
    """A stored step."""
    return SentStep(
        name=row.name,
        say=row.say,
        kind=Kind(row.kind),
        as_written=row.as_written,
        is_aided=row.is_aided,
        rhythm=Rhythm(row.rhythm),
        covers=Span(Position(row.start_index, row.start_at), Position(row.end_index, row.end_at)),
        repetitions=row.repetitions,
        quarters=row.quarters,
        click=row.click,
        click_at=row.click_at,
        clicks=tuple(Fraction(at) for at in row.clicks),
        pace=row.pace,
        slip=Slip(row.slip),
        burst=row.burst,
        attacks=row.attacks,
        notation=row.notation,
        sounds=tuple(
            Heard(Fraction(a), Fraction(d), midi, note) for a, d, midi, note in row.sounds
        ),
    )
