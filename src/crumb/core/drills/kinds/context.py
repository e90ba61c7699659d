"""Drills of context: pulse before and after the passage, a word on a note, its key."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from crumb.core.drills.build import bare, marked_step, plural, uneven_clicks, word_at, written_step
from crumb.core.drills.model import (
    LEARN,
    NOTES_KNOWN,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.settings import AUTO, LEARNING, PROVING, SETTING, note_number
from crumb.core.drills.spots import hardest_pair, sudden_change
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.model import ZERO, Measure, Note
from crumb.core.score.notating import Event, lay_out
from crumb.core.score.position import sounds


def _in_context(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    count = int(settings["measures"])
    around = str(settings["around"])
    base = written_step(
        passage,
        kind=SET,
        repetitions=int(settings["set_repetitions"]),
        say=_AROUND[around],
    )
    first, last = base.part.measures[0], base.part.measures[-1]
    fill = _groove(passage) if around == "groove" else _silence
    before = [_around(first, f"b{i}", fill) for i in range(count)]
    after = [_around(last, f"a{i}", fill) for i in range(count)]
    measures = with_accidentals(_numbered([*before, *base.part.measures, *after]))
    part = replace(base.part, measures=measures)
    nominal = first.nominal
    length = sum((m.length for m in part.measures), ZERO)
    return (
        replace(
            base,
            name=f"{plural(count, 'measure')} of {around} around it",
            part=part,
            sounds=sounds(part),
            quarters=length,
            clicks=uneven_clicks(part, length, passage.beat) if first.time.is_uneven else (),
            click_at=ZERO if nominal == first.length else (first.length - nominal) % passage.beat,
            as_written=False,
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


_AROUND = {
    "pulse": "Count the empty measures, play in time, keep counting after it.",
    "groove": "Play the groove as easily as walking; go into the passage and out of it without a"
    " seam.",
}
_Fill = Callable[[Measure, str], tuple[Note, ...]]


def _silence(like: Measure, prefix: str) -> tuple[Note, ...]:
    return (Note(id=f"{prefix}r", at=ZERO, duration=like.nominal, is_rest=True),)


def _groove(passage: Passage) -> _Fill:
    """A measure of the chunk's first note on every beat, the half of each beat answering it."""
    note = bare(Event(passage.beat, (passage.struck[0][0],))).model[0]
    half = passage.beat / (3 if passage.meter.is_compound else 2)

    def fill(like: Measure, prefix: str) -> tuple[Note, ...]:
        row: list[Event] = []
        for beat in like.time.groups:
            row += [Event(beat - half, (note,)), Event(half, (note,))]
        laid = lay_out(row, time=like.time, key=like.key, clefs=like.clefs, id_prefix=prefix)
        return laid[0].notes

    return fill


def _around(like: Measure, prefix: str, fill: _Fill) -> Measure:
    return replace(
        like,
        number="",
        length=like.nominal,
        implicit=True,
        notes=fill(like, prefix),
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
    how="Measures of pulse or of a simple groove, the passage, then pulse or groove again.",
    clean_means="The entry is exactly in time and the pulse goes on after the last note.",
    on_slip="Start the count over; two slips in a row take the tempo down.",
    needs="Any chunk.",
    make=_in_context,
    parameters=(
        Parameter("measures", "Measures on each side", 2, low=1, high=8),
        Parameter("around", "What stands around it", "pulse", choices=("pulse", "groove")),
        SETTING,
        PROVING,
    ),
    least_level=NOTES_KNOWN,
    by_measures=True,
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
    clean_means="The moment is met, and in the end it is met without the word.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Any chunk.",
    is_aid=True,
    make=_cue_word,
    parameters=(
        Parameter("at", "On note", AUTO),
        Parameter("word", "Word", "now", longest=40),
        LEARNING,
        PROVING,
    ),
)

KINDS = (
    IN_CONTEXT,
    CUE_WORD,
)
