"""Inputs of the planner: music, kin, levels and practice of each student on a part."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drills.ranking import cures_of
from crumb.core.evidence.slips import SlipKind, symptoms_of
from crumb.core.mastery.chunk import Standing
from crumb.core.mastery.kin_credit import lent_level
from crumb.core.plan.model import ChunkState
from crumb.core.plan.time_spent import minutes_by_span, minutes_on
from crumb.core.plan.variants import with_goal
from crumb.core.score.naming import place_label
from crumb.core.score.position import Position, Span
from crumb.core.score.slicing import played_quarters
from crumb.core.split.order import span_load
from crumb.services.evidence.standing import shown_of
from crumb.services.evidence.symptoms import symptoms_on
from crumb.services.library.pieces import PartInHand
from crumb.services.library.surveys import survey_of
from crumb.services.maps.chunks import ChunkView, MapView, get_chunk, view_map
from crumb.services.maps.confirmed_kin import confirmed_kin_of
from crumb.store.queries import planning as ask
from crumb.store.queries.diary import Told, told_slips

_LOOK_BACK = timedelta(days=28)


@dataclass(frozen=True, slots=True)
class Music:
    """A part as a section divides it, with what the plan needs of each chunk's music.

    ``passages`` are the stretches a plan is for, in the order of the part, each with its goal
    (None: the part's); none: all of it.
    """

    hand: PartInHand
    map: MapView
    states: tuple[ChunkState, ...]
    passages: tuple[tuple[Span, Fraction | None], ...] = ()

    @property
    def chunks(self) -> tuple[ChunkView, ...]:
        """Front to back."""
        return self.map.chunks

    def chunk(self, name: str) -> ChunkView:
        """By the id that the plan knows it by."""
        return next(chunk for chunk in self.chunks if str(chunk.id) == name)

    def within(self, states: Sequence[ChunkState]) -> tuple[ChunkState, ...]:
        """The states of chunks that lie in a passage, with its goal; all, where there is none."""
        if not self.passages:
            return tuple(states)
        found: list[ChunkState] = []
        is_gap = False
        for chunk, state in zip(self.chunks, states, strict=True):
            goals = [goal for span, goal in self.passages if span.touches(chunk.span)]
            if not goals:
                is_gap = True
                continue
            mine = max((goal or state.goal) for goal in goals)
            found.append(replace(with_goal(state, mine), follows=not is_gap))
            is_gap = False
        return tuple(found)


def music_of(
    session: Session,
    hand: PartInHand,
    section_id: UUID | None,
    passages: Sequence[tuple[UUID, int | None]] = (),
) -> Music:
    """A part for a section, by the section's own map if it has one.

    Raises:
        NotFound: a passage that is not of the part.
    """
    view = view_map(session, hand, section_id)
    survey = survey_of(hand)
    kin = confirmed_kin_of(session, hand.row.id, view.chunks)
    states = []
    for chunk in view.chunks:
        first, last = chunk.span.start.index, chunk.span.end.index
        spots = [
            spot
            for measure in survey.measures[first : last + 1]
            for spot in measure.spots
            if chunk.span.start <= spot.at < chunk.span.end
        ]
        states.append(
            ChunkState(
                id=str(chunk.id),
                quarters=max(played_quarters(hand.part, chunk.span), hand.beat),
                goal=hand.row.goal_bpm,
                beat=hand.part.measures[first].time.beat,
                load=span_load(hand.part, survey, chunk.span),
                kin=tuple(str(i) for i in kin.get(chunk.id, ())),
                fitting=cures_of(spots),
                label=chunk.label.replace("→", ""),
            )
        )
    spans = [(get_chunk(session, hand, i).span, goal) for i, goal in passages]
    spans.sort(key=lambda pair: pair[0].start)
    asked = tuple((span, None if goal is None else Fraction(goal)) for span, goal in spans)
    return Music(hand, view, tuple(states), asked)


def states_of(
    session: Session, music: Music, students: Sequence[UUID], today: date
) -> dict[UUID, tuple[ChunkState, ...]]:
    """The chunks as each of some students stands on them today."""
    ids, part_id = [chunk.id for chunk in music.chunks], music.hand.row.id
    week_ago = today - timedelta(days=7)
    standing = shown_of(session, music.hand, students, ids, today)
    done = ask.drills_done(session, students, ids, today - _LOOK_BACK)
    spent = ask.played_on(session, students, part_id)
    slips = ask.slips_on(session, students, part_id, week_ago)
    said = symptoms_on(session, part_id, students)
    told = told_slips(session, students, part_id, week_ago)
    return {
        student: _states(
            music,
            _Known(
                standing[student],
                {chunk_id: done.get((student, chunk_id), []) for chunk_id in ids},
                minutes_by_span(spent[student]),
                slips[student],
                said[student],
                told[student],
            ),
        )
        for student in students
    }


@dataclass(frozen=True, slots=True)
class _Known:
    """Standing, rate and evidence of one student on a part."""

    standing: Mapping[UUID, Standing]
    done: Mapping[UUID, Sequence[tuple[str, date]]]
    minutes: Mapping[Span, float]
    slips: Sequence[ask.Slip]
    said: Sequence[tuple[Span, str]]
    told: Sequence[Told]


def _states(music: Music, known: _Known) -> tuple[ChunkState, ...]:
    found = []
    for chunk, plain in zip(music.chunks, music.states, strict=True):
        fell = [
            (at, what)
            for at, what in known.told
            if at is None or chunk.span.start <= at < chunk.span.end
        ]
        tagged = symptoms_of(SlipKind(what) for at, what in fell if at is not None and what)
        symptoms = tuple(dict.fromkeys((*_symptoms(chunk, known.said), *tagged)))
        state = replace(plain, symptoms=symptoms)
        here = known.standing.get(chunk.id)
        if here is None:
            found.append(state)
            continue
        kin = [known.standing[i] for i in map(UUID, state.kin) if i in known.standing]
        drills = tuple(sorted(known.done[chunk.id], key=lambda pair: (pair[1], pair[0])))
        named = [at for at, _ in fell if at is not None]
        found.append(
            replace(
                _stood(state, here, lent_level(here, kin)),
                drills=drills,
                last=drills[-1][1] if drills else None,
                minutes=minutes_on(chunk.span, known.minutes),
                slips=_slips(music.hand, chunk, known.slips, named),
            )
        )
    return tuple(found)


def _symptoms(chunk: ChunkView, said: Sequence[tuple[Span, str]]) -> tuple[str, ...]:
    """Faults heard anywhere on a chunk, each kind once."""
    here = (one for span, one in said if span.touches(chunk.span))
    return tuple(dict.fromkeys(here))


def _stood(state: ChunkState, here: Standing, level: int) -> ChunkState:
    """A chunk with where a student stands on it."""
    found = replace(
        state,
        level=level,
        solid=None if here.solid is None else float(here.solid),
        seam_in=here.seam_in,
        seam_out=here.seam_out,
        due=here.due,
    )
    if not here.passes:
        return found
    return replace(
        found,
        secure=here.secure.median,
        low=here.secure.low,
        high=here.secure.high,
        gained=here.gained,
    )


def _slips(
    hand: PartInHand, chunk: ChunkView, slips: Sequence[ask.Slip], told: Sequence[Position]
) -> dict[str, int]:
    """Slips of the last days by place: the note named, else where what was played begins."""
    counted = Counter(place_label(hand.part, at) for at in told)
    for one in slips:
        if chunk.span.covers(one.span) and one.span != chunk.span:
            counted[place_label(hand.part, one.span.start)] += one.count
    return dict(sorted(counted.items()))
