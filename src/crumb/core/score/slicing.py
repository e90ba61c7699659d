"""Cut a span out of a part so that it can be engraved and played alone.

The slice keeps printed numbers, carries clef, key and time to its front, hides what the mask hides
under invisible rests (so that measures still add up), and mends what the cut broke: ties, slurs,
hairpins, tuplet brackets, beams.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.errors import EmptySpan
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.meter import beams_of, beats_of, lead_of
from crumb.core.score.model import (
    ZERO,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Part,
    Slur,
    Time,
    Tuplet,
)
from crumb.core.score.notating import (
    beam,
    rest,
    values_of,
)
from crumb.core.score.position import (
    Position,
    Sound,
    Span,
    absolute,
    canonical,
    landing_notes,
    sounds,
)

LANDING_SUFFIX = "-landing"


def slice_span(part: Part, span: Span) -> Part:
    """The span as a part of its own, masked measures filled with hidden rests.

    Raises:
        EmptySpan: no note sounds in the span (in a blank part nobody knows).
        BadAddress: the span lies outside the part.
    """
    start, end = canonical(part, span.start), canonical(part, span.end)
    absolute(part, start)
    last = end.index if end.at > 0 else end.index - 1
    pieces = [
        _cut(
            part.measures[i],
            start.at if i == start.index else ZERO,
            end.at if i == end.index else part.measures[i].length,
        )
        for i in range(start.index, last + 1)
    ]
    if not part.is_blank and not any(n.sounds for piece in pieces for n in piece.notes):
        raise EmptySpan("There is no note to play in this span.")
    landing = landing_notes(part, end) if span.landing else ()
    if span.landing and part.is_on_pages:
        pieces[-1] = _with_printed_landing(part, pieces[-1], end)
    if landing:
        if end.at == 0:
            pieces.append(_landing_measure(part.measures[end.index]))
        pieces[-1] = _with_landing(pieces[-1], landing, end.at)
    pieces = [_masked(piece) for piece in pieces]
    # An accidental that the mask hides has to be printed on the next note it holds for.
    return replace(part, measures=with_accidentals(_mended(pieces), keep=True))


def lead_in(part: Part, span: Span) -> Fraction:
    """Masked quarter notes in the slice before the span starts."""
    return canonical(part, span.start).at


def span_sounds(part: Part, span: Span) -> tuple[Sound, ...]:
    """The attacks of a span and its landing, counted from the start of the span."""
    lead = lead_in(part, span)
    return tuple(replace(s, at=s.at - lead) for s in sounds(slice_span(part, span)))


def played_quarters(part: Part, span: Span) -> Fraction:
    """How long the span lasts, its landing included, masked beats left out."""
    quarters = absolute(part, span.end) - absolute(part, span.start)
    end = canonical(part, span.end)
    if span.landing and landing_notes(part, end):
        quarters += landing_length(part.measures[end.index], end.at)
    return quarters


def bars_of(part: Part, span: Span) -> tuple[Fraction, ...]:
    """Where measures begin inside a span, in quarter notes from its start, in written order."""
    start, end = absolute(part, span.start), absolute(part, span.end)
    first, last = span.start.index, min(span.end.index, len(part.measures) - 1)
    places = (absolute(part, Position(index, Fraction(0))) for index in range(first, last + 1))
    return tuple(at - start for at in places if start <= at < end)


def landing_length(measure: Measure, at: Fraction) -> Fraction:
    """A landing lasts one beat, or what the measure still holds if that is less."""
    into = at + lead_of(measure)
    length = beats_of(measure.time).slot(into)[2]
    # Off the beat it lasts a whole beat all the same.
    return min(length, measure.length - at)


def _state_at(measure: Measure, at: Fraction) -> tuple[Time, Key, tuple[Clef, ...]]:
    time, key, clefs = measure.time, measure.key, list(measure.clefs)
    for change in measure.changes:
        if change.at > at:
            continue
        time = change.time or time
        key = change.key or key
        if change.clef:
            clefs[change.staff - 1] = change.clef
    return time, key, tuple(clefs)


def _cut(measure: Measure, start: Fraction, end: Fraction) -> Measure:
    if start == 0 and end == measure.length:
        return measure
    time, key, clefs = _state_at(measure, start)
    notes = tuple(_cut_notes(measure.notes, start, end))
    printed = measure.printed
    return replace(
        measure,
        printed=printed and printed.between(start / measure.length, end / measure.length),
        time=time,
        key=key,
        clefs=clefs,
        notes=beam(notes, beams_of(measure.time), lead_of(measure)),
        directions=tuple(d for d in measure.directions if start <= d.at < end),
        changes=tuple(c for c in measure.changes if start < c.at < end),
        barlines=tuple(
            b for b in measure.barlines if (b.side == "left") == (start == 0) and not b.ending
        ),
    )


def _cut_notes(notes: Iterable[Note], start: Fraction, end: Fraction) -> Iterable[Note]:
    for note in notes:
        if note.grace:
            if start <= note.at < end:
                yield note
            continue
        first, last = max(note.at, start), min(note.end, end)
        if last <= first:
            continue
        if (first, last) == (note.at, note.end):
            yield note
            continue
        yield from _rewritten(note, first, last)


def _rewritten(note: Note, start: Fraction, end: Fraction) -> Iterable[Note]:
    """A note clipped to part of itself, in as many tied values as it takes."""
    values = values_of(end - start)
    at = start
    struck_before = start > note.at or note.tie in ("stop", "continue")
    goes_on = end < note.end or note.tie in ("start", "continue")
    for i, value in enumerate(values):
        back = struck_before or i > 0
        on = goes_on or i + 1 < len(values)
        tie = {(True, True): "continue", (True, False): "stop", (False, True): "start"}
        yield replace(
            note,
            id=note.id if i == 0 else f"{note.id}t{i}",
            at=at,
            duration=value.duration,
            type=value.type,
            dots=value.dots,
            tuplet=Tuplet(value.actual, value.normal) if value.actual > 1 else None,
            tie=None if note.is_rest else tie.get((back, on)),
            slurs=note.slurs if i == 0 else (),
        )
        at += value.duration


def _with_printed_landing(part: Part, piece: Measure, end: Position) -> Measure:
    """The last piece with the beat after the span, as it is printed."""
    if piece.printed is None or end.index >= len(part.measures):
        return piece
    measure = part.measures[end.index]
    until = (end.at + landing_length(measure, end.at)) / measure.length
    if end.at > 0:
        return replace(piece, printed=replace(piece.printed, shown=(piece.printed.shown[0], until)))
    if measure.printed is None:
        return piece
    shown = measure.printed.between(ZERO, until)
    return replace(piece, printed=replace(piece.printed, landing=shown))


def _landing_measure(measure: Measure) -> Measure:
    """The measure after the span, empty but for what its front shows."""
    return replace(
        measure,
        notes=(),
        directions=(),
        changes=(),
        barlines=(),
        tempo=measure.tempo,
        multi_rest=0,
    )


def _with_landing(measure: Measure, landing: tuple[Note, ...], at: Fraction) -> Measure:
    length = landing_length(measure, at)
    landed: list[Note] = []
    seen: set[tuple[object, int]] = set()
    for note in landing:
        # Voices that meet on the landing become one chord a staff, a unison one note.
        where = (note.pitch or note.place, note.staff)
        if where in seen:
            continue
        is_member = any(staff == note.staff for _, staff in seen)
        seen.add(where)
        plain = replace(
            note,
            tie=None,
            slurs=(),
            beams=(),
            fermata=False,
            lyric="",
            voice="1",
            in_chord=is_member,
        )
        whole = replace(plain, id=f"{note.id}{LANDING_SUFFIX}", at=at, duration=length)
        landed.extend(_rewritten(whole, at, at + length))
    return replace(measure, notes=(*measure.notes, *landed))


def _masked(measure: Measure) -> Measure:
    """Hidden rests in voice 1 wherever nothing stands in the first staff."""
    mine = [n for n in measure.notes if n.staff == 1 and not n.grace and not n.in_chord]
    voice = min((n.voice for n in mine), default="1")
    filled: list[Note] = []
    at = ZERO
    for note in sorted((n for n in mine if n.voice == voice), key=lambda n: n.at):
        if note.at != at:
            filled.extend(_mask(measure, at, note.at, voice))
        at = max(at, note.end)
    filled.extend(_mask(measure, at, measure.length, voice))
    if not filled:
        return measure
    notes = sorted((*measure.notes, *filled), key=lambda n: (n.staff, n.voice, n.at))
    return replace(measure, notes=tuple(notes))


def _mask(measure: Measure, start: Fraction, end: Fraction, voice: str) -> Iterable[Note]:
    if end <= start:
        return
    at = start
    for i, value in enumerate(values_of(end - start)):
        note_id = f"mask{measure.index}-{at.numerator}_{at.denominator}-{i}"
        yield replace(rest(value, at, note_id, hidden=True), voice=voice)
        at += value.duration


def mended(pieces: Sequence[Measure]) -> tuple[Measure, ...]:
    """Drop every tie, slur, hairpin, beam and tuplet edge whose other end is not there."""
    return tuple(_mended(list(pieces)))


def _mended(pieces: list[Measure]) -> list[Measure]:
    notes = [(i, note) for i, piece in enumerate(pieces) for note in piece.notes]
    ties = _mended_ties(notes, pieces)
    slurs = _paired_slurs(notes)
    gestures = _paired_gestures(notes)
    rows: list[list[Note]] = [[] for _ in pieces]
    for place, (i, note) in enumerate(notes):
        mended = (ties[place], slurs[place], gestures[place])
        if mended != (note.tie, note.slurs, note.gestures):
            note = replace(note, tie=mended[0], slurs=mended[1], gestures=mended[2])
        rows[i].append(note)
    wedges_open: set[int] = set()  # staves
    result = []
    for piece, row in zip(pieces, rows, strict=True):
        directions: list[Direction] = []
        for direction in piece.directions:
            if direction.kind == "wedge":
                if direction.text == "stop":
                    if direction.staff not in wedges_open:
                        continue
                    wedges_open.discard(direction.staff)
                elif direction.staff in wedges_open:
                    # One hairpin after the other: the first ends where the next begins.
                    directions.append(replace(direction, text="stop"))
                wedges_open |= {direction.staff} if direction.text != "stop" else set()
            elif direction.kind in ("octave", "pedal", "jump"):
                continue
            directions.append(direction)
        whole = _mended_beams(piece, _mended_tuplets(row))
        result.append(replace(piece, notes=whole, directions=tuple(directions)))
    if wedges_open and result:
        last = result[-1]
        stops = (
            Direction(last.length, "wedge", "stop", above=False, staff=staff)
            for staff in sorted(wedges_open)
        )
        result[-1] = replace(last, directions=(*last.directions, *stops))
    return result


def _mended_ties(notes: list[tuple[int, Note]], pieces: list[Measure]) -> list[str | None]:
    offsets = [ZERO]
    for piece in pieces:
        offsets.append(offsets[-1] + piece.length)
    begins = {}
    ends = {}
    for i, note in notes:
        if note.sounds and not note.grace:
            name = (note.pitch or note.place, note.staff)
            if note.tie in ("stop", "continue"):
                begins[name, offsets[i] + note.at] = True
            if note.tie in ("start", "continue"):
                ends[name, offsets[i] + note.end] = True
    result: list[str | None] = []
    for i, note in notes:
        if note.tie is None or note.grace:
            result.append(note.tie)
            continue
        name = (note.pitch or note.place, note.staff)
        back = note.tie in ("stop", "continue") and (name, offsets[i] + note.at) in ends
        on = note.tie in ("start", "continue") and (name, offsets[i] + note.end) in begins
        result.append("continue" if back and on else "stop" if back else "start" if on else None)
    return result


def _paired_slurs(notes: list[tuple[int, Note]]) -> list[tuple[Slur, ...]]:
    kept: list[list[Slur]] = [[] for _ in notes]
    open_at: dict[tuple[int, int], int] = {}
    for place, (_, note) in enumerate(notes):
        for slur in sorted(note.slurs, key=lambda s: s.end == "start"):
            name = (slur.number, note.staff)
            if slur.end == "start":
                open_at[name] = place
            elif name in open_at:
                kept[open_at.pop(name)].append(Slur(slur.number, "start"))
                kept[place].append(slur)
    return [tuple(row) for row in kept]


def _paired_gestures(notes: list[tuple[int, Note]]) -> list[tuple[str, ...]]:
    """Slides and the like whose two ends are both here; what needs no partner stays."""
    kept: list[list[str]] = [[g for g in n.gestures if ":" not in g] for _, n in notes]
    open_at: dict[tuple[str, str, int], int] = {}
    for place, (_, note) in enumerate(notes):
        for gesture in note.gestures:
            kind, _, rest = gesture.partition(":")
            end, _, number = rest.partition(":")
            name = (kind, number, note.staff)
            if end == "start":
                open_at[name] = place
            elif end == "stop" and name in open_at:
                kept[open_at.pop(name)].append(f"{kind}:start:{number}")
                kept[place].append(gesture)
    return [tuple(row) for row in kept]


def _mended_beams(measure: Measure, notes: tuple[Note, ...]) -> tuple[Note, ...]:
    """Notes beamed anew where a beam begins or ends outside the measure."""
    open_now: dict[tuple[int, str, bool], bool] = {}
    for note in notes:
        if not note.beams or note.in_chord:
            continue
        row = (note.staff, note.voice, bool(note.grace))
        first = note.beams[0]
        is_open = open_now.get(row, False)
        if (first == "begin") == is_open and first in ("begin", "continue", "end"):
            return _beamed_anew(measure, notes)
        open_now[row] = first in ("begin", "continue")
    return _beamed_anew(measure, notes) if any(open_now.values()) else notes


def _beamed_anew(measure: Measure, notes: tuple[Note, ...]) -> tuple[Note, ...]:
    plain = [replace(n, beams=()) if n.grace and n.beams else n for n in notes]
    return beam(plain, beams_of(measure.time), lead_of(measure))


def _nested_whole(notes: list[Note]) -> bool:
    """Whether every bracket of nested tuplets that opens in a measure also closes in it."""
    open_now: set[tuple[int, str]] = set()
    for note in notes:
        for bracket in note.nesting:
            name = (bracket.number, note.voice)
            if (bracket.end == "start") == (name in open_now):
                return False
            open_now ^= {name}
    return not open_now


def _mended_tuplets(notes: list[Note]) -> tuple[Note, ...]:
    """Every bracket that is open closes, and none closes that did not open, voice by voice."""
    if not _nested_whole(notes):
        notes = [replace(note, nesting=()) for note in notes]
    result = list(notes)
    for voice in {(n.voice, n.staff) for n in notes}:
        open_place: int | None = None
        last_place: int | None = None
        for i, note in enumerate(notes):
            if (note.voice, note.staff) != voice or note.in_chord or note.grace:
                continue
            if note.tuplet is None:
                if open_place is not None and last_place is not None:
                    result[last_place] = _edge(result[last_place], stops=True)
                open_place = last_place = None
                continue
            if open_place is None:
                open_place = i
                result[i] = _edge(result[i], starts=True)
            last_place = i
            if note.tuplet.stops:
                open_place = last_place = None
        if open_place is not None and last_place is not None:
            result[last_place] = _edge(result[last_place], stops=True)
    return tuple(result)


def _edge(note: Note, *, starts: bool = False, stops: bool = False) -> Note:
    tuplet = note.tuplet
    if tuplet is None or (starts <= tuplet.starts and stops <= tuplet.stops):
        return note
    return replace(
        note,
        tuplet=replace(tuplet, starts=tuplet.starts or starts, stops=tuplet.stops or stops),
    )
