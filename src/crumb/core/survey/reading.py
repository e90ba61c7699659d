"""Traps for the eye: accidentals, spellings, broken patterns, rests, sudden changes."""

import re
from bisect import bisect_left
from collections.abc import Iterable, Sequence
from fractions import Fraction
from itertools import pairwise

from crumb.core.score.meter import beat_starts
from crumb.core.score.model import Measure, Part
from crumb.core.score.pitch import Pitch
from crumb.core.score.position import Position
from crumb.core.survey.line import Stroke
from crumb.core.survey.model import Spot

_STRENGTH = {
    name: level
    for level, name in enumerate(("pppp", "ppp", "pp", "p", "mp", "mf", "f", "ff", "fff", "ffff"))
}
# Seconds a player wants for a change of tool (common practice, no source).
_MUTE_ON = r"con sord|\bmutes? (on|in)\b|^mute\b|mit dämpfer|avec sourd"
_MUTE_OFF = r"senza sord|\bmutes? (off|out)\b|ohne dämpfer|sans sourd"
_CHANGES = (
    (re.compile(r"\bpizz", re.IGNORECASE), 1.0, "Bow to pizzicato"),
    (re.compile(r"\barco\b", re.IGNORECASE), 1.5, "Back to the bow"),
    (re.compile(_MUTE_ON, re.IGNORECASE), 4.0, "Mute on"),
    (re.compile(_MUTE_OFF, re.IGNORECASE), 3.0, "Mute off"),
)
_TECHNIQUES = re.compile(
    r"col legno|sul pont|sul tasto|flutter|frull|flatter|harm|div\b|unis|tutti|solo|snares|"
    r"rim|brush|mallets|stopped|gestopft|bouch|cuivr|ponticello|tremol",
    re.I,
)


def reading_spots(part: Part, line: Sequence[Stroke], *, quarters: Fraction) -> list[Spot]:
    """Every place that is likely to be misread, in any order."""
    found = [*_accidentals(line), *_broken_patterns(line)]
    second = 60.0 / float(quarters)
    found.extend(_rests(part, line))
    found.extend(_dynamics(part))
    found.extend(_changes(part, line, second))
    return found


def _spot(stroke: Stroke, kind: str, why: str, weight: float) -> Spot:
    return Spot(stroke.position, kind, why, weight, stroke.note.id)


def _plain(pitch: Pitch) -> str:
    return pitch.name.rstrip("0123456789-").replace("#", "♯").replace("b", "♭")


def _accidentals(line: Sequence[Stroke]) -> Iterable[Spot]:
    """Notes against the key, and notes that were something else a moment ago."""
    seen: dict[int, tuple[int, int, Pitch]] = {}
    for stroke in line:
        pitch = stroke.note.pitch
        if pitch is None:
            continue
        index = stroke.measure.index
        before = seen.get(stroke.height)
        if before is not None and index - before[0] <= 1 and before[1] != stroke.midi:
            where = "in this measure" if before[0] == index else "a measure ago"
            why = f"{_plain(pitch)} here, {_plain(before[2])} {where}"
            yield _spot(stroke, "changed-note", why, 0.5)
        elif stroke.altered:
            yield _spot(stroke, "accidental", f"{_plain(pitch)} is not in the key", 0.3)
        alter = int(pitch.alter) if stroke.altered else 0
        if alter and (twin := _twin(pitch, alter)):
            yield _spot(stroke, "enharmonic", f"{_plain(pitch)} is {twin}", 0.4)
        seen[stroke.height] = (index, stroke.midi, pitch)


