"""One drill on one span, checked by its own arithmetic and read back by three other programs.

Spans come from the corpus that the music21 package ships. music21 (pitches, durations, complete
measures), Verovio (no warning, every note drawn) and mido (every onset on its tick) are the judges.
"""

import io
import os
import random
import tempfile
import warnings
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import mido
import music21
import verovio

from crumb.core.drills import Drill, Step, burst_of, make_drill, passage_of
from crumb.core.drills.ladder_fit import start_of
from crumb.core.drills.passage import Passage
from crumb.core.errors import CrumbError, DrillDoesNotFit, EmptySpan
from crumb.core.score.joining import joined
from crumb.core.score.model import Part, Time
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span, sounds
from crumb.core.score.written import parse_span
from crumb.core.tempo.ladder import SLOWEST
from crumb.formats.midi import Piece, write_midi, write_pieces
from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part
from tests.drill_arithmetic import wrong_in_itself
from tests.formats.music21_reading import CORPUS, exact, measure_rows, name, our_rows
from tests.printed_signs import wrongly_signed

Place = tuple[str, int, int, int, bool]
"""File, part, first measure, measure after the last (indexes), landing."""

_LARGEST = 250_000
_LENGTHS = (1, 1, 2, 2, 3, 4)


def places(count: int, seed: int = 1) -> Iterator[Place]:
    """Spans of the corpus, one a file, the same ones for the same seed."""
    rng = random.Random(seed)
    files = sorted(p for p in CORPUS.rglob("*") if p.suffix in (".mxl", ".xml", ".musicxml"))
    rng.shuffle(files)
    found = 0
    for path in files:
        if found == count:
            return
        if path.stat().st_size > _LARGEST:
            continue
        place = _place(path, rng)
        if place is not None:
            found += 1
            yield place


def _place(path: Path, rng: random.Random) -> Place | None:
    from crumb.formats.reading import read_music

    try:
        parts = read_music(path.read_bytes()).score.parts
    except CrumbError:
        return None
    number = rng.randrange(len(parts))
    part = parts[number]
    first = rng.randrange(len(part.measures))
    after = min(len(part.measures), first + rng.choice(_LENGTHS))
    landing = rng.random() < 0.5
    passage = passage_of(part, Span(Position(first, Fraction(0)), Position(after, Fraction(0))))
    if not passage.attacks:
        return None
    return str(path.relative_to(CORPUS)), number, first, after, landing


def passage_at(place: Place) -> Passage:
    """The span as drills see it."""
    from crumb.formats.reading import read_music

    file, number, first, after, landing = place
    part = read_music((CORPUS / file).read_bytes()).score.parts[number]
    span = Span(Position(first, Fraction(0)), Position(after, Fraction(0)), landing)
    return passage_of(part, span)


def made(passage: Passage, kind: str) -> Drill | None:
    """The drill with its usual settings; None where it refuses in words."""
    try:
        return make_drill(passage.part, passage.span, kind, {}, passage=passage, offer=False)
    except (DrillDoesNotFit, EmptySpan) as refusal:
        if not refusal.message.endswith("."):
            raise
        return None


def sheet(drill: Drill) -> Part:
    """All steps on one sheet, as they are exported."""
    return joined([s.part for s in drill.steps], [s.name for s in drill.steps])


# By others --------------------------------------------------------------------------------------


def read_back(part: Part) -> list[tuple[Fraction, Fraction, str]]:
    """(onset, duration, pitch) of each sound as music21 reads our file, ties merged."""
    parsed = _parsed(part)
    found: list[tuple[Fraction, Fraction, str]] = []
    for element in parsed.parts[0].stripTies().flatten().notes:
        if element.duration.isGrace or isinstance(element, music21.harmony.Harmony):
            continue
        at, length = exact(element.offset), exact(element.duration.quarterLength)
        if isinstance(element, music21.note.Unpitched | music21.percussion.PercussionChord):
            continue
        found.extend((at, length, name(pitch)) for pitch in element.pitches)
    return sorted(found)


