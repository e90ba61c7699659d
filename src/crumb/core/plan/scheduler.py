"""Days laid out: what is done at each sitting, in which order, for how long, and why.

Minutes go to what still takes them, in proportion; what stands at its goal gets none but for cold
checks that are due. The numbers are common practice, no source.
"""

from collections.abc import Sequence
from datetime import date
from math import ceil

from crumb.core.mastery.chunk import IN_A_ROW, LINKED_SHARE
from crumb.core.mastery.levels import AT_TEMPO, LINKED, NEW, NOTES, STEADY
from crumb.core.plan import drill_choice, ladders, rates
from crumb.core.plan.days import practice_days
from crumb.core.plan.forecast import KEPT_SHARE, MOST_NEW, NEW_A_DAY, RUN_FROM
from crumb.core.plan.learning_order import in_order
from crumb.core.plan.minute_shares import share_seconds
from crumb.core.plan.model import WHOLE, Category, Item, Pin, PlanAsk, Session
from crumb.core.plan.projection import Projected, projected
from crumb.core.tempo.ladder import start_tempo

LEAST_MINUTES = 2
"""Fewer are not worth setting a chunk up for."""
MOST_ON_ONE, MOST_IN_HASTE = 6, 12
"""Minutes that one chunk has in a day: more adds little, and is for when days are few."""
_HASTE = 0.5
"""Of the minutes there still are, taken by what is still to do: from here on there is haste."""
_LAST_DAYS = 2
_LINK_MINUTES = 2
_CROSSING_FROM, _CROSSING_SHARE = 0.65, 0.85
"""Of goal, and of the slower side: where the first crossings of a seam are tried."""
_MOST_LINKS = 1
_NEW_MINUTES = 5
_READING_MINUTES = 2
_BLOCK = 2
_FOR_SOMEBODY = (3, 7)
"""Practice days before the date on which a run-through is for somebody."""


def schedule(ask: PlanAsk, most: int | None = None) -> tuple[Session, ...]:
    """The sessions from today to the day before the date, of so many practice days at most."""
    days = practice_days(ask)
    laying = _Laying(ask, days)
    return tuple(session for place in range(len(days[:most])) for session in laying.day(place))


