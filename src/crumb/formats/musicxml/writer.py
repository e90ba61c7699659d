"""The score model out to MusicXML 4.0: what is engraved, printed, exported and read back.

Notes and measures carry their ids, which the engraver hands on to the drawing.
"""

from collections import deque
from collections.abc import Iterable, Mapping, Sequence
from fractions import Fraction
from functools import lru_cache
from xml.sax.saxutils import escape, quoteattr

from crumb.core.score.model import (
    Barline,
    Bracket,
    Change,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Part,
    Tempo,
    Time,
)
from crumb.core.score.notating import TYPES
from crumb.core.score.pitch import Transposition
from crumb.core.vocabulary import MarkLayer

_DOCTYPE = (
    '<?xml version="1.0" encoding="UTF-8"?>\n'
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" '
    '"http://www.musicxml.org/dtds/partwise.dtd">\n'
)
_LAYER_COLOURS: Mapping[str, str] = {
    MarkLayer.DIRECTOR: "#7A3E12",
    MarkLayer.LEADER: "#1F5560",
    MarkLayer.OWN: "#5A4A8A",
}
_PLAIN_DYNAMICS = frozenset(
    {"p", "pp", "ppp", "pppp", "f", "ff", "fff", "ffff", "mp", "mf", "sf", "sfp", "sfpp", "fp"}
    | {"rf", "rfz", "sfz", "sffz", "fz", "n", "pf", "sfzp"}
)


def write_part(
    part: Part, *, title: str = "", composer: str = "", name_printed: bool = True
) -> str:
    """A complete MusicXML document with this one part; its name can be left off the staff."""
    return write_score([part], title=title, composer=composer, names_printed=name_printed)


def write_score(
    parts: Sequence[Part], *, title: str = "", composer: str = "", names_printed: bool = True
) -> str:
    """A complete MusicXML document with these parts, in this order."""
    out = [_DOCTYPE, '<score-partwise version="4.0">']
    if title:
        out.append(f"<work><work-title>{escape(title)}</work-title></work>")
    if composer:
        out.append(
            f'<identification><creator type="composer">{escape(composer)}</creator>'
            "</identification>"
        )
    out.append("<part-list>")
    shown = "" if names_printed else ' print-object="no"'
    for place, part in enumerate(parts, 1):
        out.append(f'<score-part id="P{place}">')
        out.append(f"<part-name{shown}>{escape(part.name or 'Part')}</part-name>")
        struck = drum_ids(part, place)
        for name, instrument_id in (struck or {part.instrument: f"P{place}-I1"}).items():
            if name:
                out.append(
                    f'<score-instrument id="{instrument_id}"><instrument-name>{escape(name)}'
                    "</instrument-name></score-instrument>"
                )
        out.append("</score-part>")
    out.append("</part-list>")
    for place, part in enumerate(parts, 1):
        out.append(f'<part id="P{place}">')
        out.extend(_PartWriter(part, place).measures())
        out.append("</part>")
    out.append("</score-partwise>\n")
    return "".join(out)


def drum_ids(part: Part, place: int = 1) -> dict[str, str]:
    """Ids for the instruments that strokes of a part name, its own first."""
    drums = dict.fromkeys(note.drum for _, note in part.each_note() if note.drum)
    names = [part.instrument, *drums] if drums and part.instrument not in drums else list(drums)
    return {name: f"P{place}-I{number}" for number, name in enumerate(names, 1)}


