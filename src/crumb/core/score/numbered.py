"""A part that is measures alone: numbered, counted and lettered, while the notes stand on paper."""

from collections.abc import Mapping
from fractions import Fraction

from crumb.core.errors import BadSetting
from crumb.core.score.model import ZERO, Barline, Clef, Direction, Key, Measure, Part, Tempo, Time

MOST_MEASURES = 2000
_UNITS = (1, 2, 4, 8, 16, 32)
_MOST_BEATS = 64


def time_said(text: str) -> Time:
    """A time signature as it is said: ``4/4``, ``6/8``, ``3+2/8``.

    Raises:
        BadSetting: it is none.
    """
    beats, _, unit = text.replace(" ", "").partition("/")
    groups = beats.split("+")
    if not all(g.isascii() and g.isdigit() and len(g) <= 2 and int(g) for g in groups):
        raise BadSetting(f"“{text[:20]}” is no time signature: say 4/4, 6/8 or 3+2/8.")
    time = Time("+".join(str(int(g)) for g in groups), int(unit) if unit in _SAID_UNITS else 0)
    if not time.unit or time.numerator > _MOST_BEATS:
        raise BadSetting(f"“{text[:20]}” is no time signature: say 4/4, 6/8 or 3+2/8.")
    return time


_SAID_UNITS = frozenset(map(str, _UNITS))


def numbered_part(
    name: str,
    *,
    instrument: str,
    count: int,
    first: int = 1,
    time: Time,
    pickup: Fraction = ZERO,
    goal: Fraction,
    letters: Mapping[int, str] | None = None,
) -> Part:
    """Measures without notes.

    Args:
        name: of the part.
        instrument: what it is played on.
        count: full measures; a pickup comes before them.
        first: printed number of the first full measure.
        time: the time signature of all of them.
        pickup: quarter notes before the first full measure.
        goal: beats a minute.
        letters: rehearsal letters by the printed number of their measure.

    Raises:
        BadSetting: no such measures.
    """
    if not 1 <= count <= MOST_MEASURES:
        raise BadSetting(f"A part has between 1 and {MOST_MEASURES} measures.")
    if not 0 <= pickup < time.length:
        raise BadSetting("A pickup is shorter than a measure.")
    over = dict(letters or {})
    numbers = [*([first - 1] if pickup else []), *range(first, first + count)]
    strange = sorted(set(over) - set(numbers))
    if strange:
        raise BadSetting(f"There is no measure {strange[0]} for the letter {over[strange[0]]}.")
    tempo = Tempo(time.beat, goal)
    measures = tuple(
        Measure(
            index=index,
            number=str(number),
            length=pickup if pickup and index == 0 else time.length,
            time=time,
            key=Key(0),
            clefs=(Clef("G", 2),),
            tempo=tempo if index == 0 else None,
            implicit=bool(pickup) and index == 0,
            directions=(
                *((Direction(ZERO, "tempo", tempo=tempo),) if index == 0 else ()),
                *((Direction(ZERO, "rehearsal", over[number]),) if number in over else ()),
            ),
            barlines=(Barline("right", "light-heavy"),) if index == len(numbers) - 1 else (),
        )
        for index, number in enumerate(numbers)
    )
    return Part(id="P1", name=name, measures=measures, instrument=instrument)
