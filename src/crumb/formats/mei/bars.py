"""One measure of one staff, its rests and its barlines."""

from dataclasses import dataclass, field
from fractions import Fraction

from lxml import etree

from crumb.core.score.model import ZERO, Barline, Direction, Note
from crumb.formats.mei.definitions import Staff
from crumb.formats.mei.events import Layer

_BARS = {
    "dbl": "light-light",
    "end": "light-heavy",
    "heavy": "heavy",
    "invis": "none",
    "dashed": "dashed",
}


@dataclass(slots=True, eq=False)
class Bar:
    """One measure of one staff before its length is known."""

    staff: Staff
    layers: list[Layer]
    directions: list[Direction] = field(default_factory=list)

    @property
    def length(self) -> Fraction:
        """Quarter notes of the longest layer that says its own length."""
        return max((layer.at for layer in self.layers if not layer.fills), default=ZERO)


def filled(layer: Layer, length: Fraction) -> list[Note]:
    """The notes of a layer; a rest of the measure where it only says that it is filled."""
    if layer.notes or not layer.fills:
        return layer.notes
    return [whole_rest(layer.voice, layer.staff, layer.index, layer.prefix, length)]


def whole_rest(voice: str, staff: int, index: int, prefix: str, length: Fraction) -> Note:
    """A rest of a whole measure, of a length in quarter notes."""
    return Note(
        id=f"r{index}-0_1-{prefix}0",
        at=ZERO,
        duration=length,
        is_rest=True,
        voice=voice,
        staff=staff,
    )


def barlines_of(element: etree._Element, *, repeats: bool) -> list[Barline]:
    """The barlines of a measure; ``repeats``: the one before said that a repeat starts here."""
    found = []
    if repeats or element.get("left") in ("rptstart", "rptboth"):
        found.append(Barline("left", "heavy-light", "forward"))
    form = element.get("right") or ""
    if form in ("rptend", "rptboth"):
        found.append(Barline("right", "light-heavy", "backward"))
    elif form in _BARS:
        found.append(Barline("right", _BARS[form]))
    return found