class _PartWriter:
    """Writes the measures of one part; remembers what is in force."""

    def __init__(self, part: Part, place: int) -> None:
        self.part = part
        self.ticks = part.ticks
        self.known: dict[tuple[int, int], tuple[str, int]] = {}
        """Text of notes and how far they move on, by form and duration."""
        self.time: Time | None = None
        self.key: Key | None = None
        self.clefs: tuple[Clef, ...] | None = None
        self.moved = Transposition()
        self.drums = drum_ids(part, place)
        self.prefix = "" if place == 1 else f"p{place}"
        """Ids are each there once in a document."""

    def measures(self) -> Iterable[str]:
        for i, measure in enumerate(self.part.measures):
            yield "".join(self._measure(measure, is_first=i == 0))

    def _measure(self, measure: Measure, *, is_first: bool) -> Iterable[str]:
        implicit = ' implicit="yes"' if measure.implicit else ""
        measure_id = f"{self.prefix}m{measure.index}"
        yield f'<measure number={_quoted(measure.number)} id="{measure_id}"{implicit}>'
        if measure.new_page or measure.new_system:
            page = ' new-page="yes"' if measure.new_page else ""
            system = ' new-system="yes"' if measure.new_system else ""
            yield f"<print{system}{page}/>"
        yield from (_barline(b) for b in measure.barlines if b.side == "left")
        yield self._attributes(measure, is_first=is_first)
        yield from self._content(measure)
        yield from (_barline(b) for b in measure.barlines if b.side != "left")
        yield "</measure>"

    def _attributes(self, measure: Measure, *, is_first: bool) -> str:
        inner = []
        if is_first:
            inner.append(f"<divisions>{self.ticks.per_quarter}</divisions>")
        if measure.key != self.key:
            inner.append(_key(measure.key))
        if measure.time != self.time:
            inner.append(_time(measure.time))
        if is_first and self.part.staves > 1:
            inner.append(f"<staves>{self.part.staves}</staves>")
        for staff, clef in enumerate(measure.clefs, start=1):
            before = self.clefs[staff - 1] if self.clefs and staff <= len(self.clefs) else None
            if clef != before:
                inner.append(_clef(clef, staff, self.part.staves))
        if is_first and self.part.staff_lines != 5:
            inner.append(
                f"<staff-details><staff-lines>{self.part.staff_lines}</staff-lines></staff-details>"
            )
        moved = self.part.transposition_at(measure)
        if moved != self.moved:
            inner.append(_transpose(moved))
        self.moved = moved
        if measure.multi_rest > 1:
            inner.append(
                f"<measure-style><multiple-rest>{measure.multi_rest}</multiple-rest></measure-style>"
            )
        self.key, self.time, self.clefs = measure.key, measure.time, measure.clefs
        return f"<attributes>{''.join(inner)}</attributes>" if inner else ""

    def _content(self, measure: Measure) -> list[str]:
        """Voices one after another, marks and changes with the first of them."""
        out: list[str] = []
        voices = sorted({(n.staff, n.voice) for n in measure.notes})
        both: list[Direction | Change] = [*measure.changes, *measure.directions]
        marks = deque(sorted(both, key=_place_of))
        cursor = 0
        for i, (staff, voice) in enumerate(voices):
            row: Iterable[Note] = measure.notes
            if len(voices) > 1:
                row = [n for n in row if n.staff == staff and n.voice == voice]
            if i:
                out.append(_move(cursor, 0))
            cursor = self._row(row, marks, out)
            if i == 0:
                out.extend(self._mark(mark, cursor) for mark in marks if type(mark) is Direction)
                marks.clear()
        out.extend(self._mark(mark, 0) for mark in marks)
        out.append(_move(cursor, max(self.ticks(measure.length), cursor)))
        return out

    def _row(self, row: Iterable[Note], marks: deque[Direction | Change], out: list[str]) -> int:
        """One voice from the start of its measure, with the marks on its way; where it ends."""
        ticks, known = self.ticks, self.known
        cursor = 0
        for note in row:
            at = ticks(note.at)
            while marks and ticks(marks[0].at) <= at:
                out.append(self._mark(marks.popleft(), cursor))
            if at != cursor and not note.in_chord:
                out.append(_move(cursor, at))
                cursor = at
            # The part keeps forms and durations alive, so to be the same object is enough.
            form = id(note.form) if note.form is not None else id(note)
            key = (form, id(note.duration))
            written = known.get(key)
            if written is None:
                takes = 0 if note.in_chord or note.grace else ticks(note.duration)
                written = known[key] = (self._note_text(note), takes)
            out.append(f'<note id="{self.prefix}{note.id}"{written[0]}')
            cursor += written[1]
        return cursor

    def _mark(self, mark: Direction | Change, cursor: int) -> str:
        if isinstance(mark, Direction):
            offset = self.ticks(mark.at) - cursor
            return _direction(mark, offset, self.part.staves)
        inner = ""
        if mark.key:
            inner += _key(mark.key)
            self.key = mark.key
        if mark.time:
            inner += _time(mark.time)
            self.time = mark.time
        if mark.clef:
            inner += _clef(mark.clef, mark.staff, self.part.staves)
            clefs = list(self.clefs or ())
            clefs[mark.staff - 1] = mark.clef
            self.clefs = tuple(clefs)
        return f"<attributes>{inner}</attributes>"

    def _note_text(self, note: Note) -> str:
        """What comes after a note's id."""
        out = [' print-object="no">' if note.hidden else ">"]
        if note.grace:
            out.append('<grace slash="yes"/>' if note.grace == "slashed" else "<grace/>")
        if note.cue:
            out.append("<cue/>")
        if note.in_chord:
            out.append("<chord/>")
        out.append(_sounding(note))
        if not note.grace:
            out.append(f"<duration>{self.ticks(note.duration)}</duration>")
        if note.tie in ("stop", "continue"):
            out.append('<tie type="stop"/>')
        if note.tie in ("start", "continue"):
            out.append('<tie type="start"/>')
        if note.drum:
            out.append(f'<instrument id="{self.drums[note.drum]}"/>')
        out.append(f"<voice>{escape(note.voice)}</voice>")
        if note.type:
            out.append(f"<type>{escape(note.type)}</type>")
        out.append("<dot/>" * note.dots)
        if note.accidental:
            out.append(f"<accidental>{escape(note.accidental)}</accidental>")
        if note.tuplet:
            out.append(
                f"<time-modification><actual-notes>{note.tuplet.actual}</actual-notes>"
                f"<normal-notes>{note.tuplet.normal}</normal-notes></time-modification>"
            )
        if note.notehead:
            out.append(f"<notehead>{escape(note.notehead)}</notehead>")
        if self.part.staves > 1:
            out.append(f"<staff>{note.staff}</staff>")
        out.extend(
            f'<beam number="{level}">{beam}</beam>' for level, beam in enumerate(note.beams, 1)
        )
        out.append(_notations(note))
        if note.lyric:
            out.append(_lyric(note.lyric))
        out.append("</note>")
        return "".join(out)


