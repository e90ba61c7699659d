"""Reading and layering: one thing at a time, faults in the other layers allowed."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from fractions import Fraction
from types import MappingProxyType

from crumb.core.drills.build import bare, laid_step, marked_step, with_length, written_step
from crumb.core.drills.model import LEARN, ON, DrillKind, Parameter, Settings, Step
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, PROVING
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.meter import beat_starts, lead_of
from crumb.core.score.model import ZERO, Direction, Measure, Note, Part
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
    stays=True,
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
    """The counting syllable at a place: ``2``, ``&``, ``e``, ``a``; thirds ``la``, ``li``."""
    number, part = divmod(beat_of(measure, at), 1)
    if part == 0:
        return str(number)
    for division in (2, 4, 3):
        if (division, part) in _WITHIN:
            return _WITHIN[division, part]
    return "·"


def counted_through(part: Part) -> dict[str, str]:
    """Counting syllables of a line's notes, by note id: ``1 (2)``.

    Its own count, and in brackets the beats that go by while it is held or rested after.
    """
    found: dict[str, str] = {}
    last = ""
    for measure in part.measures:
        rows = sorted((n for n in measure.notes if not (n.grace or n.cue)), key=lambda n: n.at)
        struck = {n.at: n for n in rows if n.is_attack and not n.hidden and not n.in_chord}
        shown = [n for n in rows if not n.hidden]
        for at in sorted({*struck, *beat_starts(measure)}):
            if at in struck:
                last = struck[at].id
                found[last] = counted(measure, at)
            elif last and any(n.at <= at < n.end for n in shown):
                found[last] += f" ({counted(measure, at)})"
    return found


_VALUE_NAMES = {
    Fraction(1, 8): "⅛",
    Fraction(1, 4): "¼",
    Fraction(1, 2): "½",
    Fraction(3, 4): "¾",
    Fraction(1): "1",
    Fraction(3, 2): "1½",
    Fraction(2): "2",
    Fraction(3): "3",
    Fraction(4): "4",
    Fraction(6): "6",
    Fraction(8): "8",
    Fraction(1, 3): "⅓",
    Fraction(2, 3): "⅔",
}


def valued(part: Part) -> dict[str, str]:
    """How long each note of a line is, in quarters, by its id: 4, 2, 1, ½.

    Of two equal notes shorter than a beat the first goes down, the second up.
    """
    lengths: dict[str, Fraction] = {}
    places: dict[str, tuple[Measure, Fraction]] = {}
    last = ""
    for measure in part.measures:
        for note in sorted(measure.notes, key=lambda n: n.at):
            if not note.sounds or note.grace or note.cue or note.in_chord or note.hidden:
                continue
            if note.is_attack:
                last = note.id
                lengths[last], places[last] = note.duration, (measure, note.at)
            elif last:
                lengths[last] += note.duration
    found = {}
    for note_id, length in lengths.items():
        measure, at = places[note_id]
        into = (at + lead_of(measure)) % (length * 2)
        goes = {ZERO: "↓", length: "↑"}.get(into, "") if length < measure.time.beat else ""
        found[note_id] = _VALUE_NAMES.get(length, str(length)) + goes
    return found


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
    below: Mapping[str, str] = MappingProxyType({}),
) -> Step:
    """The rhythm of a written step on one pitch (None: clapped), words printed below its notes.

    ``keep`` says which marks stay: ``articulation``, ``dynamics``. Chords become one note, grace
    notes go, ties stay.
    """
    place = parse_pitch("B4")

    def change(_: Measure, note: Note) -> Note:
        if not note.sounds or note.hidden:
            return note
        keeps = "articulation" in keep
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
            lyric=below.get(note.id, ""),
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
    by_values = settings["say"] == "values"
    below = valued(base.part) if by_values else counted_through(base.part)
    clap = on_one_pitch(passage, base, None, name="Count and clap", below=below)
    clap = replace(clap, say=_COUNTS["values" if by_values else "beats"])
    pitch = _pitch_for(passage, str(settings["pitch"]))
    if pitch is None:
        play = replace(clap, name="Count and play", say="Count aloud, play the sticking or stroke.")
        return (clap, play)
    play = on_one_pitch(passage, base, pitch, name=f"The rhythm on {spoken(pitch)}", below=below)
    return (clap, replace(play, say="One comfortable pitch; every length and rest exact."))


_COUNTS = {
    "beats": "Count aloud, clap the rhythm; say the beats in brackets softly, hands still.",
    "values": "Say how long each note is as you clap it: a quarter is 1, a half 2, a whole 4, an"
    " eighth ½. Of two eighths the first is down.",
}
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
    stays=True,
    parameters=(
        Parameter("say", "Say", "beats", choices=("beats", "values")),
        Parameter("pitch", "Pitch to play it on", AUTO),
        _TIMES,
    ),
    same_pitches=False,
    instead=("alone", "voices-apart"),
)


# Sing and finger ------------------------------------------------------------------------------

_WITHOUT = {
    "drums": ("Say it, sticks in the air", "Say the rhythm; the sticks move without touching."),
    "mallets": ("Sing, mallets in the air", "Sing; the mallets go to every bar without a sound."),
    "keyboard": ("Sing, fingers on the keys", "Sing; the fingers go down without a sound."),
    **dict.fromkeys(
        OPEN, ("Sing and finger", "Sing; the left hand stops every note, the bow rests.")
    ),
    "trombone": ("Sing and move", "Sing; the slide goes to every position."),
}
_SUNG = ("Sing and finger", "Sing; the fingers move, the instrument in playing position.")
_BLOWN = frozenset(
    {"flute", "oboe", "clarinet", "bassoon", "saxophone", "trumpet", "horn", "trombone"}
    | {"euphonium", "tuba"}
)


def _sing_and_finger(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    family = passage.instrument.family
    times = int(settings["times"])
    name, say = _WITHOUT.get(family, _SUNG)
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON, pace=_SUNG_PACE)
    steps = [replace(marked_step(base, name=name, kind=LEARN), say=say)]
    if family in _BLOWN:
        air = written_step(passage, repetitions=times, kind=LEARN, slip=ON)
        steps.append(
            replace(
                marked_step(air, name="Air and finger", kind=LEARN),
                say="Blow the rhythm, tongue and all, without a tone; the hand moves as it will.",
            )
        )
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


_SUNG_PACE = Fraction(3, 4)
SING_AND_FINGER = DrillKind(
    name="sing-and-finger",
    title="Sing and finger",
    family="Reading and layers",
    use_when="The ear does not know the line yet, or lips and hands need rest while work goes on.",
    how="Sing it while the hand moves; winds then blow it without a tone; then as written.",
    clean_means="Rhythm and fingers are exact; the voice need not be beautiful.",
    on_slip="Go on; hum the interval that was missed and take it again.",
    needs="Any chunk.",
    make=_sing_and_finger,
    stays=True,
    parameters=(_TIMES, PROVING),
    instead=("name-it", "alone"),
)


# Pitches alone --------------------------------------------------------------------------------


def _pitches_only(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no intonation to listen to.")
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
    if settings["vibrato"] == "as it comes":
        return (step,)
    return (
        replace(step, name="Pitches only, without vibrato", say=f"{step.say} A still tone."),
        replace(
            step,
            name="Pitches only, with vibrato",
            say="The same pitches; the vibrato goes around the note and never off it.",
        ),
    )


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
    how="Every pitch equally long and slurred, out of rhythm; listen for intonation.",
    clean_means="Each note in tune with the one before; rhythm is not judged here.",
    on_slip="Stay on the note until it is in tune, then go on.",
    needs="One line with pitches.",
    make=_pitches_only,
    stays=True,
    parameters=(
        Parameter("value", "Each note a", "half", choices=tuple(_VALUES)),
        Parameter("slur", "Notes in a slur", 4, low=1, high=8, by_level={"beginner": 2}),
        Parameter(
            "vibrato", "Vibrato", "as it comes", choices=("as it comes", "without, then with")
        ),
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
    proof = written_step(passage, repetitions=int(settings["repetitions"]))
    if layer == "dynamics":
        return (*_dynamics_alone(passage, base, pitch), proof)
    step = on_one_pitch(passage, base, pitch, name="Bow or tongue alone", keep=("articulation",))
    say = "One pitch, only the strokes: slurs, lengths and accents as written."
    return (replace(step, say=say), proof)


_MOST_SIGNS = 6


def _dynamics_alone(passage: Passage, base: Step, pitch: Pitch | None) -> tuple[Step, ...]:
    """Each printed sign has its tick first; what is not printed is shaped only after that."""
    signs = [
        (measure, mark)
        for measure in base.part.measures
        for mark in sorted(measure.directions, key=lambda d: d.at)
        if mark.kind in ("dynamic", "wedge") and mark.text != "stop"
    ]
    if not signs:
        raise DrillDoesNotFit("No dynamic is printed in this chunk.")
    alone = on_one_pitch(passage, base, pitch, name="", keep=("dynamics",))
    printed = [
        replace(
            alone,
            name=f"{_SIGN_NAMES.get(mark.text, mark.text)} in {measure.number}",
            repetitions=1,
            say="One pitch, only loud and soft. Tick it when this sign was plainly heard.",
        )
        for measure, mark in signs[:_MOST_SIGNS]
    ]
    shaped = marked_step(
        written_step(passage, repetitions=base.repetitions, kind=LEARN, slip=ON),
        name="Fine shaping",
        kind=LEARN,
    )
    return (
        *printed,
        replace(shaped, say="Now with the notes: shape what stands between the printed signs."),
    )


_SIGN_NAMES = {"crescendo": "The crescendo", "diminuendo": "The diminuendo"}


ONE_LAYER = DrillKind(
    name="one-layer",
    title="One layer",
    family="Reading and layers",
    use_when="Bowing, tonguing or dynamics get lost while the notes still take attention.",
    how="Only the strokes, or each printed dynamic and then fine shaping; then as written.",
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
    use_when="Slow practice has gone lifeless, or every note has an accent.",
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

KINDS = (NAME_IT, COUNT_IT, SING_AND_FINGER, PITCHES_ONLY, ONE_LAYER, DIRECTION)
