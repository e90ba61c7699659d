"""The rehearsal plan: passages by which most players gain, each with a tempo, a drill, a reason.

A passage is worth as much as there are players in the room for whom it is open, further from tempo
counting a little more; who is away from the next one on counts half more. What is the same in
another passage counts half more, as far as that one is open. Minutes go to what is worth most for
each of them, never more than there are (common practice, no source, for the weights).
"""

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import Literal

from crumb.core.errors import RehearsalRefused
from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.rehearsal.room_drills import RoomDrill, room_drill

ItemKind = Literal["warm-up", "work", "run"]
SHORTEST, LONGEST = 5, 180
_LEAST, _MOST = 3, 12
_PASSES = 8
_TALK = Fraction(3, 2)
"""What a pass takes in a room against its playing time: starting, saying, turning back."""
_WARM_UP_SHARE = 6
_WARM_UP_MOST = 8
_RUN_SHARE = 10
_RUN_MOST = 5
_FROM_HERE_ON_AWAY = Fraction(1, 2)
_KIN = Fraction(1, 2)
_FURTHER = Fraction(1, 20)
_HOLD_IT = Fraction(4, 5)
_FEW_KNOWN = 3
_SLOW = Fraction(6, 10)
_SLOWEST = Fraction(1, 2)


@dataclass(frozen=True, slots=True)
class PlayerNow:
    """A player on a passage: the weakest level there, and how fast it is sure.

    ``joins``: whether every seam there is shown; ``secure`` in beats a minute, None: not known.
    """

    level: int
    joins: bool = True
    secure: float | None = None
    is_absent: bool = False
    is_away_next: bool = False

    @property
    def is_open(self) -> bool:
        """Whether this player still has to work here."""
        return self.level < AT_TEMPO or not self.joins


@dataclass(frozen=True, slots=True)
class SectionNow:
    """A section that plays in a passage; ``symptoms`` heard there, the most heard first."""

    name: str
    players: tuple[PlayerNow, ...]
    symptoms: tuple[str, ...] = ()
    written_key: str = ""

    @property
    def here(self) -> tuple[PlayerNow, ...]:
        """Players in the room."""
        return tuple(player for player in self.players if not player.is_absent)

    @property
    def open(self) -> tuple[PlayerNow, ...]:
        """Players in the room who have work here."""
        return tuple(player for player in self.here if player.is_open)


@dataclass(frozen=True, slots=True)
class PassageNow:
    """A passage with the sections that play in it; ``kin`` are places of passages like it."""

    name: str
    seconds: Fraction
    sections: tuple[SectionNow, ...]
    kin: frozenset[int] = frozenset()
    key: str = ""
    """The key as it sounds."""

    @property
    def open(self) -> int:
        """For how many in the room it is open."""
        return sum(len(section.open) for section in self.sections)


@dataclass(frozen=True, slots=True)
class RehearsalAsk:
    """The minutes of a room, the goal in beats a minute, and how everybody stands."""

    minutes: int
    goal: Fraction
    passages: tuple[PassageNow, ...]
    sections: tuple[str, ...] = ()
    """Everybody in the room, who rests included; empty: who plays."""


@dataclass(frozen=True, slots=True)
class Meanwhile:
    """Work for a section that does not play in a passage."""

    section: str
    say: str


@dataclass(frozen=True, slots=True)
class RehearsalItem:
    """A line of the plan; ``passage`` is the place of what it works on, if on anything."""

    kind: ItemKind
    name: str
    minutes: int
    why: str
    do: str
    passage: int | None = None
    sections: tuple[str, ...] = ()
    tempo: int | None = None
    drill: RoomDrill | None = None
    meanwhile: tuple[Meanwhile, ...] = ()
    written: tuple[tuple[str, str], ...] = ()
    """Sections with a key as it is written for them."""