def _parsed(part: Part) -> music21.stream.Score:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        parsed = music21.converter.parseData(write_part(part), format="musicxml")
    for element in parsed.recurse().notes:
        for pitch in element.pitches:
            # A printed natural makes two equal pitches unequal there, and a tie between them two.
            if pitch.accidental is not None and pitch.accidental.alter == 0:
                pitch.accidental = None
    assert isinstance(parsed, music21.stream.Score)
    return parsed


def incomplete(part: Part) -> list[str]:
    """Measures that music21 finds longer or shorter than ours, or with other written notes."""
    found = []
    staves = [p.getElementsByClass(music21.stream.Measure) for p in _parsed(part).parts]
    for place, mine in enumerate(part.measures):
        theirs = [staff[place] for staff in staves]
        if any(exact(one.highestTime) > mine.length for one in theirs):
            found.append(f"measure {mine.number} is longer to music21")
        rows = [row for one in theirs for row in measure_rows(one)]
        if sorted(rows, key=str) != sorted(our_rows(mine), key=str):
            found.append(f"measure {mine.number} holds other notes to music21")
    return found


def ours(part: Part) -> list[tuple[Fraction, Fraction, str]]:
    """The same of our own model."""
    return sorted((s.at, s.duration, s.pitch.name) for s in sounds(part) if s.pitch and not s.grace)


def wrong_for_music21(part: Part) -> list[str]:
    """Where music21 reads other notes than we wrote."""
    found = incomplete(part)
    if part.staves > 1 or any(m.length != m.nominal for m in part.measures):
        return found  # it counts a short measure as long as its signature, and onsets from there
    theirs, mine = read_back(part), ours(part)
    if theirs != mine:
        found.append(f"music21 reads {sorted(set(theirs) ^ set(mine))[:3]} otherwise")
    return found


_TOOLKIT: list[verovio.toolkit] = []


def wrong_for_verovio(part: Part) -> list[str]:
    """What Verovio warns of, and notes it leaves out."""
    if not _TOOLKIT:
        verovio.enableLog(verovio.LOG_WARNING)
        _TOOLKIT.append(verovio.toolkit())
        _TOOLKIT[0].setOptions(
            {
                "pageHeight": 60000,
                "adjustPageHeight": True,
                "breaks": "none",
                "svgRemoveXlink": True,
            }
        )
    with tempfile.TemporaryFile() as log_file:
        svg = _rendered(write_part(part, name_printed=False), log_file.fileno())
        log_file.seek(0)
        log = [line for line in log_file.read().decode().splitlines() if line.strip()]
    drawn = set(part_ids(svg))
    lost = [
        note.id
        for measure in part.measures
        for note in measure.notes
        if note.sounds and not note.hidden and note.id not in drawn
    ]
    return [f"verovio: {line}" for line in log[:3]] + [f"verovio left out {i}" for i in lost[:3]]


def _rendered(xml: str, log: int) -> str:
    """Verovio writes its warnings past Python, to the standard error of the process."""
    kept = os.dup(2)
    os.dup2(log, 2)
    try:
        _TOOLKIT[0].loadData(xml)
        return str(_TOOLKIT[0].renderToSVG(1))
    finally:
        os.dup2(kept, 2)
        os.close(kept)


def part_ids(svg: str) -> Iterator[str]:
    """Every id in a drawing."""
    for piece in svg.split(' id="')[1:]:
        yield piece.split('"', 1)[0]


def wrong_for_mido(part: Part) -> list[str]:
    """Onsets that mido finds on other ticks or keys than ours."""
    file = mido.MidiFile(file=io.BytesIO(write_midi(part, tempo=Fraction(82), beat=Fraction(1))))
    now, heard = 0, []
    for message in file.tracks[0]:
        now += message.time
        # Grace notes are lighter, and have no onset of their own in the notation.
        is_written = message.type == "note_on" and message.velocity >= 80
        if is_written and message.channel != 9:
            heard.append((Fraction(now, file.ticks_per_beat), message.note))
    shift = part.transposition.chromatic
    mine = [(s.at, s.pitch.midi + shift) for s in sounds(part) if s.pitch and not s.grace]
    return [] if sorted(heard) == sorted(mine) else ["mido hears other onsets or keys"]


