"""Our reading of a corpus file against music21's: every disagreement, by kind and measure."""

from collections import defaultdict
from fractions import Fraction
from pathlib import Path

from music21 import stream

from crumb.core.errors import CrumbError
from crumb.core.score.model import Measure
from crumb.formats.musicxml.reader import read_score
from tests.formats.music21_reading import (
    CORPUS,
    Row,
    exact,
    measure_rows,
    our_rows,
    parse,
    printed_number,
)

TABLE = Path(__file__).parent / "corpus_disagreements.json"
"""File to how the readings differ and why; made by ``tools/read_corpus.py``, reasons by hand."""
SUFFIXES = (".mxl", ".xml", ".musicxml")
Found = dict[str, list[str]]
"""Kind of disagreement to places (``part: measure``)."""


def corpus_files() -> list[Path]:
    """Every MusicXML file that the music21 package ships."""
    return sorted(p for p in CORPUS.rglob("*") if p.suffix in SUFFIXES)


def disagreements(path: Path) -> Found:
    """How the two readings of a file differ; empty where they are equal.

    Compared for each measure: notes (offset, duration, spelled pitch), printed number, length.
    """
    try:
        ours = read_score(path.read_bytes())
    except CrumbError as error:
        return {"refused": [error.message]}
    theirs = [list(part.getElementsByClass(stream.Measure)) for part in parse(path).parts]
    found: dict[str, list[str]] = defaultdict(list)
    for part in ours.parts:
        staves, theirs = theirs[: part.staves], theirs[part.staves :]
        counts = {len(rows) for rows in staves}
        if counts != {len(part.measures)}:
            found["measures"].append(f"{part.name}: {len(part.measures)} against {sorted(counts)}")
            continue
        for measure, rows in zip(part.measures, zip(*staves, strict=True), strict=True):
            for kind in _differing(measure, list(rows)):
                found[kind].append(f"{part.id}: {measure.number}")
    if theirs:
        found["staves"].append(f"{len(theirs)} more")
    return dict(found)


ROUNDED = Fraction(1, 100)
"""Of a quarter: music21 keeps a third of 256 as 85 ticks, we read what was meant."""


def _at_one_time(ours: Row, theirs: Row) -> bool:
    return abs(ours[0] - theirs[0]) < ROUNDED and abs(ours[1] - theirs[1]) < ROUNDED


def _differing(measure: Measure, staves: list[stream.Measure]) -> list[str]:
    kinds = []
    theirs = sorted(
        (row for staff in staves for row in measure_rows(staff)),
        key=lambda row: (row[0], row[2] or "", row[1]),
    )
    ours = our_rows(measure)
    if [row[2] for row in ours] != [row[2] for row in theirs]:
        kinds.append("pitches")
    elif not all(_at_one_time(a, b) for a, b in zip(ours, theirs, strict=True)):
        kinds.append("times")
    # The second half of a measure that a repeat cuts has the number of the first, to us.
    if not measure.lead and measure.number != printed_number(staves[0]):
        kinds.append("number")
    length = max(exact(staff.highestTime) for staff in staves)
    if length not in (measure.length, 0) and max((r[0] + r[1] for r in ours), default=0) != length:
        kinds.append("length")
    return kinds
