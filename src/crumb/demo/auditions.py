"""Two more audition etudes, composed for this project: one for trombone, one for violin.

Thirty-three measures each, with a pickup. The trombone's has slurs of the lip, runs that change
position at every note and a song in the high register; the violin's crosses strings, shifts and
ends in double stops.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.score.model import Clef, Key, Part, Tempo, Time
from crumb.core.score.pitch import Transposition, parse_pitch
from crumb.demo.notation import Sketch

Strain = Sequence[str]

_CALL: Strain = (
    "q:0> e:2',4' q:7> e:4,2",
    "q:5 e:(4,3) q:2 q:r",
    "q:1> e:3',5' q:8> e:5,3",
    "e:(4,3) e:(2,1) q:0 q:r",
    "q:0> e:2',4' q:7> e:4,2",
    "q:5 e:(6,7) q:8 q:4",
    "e:7',6' e:5',4' e:3',2' e:1',-1'",
    "h.:0 q:r",
)
_LIPS: Strain = (
    "e:(4,7) e:(4,7) e:(9,7) e:(4,2)",
    "e:(3,6) e:(3,6) e:(8,6) e:(3,1)",
    "e:(2,4) e:(7,4) e:(9,7) e:(4,2)",
    "q:1 q:4> h:r",
    "e:(4,7) e:(4,7) e:(9,7) e:(4,2)",
    "e:(3,6) e:(3,6) e:(8,6) e:(3,1)",
    "e:(7,4) e:(2,4) e:(1,3) e:(5,3)",
    "h.:0 q:r",
)
_SLIDING: Strain = (
    "s:(0,1),2,3 s:(4,3),2,1 q:0> q:4'",
    "s:(1,2),3,4 s:(5,4),3,2 q:1> q:5'",
    "s:(2,3),4,5 s:(6,5),4,3 s:(4,5),6,7 q:8>",
    "s:(7,6),5,4 s:(3,2),1,0 q:-1> q:r",
    "s:(0,-1),0,1 s:(2,1),2,3 s:(4,3),4,5 q:6>",
    "e:r,7' e:6',5' e:r,4' e:3',2'",
    "s:(4,3),2,1 s:(3,2),1,0 q:1 q:-3",
    "h.:0 q:r",
)
_HIGH: Strain = (
    "h:(9 q:8 q:7)",
    "q.:(10 e:9 h:7)",
    "h:(8 q:6 q:4)",
    "h.:5 q:r",
    "h:(9 q:8 q:7)",
    "q.:(11 e:10 h:8)",
    "q:(7 q:5 q:4 q:1)",
    "h.:0 q:r",
)

_CROSSING: Strain = (
    "s:(0,4),0,4 s:(1,4),1,4 s:(2,4),2,4 s:(3,4),3,4",
    "q:4> e:7',8' q:9 q:r",
    "s:(1,5),1,5 s:(2,5),2,5 s:(3,5),3,5 s:(4,5),4,5",
    "q:5> e:8',7' q:6 q:r",
    "s:(0,4),0,4 s:(2,7),2,7 s:(1,5),1,5 s:(3,8),3,8",
    "s:(9,8),7,6 s:(5,4),3,2 q:1> q:4'",
    "s:(0,2),4,2 s:(1,3),5,3 s:(2,4),7,4 s:(1,4),3,1",
    "h.:0 q:r",
)
_SHIFT: Strain = (
    "h:(4 q:7 q:9)",
    "q.:(11 e:10 h:9)",
    "h:(8 q:7 q:5)",
    "h.:8 q:r",
    "h:(4 q:7 q:9)",
    "q.:(11 e:9 h:10)",
    "q:(9 q:7 q:6 q:4)",
    "h.:7 q:r",
)
_LIGHT: Strain = (
    "e:0',2' e:4',7' e:9',7' e:4',2'",
    "t:(1,2,3) t:(4,5,6) q:8> q:4'",
    "e:7',6' e:5',4' e:3',2' e:1',0'",
    "t:(6,5,4) t:(3,2,1) q:-1> q:r",
    "e:0',2' e:4',7' e:9',7' e:4',2'",
    "s:(7,8),9,8 s:(7,6),5,4 s:(5,6),7,6 s:(5,4),3,2",
    "s:(4,3),2,1 s:(3,2),1,0 q:-1 q:-3",
    "h.:0 q:r",
)
_TOGETHER: Strain = (
    "q:1+5> e:2+6',2+6' q:3+7> q:r",
    "s:(7,8),9,8 s:(7,6),5,4 q:1+5> q:r",
    "q:1+5> e:2+6',2+6' q:3+7> q:r",
    "s:(9,8),7,6 s:(5,4),3,2 q:-3+1> q:r",
    "h:-3+1 h:-3+2",
    "s:(0,1),2,3 s:(4,5),6,7 q:8> q:4'",
    "q:-3+1> q:-3+2> q:1+5> q:-3+1>",
    "h.:0 q:r",
)


@dataclass(frozen=True, slots=True)
class AuditionEtude:
    """An etude as the demo brings it in: what it is called, who plays it, and its tempos."""

    title: str
    file_name: str
    section: str
    part: Part
    start: int
    goal: int
    step: int


def trombone_etude() -> AuditionEtude:
    """Slurs of the lip, and a slide that moves at every note."""
    sketch = _sketch("Trombone", "Bb2", Key(-2, "major"), Clef("F", 4), 88)
    sketch.add("e:-3',-1'", dynamic="f", words="With a full tone")
    sketch.strain(_CALL)
    sketch.strain(_LIPS, letter="P", dynamic="mp")
    sketch.strain(_SLIDING, letter="Q", dynamic="f")
    sketch.strain(_without_its_rest(_HIGH), letter="R", dynamic="p", words="singing")
    return AuditionEtude(
        "Fogbell Etude", "fogbell-etude.musicxml", "Trombones", sketch.part(), 64, 88, 4
    )


def violin_etude() -> AuditionEtude:
    """Crossing strings, a shift, and double stops."""
    sketch = _sketch("Violin", "G4", Key(1, "major"), Clef("G", 2), 98)
    sketch.add("q:4'", dynamic="mf", words="Lightly")
    sketch.strain(_CROSSING)
    sketch.strain(_SHIFT, letter="P", dynamic="p", words="singing")
    sketch.strain(_LIGHT, letter="Q", dynamic="mf")
    sketch.strain(_without_its_rest(_TOGETHER), letter="R", dynamic="f")
    return AuditionEtude(
        "Cordgrass Etude", "cordgrass-etude.musicxml", "Violins I", sketch.part(), 70, 98, 7
    )


def _without_its_rest(strain: Strain) -> Strain:
    """The last measure is a beat shorter, for the pickup's sake."""
    return (*strain[:-1], strain[-1].removesuffix(" q:r"))


def _sketch(instrument: str, tonic: str, key: Key, clef: Clef, goal: int) -> Sketch:
    return Sketch(
        name=instrument,
        instrument=instrument,
        transposition=Transposition(),
        tonic=parse_pitch(tonic),
        key=key,
        time=Time("4", 4),
        tempo=Tempo(Fraction(1), Fraction(goal)),
        clef=clef,
    )