def wrong_signs(drill: Drill) -> list[str]:
    """Notes of its steps, each alone and all on one sheet, that their printed signs misname."""
    parts = {**{step.name: step.part for step in drill.steps}, "the sheet": sheet(drill)}
    return [
        f"{where}: {note.id} reads {read} for {note.pitch.name if note.pitch else ''}"
        for where, part in parts.items()
        for note, read in wrongly_signed(part)[:3]
    ]


def wrong_meters(passage: Passage, drill: Drill) -> list[str]:
    """Steps laid out anew in a meter whose beats their patterns do not fit."""
    printed = {measure.time.text for measure in passage.part.measures}
    own = {measure.time for step in drill.steps for measure in step.part.measures}
    odd = [time for time in own if time.text not in printed and not _is_common(time)]
    return [f"a meter of {time.text}" for time in odd if drill.name != "hold-strike"]


def _is_common(time: Time) -> bool:
    """Two, three or four quarters, halves, or threes of eighths."""
    if time.unit in (2, 4):
        return time.numerator >= 2
    return time.unit == 8 and time.numerator % 3 == 0


def wrong_for_a_player(passage: Passage, drill: Drill) -> list[str]:
    """Strokes that are tied, notes nobody has, a start above a burst, a label not read back."""
    found = []
    goal = Fraction(100)
    start = start_of(drill.steps, goal)
    if not 10 <= start <= goal:
        found.append(f"starts at {start}")
    instrument = passage.instrument
    written = {n.pitch.midi for m in passage.part.measures for n in m.notes if n.pitch}
    low = min([instrument.low, *written]) - _OWN_OCTAVE
    high = max([instrument.high, *written]) + _OWN_OCTAVE
    for step in drill.steps:
        if passage.is_struck and not step.as_written and _ties_of_its_own(passage, step):
            found.append(f"{step.name}: ties a stroke")
        burst = burst_of(step, goal)
        if burst is not None and not (start < burst or start == SLOWEST):
            found.append(f"{step.name}: starts at {start}, bursts at {burst}")
        heights = [s.pitch.midi for s in step.sounds if s.pitch]
        if any(not low <= height <= high for height in heights):
            found.append(f"{step.name}: nobody plays that")
        label = span_label(passage.part, step.covers)
        if parse_span(passage.part, label) not in (
            step.covers,
            replace(step.covers, landing=False),
        ):
            found.append(f"{label} is not read back")
    return found


_OWN_OCTAVE = 12


def _ties_of_its_own(passage: Passage, step: Step) -> bool:
    printed = sum(bool(n.tie) for m in passage.cut.measures for n in m.notes)
    return sum(bool(n.tie) for m in step.part.measures for n in m.notes) > printed


def wrong_tempos(drill: Drill) -> list[str]:
    """Steps that mido finds at other tempos than theirs, step by step."""
    goal = Fraction(90)
    data = write_pieces([Piece(s.part, goal * s.pace) for s in drill.steps], beat=Fraction(1))
    file = mido.MidiFile(file=io.BytesIO(data))
    heard = [message.tempo for message in file.tracks[0] if message.type == "set_tempo"]
    wanted = [round(60_000_000 / (goal * step.pace)) for step in drill.steps]
    same = [tempo for i, tempo in enumerate(heard) if i == 0 or tempo != heard[i - 1]]
    mine = [tempo for i, tempo in enumerate(wanted) if i == 0 or tempo != wanted[i - 1]]
    return [] if _nearly(same, mine) else [f"mido hears tempos {same[:4]}, not {mine[:4]}"]


def _nearly(one: list[int], two: list[int]) -> bool:
    return len(one) == len(two) and all(abs(a - b) <= 1 for a, b in zip(one, two, strict=True))


def problems(passage: Passage, drill: Drill) -> list[str]:
    """Everything that is wrong with a drill on a passage; empty if nothing is."""
    found = [*wrong_in_itself(passage, drill), *wrong_signs(drill), *wrong_tempos(drill)]
    found += [*wrong_meters(passage, drill), *wrong_for_a_player(passage, drill)]
    part = sheet(drill)
    return [*found, *wrong_for_music21(part), *wrong_for_verovio(part), *wrong_for_mido(part)]


def reread(part: Part) -> Part:
    """The part as our own reader has it back."""
    return read_score(write_part(part).encode()).parts[0]
