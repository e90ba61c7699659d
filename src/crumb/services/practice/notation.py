"""Notation of a sent drill, with the marks written since."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentStep
from crumb.core.pages.crops import is_crop
from crumb.core.score.marks import PartMark, marked_excerpt
from crumb.core.score.model import Part
from crumb.formats.engraving import drawn_text
from crumb.formats.layout import Layout
from crumb.formats.musicxml.reader import read_score
from crumb.services.library.drawing import drawing_of
from crumb.store.queries import sending


@dataclass(frozen=True, slots=True)
class Read:
    """The part that steps were made from, and the marks that somebody sees in it."""

    part: Part
    marks: tuple[PartMark, ...]

    def marked(self, xml: str, step: SentStep) -> str:
        """Notation of a step with these marks in it."""
        if not self.marks or is_crop(xml):
            return xml
        struck = [sound.note_id for sound in step.sounds]
        excerpt = read_score(xml.encode()).parts[0]
        return drawn_text(marked_excerpt(self.part, excerpt, struck, self.marks))


def notated_steps(session: Session, steps: Sequence[SentStep], read: Read) -> list[str | None]:
    """The notation of each step, ready to be drawn; None where there is nothing to read."""
    kept = sending.notations(session, [step.notation for step in steps])
    return [read.marked(kept[step.notation], step) if step.notation else None for step in steps]


def drawn_steps(
    steps: Sequence[SentStep], notations: Sequence[str | None], layout: Layout
) -> list[str | None]:
    """The drawing of each step.

    Varied rhythms are no place in the part and bear no measure numbers.
    """
    return [
        None if xml is None else drawing_of(xml, replace(layout, numbers=step.as_written))
        for step, xml in zip(steps, notations, strict=True)
    ]
