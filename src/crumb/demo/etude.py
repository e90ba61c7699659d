"""The demo etude, composed for this project: sixty-four measures for B-flat clarinet.

A pickup, sixteenth runs over the break, a key change, and an opening figure that comes back twice,
each time with another ending.
"""

from fractions import Fraction

from crumb.core.score.model import Key, Part, Tempo, Time
from crumb.core.score.pitch import Transposition, parse_pitch
from crumb.demo.notation import Sketch

TITLE = "Lantern Etude"
GOAL, START, STEP = 106, 82, 4

_OPENING = (
    "q:0' e:2',4' q:7> e:6,4",
    "s:(5,4,3,2) q:3 e:1',2' q:0",
    "q:0' e:2',4' q:9> e:8,6",
    "s:(7,6,5,4) s:(5,4,3,2) q:4 q:r",
)
_RUNS_BELOW = (
    "s:(0,1,2,3) s:(1,2,3,4) s:(2,3,4,5) s:(3,4,5,6)",
    "s:(7,6,5,4) s:(6,5,4,3) s:(5,4,3,2) q:1'",
    "s:(0,2,1,3) s:(2,4,3,5) s:(4,6,5,7) s:(6,8,7,9)",
    "s:(9,8,7,6) s:(5,4,3,2) h:1",
)
_RUNS_ABOVE = (
    "s:(2,3,4,2) s:(3,4,5,3) s:(4,5,6,4) s:(5,6,7,5)",
    "s:(6,7,8,6) s:(7,8,9,7) e:10',9' e:8',7'",
    "s:(9,7,8,6) s:(7,5,6,4) s:(5,3,4,2) s:(3,1,2,0)",
    "s:(1,2,3,4) s:(5,6,7,8) q:9> q:r",
)
_SONG = (
    "h:(2 q:3 q:4)",
    "q.:(5 e:4 h:2)",
    "h:(3 q:4 q:5)",
    "q.:(6 e:5 h:3)",
    "q:(4 q:5 q:6 q:7)",
    "h:8~ e:(8,7 e:6,5)",
    "q:(4 q:2 q:3 q:1)",
    "h.:0 q:r",
)


def clarinet_etude() -> Part:
    """The etude as a part."""
    sketch = Sketch(
        name="Clarinet in B♭",
        instrument="Clarinet in B♭",
        transposition=Transposition(diatonic=-1, chromatic=-2),
        tonic=parse_pitch("G4"),
        key=Key(1, "major"),
        time=Time("4", 4),
        tempo=Tempo(Fraction(1), Fraction(GOAL)),
    )
    _first_half(sketch)
    sketch.turn(tonic=parse_pitch("F4"), key=Key(-1, "major"))
    _middle(sketch)
    sketch.turn(tonic=parse_pitch("G4"), key=Key(1, "major"))
    _return(sketch)
    return sketch.part()


def _first_half(sketch: Sketch) -> None:
    sketch.add("e:-3',-1'", dynamic="mf", words="Brightly")
    sketch.strain((*_OPENING, *_OPENING[:2]))
    sketch.strain(("s:(4,5,6,7) s:(8,7,6,5) q:4 e:6',4'", "q:3 q:1 h:0"))
    sketch.strain((*_RUNS_BELOW, *_RUNS_ABOVE), dynamic="f", letter="P")
    sketch.strain((*_OPENING, *_OPENING[:2]), dynamic="mf", letter="Q")
    sketch.strain(("s:(4,3,2,1) s:(5,4,3,2) s:(6,5,4,3) s:(7,6,5,4)", "q:8> q:5 q:6 q:r"))
    sketch.strain(
        (
            "s:(7,6,7,5) s:(6,5,6,4) s:(5,4,5,3) s:(4,3,4,2)",
            "e:3',5' e:7',5' q:4 q:r",
            "s:(8,7,8,6) s:(7,6,7,5) s:(6,5,6,4) s:(5,4,5,3)",
            "e:4',6' e:8',6' q:5 q:r",
            "s:(0,4,1,4) s:(2,4,3,4) s:(4,7,5,7) s:(6,7,7,8)",
            "s:(9,8,7,6) q:5 s:(8,7,6,5) q:4",
            "e:3,2# e:3,4 e:5,4# e:5,6",
            "q:7> q:4' h:0",
        ),
        dynamic="p",
    )


def _middle(sketch: Sketch) -> None:
    sketch.strain(_SONG, dynamic="p", letter="R")
    sketch.strain(
        (
            "s:(4,3,2,3) s:(4,5,6,7) q:8 q:6",
            "s:(3,2,1,2) s:(3,4,5,6) q:7 q:5",
            "s:(2,1,0,1) s:(2,3,4,5) s:(6,5,4,3) s:(2,3,4,6)",
            "q:5> e:r,4 e:3,2 e:1,0",
            "s:(7,8,7,6) s:(5,6,5,4) s:(3,4,3,2) s:(1,2,1,0)",
            "s:(-1,0,1,2) s:(3,4,5,6) s:(7,6,5,4) s:(3,2,1,2)",
            "e:0',2' e:4',7' q:9> q:r",
            "h:4 q:5# q:r",
        ),
        dynamic="f",
    )


def _return(sketch: Sketch) -> None:
    sketch.strain((*_OPENING, *_OPENING[:2]), dynamic="mf", letter="S")
    sketch.strain(("s:(4,5,6,7) s:(8,9,8,7) s:(6,7,6,5) s:(4,5,4,2)", "q:3 e:r,1 q:2 q:r"))
    sketch.strain(
        (
            "s:(0,1,2,3) s:(4,3,2,1) s:(0,2,4,5) s:(7,5,4,2)",
            "s:(1,2,3,4) s:(5,4,3,2) s:(1,3,5,6) s:(8,6,5,3)",
            "s:(2,3,4,5) s:(6,5,4,3) s:(2,4,6,7) s:(9,7,6,4)",
            "s:(7,6,5,4) s:(5,4,3,2) s:(3,2,1,0) s:(1,0,-1,-3)",
            "q:0' e:2',4' q:7> e:9,8",
            "s:(7,8,7,6) s:(5,6,5,4) e:3',1' q:2",
            "q:4> q:r q:1> q:r",
            "h:0 q:r",
        ),
        dynamic="f",
    )
