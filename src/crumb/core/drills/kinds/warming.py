"""Warm-ups: the scale of the chunk's key, and what its techniques are made of.

The figures are common practice, no source.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from crumb.core.drills.build import bare, laid_step
from crumb.core.drills.model import LEARN, ON, DrillKind, Parameter, Settings, Step
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, WARM_UP
from crumb.core.drills.spots import top, widest_leap
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.model import Note
from crumb.core.score.notating import Event
from crumb.core.score.pitch import STEPS, Pitch, key_alter, moved
from crumb.core.survey.strings import OPEN
from crumb.core.survey.strings import path as string_path

_BREAK = 70
"""The highest written throat note of the clarinets, B♭4; above it the other register begins."""


def _tonic(fifths: int, mode: str) -> Pitch:
    letters = "FCGDAEB"
    place = fifths + 1 + (3 if mode == "minor" else 0)
    return Pitch(letters[place % 7], Fraction(place // 7), 4)


def _degree(tonic: Pitch, fifths: int, degree: int) -> Pitch:
    octave, letter = divmod(tonic.diatonic + degree, 7)
    step = STEPS[letter]
    return Pitch(step, Fraction(key_alter(step, fifths)), octave)


class _Key:
    """The scale of a chunk's key where its instrument plays it easily."""

    def __init__(self, passage: Passage) -> None:
        key = passage.cut.measures[0].key
        tonic = _tonic(key.fifths, key.mode)
        low, high = passage.instrument.low, passage.instrument.high
        while tonic.midi < low:
            tonic = replace(tonic, octave=tonic.octave + 1)
        while tonic.midi - 12 >= low and tonic.midi + 12 > high:
            tonic = replace(tonic, octave=tonic.octave - 1)
        self.tonic, self.fifths = tonic, key.fifths

    def degrees(self, *places: int) -> list[Pitch]:
        """Notes of the scale, 0 the first."""
        return [_degree(self.tonic, self.fifths, place) for place in places]


_Row = list[tuple[Pitch, Fraction]]
_HALF, _QUARTER, _WHOLE = Fraction(1, 2), Fraction(1, 4), Fraction(4)


def _even(pitches: Sequence[Pitch], unit: Fraction) -> _Row:
    return [(pitch, unit) for pitch in pitches]


def _scale(key: _Key) -> _Row:
    return _even(key.degrees(*range(8), *range(6, 0, -1)), _HALF)


def _thirds(key: _Key) -> _Row:
    return _even(key.degrees(*(j for i in range(6) for j in (i, i + 2))), _HALF)


def _arpeggio(key: _Key) -> _Row:
    return _even(key.degrees(0, 2, 4, 7, 4, 2), _HALF)


def _tongued(key: _Key) -> _Row:
    return _even([p for p in key.degrees(0, 1, 2, 3, 4, 3, 2, 1) for _ in range(4)], _QUARTER)


def _widening(key: _Key) -> _Row:
    return _even(key.degrees(*(j for i in (2, 4, 5, 7) for j in (0, i))), Fraction(2))


def _chromatic(key: _Key) -> _Row:
    up = [key.tonic]
    for letters, half_steps in ((0, 1), (1, 2), (1, 3), (2, 4), (3, 5)):
        up.append(moved(key.tonic, diatonic=letters, chromatic=half_steps))
    return _even([*up, *up[-2:0:-1]], _HALF)


def _off_beats(key: _Key) -> _Row:
    row: _Row = []
    for pitch in key.degrees(0, 1, 2, 3, 4, 3, 2, 1):
        row += [(pitch, _HALF), (pitch, Fraction(1)), (pitch, _HALF)]
    return row


def _over_the_break(key: _Key) -> _Row:
    """To and fro between the notes on either side of the clarinets' break."""
    below = max(place for place in range(-9, 12) if key.degrees(place)[0].midi <= _BREAK)
    pairs = ((below, below + 1), (below - 1, below + 1), (below, below + 2), (below - 1, below + 2))
    return _even(key.degrees(*(place for pair in pairs for place in pair * 2)), _HALF)


def _long_tones(key: _Key) -> _Row:
    return _even(key.degrees(4, 5, 3, 6, 2, 7, 1, 0), _WHOLE)


_FIGURES: Mapping[str, tuple[str, str, Callable[[_Key], _Row]]] = {
    "scale": ("Scale of the key", "Easy and full; this is what the chunk is made of.", _scale),
    "thirds": ("Thirds", "Easy and full; this is what the chunk is made of.", _thirds),
    "arpeggio": ("Arpeggio", "Easy and full; this is what the chunk is made of.", _arpeggio),
    "tongue": (
        "Four strokes on each note",
        "Light and even; the air or bow never stops.",
        _tongued,
    ),
    "leap": ("Wider and wider", "Hear the upper note before you move; slow and sure.", _widening),
    "shift": (
        "Shifts that widen",
        "Slide lightly, without weight; arrive, then listen.",
        _widening,
    ),
    "crossing": ("Across and back", "Move the arm before the string; one level for each.", _thirds),
    "break": (
        "Over the break",
        "Fingers close, the air goes on through the change.",
        _over_the_break,
    ),
    "slide": ("Long ways of the slide", "Early and loose; stop the slide, not the air.", _widening),
    "accidental": ("Half steps", "Name each note as you play it.", _chromatic),
    "rhythm": (
        "Off the beat",
        "Tap the beat with the foot; every note between is light.",
        _off_beats,
    ),
    "range": (
        "Long tones outward",
        "From the middle outward, soft, as long as a calm breath.",
        _long_tones,
    ),
}
_BY_TAG = {
    "valves": "accidental",
    "enharmonic": "accidental",
    "changed-note": "accidental",
    "fingering": "accidental",
    "partial": "leap",
    "mallet-leap": "leap",
    "thumb": "shift",
    "syncopation": "rhythm",
    "off-beat": "rhythm",
    "subdivision": "rhythm",
    "speed": "thirds",
    "double-stop": "thirds",
    "breath": "range",
    "vibrato": "range",
    "double-tongue": "tongue",
}
_STICKINGS = {
    "Single strokes": "RLRLRLRLRLRLRLRL",
    "Double strokes": "RRLLRRLLRRLLRRLL",
    "Paradiddles": "RLRRLRLLRLRRLRLL",
}
"""Rudiments by their sticking, common practice."""
_MOST = 5