_quoted = lru_cache(maxsize=2048)(quoteattr)


def _place_of(mark: Direction | Change) -> Fraction:
    return mark.at


def _move(cursor: int, target: int) -> str:
    if target == cursor:
        return ""
    tag = "forward" if target > cursor else "backup"
    return f"<{tag}><duration>{abs(target - cursor)}</duration></{tag}>"


def _sounding(note: Note) -> str:
    if note.is_rest:
        if note.place:
            inner = _display(note.place.step, note.place.octave)
            return f"<rest>{inner}</rest>"
        return '<rest measure="yes"/>' if not note.type and not note.hidden else "<rest/>"
    if note.pitch is None:
        inner = _display(note.place.step, note.place.octave) if note.place else ""
        return f"<unpitched>{inner}</unpitched>"
    alter = note.pitch.alter
    number = str(alter) if alter.denominator == 1 else str(float(alter))
    return (
        f"<pitch><step>{note.pitch.step}</step>"
        + (f"<alter>{number}</alter>" if alter else "")
        + f"<octave>{note.pitch.octave}</octave></pitch>"
    )


def _display(step: str, octave: int) -> str:
    return f"<display-step>{step}</display-step><display-octave>{octave}</display-octave>"


def _notations(note: Note) -> str:
    inner = []
    if note.tie in ("stop", "continue"):
        inner.append('<tied type="stop"/>')
    if note.tie in ("start", "continue"):
        inner.append('<tied type="start"/>')
    inner.extend(f'<slur type="{s.end}" number="{s.number}"/>' for s in note.slurs)
    if note.nesting:
        inner.extend(_bracket(bracket) for bracket in note.nesting)
    else:
        if note.tuplet and note.tuplet.starts:
            inner.append('<tuplet type="start" bracket="yes"/>')
        if note.tuplet and note.tuplet.stops:
            inner.append('<tuplet type="stop"/>')
    if note.ornaments:
        inner.append(f"<ornaments>{''.join(_ornament(o) for o in note.ornaments)}</ornaments>")
    if note.technical:
        marks = "".join(
            f"<{tag}>{escape(text)}</{tag}>" if text else f"<{tag}/>"
            for tag, text in note.technical
        )
        inner.append(f"<technical>{marks}</technical>")
    if note.articulations:
        marks = "".join(f"<{mark}/>" for mark in note.articulations)
        inner.append(f"<articulations>{marks}</articulations>")
    inner.extend(_gesture(gesture) for gesture in note.gestures)
    if note.fermata:
        inner.append("<fermata/>")
    return f"<notations>{''.join(inner)}</notations>" if inner else ""


_SYLLABIC = {(True, True): "middle", (True, False): "end", (False, True): "begin"}


def _lyric(said: str) -> str:
    text = said.removeprefix("-").removesuffix("-")
    # One hyphen on a side says where the word goes on; more of them are text.
    is_syllable = bool(text) and text == text.strip("- ")
    where = _SYLLABIC.get((said.startswith("-"), said.endswith("-"))) if is_syllable else None
    inside = f"<syllabic>{where}</syllabic>" if where else ""
    return f"<lyric>{inside}<text>{escape(text if where else said)}</text></lyric>"


def _bracket(bracket: Bracket) -> str:
    if bracket.end == "stop":
        return f'<tuplet type="stop" number="{bracket.number}"/>'
    return (
        f'<tuplet type="start" number="{bracket.number}" bracket="yes">'
        f"<tuplet-actual><tuplet-number>{bracket.actual}</tuplet-number></tuplet-actual>"
        f"<tuplet-normal><tuplet-number>{bracket.normal}</tuplet-number></tuplet-normal></tuplet>"
    )


