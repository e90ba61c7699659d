"""Small music for tests, written in the demo's shorthand."""

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

from crumb.core.score.model import Key, Part, Tempo, Time
from crumb.core.score.pitch import Transposition, parse_pitch
from crumb.core.score.position import Position, Span, whole
from crumb.demo.notation import Sketch
from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part

F = Fraction


def a_part(*measures: str, time: str = "4/4", fifths: int = 0, transposed: int = 0) -> Part:
    """A part in C5-and-up shorthand, one string a measure (see ``crumb.demo.notation``)."""
    beats, unit = time.split("/")
    sketch = Sketch(
        name="Test part",
        instrument="Test instrument",
        transposition=Transposition(diatonic=round(transposed * 7 / 12), chromatic=transposed),
        tonic=parse_pitch("C5"),
        key=Key(fifths),
        time=Time(beats, int(unit)),
        tempo=Tempo(F(1), F(100)),
    )
    for text in measures:
        sketch.add(text)
    return sketch.part()


def reread(part: Part) -> Part:
    """The part as it comes back from its own file."""
    return read_score(write_part(part).encode()).parts[0]


def span(part: Part, first: int, last: int, *, landing: bool = False) -> Span:
    """Whole measures by index, both included."""
    return Span(Position(first, F(0)), Position(last + 1, F(0)), landing)


SIXTEENTHS = "s:0,1,2,3,4,5,6,7,7,6,5,4,3,2,1,0"
EIGHTHS = "e:0,1,2,3,4,5,6,7"


def tiles(part: Part, spans: Sequence[Span]) -> bool:
    """Whether spans cover the part from its first note to its last, each once."""
    everything = whole(part)
    return bool(spans) and (
        spans[0].start == everything.start
        and spans[-1].end == everything.end
        and all(a.end == b.start for a, b in pairwise(spans))
    )
