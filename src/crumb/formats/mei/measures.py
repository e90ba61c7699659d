"""Measures of a score: what each staff holds, the marks over it, and its end."""

from dataclasses import replace
from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.meter import beams_of
from crumb.core.score.model import ZERO, Measure, Note, Tempo
from crumb.core.score.notating import beam
from crumb.formats.mei.bars import Bar, barlines_of, filled, whole_rest
from crumb.formats.mei.definitions import Staff
from crumb.formats.mei.events import Layer
from crumb.formats.mei.state import ScoreState
from crumb.formats.mei.tree import children, count_of, first, named, tag_of
from crumb.formats.musicxml.bounds import MOST_IN_MEASURE, MOST_PART_MEASURES

_MOST_MEASURES = 100_000
"""Of all parts together."""


def read_measure(state: ScoreState, element: etree._Element) -> None:
    """Read a <measure> into every part; a rest of several measures becomes so many.

    Raises:
        UnreadableFile: a staff without a definition, or more than a score holds.
    """
    number = (element.get("n") or str(state.count + 1)).strip()[:12]
    begun = state.tempo
    bars = _bars(state, element, number)
    rests = max((_rests(bar_element) for bar_element in named(element, "staff")), default=1)
    _read_marks(state, element, bars, number)
    length = max((bar.length for bar in bars.values()), default=ZERO)
    begun = state.at_start or begun
    for part in state.measures:
        mine = [bar for bar in bars.values() if bar.staff.part == part]
        _close(state, part, mine, number, length, element, begun)
    state.count += 1
    state.new_system = state.new_page = False
    state.repeats = element.get("right") in ("rptstart", "rptboth")
    _check_length(state, rests - 1)
    for more in range(1, rests):
        _rest_on(state, number, more)


def _bars(state: ScoreState, element: etree._Element, number: str) -> dict[str, Bar]:
    found: dict[str, Bar] = {}
    for child in named(element, "staff"):
        staff = state.by_n.get(child.get("n") or "1")
        if staff is None:
            raise UnreadableFile(f"Measure {number}: staff {child.get('n')} is not defined.")
        begun = replace(staff)
        bar = Bar(begun, [])
        for place, one in enumerate(named(child, "layer")):
            voice = str(4 * (staff.place - 1) + place + 1)
            layer = Layer(
                f"{staff.name}, measure {number}",
                voice,
                staff.place,
                staff.key,
                staff.clef,
                state.count,
                "" if place == 0 and staff.place == 1 else f"{voice}.",
            )
            _read_layer(state, layer, one, staff)
            bar.layers.append(layer)
            for what in layer.unread:
                state.not_kept(staff.part, what, number)
        found[staff.n] = bar
    return found


def _read_layer(state: ScoreState, layer: Layer, element: etree._Element, staff: Staff) -> None:
    layer.read(element)
    staff.clef = layer.clef
    chords = {place: name for name, place in layer.places.items() if name not in layer.ids}
    layer.notes = [
        state.controls.joined(state.controls.joined(note, name), chords.get(place, ""))
        for place, (note, name) in enumerate(zip(layer.notes, layer.ids, strict=True))
    ]


def _read_marks(
    state: ScoreState, element: etree._Element, bars: dict[str, Bar], number: str
) -> None:
    state.at_start = None
    if len(element) > MOST_IN_MEASURE:
        raise UnreadableFile(f"Measure {number} holds more than a measure of music does.")
    for child in children(element):
        if tag_of(child) in ("staff", "sb", "pb"):
            continue
        n = (child.get("staff") or _staff_of(child, bars) or state.staves[0].n).split()[0]
        bar = bars.get(n) or next(iter(bars.values()), None)
        if bar is None:
            continue
        unit = Fraction(4, bar.staff.time.unit)
        layers = bar.layers if bar.layers else []
        others = [layer for b in bars.values() for layer in b.layers if layer not in layers]
        direction, tempo, unread = state.controls.mark(
            child, [*layers, *others], state.count, unit, f"Measure {number}"
        )
        if direction is not None:
            bar.directions.append(replace(direction, staff=bar.staff.place))
        if tempo is not None:
            state.tempo = tempo
            if direction is not None and direction.at == 0:
                state.at_start = tempo
        if unread:
            state.not_kept(bar.staff.part, unread, number)
    for _, n, stop in state.controls.stops.pop(state.count, []):
        bar = bars.get(n)
        if bar is not None:
            bar.directions.append(replace(stop, staff=bar.staff.place))


def _staff_of(element: etree._Element, bars: dict[str, Bar]) -> str:
    start = (element.get("startid") or "").strip().removeprefix("#")
    return next(
        (n for n, bar in bars.items() if any(start in one.offsets for one in bar.layers)), ""
    )


def _close(
    state: ScoreState,
    part: str,
    bars: list[Bar],
    number: str,
    length: Fraction,
    element: etree._Element,
    tempo: Tempo | None,
) -> None:
    staves = [s for s in state.staves if s.part == part]
    begun = [next((b.staff for b in bars if b.staff.n == s.n), s) for s in staves]
    time, key = begun[0].time, begun[0].key
    length = length or time.length
    notes: list[Note] = []
    for layer in (one for bar in bars for one in bar.layers):
        notes.extend(filled(layer, length))
    if not notes:
        notes = [whole_rest("1", 1, state.count, "", length)]
    notes.sort(key=lambda n: (n.staff, n.voice, n.at))
    before = state.measures[part][-1] if state.measures[part] else None
    lead = max(time.length - length, ZERO) if state.count == 0 else ZERO
    directions = sorted((d for bar in bars for d in bar.directions), key=lambda d: d.at)
    state.measures[part].append(
        Measure(
            index=state.count,
            number=number,
            length=length,
            time=time,
            key=key,
            clefs=tuple(s.clef for s in begun),
            tempo=tempo,
            implicit=element.get("n") is None or (state.count == 0 and length < time.length),
            notes=beam(tuple(notes), beams_of(time), lead),
            directions=tuple(replace(d, at=min(d.at, length)) for d in directions),
            changes=tuple(c for b in bars for one in b.layers for c in one.changes if c.at > 0),
            barlines=tuple(barlines_of(element, repeats=state.repeats)),
            new_system=state.new_system and before is not None,
            new_page=state.new_page and before is not None,
            transposition=state.transposition_of(part, begun[0]),
        )
    )


def _rests(staff: etree._Element) -> int:
    """How many measures one that rests stands for."""
    layer = first(staff, "layer")
    rest = None if layer is None else first(layer, "multiRest")
    return max(count_of(rest.get("num"), most=500), 1) if rest is not None else 1


def _check_length(state: ScoreState, more: int) -> None:
    """Refuse what nobody could open, before it is made.

    Raises:
        UnreadableFile: it is too long.
    """
    count = state.count + more
    if count > MOST_PART_MEASURES or count * len(state.measures) > _MOST_MEASURES:
        raise UnreadableFile("This MEI file has far more measures than any score.")


def _rest_on(state: ScoreState, number: str, more: int) -> None:
    called = str(int(number) + more) if number.isdecimal() else f"{number}+{more}"
    for measures in state.measures.values():
        before = measures[-1]
        rest = replace(
            before.notes[0],
            id=f"r{state.count}-0_1-0",
        )
        measures.append(
            replace(
                before,
                index=state.count,
                number=called,
                notes=(rest,),
                directions=(),
                changes=(),
                barlines=(),
                new_system=False,
                new_page=False,
            )
        )
    state.count += 1