def rehearsal(ask: RehearsalAsk) -> tuple[RehearsalItem, ...]:
    """The plan of one rehearsal or sectional, in the order it is played.

    Raises:
        RehearsalRefused: fewer than 5 minutes, or more than 180.
    """
    if not SHORTEST <= ask.minutes <= LONGEST:
        raise RehearsalRefused(f"A rehearsal has {SHORTEST} to {LONGEST} minutes.")
    warm_up = min(ask.minutes // _WARM_UP_SHARE, _WARM_UP_MOST)
    taken = _chosen(ask, ask.minutes - warm_up - min(ask.minutes // _RUN_SHARE, _RUN_MOST))
    if not taken:
        return (_run(ask, ask.minutes),) if ask.passages else ()
    work = [_item(ask, place, minutes) for place, minutes in taken]
    left = ask.minutes - warm_up - sum(item.minutes for item in work)
    items = [_warm_up(ask, warm_up, [place for place, _ in taken])] if warm_up else []
    items += work
    if left > 0:
        items.append(_run(ask, left))
    return tuple(items)


def worth(ask: RehearsalAsk, place: int, taken: Iterable[int] = ()) -> Fraction:
    """The value of rehearsing a passage, once others were taken."""
    before = frozenset(taken)
    passage = ask.passages[place]
    own = _need(passage)
    # Half of it was learned with its kin.
    if passage.kin & before:
        return own * (1 - _KIN)
    shared = sum((_need(ask.passages[other]) for other in passage.kin - before), Fraction(0))
    return own + min(own, shared) * _KIN


def minutes_for(passage: PassageNow) -> int:
    """How long a passage is worked on: eight passes with what is said between, 3 to 12 minutes."""
    played = passage.seconds * _PASSES * _TALK / 60
    return min(max(ceil(played), _LEAST), _MOST)


def room_tempo(passage: PassageNow, goal: Fraction) -> tuple[int, bool]:
    """The tempo that four of five who have work there hold, and whether it is known.

    Where few tempos are known it is 60 per cent of the goal; never under half of it, nor above.
    """
    known = sorted(p.secure for s in passage.sections for p in s.open if p.secure is not None)
    if len(known) < _FEW_KNOWN:
        return int(goal * _SLOW), False
    held = known[int(len(known) * (1 - _HOLD_IT))]
    return int(min(max(Fraction(held), goal * _SLOWEST), goal)), True


def _need(passage: PassageNow) -> Fraction:
    # A hundred players stand at a few levels: each kind of player is reckoned once.
    alike = Counter(
        (min(player.level, AT_TEMPO), player.is_away_next)
        for section in passage.sections
        for player in section.open
    )
    return sum(
        (
            count
            * (1 + (AT_TEMPO - level) * _FURTHER)
            * (1 + (_FROM_HERE_ON_AWAY if is_away_next else 0))
            for (level, is_away_next), count in alike.items()
        ),
        Fraction(0),
    )


def _chosen(ask: RehearsalAsk, minutes: int) -> list[tuple[int, int]]:
    taken: list[tuple[int, int]] = []
    left = minutes
    while left >= _LEAST:
        done = [place for place, _ in taken]
        rest = [p for p in range(len(ask.passages)) if p not in done and _need(ask.passages[p])]
        if not rest:
            break
        best = max(rest, key=lambda p: (worth(ask, p, done) / minutes_for(ask.passages[p]), -p))
        given = min(minutes_for(ask.passages[best]), left)
        taken.append((best, given))
        left -= given
    return taken


def _item(ask: RehearsalAsk, place: int, minutes: int) -> RehearsalItem:
    passage = ask.passages[place]
    busy = [section for section in passage.sections if section.open]
    open_players = [player for section in busy for player in section.open]
    drill = room_drill(
        [player.level for player in open_players],
        _most_heard(busy),
        open_seams=sum(p.level >= AT_TEMPO for p in open_players),
    )
    tempo, is_known = room_tempo(passage, ask.goal)
    return RehearsalItem(
        kind="work",
        name=passage.name,
        minutes=minutes,
        why=_why(ask, place, busy, tempo, is_known=is_known),
        do=drill.do,
        passage=place,
        sections=tuple(section.name for section in busy),
        tempo=_at(drill, tempo, ask.goal),
        drill=drill,
        meanwhile=_meanwhile(ask, place, {section.name for section in busy}),
    )


def _at(drill: RoomDrill, held: int, goal: Fraction) -> int:
    if drill.pace == "goal":
        return int(goal)
    return min(held, int(goal * _SLOW)) if drill.pace == "slow" else held


def _most_heard(sections: Sequence[SectionNow]) -> list[str]:
    counts: dict[str, int] = {}
    for section in sections:
        for symptom in section.symptoms:
            counts[symptom] = counts.get(symptom, 0) + len(section.open)
    return sorted(counts, key=lambda symptom: -counts[symptom])


def _why(
    ask: RehearsalAsk,
    place: int,
    busy: Sequence[SectionNow],
    tempo: int,
    *,
    is_known: bool,
) -> str:
    passage = ask.passages[place]
    most = sorted(busy, key=lambda section: -len(section.open))[:3]
    said = ", ".join(f"{len(s.open)} of {len(s.here)} {s.name}" for s in most)
    parts = [f"{passage.open} in the room cannot play it yet ({said})."]
    kin = [ask.passages[other].name for other in sorted(passage.kin)]
    if kin:
        again = ", ".join(kin)
        parts.append(f"The same music comes again in {again}: work here helps there, too.")
    away = sum(player.is_away_next for section in busy for player in section.open)
    if away:
        parts.append(f"{away} of them will miss the next rehearsal.")
    if is_known and tempo < ask.goal:
        parts.append(f"Work at {tempo}: four of five students hold it.")
    return " ".join(parts)


def _meanwhile(ask: RehearsalAsk, place: int, busy: set[str]) -> tuple[Meanwhile, ...]:
    """Work for the sections that are not busy here: their own weakest passage, or listening."""
    here = {section.name for section in ask.passages[place].sections}
    names = dict.fromkeys((*ask.sections, *(s.name for p in ask.passages for s in p.sections)))
    said = []
    for name in names:
        if name in busy:
            continue
        own = _most_open(ask, name, place)
        if own is not None:
            say = f"{ask.passages[own].name} without sound: finger, slide or stick it, and count."
        elif name in here:
            say = "Play along at half loudness."
        else:
            say = "Rest; count the rests, listen for the entry."
        said.append(Meanwhile(name, say))
    return tuple(said)


def _most_open(ask: RehearsalAsk, name: str, not_here: int) -> int | None:
    counts: Mapping[int, int] = {
        place: sum(len(s.open) for s in passage.sections if s.name == name)
        for place, passage in enumerate(ask.passages)
        if place != not_here
    }
    best = max(counts, key=lambda place: (counts[place], -place), default=None)
    return best if best is not None and counts[best] > 0 else None


def _warm_up(ask: RehearsalAsk, minutes: int, taken: Sequence[int]) -> RehearsalItem:
    first = ask.passages[taken[0]]
    keyed = {section.name: section.written_key for section in first.sections if section.written_key}
    scale = f"The scale of {first.key} as it sounds" if first.key else "A scale in its key"
    return RehearsalItem(
        kind="warm-up",
        name="Warm-up",
        minutes=minutes,
        why=f"It prepares {first.name}.",
        do=f"{scale}: long tones, then in the rhythm of {first.name}.",
        sections=tuple(keyed),
        written=tuple(keyed.items()),
    )


def _run(ask: RehearsalAsk, minutes: int) -> RehearsalItem:
    return RehearsalItem(
        kind="run",
        name="Run through",
        minutes=minutes,
        why="Hear in context what you worked on.",
        do="Play through without stopping as far as the time goes; notice where it slips.",
        tempo=int(ask.goal),
    )


def left_open(items: Sequence[RehearsalItem], done: Mapping[int, int]) -> list[tuple[int, int]]:
    """Lines that were begun and not ended, each with how many times are left.

    Args:
        items: the plan.
        done: how many times in a row each line went that was begun, by its place.
    """
    return [
        (place, item.drill.times - done[place])
        for place, item in enumerate(items)
        if item.drill is not None and place in done and done[place] < item.drill.times
    ]
