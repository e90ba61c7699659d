"""What stands around the passage: pulse before and after it, a word on a note, its key."""

from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.making import (
    bare,
    laid_step,
    marked_step,
    uneven_clicks,
    word_at,
    written_step,
)
from crumb.core.drills.model import (
    LEARN,
    NOTES_KNOWN,
    ON,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, PROVING, SETTING, WARM_UP, note_number
from crumb.core.drills.spots import hardest_pair, sudden_change
from crumb.core.score.model import ZERO, Measure, Note
from crumb.core.score.notating import Event
from crumb.core.score.pitch import STEPS, Pitch, key_alter
from crumb.core.score.position import sounds


def _in_context(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    count = int(settings["measures"])
    base = written_step(
        passage,
        kind=SET,
        repetitions=int(settings["set_repetitions"]),
        say="Count the empty measures, play in time, keep counting after it.",
    )
    first, last = base.part.measures[0], base.part.measures[-1]
    before = [_pulse(first, i, f"b{i}") for i in range(count)]
    after = [_pulse(last, i, f"a{i}") for i in range(count)]
    part = replace(base.part, measures=_numbered([*before, *base.part.measures, *after]))
    nominal = first.nominal
    length = sum((m.length for m in part.measures), ZERO)
    return (
        replace(
            base,
            name=f"{count} measures of pulse around it",
            part=part,
            sounds=sounds(part),
            quarters=length,
            clicks=uneven_clicks(part, length, passage.beat) if first.time.is_uneven else (),
            click_at=ZERO if nominal == first.length else (first.length - nominal) % passage.beat,
            as_written=False,
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


def _pulse(like: Measure, place: int, prefix: str) -> Measure:
    rest = Note(id=f"{prefix}r", at=ZERO, duration=like.nominal, is_rest=True)
    return replace(
        like,
        number="",
        length=like.nominal,
        implicit=True,
        notes=(rest,),
        directions=(),
        changes=(),
        barlines=(),
        tempo=None,
        multi_rest=0,
        lead=ZERO,
        new_system=False,
        new_page=False,
    )


def _numbered(measures: Sequence[Measure]) -> tuple[Measure, ...]:
    return tuple(replace(m, index=i) for i, m in enumerate(measures))


IN_CONTEXT = DrillKind(
    name="in-context",
    title="In context",
    family="Technique",
    use_when="It is clean alone but not when the piece brings you to it.",
    how="Two measures of pulse, the passage, pulse again; before and after the other drills.",
    clean_means="The entry is exactly in time and the pulse goes on after the last note.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="Any chunk.",
    make=_in_context,
    parameters=(Parameter("measures", "Measures of pulse", 2, low=1, high=4), SETTING, PROVING),
    least_level=NOTES_KNOWN,
    by_measures=True,
)


def _tonic(fifths: int, mode: str) -> Pitch:
    letters = "FCGDAEB"
    place = fifths + 1 + (3 if mode == "minor" else 0)
    return Pitch(letters[place % 7], Fraction(place // 7), 4)


def _warm_up(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("A scale needs pitches.")
    key = passage.cut.measures[0].key
    tonic = _tonic(key.fifths, key.mode)
    low, high = passage.instrument.low, passage.instrument.high
    while tonic.midi < low:
        tonic = replace(tonic, octave=tonic.octave + 1)
    while tonic.midi - 12 >= low and tonic.midi + 12 > high:
        tonic = replace(tonic, octave=tonic.octave - 1)
    scale = [_degree(tonic, key.fifths, i) for i in range(8)]
    chord = [scale[i] for i in (0, 2, 4, 7)]
    thirds = [scale[j] for i in range(6) for j in (i, i + 2)]
    model = bare(Event(Fraction(1), (passage.struck[0][0],))).model[0]
    times = int(settings["learning_repetitions"])

    def step(name: str, pitches: Sequence[Pitch], unit: Fraction) -> Step:
        row = [
            Event(unit, (replace(model, pitch=p, id=f"w{i}", tie=None),))
            for i, p in enumerate(pitches)
        ]
        row.append(Event(passage.beat, (replace(model, pitch=pitches[0], id="w-last", tie=None),)))
        return laid_step(
            passage,
            row,
            name=name,
            kind=LEARN,
            repetitions=times,
            slip=ON,
            turned=frozenset(),
            say="Easy and full; this is what the chunk is made of.",
        )

    half = Fraction(1, 2)
    return (
        step("Scale of the key", [*scale, *reversed(scale[:-1])][:-1], half),
        step("Thirds", thirds, half),
        step("Arpeggio", [*chord, *reversed(chord[1:-1])], half),
    )


def _degree(tonic: Pitch, fifths: int, degree: int) -> Pitch:
    octave, letter = divmod(tonic.diatonic + degree, 7)
    step = STEPS[letter]
    return Pitch(step, Fraction(key_alter(step, fifths)), octave)


WARM_UP_KIND = DrillKind(
    name="warm-up",
    title="Warm-up in its key",
    family="Technique",
    use_when="At the start of a session, so that the chunk's key and figures are in the hands.",
    how="The scale of the chunk's key, its thirds and its arpeggio, in comfortable range.",
    clean_means="Full tone and even time; nothing is judged on speed.",
    on_slip="Go on.",
    needs="Pitches and a key.",
    make=_warm_up,
    parameters=(replace(LEARNING, default=2, by_level={}),),
    caution=WARM_UP,
    same_pitches=False,
    instead=("count-it", "alone"),
)


def _cue_word(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    at = note_number(passage, settings["at"], otherwise=_critical(passage))
    word = str(settings["word"]) or "now"
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        say=f"Say or think “{word}” where it stands; in the last step it is gone.",
    )
    step = marked_step(
        base, name=f"With the word “{word}”", kind=LEARN, words=word_at(passage, at, word)
    )
    turned = frozenset(note.id for note in passage.struck[at])
    return (
        replace(step, turned=turned),
        written_step(
            passage, name="As written, without it", repetitions=int(settings["repetitions"])
        ),
    )


def _critical(passage: Passage) -> int:
    """The note that a sudden change, or else the hardest way, arrives on."""
    found = sudden_change(passage)
    if found is not None:
        return found
    return min(hardest_pair(passage) + 1, len(passage.attacks) - 1)


CUE_WORD = DrillKind(
    name="cue-word",
    title="Cue word",
    family="Technique",
    use_when="The hands can do it but the moment is missed: an entry, a change, a shift.",
    how="One word on the critical note while it is learned; gone when it is proved.",
    clean_means="The moment is met; in proof it is met without the word.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Any chunk.",
    is_aid=True,
    make=_cue_word,
    parameters=(
        Parameter("at", "On note", AUTO),
        Parameter("word", "Word", "now"),
        LEARNING,
        PROVING,
    ),
)

KINDS = (
    IN_CONTEXT,
    WARM_UP_KIND,
    CUE_WORD,
)