def _twin(pitch: Pitch, alter: int) -> str:
    """The plainer name of an awkward spelling; empty if the spelling is plain."""
    if abs(alter) == 2 or (pitch.step, alter) in (("E", 1), ("B", 1), ("C", -1), ("F", -1)):
        return ("C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "G♯", "A", "B♭", "B")[pitch.midi % 12]
    return ""


def _broken_patterns(line: Sequence[Stroke]) -> Iterable[Spot]:
    """A figure that came three times or more and then goes another way."""
    groups: list[tuple[int, list[Stroke]]] = []
    for stroke in line:
        key = stroke.measure.index * 64 + stroke.beat
        if groups and groups[-1][0] == key:
            groups[-1][1].append(stroke)
        else:
            groups.append((key, [stroke]))
    times, last = 1, None
    for place in range(1, len(groups)):
        before, here = groups[place - 1][1], groups[place][1]
        rhythm = len(here) >= 3 and _has_same_rhythm(before, here)
        figure = rhythm and _steps(before) == _steps(here)
        if figure:
            times = times + 1 if last else 2
            last = here
            continue
        if last is not None and times >= 3 and rhythm:
            changed = _first_difference(before, here)
            yield _spot(
                changed, "pattern-break", f"The figure came {times} times; here it changes", 0.9
            )
        times, last = 1, None


def _has_same_rhythm(one: Sequence[Stroke], two: Sequence[Stroke]) -> bool:
    return len(one) == len(two) and all(
        abs((a.start - one[0].start) - (b.start - two[0].start)) < 1e-6
        for a, b in zip(one, two, strict=True)
    )


def _steps(group: Sequence[Stroke]) -> list[int]:
    return [b.height - a.height for a, b in pairwise(group)]


def _first_difference(before: Sequence[Stroke], here: Sequence[Stroke]) -> Stroke:
    for place, (a, b) in enumerate(zip(_steps(before), _steps(here), strict=False)):
        if a != b:
            return here[place + 1]
    return here[-1]


def _rests(part: Part, line: Sequence[Stroke]) -> Iterable[Spot]:
    """Rests that are miscounted: long ones, crooked ones, fermatas on nothing."""
    first_in: dict[int, Stroke] = {}
    for stroke in line:
        first_in.setdefault(stroke.measure.index, stroke)
    silent_since: int | None = None
    for measure in part.measures:
        if all(n.is_rest for n in measure.notes):
            silent_since = measure.index if silent_since is None else silent_since
        elif silent_since is not None:
            waited = measure.index - silent_since
            entry = first_in.get(measure.index)
            if entry is not None and waited >= 2:
                late = "" if entry.note.at == 0 else ", inside the measure"
                late = late if entry.is_on_beat else " and not on a beat"
                why = f"Comes in after {waited} measures of rest{late}"
                yield _spot(entry, "rest-count", why, 0.3 if entry.is_on_beat else 0.8)
            silent_since = None
        yield from _short_rests(measure)


def _short_rests(measure: Measure) -> Iterable[Spot]:
    if not any(n.is_rest for n in measure.notes):
        return
    beat, on = measure.time.beat, {*beat_starts(measure), measure.length}
    notes = [n for n in measure.notes if n.staff == 1 and not n.hidden]
    voice = min((n.voice for n in notes), default="1")
    ordered = [n for n in notes if n.voice == voice and not n.in_chord]
    for before, note in zip([None, *ordered], ordered, strict=False):
        if not note.is_rest:
            continue
        position = Position(measure.index, note.at)
        if note.fermata:
            yield Spot(
                position, "fermata-rest", "A fermata on a rest: silence is held", 0.6, note.id
            )
        crooked = note.at not in on or (note.duration > beat and note.end not in on)
        if crooked and note.duration >= beat and before is not None:
            yield Spot(position, "rest-count", "A rest that starts off the beat", 0.4, note.id)


def _dynamics(part: Part) -> Iterable[Spot]:
    level: int | None = None
    is_growing = False
    for measure in part.measures:
        for mark in measure.directions:
            at = Position(measure.index, mark.at)
            if mark.kind == "wedge" or (
                mark.kind == "words" and re.search(r"cresc|dim|decresc", mark.text, re.I)
            ):
                is_growing = True
            elif mark.kind == "words" and re.search(r"\bsub(ito|\.)", mark.text, re.I):
                yield Spot(at, "dynamic", f"Sudden: {mark.text}", 0.6)
            elif mark.kind == "dynamic" and mark.text in _STRENGTH:
                now = _STRENGTH[mark.text]
                if level is not None and abs(now - level) >= 2 and not is_growing:
                    way = "soft" if now < level else "loud"
                    yield Spot(at, "dynamic", f"Suddenly {way}: {mark.text}", 0.6)
                level, is_growing = now, False


def _changes(part: Part, line: Sequence[Stroke], second: float) -> Iterable[Spot]:
    """Bow to finger, mutes, other ways of playing, with the time there is for it."""
    starts: list[float] = []
    for measure in part.measures:
        for mark in measure.directions:
            if mark.kind != "words":
                continue
            at = Position(measure.index, mark.at)
            place = float(part.starts[measure.index] + mark.at)
            change = next((c for c in _CHANGES if c[0].search(mark.text)), None)
            if change is not None:
                starts = starts or [stroke.start for stroke in line]
                yield _tool_change(change, at, place, line, starts, second)
            elif _TECHNIQUES.search(mark.text):
                yield Spot(at, "technique", f"Another way of playing: {mark.text}", 0.3)


def _tool_change(
    change: tuple[re.Pattern[str], float, str],
    at: Position,
    place: float,
    line: Sequence[Stroke],
    starts: Sequence[float],
    second: float,
) -> Spot:
    _, wanted, name = change
    after = bisect_left(starts, place - 1e-6)
    kind = "mute" if name.startswith("Mute") else "pizz-arco"
    if 0 < after < len(line):
        stroke = line[after]
        held = stroke.gap if stroke.rest == 0 else stroke.rest
        # A long note can be left early; a quick one cannot.
        had = stroke.rest if stroke.rest else min(held / 2, 0.5)
        if had < wanted:
            return Spot(at, kind, f"{name} with {had:.1f} s for it: too short to do calmly", 1.0)
    return Spot(at, kind, name, 0.2)
