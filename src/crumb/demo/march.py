"""A march for wind band, composed for this project: thirteen parts, ninety-two measures.

A pickup, letters P to U, a trio in another key with its strain in 6/8, runs that come back in other
parts, off-beats, long notes and rests, and a snare drum with rudiments.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from crumb.core.score.model import Clef, Key, Part, Score, Tempo, Time
from crumb.core.score.pitch import Transposition, parse_pitch
from crumb.demo.notation import Sketch
from crumb.demo.people import COMPOSER

TITLE = "Saltgrass March"
GOAL = 113

Strain = Sequence[str]

_REST = "w:r"
_REST_6 = "h.:r"

# The first strain: degrees above the tonic, 0 the tonic itself.
_TUNE: Strain = (
    "q:0> e:1,2 q:4 q:4'",
    "q:5 e:4,3 q:2 q:r",
    "q:1> e:2,3 q:5 q:5'",
    "q:4 e:3,2 q:1 q:r",
    "q:0> e:1,2 q:4 q:7>",
    "e:6,5 e:4,5 q:6 q:4",
    "s:(4,3,2,1) s:(3,2,1,0) q:1 q:2'",
    "h:0 q:r q:r",
)
_RUN: Strain = (
    "s:(0,1,2,3) s:(4,5,6,7) q:7> q:4'",
    "s:(7,6,5,4) s:(3,2,1,0) q:0> q:2'",
    "s:(1,2,3,4) s:(5,6,7,8) q:8> q:5'",
    "s:(8,7,6,5) s:(4,3,2,1) q:1> q:r",
    "s:(2,3,4,2) s:(3,4,5,3) s:(4,5,6,4) s:(5,6,7,5)",
    "s:(6,7,8,6) s:(7,6,5,4) q:5 q:3",
    "e:4',2' e:5',3' s:(4,3,2,1) s:(2,1,0,-1)",
    "q:0> q:4 q:0 q:r",
)
_COUNTER: Strain = (
    "h:(4 h:2)",
    "h:(3 h:4)",
    "h:(5 h:3)",
    "h:(2 h:1)",
    "h:(4 h:4)",
    "h:(3 h:2)",
    "q:(2 q:1 q:3 q:1)",
    "h:2 q:r q:r",
)
_AFTER: Strain = ("e:r,2' e:r,2' e:r,2' e:r,2'", "e:r,1' e:r,1' e:r,2' e:r,2'") * 3 + (
    "e:r,1' e:r,1' e:r,3' e:r,3'",
    "q:2 q:2 q:2 q:r",
)
_LOW: Strain = ("q:0' q:-3' q:0' q:-3'", "q:-3' q:-1' q:0' q:-3'") * 3 + (
    "q:1' q:-3' q:-2' q:-1'",
    "q:0 q:-3 q:0 q:r",
)
_SLIDES: Strain = ("q:(0 q:-1) q:0' q:-3'", "q:(-3 q:-2) q:-1' q:-3'") * 3 + (
    "e:-3,-2 e:-1,0 q:1 q:-1",
    "q:0 q:-3 q:0 q:r",
)
# The trio: sung, then answered in 6/8.
_SONG: Strain = (
    "h:(2 q:3 q:4)",
    "h.:4 q:2",
    "h:(1 q:2 q:3)",
    "h.:3 q:r",
    "h:(2 q:4 q:6)",
    "h:(5 q:4 q:3)",
    "h:(2 h:1)",
    "h.:0 q:r",
)
_JIG: Strain = (
    "q:0 e:2 q:4 e:2",
    "e:(4,3,2) q.:1",
    "q:1 e:3 q:5 e:3",
    "e:(5,4,3) q.:2",
    "q:0 e:2 q:4 e:7",
    "e:(7,6,5) e:(6,5,4)",
    "e:(4,3,2) e:(3,2,1)",
    "q.:0 q:r e:r",
)
_JIG_LOW: Strain = ("q.:0 q.:-3", "q.:0 q.:-1") * 3 + ("q.:-2 q.:-1", "q.:0 q:r e:r")
_JIG_AFTER: Strain = ("q:r e:2 q:r e:2", "q:r e:1 q:r e:1") * 3 + (
    "q:r e:1 q:r e:1",
    "q.:2 q:r e:r",
)

_DRUM: Strain = (
    "e:0> s:0,0 e:0 s:0,0 e:0> e:0 q:0",
    "s:0,0,0,0 e:0> e:0 s:0,0,0,0 q:0>",
    "e:0> s:0,0 e:0 s:0,0 e:0> e:0 q:0",
    "e:0 e:0> e:0 e:0> q:0 q:r",
) * 2
_DRUM_6: Strain = ("e:0>,0,0 e:0>,0,0", "q:0> e:0 s:0,0,0,0,0,0") * 4


@dataclass(frozen=True, slots=True)
class _Chair:
    """A part: its instrument, where its tonic lies, and what it plays in each strain."""

    name: str
    instrument: str
    transposition: Transposition
    tonic: str
    fifths: int
    clef: Clef
    first: Strain
    second: Strain
    song: Strain
    jig: Strain
    is_low: bool = False
    """Whether the trio lies a fifth under it, not a fourth over it."""


_B_FLAT = Transposition(diatonic=-1, chromatic=-2)
_E_FLAT = Transposition(diatonic=-5, chromatic=-9)
_IN_F = Transposition(diatonic=-4, chromatic=-7)
_CONCERT = Transposition()
_G, _F, _STROKES = Clef("G", 2), Clef("F", 4), Clef("percussion", 2)
_SNARE = "Snare drum"
_SILENT: Strain = (_REST,) * 8
_SILENT_6: Strain = (_REST_6,) * 8

_CHAIRS: tuple[_Chair, ...] = (
    _Chair("Flute", "Flute", _CONCERT, "Bb4", -2, _G, _TUNE, _RUN, _SONG, _JIG),
    _Chair("Oboe", "Oboe", _CONCERT, "Bb4", -2, _G, _TUNE, _COUNTER, _SONG, _JIG),
    _Chair(
        "Clarinet 1",
        "Clarinet in B♭",
        _B_FLAT,
        "C5",
        0,
        _G,
        _TUNE,
        _RUN,
        _COUNTER,
        _JIG,
        is_low=True,
    ),
    _Chair("Clarinet 2", "Clarinet in B♭", _B_FLAT, "C4", 0, _G, _COUNTER, _RUN, _SONG, _JIG_AFTER),
    _Chair(
        "Alto saxophone 1", "Alto saxophone", _E_FLAT, "G4", 1, _G, _COUNTER, _COUNTER, _SONG, _JIG
    ),
    _Chair(
        "Alto saxophone 2",
        "Alto saxophone",
        _E_FLAT,
        "G4",
        1,
        _G,
        _AFTER,
        _COUNTER,
        _COUNTER,
        _JIG_AFTER,
    ),
    _Chair(
        "Trumpet 1", "Trumpet in B♭", _B_FLAT, "C5", 0, _G, _TUNE, _TUNE, _SILENT, _JIG, is_low=True
    ),
    _Chair(
        "Trumpet 2", "Trumpet in B♭", _B_FLAT, "C4", 0, _G, _COUNTER, _AFTER, _SILENT, _JIG_AFTER
    ),
    _Chair("Horn in F", "Horn in F", _IN_F, "F4", -1, _G, _AFTER, _AFTER, _COUNTER, _JIG_AFTER),
    _Chair("Trombone 1", "Trombone", _CONCERT, "Bb2", -2, _F, _COUNTER, _SLIDES, _SONG, _JIG_LOW),
    _Chair("Trombone 2", "Trombone", _CONCERT, "Bb2", -2, _F, _LOW, _SLIDES, _COUNTER, _JIG_LOW),
    _Chair(
        "Glockenspiel", "Glockenspiel", _CONCERT, "Bb4", -2, _G, _TUNE, _SILENT, _SONG, _SILENT_6
    ),
    _Chair("Snare drum", _SNARE, _CONCERT, "C5", 0, _STROKES, _DRUM, _DRUM, _SILENT, _DRUM_6),
)


def march() -> Score:
    """The march as a score."""
    return Score(TITLE, COMPOSER, tuple(_part(chair) for chair in _CHAIRS))


def _part(chair: _Chair) -> Part:
    sketch = Sketch(
        name=chair.name,
        instrument=chair.instrument,
        transposition=chair.transposition,
        tonic=parse_pitch(chair.tonic),
        key=Key(chair.fifths, "major"),
        time=Time("4", 4),
        tempo=Tempo(Fraction(1), Fraction(GOAL)),
        clef=chair.clef,
    )
    sketch.add("q:r", words="With swing of the step")
    sketch.strain(chair.first, dynamic="f")
    sketch.strain(chair.first, letter="P")
    sketch.strain(chair.second, dynamic="ff", letter="Q")
    sketch.strain(chair.second)
    sketch.turn(tonic=sketch.degree(-4 if chair.is_low else 3), key=_trio(chair))
    sketch.strain(chair.song, dynamic="p", letter="R")
    sketch.strain(chair.song, dynamic="mp")
    sketch.time = Time("6", 8)
    sketch.strain(chair.jig, dynamic="mf", letter="S")
    sketch.strain(chair.jig)
    sketch.time = Time("4", 4)
    sketch.turn(tonic=parse_pitch(chair.tonic), key=Key(chair.fifths, "major"))
    sketch.strain(chair.second, dynamic="f", letter="T")
    sketch.strain(chair.second)
    sketch.strain(chair.first, dynamic="ff", letter="U")
    for text in (*chair.second[:3], "q:0 q:r q:0> q:r"):
        sketch.add(text)
    made = sketch.part()
    return _struck(made) if chair.instrument == _SNARE else made


def _trio(chair: _Chair) -> Key:
    """A fourth up: one flat more, where there is a key at all."""
    return Key(0 if chair.instrument == _SNARE else chair.fifths - 1, "major")


def _struck(part: Part) -> Part:
    """Strokes on the middle of the staff in the place of notes."""
    place = parse_pitch("C5")
    return replace(
        part,
        measures=tuple(
            replace(
                measure,
                notes=tuple(
                    note if note.is_rest else replace(note, pitch=None, place=place)
                    for note in measure.notes
                ),
            )
            for measure in part.measures
        ),
    )
