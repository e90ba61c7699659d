"""A reel for string orchestra, composed for this project: five parts, forty-one measures.

A pickup, a slow opening, sixteenth runs over the strings, double stops, pizzicato and bow by turns,
a middle strain in another key with an echo, and the reel once more.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.score.model import Clef, Key, Part, Score, Tempo, Time
from crumb.core.score.pitch import Transposition, parse_pitch
from crumb.demo.notation import Sketch
from crumb.demo.people import COMPOSER

TITLE = "Tern Island Reel"
GOAL = 110

Strain = Sequence[str]

# Degrees above D, which is an open string of all but the basses' lowest.
_AIR: Strain = (
    "h:(4 q:2 q:3)",
    "h.:4 q:r",
    "h:(5 q:4 q:2)",
    "h.:1 q:r",
    "h:(2 q:4 q:7)",
    "h:(6 h:4)",
    "q:(3 q:2 q:1 q:-1)",
    "h.:0 q:r",
)
_AIR_UNDER: Strain = (
    "w:0+5",
    "h:2+7 h:1+6",
    "w:0+5",
    "h:1+6 h:1+4",
    "w:0+4",
    "h:1+6 h:2+7",
    "h:1+5 h:1+4",
    "h.:0+4 q:r",
)
_REEL: Strain = (
    "s:(0,1),2,3 s:(4,3),4,2 s:(5,4),5,7 e:4',2'",
    "s:(1,2),3,4 s:(5,4),5,3 s:(6,5),6,8 e:5',3'",
    "s:(7,6),5,4 s:(5,4),3,2 s:(3,2),1,0 e:-1',1'",
    "s:(0,2),4,2 s:(7,4),2,4 q:1> q:r",
    "s:(0,1),2,3 s:(4,3),4,2 s:(5,4),5,7 e:4',2'",
    "s:(1,2),3,4 s:(5,4),5,3 s:(6,5),6,8 e:9',8'",
    "s:(7,6),5,4 s:(3,4),5,6 s:(5,4),3,2 s:(1,2),1,-1",
    "q:0> q:4' h:0",
)
_STOPS: Strain = (
    "e:r,0+5' e:r,0+5' e:r,2+7' e:r,2+7'",
    "e:r,1+6' e:r,1+6' e:r,1+6' e:r,1+6'",
    "e:r,0+5' e:r,0+5' e:r,1+4' e:r,1+4'",
    "e:r,0+4' e:r,0+4' q:1+6> q:r",
    "e:r,0+5' e:r,0+5' e:r,2+7' e:r,2+7'",
    "e:r,1+6' e:r,1+6' e:r,1+6' e:r,1+6'",
    "q:2+7> q:1+6> q:0+5> q:1+4>",
    "q:0+4> q:1+4' h:0+4",
)
_WALK: Strain = (
    "q:0' q:4' q:-1' q:4'",
    "q:1' q:4' q:1' q:3'",
    "q:2' q:0' q:1' q:-1'",
    "q:0' q:2' q:4> q:r",
) * 2
_GROUND: Strain = (
    "h:0 h:-3",
    "h:1 h:-3",
    "h:-2 h:-3",
    "h:0 q:-3> q:r",
) * 2
_PLUCKED: Strain = (
    "q:0 q:2 q:4 q:2",
    "q:1 q:3 q:5 q:3",
    "e:0,2 e:4,2 e:5,4 e:2,0",
    "q:1 q:4 q:1 q:r",
    "q:0 q:2 q:4 q:7",
    "q:5 q:3 q:1 q:3",
    "e:4,2 e:0,2 e:1,-1 e:1,-1",
    "q:0 q:4 q:0 q:r",
)
_SUNG: Strain = (
    "h:(0 q:2 q:4)",
    "q.:(7 e:6 h:4)",
    "h:(5 q:3 q:1)",
    "h.:4 q:r",
    "h:(0 q:2 q:4)",
    "q.:(7 e:8 h:6)",
    "q:(5 q:4 q:3 q:1)",
    "h.:0 q:r",
)
_LAST = "q:0> q:4' q:0"
"""A beat shorter, for the pickup's sake."""
_LONG: Strain = ("w:0", "w:1", "h:2 h:1", "h:0 h:-3", "w:0", "w:1", "h:1 h:-3", "h.:0 q:r")

_CONCERT = Transposition()
_OCTAVE_LOWER = Transposition(diatonic=-7, chromatic=-12)


@dataclass(frozen=True, slots=True)
class _Desk:
    """A part: its instrument, its tonic and clef, and what it plays in each strain."""

    name: str
    instrument: str
    tonic: str
    clef: Clef
    air: Strain
    reel: Strain
    plucked: Strain
    sung: Strain
    transposition: Transposition = _CONCERT
    middle: int = -4
    """Steps from the tonic to that of the middle strain."""


_DESKS: tuple[_Desk, ...] = (
    _Desk("Violin I", "Violin", "D4", Clef("G", 2), _AIR, _REEL, _PLUCKED, _SUNG),
    _Desk("Violin II", "Violin", "D4", Clef("G", 2), _AIR_UNDER, _REEL, _PLUCKED, _LONG, middle=3),
    _Desk("Viola", "Viola", "D4", Clef("C", 3), _AIR_UNDER, _STOPS, _WALK, _SUNG),
    _Desk("Cello", "Cello", "D3", Clef("F", 4), _AIR, _WALK, _SUNG, _LONG),
    _Desk(
        "Double bass",
        "Double bass",
        "D3",
        Clef("F", 4),
        _LONG,
        _GROUND,
        _WALK,
        _LONG,
        _OCTAVE_LOWER,
        middle=3,
    ),
)


def reel() -> Score:
    """The reel as a score."""
    return Score(TITLE, COMPOSER, tuple(_part(desk) for desk in _DESKS))


def _part(desk: _Desk) -> Part:
    sketch = Sketch(
        name=desk.name,
        instrument=desk.instrument,
        transposition=desk.transposition,
        tonic=parse_pitch(desk.tonic),
        key=Key(2, "major"),
        time=Time("4", 4),
        tempo=Tempo(Fraction(1), Fraction(GOAL)),
        clef=desk.clef,
    )
    sketch.add("q:r", words="Broad, then light")
    sketch.strain(desk.air, dynamic="p")
    sketch.strain(desk.reel, dynamic="mf", letter="P")
    is_plucked = desk.plucked is not _SUNG
    sketch.strain(desk.plucked, dynamic="p", letter="Q", words="pizz." if is_plucked else "singing")
    sketch.turn(tonic=sketch.degree(desk.middle), key=Key(1, "major"))
    sketch.strain(desk.sung, dynamic="f", letter="R", words="arco" if is_plucked else "")
    sketch.turn(tonic=parse_pitch(desk.tonic), key=Key(2, "major"))
    sketch.strain((*desk.reel[:-1], _LAST), dynamic="ff", letter="S")
    return sketch.part()
