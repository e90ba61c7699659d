"""The order in which measures are played: repeats, endings and jumps played out."""

import re
from collections import Counter, defaultdict
from collections.abc import Sequence
from fractions import Fraction

from crumb.core.score.model import Direction, Measure, Part, Tempo

_MOST = (
    20_000  # measures played, so that signs which send each other round and round come to an end
)
_WORDS = (
    (re.compile(r"\bd\.?\s*c\.?\b|da capo", re.IGNORECASE), "dacapo"),
    (re.compile(r"\bd\.?\s*s\.?\b|dal segno", re.IGNORECASE), "dalsegno"),
    (re.compile(r"^\s*(to coda|al coda)\b", re.IGNORECASE), "tocoda"),
    (re.compile(r"^\s*fine\b", re.IGNORECASE), "fine"),
)


def playing_order(part: Part) -> list[int]:
    """Indexes of the measures as played.

    Repeats are taken as often as they say, endings by their numbers; after da capo or dal segno
    repeats are not taken again, and fine and coda hold (common practice, no source).
    """
    return _Player(part.measures).play()


def playing_seconds(part: Part, order: Sequence[int], *, unsaid: Fraction) -> Fraction:
    """How long the order of playing takes at the printed tempos, fermatas not held.

    Args:
        part: the part.
        order: as played.
        unsaid: quarter notes a minute where no tempo is printed.
    """
    lengths: dict[Fraction, Counter[int]] = defaultdict(Counter)
    tempo: Tempo | None = None
    sums = lengths[unsaid]
    for index in order:
        measure = part.measures[index]
        if measure.tempo is not tempo:
            tempo = measure.tempo
            sums = lengths[tempo.quarters if tempo else unsaid]
        # Summed by denominator: fractions are slow to add one by one.
        sums[measure.length.denominator] += measure.length.numerator
    return sum(
        (
            Fraction(count, denominator) * 60 / quarters
            for quarters, sums in lengths.items()
            for denominator, count in sums.items()
        ),
        Fraction(0),
    )


class _Player:
    def __init__(self, measures: Sequence[Measure]) -> None:
        self.measures = measures
        self.jumps = [jumps_of(measure.directions) for measure in measures]
        self.segno = self._sign("segno")
        self.coda = self._last_sign("coda")
        self.jumped = False
        self.endings = _endings(measures)

    def _sign(self, kind: str) -> int:
        return next((m.index for m in self.measures if _has(m, kind)), 0)

    def _last_sign(self, kind: str) -> int | None:
        return next((m.index for m in reversed(self.measures) if _has(m, kind)), None)

    def play(self) -> list[int]:
        order: list[int] = []
        start = 0  # where the repeat in force goes back to
        turn = 1  # which time through it
        place = 0
        while 0 <= place < len(self.measures) and len(order) < _MOST:
            measure = self.measures[place]
            barlines = measure.barlines  # most have none, and go straight on
            if barlines and any(b.repeat == "forward" for b in barlines) and place != start:
                start, turn = place, 1
            skip = self._past_ending(place, turn)
            if skip is not None:
                place = skip
                continue
            order.append(place)
            target = self._jump(place)
            if target is not None:
                if target < 0:
                    break
                place, start, turn = target, target, 1
                continue
            back = next((b for b in barlines if b.repeat == "backward"), None) if barlines else None
            if back is not None and not self.jumped and turn < self._times(place, back.times):
                turn += 1
                place = start
                continue
            if back is not None and not self._more_endings(place):
                start, turn = place + 1, 1
            place += 1
        return order

    def _ending_of(self, place: int) -> tuple[int, ...]:
        """Numbers of the ending a measure stands in; none outside endings."""
        return self.endings[place]

    def _past_ending(self, place: int, turn: int) -> int | None:
        """The measure after an ending that is not for this time through."""
        numbers = self._ending_of(place)
        if not numbers:
            return None
        wanted = turn
        if self.jumped:
            wanted = self._last_turn(place)
        if wanted in numbers:
            return None
        index = place
        while index < len(self.measures) and not any(
            b.ending and b.ending_type in ("stop", "discontinue")
            for b in self.measures[index].barlines
        ):
            index += 1
        return index + 1

    def _last_turn(self, place: int) -> int:
        highest = 1
        for index in range(place, len(self.measures)):
            numbers = self._ending_of(index)
            if not numbers:
                break
            highest = max(highest, *numbers)
        for index in range(place, -1, -1):
            numbers = self._ending_of(index)
            if not numbers:
                break
            highest = max(highest, *numbers)
        return highest

    def _times(self, place: int, printed: int) -> int:
        """How often a repeated stretch is played: as printed, or once for each ending."""
        numbers = self._ending_of(place)
        return max(printed, max(numbers) + 1) if numbers else printed

    def _more_endings(self, place: int) -> bool:
        return (
            bool(self._ending_of(place))
            and place + 1 < len(self.measures)
            and bool(self._ending_of(place + 1))
        )

    def _jump(self, place: int) -> int | None:
        """Where playing goes on after a measure: None straight on, below 0 nowhere."""
        jumps = self.jumps[place]
        if self.jumped:
            if "fine" in jumps:
                return -1
            if "tocoda" in jumps and self.coda is not None and self.coda > place:
                return self.coda
            return None
        if "dacapo" in jumps or "dalsegno" in jumps:
            self.jumped = True
            return 0 if "dacapo" in jumps else self.segno
        return None


def _endings(measures: Sequence[Measure]) -> list[tuple[int, ...]]:
    """For each measure the numbers of the ending it stands in."""
    found: list[tuple[int, ...]] = []
    numbers: tuple[int, ...] = ()
    for measure in measures:
        ends = [b for b in measure.barlines if b.ending] if measure.barlines else []
        for barline in ends:
            if barline.ending_type == "start":
                numbers = _numbers(barline.ending)
        found.append(numbers)
        if any(b.ending_type in ("stop", "discontinue") for b in ends):
            numbers = ()
    return found


def _has(measure: Measure, kind: str) -> bool:
    return any(d.kind == kind for d in measure.directions)


def jumps_of(directions: Sequence[Direction]) -> set[str]:
    """Jumps that some marks ask for: dacapo, dalsegno, tocoda, fine."""
    if not directions:
        return set()
    found = {d.text for d in directions if d.kind == "jump"}
    for direction in directions:
        if direction.kind == "words":
            found |= {name for pattern, name in _WORDS if pattern.search(direction.text)}
    return found


def _numbers(text: str) -> tuple[int, ...]:
    return tuple(int(n) for n in re.findall(r"\d{1,2}", text))
