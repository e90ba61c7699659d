"""Reading and layering: one thing at a time, faults in the other layers allowed."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.making import bare, laid_step, marked_step, with_length, written_step
from crumb.core.drills.model import LEARN, ON, DrillKind, Parameter, Settings, Step
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, PROVING
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.model import Direction, Measure, Note
from crumb.core.score.notating import Event
from crumb.core.score.pitch import Pitch, parse_pitch
from crumb.core.score.position import beat_of, sounds
from crumb.core.score.slicing import mended
from crumb.core.survey.strings import OPEN

_SIGNS = {
    Fraction(-2): "𝄫",
    Fraction(-1): "♭",
    Fraction(0): "",
    Fraction(1): "♯",
    Fraction(2): "𝄪",
}
_VALUES = {"quarter": Fraction(1), "half": Fraction(2), "whole": Fraction(4)}
_TIMES = Parameter("times", "Times", 2, low=1, high=20, by_level={"beginner": 3})


def spoken(pitch: Pitch) -> str:
    """The name of a written pitch as said aloud: ``F♯``."""
    return pitch.step + _SIGNS.get(pitch.alter, "±")


def _named(event: Event) -> Event:
    plain = bare(event)
    names = "–".join(spoken(n.pitch) for n in plain.model if n.pitch)
    return replace(
        plain,
        model=tuple(
            replace(note, lyric=names if i == 0 else "") for i, note in enumerate(plain.model)
        ),
    )


def _name_it(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no note names: count them instead.")
    times = int(settings["times"])
    if settings["rhythm"] == "steady":
        row = [with_length(_named(e), Fraction(1)) for e in passage.plain_events if not e.is_rest]
    else:
        row = [_named(event) for event in passage.plain_events]
    said = laid_step(
        passage,
        row,
        name="Say the names",
        kind=LEARN,
        repetitions=times,
        pace=Fraction(1, 2),
        slip=ON,
        say="Written names aloud in slow, steady time; fingers, slide or mallets move silently.",
    )
    return (said,)


NAME_IT = DrillKind(
    name="name-it",
    title="Name it",
    family="Reading and layers",
    use_when="Notes are read wrong, or the chunk is new.",
    how="Say the note names in slow steady time while the fingers, slide or mallets move silently.",
    clean_means="Every name right and in time; the silent hands agree.",
    on_slip="Go on, mark the note; it is named again next time.",
    needs="Notes with pitch.",
    make=_name_it,
    parameters=(
        Parameter(
            "rhythm",
            "Names come",
            "steady",
            choices=("steady", "in rhythm"),
            by_level={"advanced": "in rhythm"},
        ),
        _TIMES,
    ),
    instead=("count-it", "alone"),
)


# Counting -------------------------------------------------------------------------------------


_WITHIN = {
    (2, Fraction(1, 2)): "&",
    (4, Fraction(1, 4)): "e",
    (4, Fraction(1, 2)): "&",
    (4, Fraction(3, 4)): "a",
    (3, Fraction(1, 3)): "la",
    (3, Fraction(2, 3)): "li",
}


def counted(measure: Measure, at: Fraction) -> str:
    """What is said at a place of a measure: ``2``, ``&``, ``e``, ``a``; thirds ``la``, ``li``."""
    number, part = divmod(beat_of(measure, at), 1)
    if part == 0:
        return str(number)
    for division in (2, 4, 3):
        if (division, part) in _WITHIN:
            return _WITHIN[division, part]
    return "·"


def comfortable(passage: Passage) -> Pitch:
    """A pitch that costs nothing: an open string, or the chunk's own note nearest mid-range."""
    pitches = [note.pitch for notes in passage.struck for note in notes if note.pitch]
    family = passage.instrument.family
    middle = sorted(pitches, key=lambda p: p.midi)[len(pitches) // 2]
    if family in OPEN:
        names = {55: "G3", 62: "D4", 69: "A4", 76: "E5", 48: "C3"} | {36: "C2", 43: "G2"}
        names |= {50: "D3", 57: "A3", 40: "E2", 45: "A2"}
        nearest = min(OPEN[family], key=lambda midi: abs(midi - middle.midi))
        return parse_pitch(names[nearest])
    centre = (passage.instrument.low + passage.instrument.high) // 2
    return min(pitches, key=lambda p: (abs(p.midi - centre), p.midi))


def _pitch_for(passage: Passage, text: str) -> Pitch | None:
    if not passage.is_pitched:
        return None
    if text == AUTO:
        return comfortable(passage)
    try:
        return parse_pitch(text)
    except ValueError as error:
        raise BadSetting(f"“{text[:20]}” is no pitch: write A4 or Bb3.") from error


def silent(note: Note) -> Note:
    """A note taken out of its place: a hidden rest as long."""
    return replace(
        note,
        is_rest=True,
        hidden=True,
        pitch=None,
        place=None,
        in_chord=False,
        tie=None,
        slurs=(),
        articulations=(),
        ornaments=(),
        technical=(),
        gestures=(),
        fermata=False,
        accidental="",
        lyric="",
        notehead="",
        beams=(),
    )


def on_one_pitch(
    passage: Passage,
    step: Step,
    pitch: Pitch | None,
    *,
    name: str,
    keep: Sequence[str] = (),
    count: bool = False,
) -> Step:
    """The rhythm of a written step on one pitch (None: clapped), its count printed below.

    ``keep`` says which marks stay: ``articulation``, ``dynamics``. Chords become one note, grace
    notes go, ties stay.
    """
    place = parse_pitch("B4")

    def change(measure: Measure, note: Note) -> Note:
        if not note.sounds or note.hidden:
            return note
        keeps = "articulation" in keep
        is_attack = note.tie in (None, "start")
        return replace(
            note,
            pitch=pitch,
            place=place if pitch is None else None,
            notehead="x" if pitch is None else "",
            accidental="",
            slurs=note.slurs if keeps and pitch is not None else (),
            articulations=note.articulations if keeps else (),
            ornaments=(),
            gestures=(),
            technical=tuple(t for t in note.technical if t[0] in ("up-bow", "down-bow"))
            if keeps
            else (),
            lyric=counted(measure, note.at) if count and is_attack else "",
        )

    made = marked_step(_one_voice(passage, step), name=name, kind=LEARN, change=change)
    kept = {"rehearsal", "tempo"} | ({"dynamic", "wedge"} if "dynamics" in keep else set())
    measures = tuple(
        replace(m, directions=tuple(d for d in m.directions if d.kind in kept))
        for m in made.part.measures
    )
    part = replace(made.part, measures=measures)
    lead = step.covers.start.at
    return replace(made, part=part, sounds=tuple(replace(s, at=s.at - lead) for s in sounds(part)))


def _one_voice(passage: Passage, step: Step) -> Step:
    """Chord members and grace notes left out; a second voice is refused."""
    passage.need_one_line()
    measures = mended(
        [
            replace(m, notes=tuple(n for n in m.notes if not (n.grace or n.cue or n.in_chord)))
            for m in step.part.measures
        ]
    )
    return replace(step, part=replace(step.part, measures=measures))


def _count_it(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    times = int(settings["times"])
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON)
    clap = on_one_pitch(passage, base, None, name="Count and clap", count=True)
    clap = replace(clap, say="Count aloud, clap the rhythm; count through the rests.")
    pitch = _pitch_for(passage, str(settings["pitch"]))
    if pitch is None:
        play = replace(clap, name="Count and play", say="Count aloud, play the sticking or stroke.")
        return (clap, play)
    play = on_one_pitch(passage, base, pitch, name=f"The rhythm on {spoken(pitch)}", count=True)
    return (clap, replace(play, say="One comfortable pitch; every length and rest exact."))


COUNT_IT = DrillKind(
    name="count-it",
    title="Count it",
    family="Reading and layers",
    use_when="The rhythm is wrong, a rest comes short, or the chunk is new.",
    how="Count and clap the rhythm; then play it on one comfortable pitch or open string.",
    clean_means="The count never stops, and every note and rest lasts its full length.",
    on_slip="Go on counting; clap that measure again alone.",
    needs="One line of notes; chords count as one stroke.",
    make=_count_it,
    parameters=(Parameter("pitch", "Pitch to play it on", AUTO), _TIMES),
    same_pitches=False,
    instead=("alone", "voices-apart"),
)


# Pitches alone --------------------------------------------------------------------------------


def _pitches_only(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no tune to listen to.")
    length = _VALUES[str(settings["value"])]
    group = int(settings["slur"])
    notes = [with_length(bare(e), length) for e in passage.plain_events if not e.is_rest]
    row = [replace(event, slurs=_slur_ends(i, len(notes), group)) for i, event in enumerate(notes)]
    step = laid_step(
        passage,
        row,
        name="Pitches only",
        kind=LEARN,
        repetitions=int(settings["times"]),
        slip=ON,
        say="Long and slurred, out of rhythm: listen to each interval before the next.",
    )
    return (step,)


def _slur_ends(place: int, count: int, group: int) -> tuple[str, ...]:
    """Slurs over groups; a group of one note has none."""
    if group < 2:
        return ()
    first, last = place % group == 0, place % group == group - 1 or place == count - 1
    if first and not last:
        return ("start",)
    return ("stop",) if last and not first else ()


PITCHES_ONLY = DrillKind(
    name="pitches-only",
    title="Pitches only",
    family="Reading and layers",
    use_when="It is out of tune, or shifts and extensions are guessed.",
    how="Every pitch equally long and slurred, out of rhythm; listen for tune.",
    clean_means="Each note in tune with the one before; rhythm is not judged here.",
    on_slip="Stay on the note until it is in tune, then go on.",
    needs="One line with pitches.",
    make=_pitches_only,
    parameters=(
        Parameter("value", "Each note a", "half", choices=tuple(_VALUES)),
        Parameter("slur", "Notes in a slur", 4, low=1, high=8, by_level={"beginner": 2}),
        _TIMES,
    ),
    instead=("count-it", "voices-apart"),
)


# One layer ------------------------------------------------------------------------------------

_LAYERS = ("bow or tongue", "dynamics")


def _one_layer(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    layer = str(settings["layer"])
    base = written_step(passage, repetitions=int(settings["times"]), kind=LEARN, slip=ON)
    pitch = _pitch_for(passage, AUTO)
    if layer == "dynamics":
        marks = [d for m in base.part.measures for d in m.directions]
        if not any(d.kind in ("dynamic", "wedge") for d in marks):
            raise DrillDoesNotFit("No dynamic is printed in this chunk.")
        step = on_one_pitch(passage, base, pitch, name="Dynamics alone", keep=("dynamics",))
        say = "One pitch, only loud and soft: where exactly does each change begin and end?"
    else:
        step = on_one_pitch(
            passage, base, pitch, name="Bow or tongue alone", keep=("articulation",)
        )
        say = "One pitch, only the strokes: slurs, lengths and accents as written."
    return (replace(step, say=say), written_step(passage, repetitions=int(settings["repetitions"])))


ONE_LAYER = DrillKind(
    name="one-layer",
    title="One layer",
    family="Reading and layers",
    use_when="Bowing, tonguing or dynamics get lost while the notes still take attention.",
    how="Only the strokes, or only the dynamics, on one pitch; then as written.",
    clean_means="That layer alone is judged: the strokes, or the dynamics.",
    on_slip="A fault in another layer does not count.",
    needs="One line; for dynamics, one that is printed.",
    make=_one_layer,
    parameters=(Parameter("layer", "Layer", _LAYERS[0], choices=_LAYERS), _TIMES, PROVING),
    same_pitches=False,
    instead=("alone", "articulation"),
)


# Slow with direction --------------------------------------------------------------------------


def _to_next_downbeat(measure: Measure) -> list[Direction]:
    """A hairpin from the middle of the measure to its barline, where none is printed."""
    if any(d.kind == "wedge" for d in measure.directions) or measure.length < 2:
        return []
    half = measure.length / 2
    start = min((n.at for n in measure.notes if n.at >= half and not n.hidden), default=None)
    if start is None:
        return []
    return [
        Direction(start, "wedge", "crescendo", above=False),
        Direction(measure.length, "wedge", "stop", above=False),
    ]


def _direction(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    base = written_step(
        passage,
        repetitions=int(settings["times"]),
        kind=LEARN,
        pace=Fraction(int(settings["share"]), 100),
        slip=ON,
        say="Slow, but going somewhere: each measure leads to the next downbeat. No accent that is"
        " not in the music.",
    )
    step = marked_step(base, name="Slow, with direction", kind=LEARN, words=_to_next_downbeat)
    return (step, written_step(passage, repetitions=int(settings["repetitions"])))


DIRECTION = DrillKind(
    name="slow-direction",
    title="Slow with direction",
    family="Reading and layers",
    use_when="Slow practice has become lifeless, or accents have crept in everywhere.",
    how="Slow but musical, shaped to the next downbeat; then as written.",
    clean_means="The line never stops leading; no accent that is not in the music.",
    on_slip="Go on; the line matters more than the note.",
    needs="Any chunk.",
    make=_direction,
    parameters=(
        Parameter("share", "Per cent of the tempo", 70, low=40, high=95),
        replace(_TIMES, default=3),
        PROVING,
    ),
    caution="Stamina for it grows: five minutes at first, then seven.",
)

KINDS = (NAME_IT, COUNT_IT, PITCHES_ONLY, ONE_LAYER, DIRECTION)
