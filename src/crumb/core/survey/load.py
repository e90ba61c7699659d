"""The survey: what each beat asks of this player at the goal tempo, summed and explained.

Every note adds what it costs to get to it; the weights are ours (common practice, no source) and
only compare places of one part with each other.
"""

from collections import Counter
from collections.abc import Iterable, Sequence
from fractions import Fraction

from crumb.core.errors import BadTempo
from crumb.core.instruments.table import Instrument
from crumb.core.score.model import Part
from crumb.core.survey import fingers, slide, strings
from crumb.core.survey.line import Places, Stroke, beat_count, strokes
from crumb.core.survey.model import MeasureLoad, Spot, Survey
from crumb.core.survey.objectives import objectives
from crumb.core.survey.reading import reading_spots

_FAST = 8.0  # notes a second from which speed itself is worth a word
_TOUCH = 0.05  # what any note costs


def survey(part: Part, instrument: Instrument, *, goal_quarters: Fraction) -> Survey:
    """Read a part for an instrument.

    Args:
        part: the music, written pitch.
        instrument: what it is played on.
        goal_quarters: goal tempo in quarter notes a minute.

    Raises:
        BadTempo: the tempo is not above 0.
    """
    if goal_quarters <= 0:
        raise BadTempo("A goal tempo is above 0.")
    line = strokes(part, quarters=goal_quarters)
    beats: list[list[float]] = [[0.0] * beat_count(m) for m in part.measures]
    spots: list[list[Spot]] = [[] for _ in part.measures]

    _add_playing(line, instrument, beats=beats, spots=spots)
    places = Places(part.measures[0])
    for spot in reading_spots(part, line, quarters=goal_quarters):
        measure, row = part.measures[spot.at.index], beats[spot.at.index]
        if not places.are_for(measure):
            places = Places(measure)
        row[min(places.of(spot.at.at)[1], len(row) - 1)] += spot.weight
        spots[spot.at.index].append(spot)
    rates = _rates(line, len(part.measures))
    ticks = part.ticks
    measures = tuple(
        MeasureLoad(
            index=m.index,
            number=m.number,
            load=sum(beats[i]),
            beats=tuple(beats[i]),
            notes_per_second=rates[i],
            spots=tuple(
                sorted(spots[i], key=lambda spot: (ticks(spot.at.at), spot.kind))
                if len(spots[i]) > 1
                else spots[i]
            ),
        )
        for i, m in enumerate(part.measures)
    )
    crux = max(range(len(measures)), key=lambda i: measures[i].load)
    return Survey(instrument.name, goal_quarters, measures, crux, objectives(part, line, measures))


def _rates(line: Sequence[Stroke], count: int) -> list[float]:
    """The fastest two successive notes of each measure, notes a second."""
    shortest = [0.0] * count
    for stroke in line:
        if stroke.gap > 0:
            at = stroke.measure.index
            shortest[at] = max(shortest[at], 1 / stroke.gap)
    return shortest


def _add_playing(
    line: Sequence[Stroke],
    instrument: Instrument,
    *,
    beats: list[list[float]],
    spots: list[list[Spot]],
) -> None:
    """Cost and spots of every note: how fast, from where, with which fingers."""
    techniques = _technique(line, instrument)
    told: Counter[str] = Counter()
    index = -1
    for place, stroke in enumerate(line):
        rate = 1 / stroke.gap if stroke.gap > 0 else 0.0
        hurry = 1 + min(rate, 20.0) / 4
        reasons = _at_note(stroke, instrument, rate)
        if place:
            _from_note(line, place, instrument, reasons)
        if techniques[place]:
            reasons += techniques[place]
        if stroke.measure.index != index:
            index = stroke.measure.index
            told.clear()
        cost = _TOUCH * hurry
        # What hurries is harder; what has a rest before it is hardly felt.
        share = hurry * (0.5 if stroke.rest > 0.5 else 1.0)
        for weight, kind, why in reasons:
            felt = weight * share
            cost += felt
            if why:
                told[kind] += 1
                if told[kind] <= 3:
                    spots[index].append(Spot(stroke.position, kind, why, felt, stroke.note.id))
        row = beats[index]
        row[stroke.beat if stroke.beat < len(row) else -1] += cost


_Reason = tuple[float, str, str]


def _at_note(stroke: Stroke, instrument: Instrument, rate: float) -> list[_Reason]:
    note = stroke.note
    found: list[_Reason] = []
    if rate > _FAST:
        found.append((0.15 * (rate - _FAST), "speed", f"{rate:.1f} notes a second"))
    tongued = instrument.tongue and rate > instrument.tongue and not stroke.slurred_into
    if tongued and stroke.rest == 0:
        why = f"{rate:.1f} tongued notes a second: past a steady single tongue"
        found.append((0.5, "tongue", why))
    if note.pitch is not None:
        if stroke.midi > instrument.high:
            far = stroke.midi - instrument.high
            found.append((0.12 * far, "range", "High for this instrument"))
        elif stroke.midi < instrument.low:
            far = instrument.low - stroke.midi
            found.append((0.12 * far, "range", "Low for this instrument"))
        if stroke.altered:
            found.append((0.1, "accidental", ""))
    if note.tuplet:
        found.append((0.06, "tuplet", ""))
    if not stroke.is_on_beat:
        if note.tie == "start" or _is_over_half(note.duration, stroke.measure.time.beat):
            found.append((0.25, "syncopation", "Starts off the beat and is held over it"))
        elif stroke.rest > 0:
            found.append((0.2, "off-beat", "Comes in off the beat"))
    return found


