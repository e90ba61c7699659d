"""How the notes of a drill are touched, whatever the drill: settings that every drill has.

Letting go at once, short or joined changes how a step looks; proof stays as it is written.
"""

from collections.abc import Callable
from dataclasses import replace

from crumb.core.drills.build import is_landing, marked_step
from crumb.core.drills.model import DrillKind, Parameter, Setting, Step
from crumb.core.drills.passage import Passage
from crumb.core.evidence.model import Kind
from crumb.core.score.model import Measure, Note, Slur

AS_WRITTEN = "as written"
FREE = "free"
TOUCH = Parameter(
    "touch",
    "Touch",
    AS_WRITTEN,
    choices=(AS_WRITTEN, "quick release", "staccato", "legato"),
)
STROKE = Parameter("stroke", "Stroke when slow", FREE, choices=(FREE, "as at speed"))
FOR_ALL = (TOUCH, STROKE)
_MARKS = {"quick release": "staccatissimo", "staccato": "staccato"}
_LENGTHS = frozenset({"staccato", "staccatissimo", "tenuto", "detached-legato", "spiccato"})
_SAYS = {
    "quick release": "Let each note go at once; the finger stays on its key, string or hole.",
    "staccato": "Every note short.",
    "legato": "Every note joined to the next.",
}
_AT_SPEED = (
    "Slow, but with the stroke that goal tempo needs: the same short stroke, tongue or stick"
    " height."
)


def with_touch(kind: DrillKind) -> DrillKind:
    """A kind of drill with the settings that all of them have."""
    return replace(kind, parameters=(*kind.parameters, *FOR_ALL))


def touched(
    passage: Passage, steps: tuple[Step, ...], settings: dict[str, Setting]
) -> tuple[Step, ...]:
    """The steps of a drill with the touch that was set; what proves stays as written."""
    touch, stroke = str(settings[TOUCH.name]), str(settings[STROKE.name])
    if touch != AS_WRITTEN and passage.is_pitched and not passage.is_blank:
        steps = tuple(s if s.kind is Kind.PROVE else _touched(s, touch) for s in steps)
    if stroke != FREE:
        steps = tuple(_told(step, _AT_SPEED) for step in steps)
    return steps


def _told(step: Step, sentence: str) -> Step:
    return replace(step, say=f"{step.say} {sentence}".strip())


def _touched(step: Step, touch: str) -> Step:
    change = _joined(step) if touch == "legato" else _shortened(_MARKS[touch])
    made = marked_step(step, name=step.name, kind=step.kind, change=change)
    # What sounds when is the drill's own: only the marks are new.
    return _told(replace(made, sounds=step.sounds), _SAYS[touch])


def _shortened(mark: str) -> Callable[[Measure, Note], Note]:
    def change(_: Measure, note: Note) -> Note:
        note = replace(note, slurs=()) if note.slurs else note
        if not note.is_attack or note.in_chord or note.grace or note.hidden or is_landing(note):
            return note
        kept = tuple(a for a in note.articulations if a not in _LENGTHS)
        return replace(note, articulations=(*kept, mark))

    return change


def _joined(step: Step) -> Callable[[Measure, Note], Note]:
    """A slur over the notes of each measure, up to a rest."""
    ends: dict[str, tuple[Slur, ...]] = {}

    def close(row: list[Note]) -> None:
        if sum(note.is_attack for note in row) > 1:
            ends[row[0].id] = (Slur(1, "start"),)
            ends[row[-1].id] = (Slur(1, "stop"),)

    for measure in step.part.measures:
        row: list[Note] = []
        for note in sorted(measure.notes, key=lambda n: n.at):
            if note.in_chord or note.grace or note.cue or note.voice != measure.notes[0].voice:
                continue
            if note.is_rest or note.hidden:
                close(row)
                row = []
            else:
                row.append(note)
        close(row)

    def change(_: Measure, note: Note) -> Note:
        kept = tuple(a for a in note.articulations if a not in _LENGTHS)
        return replace(note, slurs=ends.get(note.id, ()), articulations=kept)

    return change