class _Laying:
    """The state that each day changes for those after it."""

    def __init__(self, ask: PlanAsk, days: Sequence[date]) -> None:
        self._ask, self._days = ask, days
        cost = rates.costs(ask)
        self._all = [projected(c, cost[c.id]) for c in ask.chunks]
        self._by_id = {one.chunk.id: one for one in self._all}
        self._seams = [
            a.seam_out and b.seam_in for a, b in zip(ask.chunks, ask.chunks[1:], strict=False)
        ]
        self._follows_on = [chunk.follows for chunk in ask.chunks[1:]]
        self._rank = {id_: place for place, id_ in enumerate(in_order(ask))}

    def day(self, place: int) -> list[Session]:
        """One day's sessions, which are then taken as done."""
        day = self._days[place]
        for one in self._all:
            one.begin()
        minutes = self._minutes(place)
        warm = self._warm_up(minutes)
        left = minutes - sum(item.minutes for item in warm)
        due = [one for one in self._all if self._is_due(one, day)]
        keep = self._keep(due, day, left // 2)
        left -= sum(item.minutes for item in keep)
        run = self._run_through(place, left)
        left -= sum(item.minutes for item in run)
        links = self._links(due, left, bool(self._open(day)))
        left -= sum(item.minutes for item in links)
        joined = [] if links or run else self._longer(due)  # a run-through joins everything
        focus = self._focus(place, day, left)
        left -= sum(item.minutes for item in focus)
        links += [item for item in joined if item.minutes <= left]
        self._done(day, links, keep)
        items = [*warm, *focus, *links, *keep, *run]
        return _sittings(day, items, self._ask.sessions_a_day)

    def _minutes(self, place: int) -> int:
        ask = self._ask
        is_today = self._days[place] == ask.today
        if is_today and ask.today_minutes is not None:
            return ask.today_minutes
        return ask.minutes_a_day

    def _days_left(self, place: int) -> int:
        return len(self._days) - place

    # Categories -------------------------------------------------------------------------------

    def _warm_up(self, minutes: int) -> list[Item]:
        if not self._ask.warm_up_minutes or not self._all:
            return []
        length = min(self._ask.warm_up_minutes, minutes // 3)
        if length <= 0:
            return []
        slowest = min(self._all, key=lambda one: one.goal)
        tempo = ladders.whole(start_tempo(slowest.chunk.goal))
        why = "The key and the techniques of what comes, before it comes."
        return [Item((WHOLE,), Category.WARM_UP, drill_choice.WARM_UP, tempo, tempo, length, why)]

    def _is_due(self, one: Projected, day: date) -> bool:
        if one.level < AT_TEMPO:
            return False
        again = self._ask.again.get(one.chunk.id)
        if again is not None and again <= day and (one.last is None or one.last < again):
            return True
        return _has_faded(one) or (one.due is not None and one.due <= day)

    def _keep(self, due: Sequence[Projected], day: date, most: int) -> list[Item]:
        items: list[Item] = []
        for one in sorted(due, key=lambda one: (one.due or day, one.chunk.id)):
            goal = start = ladders.whole(one.chunk.goal)
            minutes = max(ceil(IN_A_ROW * one.pass_seconds(goal) / 60), 1)
            why = f"Due for a cold check: the first try of the day at {goal} tells."
            if _has_faded(one):
                start = ladders.climb(one.chunk, one.secure, one.goal, LEAST_MINUTES)[0]
                minutes = max(minutes, LEAST_MINUTES)
                why = f"It was at {goal}; of late only {round(one.secure)} is secure: upkeep."
            if minutes > most:
                break
            most -= minutes
            ids = (one.chunk.id,)
            items.append(Item(ids, Category.KEEP, drill_choice.ALONE, start, goal, minutes, why))
        return items

    def _run_through(self, place: int, left: int) -> list[Item]:
        if not self._all or any(one.level < NOTES for one in self._all):
            return []
        tempo = self._run_tempo()
        length = sum(o.beats for o in self._all)
        minutes = max(ceil(length / tempo), 1)
        is_late = self._days_left(place) <= max(len(self._days) // 5, 1)
        at_tempo = sum(one.level >= AT_TEMPO for one in self._all)
        if not is_late and at_tempo < RUN_FROM * len(self._all):
            return []
        if minutes > (left if is_late else left // 2):
            return []
        if not is_late and minutes > left // 3 and self._days[place].toordinal() % 2:
            return []
        why = f"Once through without stopping at {tempo}: note where it slips, mend nothing."
        if self._days_left(place) in _FOR_SOMEBODY:
            why = f"Once through at {tempo} for somebody who listens, without stopping."
        elif is_late:
            why = f"The last days: once through at {tempo} as it will be on the day."
        return [
            Item(
                (WHOLE,),
                Category.RUN_THROUGH,
                drill_choice.RUN_THROUGH,
                tempo,
                tempo,
                minutes,
                why,
            )
        ]

    def _run_tempo(self) -> int:
        """One tempo for all of it: that of the slowest chunk, no faster than any goal."""
        slowest = min(one.secure for one in self._all)
        most = min(ladders.whole(one.chunk.goal) for one in self._all)
        return min(max(round(slowest), min(ladders.LEAST_TEMPO, most)), most)

    def _links(self, due: Sequence[Projected], left: int, has_focus: bool) -> list[Item]:
        cold = {one.chunk.id for one in due}
        most = left // 2 if has_focus else left
        items: list[Item] = []
        pairs = list(zip(self._all, self._all[1:], strict=False))
        pairs = [
            (a, b)
            for (a, b), is_shown, follows in zip(pairs, self._seams, self._follows_on, strict=True)
            if follows
            and not is_shown
            and min(a.level, b.level) >= STEADY
            and not {a.chunk.id, b.chunk.id} & cold
        ]
        pairs.sort(key=lambda pair: -min(one.share for one in pair))
        for a, b in pairs:
            if len(items) >= _MOST_LINKS or most < _LINK_MINUTES:
                break
            most -= _LINK_MINUTES
            start, shown = _crossing(a, b)
            why = f"Both sides are steady: the seam, three in a row at {shown} or more."
            ids = (a.chunk.id, b.chunk.id)
            items.append(
                Item(ids, Category.LINK, drill_choice.SEAMS, start, shown, _LINK_MINUTES, why)
            )
        return items

    def _longer(self, due: Sequence[Projected]) -> list[Item]:
        """Two joined, then four, eight, where all of them are linked: for what time is left over.

        Only while something is not at tempo yet; then run-throughs do the same.
        """
        if min((one.level for one in self._all), default=AT_TEMPO) >= AT_TEMPO:
            return []
        cold = {one.chunk.id for one in due}
        rows = [
            row
            for size in (8, 4, 2)
            for row in self._rows(size)
            if not cold.intersection(one.chunk.id for one in row)
        ]
        if not rows:
            return []
        row = rows[0]
        tempo = round(min(min(one.secure, one.goal) for one in row))
        minutes = max(ceil(2 * sum(one.beats for one in row) / max(tempo, 1)), 1)
        why = f"{len(row)} joined: through the slowest of them without stopping."
        ids = tuple(one.chunk.id for one in row)
        return [Item(ids, Category.LINK, drill_choice.IN_CONTEXT, tempo, tempo, minutes, why)]

    def _rows(self, size: int) -> list[list[Projected]]:
        """Neighbours that are all linked, with the seams between them shown; the slowest first."""
        found = []
        for first in range(len(self._all) - size + 1):
            row = self._all[first : first + size]
            between = slice(first, first + size - 1)
            is_one = all(self._seams[between]) and all(self._follows_on[between])
            if is_one and min(one.level for one in row) >= LINKED:
                found.append(row)
        return sorted(found, key=lambda row: min(one.share for one in row))

    # Focus ------------------------------------------------------------------------------------

    def _open(self, day: date) -> list[Projected]:
        """What may be worked on and is not at its goal."""
        held = self._ask.held
        return [
            one for one in self._all if one.level < AT_TEMPO and held.get(one.chunk.id, day) <= day
        ]

    def _focus(self, place: int, day: date, left: int) -> list[Item]:
        pinned = {pin.chunk: pin for pin in self._ask.pins if pin.day == day}
        picked = self._picked(place, day, left, pinned)
        if not picked:
            return []
        needs = [self._need(one) for one in picked]
        shares = _shares(left, needs, self._most_each(place))
        items = []
        for one, minutes in zip(picked, shares, strict=True):
            if minutes:
                pin = pinned.get(one.chunk.id)
                first = [] if pin else self._first_meeting(one, minutes, day)
                rest = minutes - sum(item.minutes for item in first)
                drill = pin.drill if pin else None
                items += [*first, self._work(one, rest, place, day, drill)]
        return items

    def _first_meeting(self, one: Projected, minutes: int, day: date) -> list[Item]:
        """Names and counts before the first note, where there is time for both."""
        chunk = one.chunk
        drill = drill_choice.reading(chunk, self._ask.instrument, self._ask.dropped)
        if not one.is_new or self._steady_kin(one) or drill is None:
            return []
        if minutes < LEAST_MINUTES + _READING_MINUTES:
            return []
        one.done.append((drill, day))
        tempo = ladders.climb(chunk, None, one.secure, minutes)[0]
        why = f"New: names and counts before the first note, at {tempo}."
        ids = (chunk.id,)
        return [Item(ids, Category.FOCUS, drill, tempo, tempo, _READING_MINUTES, why)]

    def _picked(self, place: int, day: date, left: int, pinned: dict[str, Pin]) -> list[Projected]:
        open_ = self._open(day)
        most = max(left // _BLOCK, 1) if left > 0 else 0
        begun = [one for one in open_ if not one.is_new]
        new = sorted((o for o in open_ if o.is_new), key=lambda one: self._rank[one.chunk.id])
        new = self._new(new, begun, place)
        begun.sort(key=lambda one: (-self._urgency(one, day), self._rank[one.chunk.id]))
        begun = begun[: max(most - len(new), 1)]
        must = [self._by_id[id_] for id_ in pinned if id_ in self._by_id]
        found = [*must, *(one for one in (*begun, *new) if one not in must)][:most]
        return sorted(found, key=lambda one: self._rank[one.chunk.id])

    def _new(
        self, new: Sequence[Projected], begun: Sequence[Projected], place: int
    ) -> list[Projected]:
        """Chunks to begin today; kin of a chunk in work waits for it."""
        if self._days_left(place) <= _LAST_DAYS and len(self._days) > _LAST_DAYS:
            return []
        most = NEW_A_DAY.get(self._ask.player, MOST_NEW)
        working = {one.chunk.id for one in begun if one.level < STEADY}
        found: list[Projected] = []
        later: list[Projected] = []
        for one in new:
            kin = set(one.chunk.kin)
            waits = kin & working or kin & {other.chunk.id for other in found}
            (later if waits else found).append(one)
        return [*found, *later][:most]

    def _urgency(self, one: Projected, day: date) -> float:
        waited = (day - one.last).days if one.last else 1
        slips = min(sum(one.chunk.slips.values()), 20)
        lent = 0.2 if self._follows(one) else 1.0
        return lent * one.left() * (1 + 0.3 * waited) * (1 + slips / 40)

    def _follows(self, one: Projected) -> bool:
        """Whether a kin chunk is ahead and still learned: what it gains is partly this one's."""
        kin = (self._by_id[id_] for id_ in one.chunk.kin if id_ in self._by_id)
        return any(one.share < other.share and other.level < AT_TEMPO for other in kin)

    def _most_each(self, place: int) -> int:
        there_are = self._days_left(place) * max(self._ask.minutes_a_day, 1)
        taken = sum(one.left() for one in self._all)
        return MOST_IN_HASTE if taken > _HASTE * there_are else MOST_ON_ONE

    def _need(self, one: Projected) -> int:
        kin_chunk = self._steady_kin(one)
        if kin_chunk is not None:
            return 2
        least = _NEW_MINUTES if one.is_new else LEAST_MINUTES
        minutes = rates.minutes_worth(one.left())
        slips = 1 + min(sum(one.chunk.slips.values()), 20) / 40
        return round(max(minutes * slips, least))

    def _steady_kin(self, one: Projected) -> Projected | None:
        """The kin chunk that stands, of a chunk that nobody has played yet."""
        if not one.is_new:
            return None
        kin = [self._by_id[id_] for id_ in one.chunk.kin if id_ in self._by_id]
        standing = [other for other in kin if other.level >= STEADY]
        return max(standing, key=lambda other: other.share, default=None)

    def _work(
        self, one: Projected, minutes: int, place: int, day: date, pinned: str | None
    ) -> Item:
        chunk = one.chunk
        kin_chunk = self._steady_kin(one)
        if kin_chunk is not None and pinned is None:
            tempo = min(round(kin_chunk.morning), ladders.whole(chunk.goal))
            one.confirmed(tempo, day)
            why = f"The same as {kin_chunk.chunk.name}: one clean pass at its tempo confirms it."
            ids = (chunk.id,)
            return Item(ids, Category.FOCUS, drill_choice.ALONE, tempo, tempo, minutes, why)
        picked = drill_choice.chosen(
            chunk,
            day,
            level=one.level,
            share=one.share,
            done=one.done,
            days_left=self._days_left(place),
            instrument=self._ask.instrument,
            dropped=self._ask.dropped,
            gets_there=one.gets_there(minutes),
        )
        reach = one.after(minutes)
        secure = None if one.is_new else one.secure
        start, end = ladders.climb(chunk, secure, reach, minutes)
        why = "Put on this day by hand" if pinned is not None else picked.why
        said = f"{why}; {_stands(one, end)}."
        if pinned is None and picked.advice:
            said = f"{said} {picked.advice}"
        drill = pinned or picked.drill
        one.practised(minutes, drill, day)
        return Item((chunk.id,), Category.FOCUS, drill, start, end, minutes, said)

    def _done(self, day: date, links: Sequence[Item], keep: Sequence[Item]) -> None:
        for item in keep:
            one = self._by_id[item.chunks[0]]
            if _has_faded(one):
                one.practised(item.minutes, item.drill, day)
            else:
                one.checked(day)
        for item in links:
            first = next(i for i, one in enumerate(self._all) if one.chunk.id == item.chunks[0])
            for place in range(first, first + len(item.chunks) - 1):
                self._seams[place] = True


def _crossing(a: Projected, b: Projected) -> tuple[int, int]:
    """From what both sides surely bear to the tempo at which a seam is shown.

    What is faster grows where more is joined: in longer links and run-throughs.
    """
    goal = min(a.goal, b.goal)
    shown = ceil(float(LINKED_SHARE) * goal)
    surely = max(_CROSSING_FROM * goal, _CROSSING_SHARE * min(a.secure, b.secure))
    return min(round(surely), shown), shown


def _has_faded(one: Projected) -> bool:
    """Whether a chunk that was shown at goal does not go there surely any more."""
    known = one.chunk.secure is not None
    return known and one.level >= AT_TEMPO and one.share < KEPT_SHARE


def _stands(one: Projected, end: int) -> str:
    if one.level == NEW:
        return f"goal {ladders.whole(one.chunk.goal)}"
    now = round(one.secure)
    goal = ladders.whole(one.chunk.goal)
    if end >= goal:
        return f"secure at {now} of {goal}: today to goal"
    return f"secure at {now} of {goal}, today towards {end}"


def _shares(total: int, needs: Sequence[int], most: int) -> list[int]:
    """Whole minutes: something for each that is worth starting, the rest by need.

    Where too few are left, those that need most have theirs; none gets more than ``most``.
    """
    left = max(total, 0)
    shares = [0] * len(needs)
    for place in sorted(range(len(needs)), key=lambda i: -needs[i]):
        shares[place] = min(needs[place], LEAST_MINUTES, left)
        left -= shares[place]
    rest = [place for place, need in enumerate(needs) if shares[place] >= LEAST_MINUTES]
    while rest and left > 0:
        found = share_seconds(left, [needs[place] - LEAST_MINUTES for place in rest])
        given = 0
        for place, minutes in zip(rest, found, strict=True):
            more = min(minutes, most - shares[place])
            shares[place] += more
            given += more
        left -= given
        open_ = [place for place in rest if shares[place] < min(most, needs[place])]
        if not given or open_ == rest:
            break
        rest = open_
    return shares


def _sittings(day: date, items: Sequence[Item], count: int) -> list[Session]:
    """Items of a day in one or more sittings of about the same length, in the order given."""
    if not items:
        return [Session(day, 1, ())]
    total = sum(item.minutes for item in items)
    parts: list[list[Item]] = [[] for _ in range(max(count, 1))]
    spent = 0
    for item in items:
        # An item belongs where its middle falls.
        at = min(int((spent + item.minutes / 2) * len(parts) / total), len(parts) - 1)
        parts[at].append(item)
        spent += item.minutes
    filled = [part for part in parts if part]
    return [Session(day, n, tuple(part)) for n, part in enumerate(filled, 1)]
