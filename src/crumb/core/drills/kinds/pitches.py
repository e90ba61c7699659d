"""The same music on other pitches: the plainer spelling, an octave away."""

from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.build import bare, laid_step, marked_step, note_ids, written_step
from crumb.core.drills.kinds.reading import spoken
from crumb.core.drills.model import (
    LEARN,
    NOTES_KNOWN,
    ON,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, PROVING
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.model import Measure, Note
from crumb.core.score.notating import Event
from crumb.core.score.pitch import Pitch, key_alter, moved


def twin(pitch: Pitch) -> Pitch:
    """The plainest other spelling of a pitch: ``A#`` as ``Bb``, ``B#`` as ``C``, ``F##`` as ``G``.

    Raises:
        ValueError: a quarter tone has none.
    """
    if pitch.alter.denominator != 1:
        raise ValueError(pitch.name)
    choices = [
        found
        for letters in (-1, 1)
        for found in [moved(pitch, diatonic=letters, chromatic=0)]
        if abs(found.alter) <= 1
    ]
    return min(choices, key=lambda p: (abs(p.alter), -p.alter * pitch.alter))


def is_awkward(pitch: Pitch, fifths: int) -> bool:
    """Whether a spelling makes a reader stop: against the key, doubled, or a white key renamed."""
    if pitch.alter.denominator != 1:
        return False
    renamed = (pitch.step, int(pitch.alter)) in (("B", 1), ("E", 1), ("C", -1), ("F", -1))
    against = pitch.alter not in (0, key_alter(pitch.step, fifths))
    return renamed or abs(pitch.alter) > 1 or against


def _respell(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no spelling.")
    fifths = passage.cut.measures[0].key.fifths
    seen: dict[str, Note] = {}
    for notes in passage.struck:
        for note in notes:
            if note.pitch and is_awkward(note.pitch, fifths):
                seen.setdefault(note.pitch.name, note)
    if not seen:
        raise DrillDoesNotFit("Nothing here is spelled awkwardly: every note is in the key.")
    times = int(settings["learning_repetitions"])
    pairs = [
        bare(Event(Fraction(2), (replace(note, pitch=pitch),)))
        for note in seen.values()
        if note.pitch
        for pitch in (note.pitch, twin(note.pitch))
    ]
    side_by_side = laid_step(
        passage,
        [
            replace(e, model=tuple(replace(n, lyric=spoken(n.pitch)) for n in e.model if n.pitch))
            for e in pairs
        ],
        name="Both spellings",
        kind=LEARN,
        repetitions=times,
        slip=ON,
        say="Say and play: one sound, two names.",
        turned=note_ids(pairs),
    )
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON)

    def change(_: Measure, note: Note) -> Note:
        if note.pitch is None or note.pitch.name not in seen:
            return note
        return replace(note, pitch=twin(note.pitch))

    respelled = _accidentals_anew(
        marked_step(base, name="Respelled", kind=LEARN, change=change),
        say="The same sounds in the plainer spelling; then read the printed one again.",
    )
    return (
        side_by_side,
        respelled,
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


RESPELL = DrillKind(
    name="respell",
    title="Respell",
    family="Technique",
    use_when="A spelling makes the reader stop: A♯, B♯, a double sharp.",
    how="The awkward spelling beside its enharmonic twin; the chunk respelled; then as printed.",
    clean_means="The printed spelling is played without a pause to think.",
    on_slip="Go back to the two spellings side by side.",
    needs="A note against the key, a double accidental, or B♯, E♯, C♭, F♭.",
    make=_respell,
    stays=True,
    parameters=(LEARNING, PROVING),
    same_pitches=False,
    instead=("name-it", "alone"),
)


def _octave(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no octave.")
    heights = [n.pitch.midi for notes in passage.struck for n in notes if n.pitch]
    low, high = passage.instrument.low, passage.instrument.high
    if str(settings["way"]) == AUTO:
        # Downward first: it is easier to hear what is right.
        ways = [
            way
            for way in (-1, 1)
            if min(heights) + 12 * way >= low and max(heights) + 12 * way <= high
        ]
    else:
        ways = [1 if settings["way"] == "up" else -1]
    if not ways:
        raise DrillDoesNotFit(
            f"An octave away it leaves the comfortable range of the {passage.instrument.name}."
        )
    way = ways[0]
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        say="A chunk of its own: same fingers of the mind, other register.",
    )

    def change(_: Measure, note: Note) -> Note:
        if note.pitch is None:
            return note
        return replace(note, pitch=replace(note.pitch, octave=note.pitch.octave + way))

    name = "An octave higher" if way > 0 else "An octave lower"
    step = _accidentals_anew(marked_step(base, name=name, kind=LEARN, change=change), say=base.say)
    return (step, written_step(passage, repetitions=int(settings["repetitions"])))


OCTAVE = DrillKind(
    name="octave",
    title="Octave transplant",
    family="Technique",
    use_when="A lick that is learned should work in any register, or the register is the trouble.",
    how="The chunk an octave away, then where it is written.",
    clean_means="As clean and as easy an octave away.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Pitches that stay in the instrument's range an octave away.",
    make=_octave,
    parameters=(
        Parameter("way", "Which way", AUTO, choices=(AUTO, "down", "up")),
        LEARNING,
        PROVING,
    ),
    caution="High notes tire lips and voice: rest as long as you play.",
    least_level=NOTES_KNOWN,
    same_pitches=False,
)


def _accidentals_anew(step: Step, *, say: str) -> Step:
    part = replace(step.part, measures=with_accidentals(step.part.measures))
    return replace(step, part=part, say=say)


KINDS = (
    RESPELL,
    OCTAVE,
)