def _from_note(
    line: Sequence[Stroke], place: int, instrument: Instrument, found: list[_Reason]
) -> None:
    stroke, before = line[place], line[place - 1]
    if stroke.note.pitch is None or before.note.pitch is None:
        return
    step = stroke.midi - before.midi
    if not -7 <= step <= 7 and instrument.family not in ("trombone", "keyboard"):
        found.append((0.05 * (abs(step) - 5), "leap", _leap(step)))
    if step and place > 1 and (before.midi - line[place - 2].midi) * step < 0:
        found.append((0.04, "turn", ""))
    mine, other = stroke.note.tuplet, before.note.tuplet
    if mine is not other and stroke.gap and before.gap and mine != other:
        found.append((0.25, "subdivision", "The subdivision changes"))


def _is_over_half(length: Fraction, beat: Fraction) -> bool:
    # Multiplied out, which is exact and many times faster than fractions.
    return 2 * length.numerator * beat.denominator > beat.numerator * length.denominator


def _leap(step: int) -> str:
    size = abs(step)
    names = {8: "a sixth", 9: "a sixth", 10: "a seventh", 11: "a seventh", 12: "an octave"}
    way = "up" if step > 0 else "down"
    return f"Leap {way} {names.get(size, 'of more than an octave')}"


def _technique(line: Sequence[Stroke], instrument: Instrument) -> list[list[_Reason]]:
    """Techniques of the instrument itself, note by note."""
    family = instrument.family
    if family in strings.OPEN:
        return _bowed(line, family)
    if family == "trombone":
        return _slid(line)
    if family in fingers.CHARTS:
        return _fingered(line, family)
    if family in ("mallets", "drums"):
        return [list(_struck(line, i, family)) for i in range(len(line))]
    if family == "keyboard":
        return [list(_keyed(line, i)) for i in range(len(line))]
    return [[] for _ in line]


def _fingered(line: Sequence[Stroke], family: str) -> list[list[_Reason]]:
    found: list[list[_Reason]] = [[] for _ in line]
    for place in range(1, len(line)):
        stroke = line[place]
        if stroke.rest > 1.0:
            continue
        reason = fingers.change(family, line[place - 1].midi, stroke.midi)
        if reason[0]:
            found[place].append(reason)
    return found


def _slid(line: Sequence[Stroke]) -> list[list[_Reason]]:
    found: list[list[_Reason]] = [[] for _ in line]
    places = slide.path([stroke.midi for stroke in line])
    for place in range(1, len(line)):
        one, two = places[place - 1], places[place]
        distance = abs(one - two) if one and two else 0
        if not distance:
            continue
        quick = line[place].gap and line[place].gap < 0.4
        why = f"Slide from {one} to {two}" if distance >= 4 or (distance >= 3 and quick) else ""
        found[place].append((0.12 * distance, "slide", why))
    return found


def _bowed(line: Sequence[Stroke], family: str) -> list[list[_Reason]]:
    found: list[list[_Reason]] = [[] for _ in line]
    places = strings.path(family, [stroke.midi for stroke in line])
    for place, stroke in enumerate(line):
        if stroke.others:
            why = "Double stop" if len(stroke.others) == 1 else "Chord over several strings"
            found[place].append((0.5, "double-stop", why))
        here = places[place]
        before = places[place - 1] if place else None
        if here is not None and before is not None and stroke.rest <= 1.0:
            reason = strings.step(family, before, here)
            if reason[0]:
                found[place].append(reason)
    return found


def _struck(line: Sequence[Stroke], place: int, family: str) -> Iterable[_Reason]:
    stroke = line[place]
    rolls = [o for o in stroke.note.ornaments if o.startswith("tremolo")]
    if rolls:
        yield 0.4, "rudiment", "Roll"
    graces = sum(
        1
        for n in stroke.measure.notes
        if n.grace and n.at == stroke.note.at and n.voice == stroke.note.voice
    )
    if graces and family == "drums":
        why = {1: "Flam", 2: "Drag"}.get(graces, "Ruff")
        hurried = 0 < stroke.gap < 0.3
        yield 0.3 + 0.3 * hurried, "rudiment", f"{why} in a hurry" if hurried else why
    if family == "mallets" and place:
        step = abs(stroke.midi - line[place - 1].midi)
        if step == 0 and stroke.gap and stroke.gap < 0.2:
            yield 0.3, "sticking", "The same bar twice at speed: double sticking or alternate"
        if step > 12:
            yield 0.05 * (step - 8), "mallet-leap", "Far to the next bar"
    is_quick = place > 0 and 0 < stroke.gap < 0.25 and line[place - 1].gap > 0
    if family == "drums" and is_quick and _turns_the_hands(stroke, line[place - 1]):
        yield 0.25, "sticking", "The hands must be sorted out here"


def _turns_the_hands(stroke: Stroke, before: Stroke) -> bool:
    """Whether threes or fives meet twos, so that the other hand comes to lead.

    Quicker or slower by two, four or eight, or dotted, the hands go on as they were.
    """
    mine, theirs = stroke.note.tuplet, before.note.tuplet
    if (mine is None) == (theirs is None):
        return mine is not None and theirs is not None and mine.actual != theirs.actual
    return True


def _keyed(line: Sequence[Stroke], place: int) -> Iterable[_Reason]:
    stroke = line[place]
    if stroke.others and stroke.midi - min(stroke.others) > 12:
        yield 0.4, "stretch", "Wider than an octave at once"
    if len(stroke.others) >= 3:
        yield 0.2, "chord", ""
    if place and abs(stroke.midi - line[place - 1].midi) > 12:
        yield 0.4, "leap", "Leap of more than an octave"