def techniques_of(passage: Passage) -> list[str]:
    """Techniques that a warm-up for this chunk should hold besides the scale of its key."""
    family = passage.instrument.family
    heights = [top(notes) for notes in passage.struck]
    pairs = [(a, b) for a, b in pairwise(heights) if a is not None and b is not None]
    found = ["scale"]
    if family == "clarinet" and any((a <= _BREAK) != (b <= _BREAK) for a, b in pairs):
        found.append("break")
    if family == "trombone" and widest_leap(passage) is not None:
        found.append("slide")
    elif widest_leap(passage) is not None:
        found.append("leap")
    if family in OPEN:
        places = [p for p in string_path(family, [h for h in heights if h is not None]) if p]
        moves = list(pairwise(places))
        if any(a.base != b.base and a.base and b.base for a, b in moves):
            found = [*(name for name in found if name != "leap"), "shift"]
        if any(a.string != b.string for a, b in moves):
            found.append("crossing")
    elif passage.commonest_value < passage.beat / 2 and not _is_slurred(passage):
        found.append("tongue")
    if any(n.accidental for notes in passage.struck for n in notes):
        found.append("accidental")
    return [*found, "arpeggio"] if len(found) < _MOST else found[:_MOST]


def _is_slurred(passage: Passage) -> bool:
    return any(note.slurs for notes in passage.struck for note in notes)


def _named(passage: Passage, text: str) -> list[str]:
    if text == AUTO:
        return techniques_of(passage)
    words = [word.strip().casefold() for word in text.split(",") if word.strip()]
    named = [_BY_TAG.get(word, word) for word in words]
    unknown = [word for word, name in zip(words, named, strict=True) if name not in _FIGURES]
    if unknown or not named:
        raise BadSetting(
            f"No warm-up is known for “{', '.join(unknown)[:40]}”: say auto, or some of"
            f" {', '.join(_FIGURES)}."
        )
    return list(dict.fromkeys(["scale", *named]))


def _warm_up(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    times = int(settings["learning_repetitions"])
    if not passage.is_pitched:
        if passage.instrument.family != "drums":
            raise DrillDoesNotFit("A scale needs pitches.")
        return tuple(
            _row_step(
                passage,
                [_struck(passage, hand) for hand in hands],
                name=name,
                say="Low sticks, even sound; both hands alike.",
                times=times,
            )
            for name, hands in _STICKINGS.items()
        )
    key = _Key(passage)
    model = bare(Event(Fraction(1), (passage.struck[0][0],))).model[0]
    steps = []
    for technique in _named(passage, str(settings["techniques"])):
        name, say, figure = _FIGURES[technique]
        row = [
            Event(unit, (replace(model, pitch=pitch, id=f"w{i}", tie=None),))
            for i, (pitch, unit) in enumerate(figure(key))
        ]
        last = replace(model, pitch=figure(key)[0][0], id="w-last", tie=None)
        row.append(Event(passage.beat, (last,)))
        steps.append(_row_step(passage, row, name=name, say=say, times=times))
    return tuple(steps)


def _struck(passage: Passage, hand: str) -> Event:
    stroke: Note = bare(Event(_QUARTER, (passage.struck[0][0],))).model[0]
    return Event(_QUARTER, (replace(stroke, lyric=hand, tie=None),))


def _row_step(passage: Passage, row: Sequence[Event], *, name: str, say: str, times: int) -> Step:
    return laid_step(
        passage,
        row,
        name=name,
        kind=LEARN,
        repetitions=times,
        slip=ON,
        turned=frozenset(),
        say=say,
    )


WARM_UP_KIND = DrillKind(
    name="warm-up",
    title="Warm-up for what comes",
    family="Technique",
    use_when="At the start of a session, so that the chunk's key and techniques are in the hands.",
    how="The scale of the chunk's key, then a figure for each technique it asks for.",
    clean_means="Full tone and even time; nothing is judged on speed.",
    on_slip="Go on.",
    needs="Pitches and a key, or a drum.",
    make=_warm_up,
    stays=True,
    parameters=(
        Parameter("techniques", "Techniques, with commas between", AUTO),
        replace(LEARNING, default=2, by_level={}),
    ),
    caution=WARM_UP,
    same_pitches=False,
    instead=("count-it", "alone"),
)

KINDS = (WARM_UP_KIND,)
