"""MusicXML into the score model, exactly."""

from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Measure, Part, Score
from crumb.core.score.pitch import Transposition
from crumb.formats.musicxml.container import read_tree
from crumb.formats.musicxml.measure import MeasureReader, PartState
from crumb.formats.musicxml.numbers import text_of, whole


def read_score(data: bytes) -> Score:
    """Every part of a MusicXML file or .mxl container.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    root = read_tree(data)
    names = _part_names(root)
    parts = tuple(
        _read_part(element, names.get(element.get("id") or "", ("", "")))
        for element in root.findall("part")
    )
    if not parts or not any(part.attack_count for part in parts):
        raise UnreadableFile("There is no note in this file.")
    title = text_of(root, "work/work-title") or text_of(root, "movement-title")
    composer = next(
        (
            (c.text or "").strip()
            for c in root.findall("identification/creator")
            if c.get("type") == "composer"
        ),
        "",
    )
    return Score(title or _credited_title(root), composer, parts)


def _credited_title(root: etree._Element) -> str:
    for credit in root.findall("credit"):
        if text_of(credit, "credit-type") == "title":
            return " ".join((w.text or "").strip() for w in credit.findall("credit-words"))
    return ""


def _part_names(root: etree._Element) -> dict[str, tuple[str, str]]:
    """Part id to (name, instrument name)."""
    names = {}
    for entry in root.iter("score-part"):
        name = text_of(entry, "part-name")
        instrument = text_of(entry, "score-instrument/instrument-name")
        names[entry.get("id") or ""] = (name, instrument or name)
    return names


def _read_part(element: etree._Element, names: tuple[str, str]) -> Part:
    name, instrument = names
    part_id = element.get("id") or ""
    state = PartState(label=name or part_id)
    measures: list[Measure] = []
    for index, child in enumerate(element.findall("measure")):
        measures.append(MeasureReader(state, child, index).read())
    if not measures:
        raise UnreadableFile(f"The part {name or part_id} has no measure.")
    transpose = element.find(".//attributes/transpose")
    return Part(
        id=part_id,
        name=name or instrument or part_id,
        instrument=instrument or name,
        measures=tuple(measures),
        transposition=_transposition(transpose, state.label),
        staves=state.staves,
        staff_lines=state.staff_lines,
    )


def _transposition(element: etree._Element | None, label: str) -> Transposition:
    if element is None:
        return Transposition()
    where = f"Transposition of {label}"
    octaves = whole(element.findtext("octave-change") or "0", where)
    chromatic = whole(element.findtext("chromatic") or "0", where) + 12 * octaves
    diatonic_text = element.findtext("diatonic")
    if diatonic_text is None:
        diatonic = round(Fraction(chromatic * 7, 12))
    else:
        diatonic = whole(diatonic_text, where) + 7 * octaves
    return Transposition(diatonic, chromatic)
