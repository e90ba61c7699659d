"""What will be misread: accidentals, spellings, broken patterns, rests, sudden changes."""

import re
from bisect import bisect_left
from collections.abc import Iterable, Sequence
from fractions import Fraction
from itertools import pairwise

from crumb.core.score.model import Measure, Part
from crumb.core.score.pitch import Pitch
from crumb.core.score.position import Position
from crumb.core.survey.line import Stroke, against_key, beat_index
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
    seen: dict[int, tuple[int, Fraction, Pitch]] = {}
    for stroke in line:
        pitch = stroke.note.pitch
        if pitch is None:
            continue
        name = _plain(pitch)
        before = seen.get(pitch.diatonic)
        alter = int(pitch.alter)
        recent = before is not None and stroke.measure.index - before[0] <= 1
        if recent and before is not None and before[1] != pitch.alter:
            was = _plain(before[2])
            here = before[0] == stroke.measure.index
            where = "in this measure" if here else "a measure ago"
            yield _spot(stroke, "changed-note", f"{name} here, {was} {where}", 0.5)
        elif against_key(stroke):
            yield _spot(stroke, "accidental", f"{name} is not in the key", 0.3)
        twin = _twin(pitch, alter)
        if twin:
            yield _spot(stroke, "enharmonic", f"{name} is {twin}", 0.4)
        seen[pitch.diatonic] = (stroke.measure.index, pitch.alter, pitch)


def _twin(pitch: Pitch, alter: int) -> str:
    """The plainer name of an awkward spelling; empty if the spelling is plain."""
    if abs(alter) == 2 or (pitch.step, alter) in (("E", 1), ("B", 1), ("C", -1), ("F", -1)):
        return ("C", "C♯", "D", "E♭", "E", "F", "F♯", "G", "G♯", "A", "B♭", "B")[pitch.midi % 12]
    return ""


def _broken_patterns(line: Sequence[Stroke]) -> Iterable[Spot]:
    """A figure that came three times or more and then goes another way."""
    groups: list[tuple[int, list[Stroke]]] = []
    for stroke in line:
        key = stroke.measure.index * 64 + beat_index(stroke.measure, stroke.note.at)
        if groups and groups[-1][0] == key:
            groups[-1][1].append(stroke)
        else:
            groups.append((key, [stroke]))
    times, last = 1, None
    for place in range(1, len(groups)):
        before, here = groups[place - 1][1], groups[place][1]
        rhythm = _rhythm(before) == _rhythm(here) and len(here) >= 3
        figure = rhythm and _figure(before) == _figure(here)
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


def _rhythm(group: Sequence[Stroke]) -> tuple[Fraction, ...]:
    return tuple(s.start - group[0].start for s in group)


def _steps(group: Sequence[Stroke]) -> list[int]:
    heights = [s.note.pitch.diatonic if s.note.pitch else 0 for s in group]
    return [b - a for a, b in pairwise(heights)]


def _figure(group: Sequence[Stroke]) -> tuple[int, ...]:
    return tuple(_steps(group))


def _first_difference(before: Sequence[Stroke], here: Sequence[Stroke]) -> Stroke:
    for place, (a, b) in enumerate(zip(_steps(before), _steps(here), strict=False)):
        if a != b:
            return here[place + 1]
    return here[-1]


def _rests(part: Part, line: Sequence[Stroke]) -> Iterable[Spot]:
    """Rests that are miscounted: long ones, crooked ones, fermatas on nothing."""
    attacks = {stroke.start: stroke for stroke in line}
    silent_since: Fraction | None = None
    for measure in part.measures:
        if all(n.is_rest for n in measure.notes):
            if silent_since is None:
                silent_since = part.starts[measure.index]
        elif silent_since is not None:
            first = next((n for n in measure.notes if n.is_attack), None)
            waited = sum(
                1 for i in part.starts[:-1] if silent_since <= i < part.starts[measure.index]
            )
            if first is not None and waited >= 2:
                off = first.at % measure.time.beat != 0
                late = (
                    " and not on a beat" if off else "" if first.at == 0 else ", inside the measure"
                )
                stroke = attacks.get(part.starts[measure.index] + first.at)
                if stroke is not None:
                    yield _spot(
                        stroke,
                        "rest-count",
                        f"Comes in after {waited} measures of rest{late}",
                        0.3 + 0.5 * off,
                    )
            silent_since = None
        yield from _short_rests(measure)


def _short_rests(measure: Measure) -> Iterable[Spot]:
    beat = measure.time.beat
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
        crooked = note.at % beat != 0 or (note.duration > beat and note.duration % beat != 0)
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
    starts = [stroke.start for stroke in line]
    for measure in part.measures:
        for mark in measure.directions:
            if mark.kind != "words":
                continue
            at = Position(measure.index, mark.at)
            place = part.starts[measure.index] + mark.at
            change = next((c for c in _CHANGES if c[0].search(mark.text)), None)
            if change is not None:
                yield _tool_change(change, at, place, line, starts, second)
            elif _TECHNIQUES.search(mark.text):
                yield Spot(at, "technique", f"Another way of playing: {mark.text}", 0.3)


def _tool_change(
    change: tuple[re.Pattern[str], float, str],
    at: Position,
    place: Fraction,
    line: Sequence[Stroke],
    starts: Sequence[Fraction],
    second: float,
) -> Spot:
    _, wanted, name = change
    after = bisect_left(starts, place)
    kind = "mute" if name.startswith("Mute") else "pizz-arco"
    if 0 < after < len(line):
        stroke = line[after]
        held = stroke.gap if stroke.rest == 0 else stroke.rest
        # A long note can be left early; a quick one cannot.
        had = stroke.rest if stroke.rest else min(held / 2, 0.5)
        if had < wanted:
            return Spot(at, kind, f"{name} with {had:.1f} s for it: too short to do calmly", 1.0)
    return Spot(at, kind, name, 0.2)