def _gesture(mark: str) -> str:
    name, *rest = mark.split(":")
    return f'<{name} type="{rest[0]}" number={quoteattr(rest[1])}/>' if rest else f"<{name}/>"


def _ornament(mark: str) -> str:
    if mark.startswith("tremolo:"):
        _, kind, strokes = mark.split(":")
        return f'<tremolo type="{kind}">{strokes}</tremolo>'
    return _gesture(mark)


def _key(key: Key) -> str:
    mode = f"<mode>{escape(key.mode)}</mode>" if key.mode else ""
    return f"<key><fifths>{key.fifths}</fifths>{mode}</key>"


def _time(time: Time) -> str:
    if time.is_free:
        return "<time><senza-misura/></time>"
    symbol = f" symbol={quoteattr(time.symbol)}" if time.symbol else ""
    return f"<time{symbol}><beats>{time.beats}</beats><beat-type>{time.unit}</beat-type></time>"


def _clef(clef: Clef, staff: int, staves: int) -> str:
    number = f' number="{staff}"' if staves > 1 else ""
    octave = (
        f"<clef-octave-change>{clef.octave_change}</clef-octave-change>"
        if clef.octave_change
        else ""
    )
    line = f"<line>{clef.line}</line>" if clef.sign in "GFC" else ""
    return f"<clef{number}><sign>{escape(clef.sign)}</sign>{line}{octave}</clef>"


def _transpose(moved: Transposition) -> str:
    octaves = int(moved.chromatic / 12)
    return (
        f"<transpose><diatonic>{moved.diatonic - 7 * octaves}</diatonic>"
        f"<chromatic>{moved.chromatic - 12 * octaves}</chromatic>"
        + (f"<octave-change>{octaves}</octave-change>" if octaves else "")
        + "</transpose>"
    )


def _direction(mark: Direction, offset: int, staves: int) -> str:
    if mark.kind == "jump":
        return f'<sound {mark.text}="yes"/>'
    body = _direction_body(mark)
    place = "above" if mark.above else "below"
    sound = f'<sound tempo="{float(mark.tempo.quarters):g}"/>' if mark.tempo else ""
    return (
        f'<direction placement="{place}"><direction-type>{body}</direction-type>'
        + (f"<offset>{offset}</offset>" if offset else "")
        + (f"<staff>{mark.staff}</staff>" if staves > 1 else "")
        + sound
        + "</direction>"
    )


def _direction_body(mark: Direction) -> str:
    if mark.kind.startswith("mark:"):
        colour = _LAYER_COLOURS[mark.kind.partition(":")[2]]
        return f'<words color="{colour}" font-style="italic">{escape(mark.text)}</words>'
    match mark.kind:
        case "rehearsal" | "words":
            return f"<{mark.kind}>{escape(mark.text)}</{mark.kind}>"
        case "dynamic":
            return f"<dynamics>{_dynamic(mark.text)}</dynamics>"
        case "wedge":
            return f'<wedge type="{mark.text}"/>'
        case "pedal":
            return f'<pedal type="{mark.text}"/>'
        case "octave":
            return _octave(mark.text)
        case "tempo":
            return _metronome(mark.tempo)
        case _:
            return f"<{mark.kind}/>"


def _dynamic(text: str) -> str:
    if text in _PLAIN_DYNAMICS:
        return f"<{text}/>"
    return f"<other-dynamics>{escape(text)}</other-dynamics>"


def _octave(text: str) -> str:
    kind, size = text.split(" ")
    return f'<octave-shift type="{kind}" size="{size}"/>'


def _metronome(tempo: Tempo | None) -> str:
    if tempo is None:
        return ""
    for type_name, length in TYPES:
        for dots, factor in enumerate((Fraction(1), Fraction(3, 2))):
            if length * factor == tempo.beat:
                dot = "<beat-unit-dot/>" * dots
                return (
                    f"<metronome><beat-unit>{type_name}</beat-unit>{dot}"
                    f"<per-minute>{float(tempo.per_minute):g}</per-minute></metronome>"
                )
    return ""


def _barline(barline: Barline) -> str:
    out = [f"<barline location={quoteattr(barline.side)}>"]
    if barline.style:
        out.append(f"<bar-style>{escape(barline.style)}</bar-style>")
    if barline.ending:
        out.append(
            f"<ending number={quoteattr(barline.ending)} type={quoteattr(barline.ending_type)}/>"
        )
    if barline.repeat:
        times = (
            f' times="{barline.times}"'
            if barline.repeat == "backward" and barline.times != 2
            else ""
        )
        out.append(f"<repeat direction={quoteattr(barline.repeat)}{times}/>")
    out.append("</barline>")
    return "".join(out)
