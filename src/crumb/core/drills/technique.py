"""Technique helpers: spelling, fingers, slide, sticks, bow, shifts, octaves, cues, context."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.isolation import AUTO, LEARNING, PROVING, SETTING, WARM_UP, note_number
from crumb.core.drills.making import (
    bare,
    is_landing,
    laid_step,
    marked_step,
    note_ids,
    with_length,
    written_step,
)
from crumb.core.drills.model import (
    ANEW,
    LEARN,
    NOTES_KNOWN,
    ON,
    SET,
    DrillKind,
    Parameter,
    Settings,
    Step,
)
from crumb.core.drills.passage import Passage
from crumb.core.drills.reading import spoken
from crumb.core.drills.spots import hardest_pair, sudden_change, top, widest_leap
from crumb.core.errors import BadSetting, DrillDoesNotFit
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.model import ZERO, Direction, Measure, Note, Part, Slur
from crumb.core.score.notating import Event
from crumb.core.score.pitch import STEPS, Pitch, key_alter, moved
from crumb.core.score.position import Span, sounds
from crumb.core.score.slicing import mended
from crumb.core.survey.fingers import CHARTS
from crumb.core.survey.slide import path as slide_path
from crumb.core.survey.strings import OPEN, Place
from crumb.core.survey.strings import path as string_path

_BRASS = frozenset({"trumpet", "horn", "euphonium", "tuba"})
_STRINGS = frozenset(OPEN)

# Hold on arrival --------------------------------------------------------------------------------


def _hold_arrival(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no leap to land.")
    found = widest_leap(passage)
    if str(settings["at"]) == AUTO and found is None:
        raise DrillDoesNotFit("No leap here: nothing wider than a major third.")
    at = note_number(passage, settings["at"], otherwise=found or 0)
    if at == 0:
        raise DrillDoesNotFit("The first note has nothing to arrive from.")
    times = int(settings["set_repetitions"])
    beat = passage.beat
    before, after = _sounding(passage, at - 1), _sounding(passage, at)
    steps: list[Step] = []
    if settings["slide"] == "yes":
        guide = _guide(passage, at)
        steps += [
            laid_step(
                passage,
                [
                    with_length(_sliding(event, end, place), beat * 2)
                    for place, (event, end) in enumerate(zip(row, ends, strict=True))
                ],
                name=name,
                kind=LEARN,
                repetitions=int(settings["learning_repetitions"]),
                slip=ON,
                say="Slow and heard all the way: hand, slide or voice goes by ear to the arrival."
                + (" The small middle note is the finger that guides." if guide else ""),
                turned=note_ids(row),
            )
            for name, row in (
                ("Into it", [before, *guide, after]),
                ("And back", [after, *guide, before]),
            )
            for ends in [["start", *["both"] * len(guide), "stop"]]
        ]
    arrival = Span(passage.span.start, passage.attacks[at], landing=True)
    steps.append(
        marked_step(
            written_step(
                passage, arrival, name="Stop on it", kind=SET, repetitions=times, slip=ANEW
            ),
            name=f"Stop on note {at + 1}",
            kind=SET,
            change=lambda _, note: replace(note, fermata=True) if is_landing(note) else note,
        )
    )
    steps[-1] = replace(
        steps[-1], say="Stay on the arrival. If it is out of tune, begin the chunk again."
    )
    more = int(settings["after"])
    if more and at + 1 < len(passage.attacks) + passage.has_landing:
        last = min(at + more, len(passage.attacks))
        span = passage.notes_span(0, last)
        if span != passage.span:
            steps.append(
                written_step(
                    passage,
                    span,
                    name=f"Through it, {last - at} more",
                    kind=SET,
                    repetitions=times,
                    slip=ANEW,
                )
            )
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _sounding(passage: Passage, place: int) -> Event:
    return bare(Event(passage.beat, (passage.struck[place][-1],)))


def _sliding(event: Event, end: str, place: int) -> Event:
    """One end of a slide on an event; in the middle one ends and another begins."""
    ends = {"start": (place,), "stop": (), "both": (place,)}[end]
    gestures = tuple(f"slide:start:{n + 1}" for n in ends)
    if end != "start":
        gestures = (f"slide:stop:{place}", *gestures)
    return replace(event, gestures=gestures)


def _guide(passage: Passage, at: int) -> list[Event]:
    """For a shift on one string: the pitch that the old finger has in the new position."""
    family = passage.instrument.family
    one, two = top(passage.struck[at - 1]), top(passage.struck[at])
    if family not in OPEN or one is None or two is None:
        return []
    before, after = string_path(family, [one, two])
    if not before or not after or before.string != after.string or not before.height:
        return []
    moved_by = after.base - before.base
    if moved_by == 0:
        return []
    note = passage.struck[at - 1][-1]
    assert note.pitch is not None
    guide = moved(note.pitch, diatonic=_letters(moved_by), chromatic=moved_by)
    if guide.midi in (one, two):
        return []
    return [bare(Event(passage.beat, (replace(note, pitch=guide, id=f"{note.id}g"),)))]


def _letters(half_steps: int) -> int:
    sign = 1 if half_steps > 0 else -1
    octaves, rest = divmod(abs(half_steps), 12)
    return sign * (octaves * 7 + (0, 1, 1, 2, 2, 3, 3, 4, 5, 5, 6, 6)[rest])


HOLD_ARRIVAL = DrillKind(
    name="hold-arrival",
    title="Hold on arrival",
    family="Isolation",
    use_when="A shift, leap or slide misses or arrives out of tune.",
    how="Slide audibly into the note and back; stop on it; then through it; then as written.",
    clean_means="The arrival is in tune at once, without feeling for it.",
    on_slip="Go back to the beginning of the chunk, until it lands.",
    needs="A leap of a fourth or more, or the number of the note.",
    make=_hold_arrival,
    parameters=(
        Parameter("at", "Arrive on note", AUTO),
        Parameter("after", "Then how many notes more", 3, low=0, high=12),
        Parameter(
            "slide",
            "Slide into it first",
            "no",
            choices=("yes", "no"),
            by_family=dict.fromkeys([*OPEN, "trombone"], "yes"),
        ),
        LEARNING,
        SETTING,
        PROVING,
    ),
    caution="Small hands: do not force a stretch. Trombone: lock the slide when not playing.",
    same_pitches=False,
    instead=("two-notes", "alone"),
)


# Spelling ---------------------------------------------------------------------------------------


def twin(pitch: Pitch) -> Pitch:
    """The plainest other spelling of a pitch: ``A#`` as ``Bb``, ``B#`` as ``C``, ``F##`` as ``G``.

    Raises:
        ValueError: a quarter tone has none.
    """
    if pitch.alter.denominator != 1:
        raise ValueError(pitch.name)
    choices = [
        found
        for letters in (-1, 1)
        for found in [moved(pitch, diatonic=letters, chromatic=0)]
        if abs(found.alter) <= 1
    ]
    return min(choices, key=lambda p: (abs(p.alter), -p.alter * pitch.alter))


def is_awkward(pitch: Pitch, fifths: int) -> bool:
    """Whether a spelling makes a reader stop: against the key, doubled, or a white key renamed."""
    if pitch.alter.denominator != 1:
        return False
    renamed = (pitch.step, int(pitch.alter)) in (("B", 1), ("E", 1), ("C", -1), ("F", -1))
    against = pitch.alter not in (0, key_alter(pitch.step, fifths))
    return renamed or abs(pitch.alter) > 1 or against


def _respell(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no spelling.")
    fifths = passage.cut.measures[0].key.fifths
    seen: dict[str, Note] = {}
    for notes in passage.struck:
        for note in notes:
            if note.pitch and is_awkward(note.pitch, fifths):
                seen.setdefault(note.pitch.name, note)
    if not seen:
        raise DrillDoesNotFit("Nothing here is spelled awkwardly: every note is in the key.")
    times = int(settings["learning_repetitions"])
    pairs = [
        bare(Event(Fraction(2), (replace(note, pitch=pitch),)))
        for note in seen.values()
        if note.pitch
        for pitch in (note.pitch, twin(note.pitch))
    ]
    side_by_side = laid_step(
        passage,
        [
            replace(e, model=tuple(replace(n, lyric=spoken(n.pitch)) for n in e.model if n.pitch))
            for e in pairs
        ],
        name="Both spellings",
        kind=LEARN,
        repetitions=times,
        slip=ON,
        say="Say and play: one sound, two names.",
        turned=note_ids(pairs),
    )
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON)

    def change(_: Measure, note: Note) -> Note:
        if note.pitch is None or note.pitch.name not in seen:
            return note
        return replace(note, pitch=twin(note.pitch))

    respelled = _accidentals_anew(
        marked_step(base, name="Respelled", kind=LEARN, change=change),
        say="The same sounds in the plainer spelling; then read the printed one again.",
    )
    return (
        side_by_side,
        respelled,
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


def _accidentals_anew(step: Step, *, say: str) -> Step:
    part = replace(step.part, measures=tuple(with_accidentals(m) for m in step.part.measures))
    return replace(step, part=part, say=say)


RESPELL = DrillKind(
    name="respell",
    title="Respell",
    family="Technique",
    use_when="A spelling makes the reader stop: A♯, B♯, a double sharp.",
    how="The awkward spelling beside its twin; the chunk respelled; then as printed.",
    clean_means="The printed spelling is played without a pause to think.",
    on_slip="Go back to the two spellings side by side.",
    needs="A note against the key, a double accidental, or B♯, E♯, C♭, F♭.",
    make=_respell,
    parameters=(LEARNING, PROVING),
    same_pitches=False,
    instead=("name-it", "alone"),
)


# Finger, slide and stick order ------------------------------------------------------------------


def hand_labels(passage: Passage, pitches: Sequence[int | None]) -> list[str]:
    """What the hand does for each note, as printed under it: valves, position, string, sticking."""
    family = passage.instrument.family
    if family == "drums" or not passage.is_pitched:
        return ["R" if i % 2 == 0 else "L" for i in range(len(pitches))]
    if family == "mallets":
        return ["R" if i % 2 == 0 else "L" for i in range(len(pitches))]
    known = [p for p in pitches if p is not None]
    if family in _BRASS:
        chart = CHARTS[family]
        return ["" if p is None else (chart.get(p, "?") or "0") for p in pitches]
    if family == "trombone":
        sounding = passage.part.transposition.chromatic
        found = iter(slide_path([p + sounding for p in known]))
        return ["" if p is None else str(next(found) or "?") for p in pitches]
    if family in OPEN:
        places = iter(string_path(family, known))
        labels = []
        for pitch in pitches:
            place = next(places) if pitch is not None else None
            strings = len(OPEN[family])
            labels.append("" if place is None else _string_label(place, strings))
        return labels
    return []


_ROMAN = ("I", "II", "III", "IV")


def _string_label(place: Place, strings: int) -> str:
    """The string, counted from the highest as players do; an open one is marked so."""
    return _ROMAN[strings - 1 - place.string] + ("·0" if place.height == 0 else "")


def _order(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    events = [e for e in passage.plain_events if not e.is_rest]
    labels = hand_labels(passage, [top(e.model) for e in events])
    if not labels:
        return _named_order(passage, settings, events)
    row = [
        with_length(
            replace(
                bare(event),
                model=tuple(
                    replace(note, lyric=label if i == 0 else "")
                    for i, note in enumerate(bare(event).model)
                ),
            ),
            Fraction(1),
        )
        for event, label in zip(events, labels, strict=True)
    ]
    return _order_steps(passage, settings, row)


def _named_order(passage: Passage, settings: Settings, events: Sequence[Event]) -> tuple[Step, ...]:
    """Woodwinds and keyboards: the names stand for the fingering, which a table cannot print."""
    row = [
        with_length(
            replace(
                bare(event),
                model=tuple(
                    replace(note, lyric=spoken(note.pitch) if i == 0 and note.pitch else "")
                    for i, note in enumerate(bare(event).model)
                ),
            ),
            Fraction(1),
        )
        for event in events
    ]
    return _order_steps(passage, settings, row)


def _order_steps(passage: Passage, settings: Settings, row: Sequence[Event]) -> tuple[Step, ...]:
    times = int(settings["learning_repetitions"])
    silent = laid_step(
        passage,
        row,
        name="Silent, in order",
        kind=LEARN,
        repetitions=times,
        pace=Fraction(1, 2),
        slip=ON,
        say="Only the fingers, slide or sticks, in slow even time; say what the hand does.",
    )
    aloud = replace(
        silent, name="Sounding, still even", pace=Fraction(1), say="The same with sound."
    )
    return (silent, aloud, written_step(passage, repetitions=int(settings["repetitions"])))


ORDER = DrillKind(
    name="hand-order",
    title="Finger, slide or stick order",
    family="Technique",
    use_when="The hand does not know what comes next, or the sticking is left to chance.",
    how="The sequence of valves, positions, strings or sticks by itself, silent, then sounding.",
    clean_means="Every finger, position or stick right and without hurry.",
    on_slip="Go on, and mark the note.",
    needs="One line of notes. The labels are a usual choice: change them where yours differ.",
    make=_order,
    parameters=(LEARNING, PROVING),
    instead=("voices-apart", "alone"),
)


# Two ways compared ------------------------------------------------------------------------------


def _two_ways(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    times = int(settings["times"])
    one, two = str(settings["first"]) or "first way", str(settings["second"]) or "second way"
    if one.casefold() == two.casefold():
        raise BadSetting("Name two different ways.")
    base = written_step(
        passage,
        repetitions=times,
        kind=LEARN,
        slip=ON,
        say="Note speed, tune and tone of each way; above some tempo one of them wins.",
    )

    def step(name: str) -> Step:
        first = base.part.measures[0].index

        def words(measure: Measure) -> Iterable[Direction]:
            if measure.index == first:
                yield Direction(base.covers.start.at, "words", name)

        return marked_step(base, name=name[:1].upper() + name[1:], kind=LEARN, words=words)

    return (
        step(one),
        step(two),
        written_step(passage, name="The way you chose", repetitions=int(settings["repetitions"])),
    )


TWO_WAYS = DrillKind(
    name="two-ways",
    title="Two ways compared",
    family="Technique",
    use_when="Two fingerings, positions or bowings are possible and nobody knows which is better.",
    how="The one way in turn with the other, a few times each; then the way you chose.",
    clean_means="Nothing is judged but the difference; the last step is as written.",
    on_slip="Go on: a slip tells against that way.",
    needs="Any chunk.",
    make=_two_ways,
    parameters=(
        Parameter(
            "first", "First way", "usual fingering", by_family={"trombone": "usual positions"}
        ),
        Parameter(
            "second", "Second way", "other fingering", by_family={"trombone": "other positions"}
        ),
        Parameter("times", "Times each", 3, low=1, high=10),
        PROVING,
    ),
)


# Bow plan ---------------------------------------------------------------------------------------


def bow_directions(part: Part) -> dict[str, str]:
    """Down-bow or up-bow for the first note of each stroke, by note id, from a down-bow.

    A slur is one stroke; a pickup starts up; printed bowings reset the order.
    """
    found: dict[str, str] = {}
    is_down = not (part.measures[0].index == 0 and part.has_pickup)
    open_slurs = 0
    for measure in part.measures:
        for note in sorted(measure.notes, key=lambda n: n.at):
            if not note.sounds or note.in_chord or note.grace or note.hidden or note.cue:
                continue
            starts_stroke = open_slurs == 0 and note.tie in (None, "start")
            if starts_stroke:
                printed = [tag for tag, _ in note.technical if tag in ("up-bow", "down-bow")]
                if printed:
                    is_down = printed[0] == "down-bow"
                found[note.id] = "down-bow" if is_down else "up-bow"
                is_down = not is_down
            for slur in note.slurs:
                open_slurs = max(open_slurs + (1 if slur.end == "start" else -1), 0)
    return found


def _bow_plan(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if passage.instrument.family not in _STRINGS:
        raise DrillDoesNotFit("A bow plan is for bowed strings.")
    passage.need_one_line()
    times = int(settings["learning_repetitions"])
    base = written_step(passage, repetitions=times, kind=LEARN, slip=ON)
    plan = bow_directions(base.part)
    wrong = [
        measure.number
        for measure in base.part.measures
        for note in measure.notes
        if plan.get(note.id) == "up-bow" and note.at == 0 and measure.length == measure.nominal
    ]
    say = "Say down and up aloud, bow in the air or on an open string."
    if wrong:
        say += (
            f" The downbeat of {', '.join(wrong[:4])} comes on an up-bow: slur the last two before"
            " it, or take two ups."
        )

    def change(_: Measure, note: Note) -> Note:
        mark = plan.get(note.id)
        others = tuple(t for t in note.technical if t[0] not in ("up-bow", "down-bow"))
        return replace(note, technical=((mark, ""), *others)) if mark else note

    air = replace(marked_step(base, name="Bow alone", kind=LEARN, change=change), say=say)
    played = replace(air, name="With the plan", say="Play it with every stroke as marked.")
    return (air, played, written_step(passage, repetitions=int(settings["repetitions"])))


BOW_PLAN = DrillKind(
    name="bow-plan",
    title="Bow plan",
    family="Technique",
    use_when="The bow ends on the wrong side, or runs out.",
    how="Every stroke's direction worked out; the bow alone, then with the notes; then as written.",
    clean_means="Each stroke goes its way and there is bow left for the next.",
    on_slip="Go on; look at where the bow was.",
    needs="A bowed string instrument and one line.",
    make=_bow_plan,
    parameters=(LEARNING, PROVING),
    families=_STRINGS,
    instead=("articulation", "alone"),
)


# Preparation ------------------------------------------------------------------------------------


def _prepare(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    if len(passage.attacks) < 2:
        raise DrillDoesNotFit("One note leaves nothing to prepare.")
    change_at = sudden_change(passage)
    otherwise = change_at if change_at is not None else hardest_pair(passage) + 1
    at = note_number(passage, settings["at"], otherwise=otherwise)
    if at == 0:
        raise DrillDoesNotFit("The first note is prepared before you start.")
    word = str(settings["word"]) or "set"
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        pace=Fraction(1, 2),
        slip=ON,
        say="At the sign the finger, hand, bow or mallet is already where it will be needed, and"
        " stays down as long as it can.",
    )
    step = marked_step(
        base, name="Prepared, at half tempo", kind=LEARN, words=_word_at(passage, at - 1, word)
    )
    faster = replace(step, name="Prepared, in tempo", pace=Fraction(1))
    return (step, faster, written_step(passage, repetitions=int(settings["repetitions"])))


def _word_at(passage: Passage, place: int, word: str) -> Callable[[Measure], Iterable[Direction]]:
    where = passage.attacks[place]

    def words(measure: Measure) -> Iterable[Direction]:
        if measure.index == where.index:
            yield Direction(where.at, "words", word)

    return words


PREPARE = DrillKind(
    name="prepare",
    title="Prepare and leave down",
    family="Technique",
    use_when="A finger, shift, mallet or pizzicato comes late because it starts late.",
    how="A sign one note early says when the hand must be ready; slowly, in tempo, without it.",
    clean_means="The hand is there before the note; nothing jumps.",
    on_slip="Go on; be earlier next time.",
    needs="Two notes or more.",
    make=_prepare,
    parameters=(
        Parameter("at", "Prepare for note", AUTO),
        Parameter("word", "Sign", "set"),
        LEARNING,
        PROVING,
    ),
    instead=("alone",),
)


# Octaves ----------------------------------------------------------------------------------------


def _octave(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("Strokes without pitch have no octave.")
    heights = [n.pitch.midi for notes in passage.struck for n in notes if n.pitch]
    low, high = passage.instrument.low, passage.instrument.high
    if str(settings["way"]) == AUTO:
        # Downward first: it is easier to hear what is right.
        ways = [
            way
            for way in (-1, 1)
            if min(heights) + 12 * way >= low and max(heights) + 12 * way <= high
        ]
    else:
        ways = [1 if settings["way"] == "up" else -1]
    if not ways:
        raise DrillDoesNotFit(
            f"An octave away it leaves the comfortable range of the {passage.instrument.name}."
        )
    way = ways[0]
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        say="A chunk of its own: same fingers of the mind, other register.",
    )

    def change(_: Measure, note: Note) -> Note:
        if note.pitch is None:
            return note
        return replace(note, pitch=replace(note.pitch, octave=note.pitch.octave + way))

    name = "An octave higher" if way > 0 else "An octave lower"
    step = _accidentals_anew(marked_step(base, name=name, kind=LEARN, change=change), say=base.say)
    return (step, written_step(passage, repetitions=int(settings["repetitions"])))


OCTAVE = DrillKind(
    name="octave",
    title="Octave transplant",
    family="Technique",
    use_when="A learned lick should be free of its register, or the register is the trouble.",
    how="The chunk an octave away, then where it is written.",
    clean_means="As clean and as easy an octave away.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Pitches that stay in the instrument's range an octave away.",
    make=_octave,
    parameters=(
        Parameter("way", "Which way", AUTO, choices=(AUTO, "down", "up")),
        LEARNING,
        PROVING,
    ),
    caution="High notes tire lips and voice: rest as long as you play.",
    least_level=NOTES_KNOWN,
    same_pitches=False,
)


# In context -------------------------------------------------------------------------------------


def _in_context(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    count = int(settings["measures"])
    base = written_step(
        passage,
        kind=SET,
        repetitions=int(settings["set_repetitions"]),
        say="Count the empty measures, play in time, keep counting after it.",
    )
    first, last = base.part.measures[0], base.part.measures[-1]
    before = [_pulse(first, i, f"b{i}") for i in range(count)]
    after = [_pulse(last, i, f"a{i}") for i in range(count)]
    part = replace(base.part, measures=_numbered([*before, *base.part.measures, *after]))
    nominal = first.nominal
    length = sum((m.length for m in part.measures), ZERO)
    return (
        replace(
            base,
            name=f"{count} measures of pulse around it",
            part=part,
            sounds=sounds(part),
            quarters=length,
            click_at=ZERO if nominal == first.length else (first.length - nominal) % passage.beat,
            as_written=False,
        ),
        written_step(passage, repetitions=int(settings["repetitions"])),
    )


def _pulse(like: Measure, place: int, prefix: str) -> Measure:
    rest = Note(id=f"{prefix}r", at=ZERO, duration=like.nominal, is_rest=True)
    return replace(
        like,
        number="",
        length=like.nominal,
        implicit=True,
        notes=(rest,),
        directions=(),
        changes=(),
        barlines=(),
        tempo=None,
        multi_rest=0,
        new_system=False,
        new_page=False,
    )


def _numbered(measures: Sequence[Measure]) -> tuple[Measure, ...]:
    return tuple(replace(m, index=i) for i, m in enumerate(measures))


IN_CONTEXT = DrillKind(
    name="in-context",
    title="In context",
    family="Technique",
    use_when="It is clean alone but not when the piece brings you to it.",
    how="Two measures of pulse, the passage, pulse again; before and after the other drills.",
    clean_means="The entry is exactly in time and the pulse goes on after the last note.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="Any chunk.",
    make=_in_context,
    parameters=(Parameter("measures", "Measures of pulse", 2, low=1, high=4), SETTING, PROVING),
    least_level=NOTES_KNOWN,
)


# Warm-ups ---------------------------------------------------------------------------------------


def _tonic(fifths: int, mode: str) -> Pitch:
    letters = "FCGDAEB"
    place = fifths + 1 + (3 if mode == "minor" else 0)
    return Pitch(letters[place % 7], Fraction(place // 7), 4)


def _warm_up(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    passage.need_pitches("A scale needs pitches.")
    key = passage.cut.measures[0].key
    tonic = _tonic(key.fifths, key.mode)
    low, high = passage.instrument.low, passage.instrument.high
    while tonic.midi < low:
        tonic = replace(tonic, octave=tonic.octave + 1)
    while tonic.midi - 12 >= low and tonic.midi + 12 > high:
        tonic = replace(tonic, octave=tonic.octave - 1)
    scale = [_degree(tonic, key.fifths, i) for i in range(8)]
    chord = [scale[i] for i in (0, 2, 4, 7)]
    thirds = [scale[j] for i in range(6) for j in (i, i + 2)]
    model = bare(Event(Fraction(1), (passage.struck[0][0],))).model[0]
    times = int(settings["learning_repetitions"])

    def step(name: str, pitches: Sequence[Pitch], unit: Fraction) -> Step:
        row = [
            Event(unit, (replace(model, pitch=p, id=f"w{i}", tie=None),))
            for i, p in enumerate(pitches)
        ]
        row.append(Event(passage.beat, (replace(model, pitch=pitches[0], id="w-last", tie=None),)))
        return laid_step(
            passage,
            row,
            name=name,
            kind=LEARN,
            repetitions=times,
            slip=ON,
            turned=frozenset(),
            say="Easy and full; this is what the chunk is made of.",
        )

    half = Fraction(1, 2)
    return (
        step("Scale of the key", [*scale, *reversed(scale[:-1])][:-1], half),
        step("Thirds", thirds, half),
        step("Arpeggio", [*chord, *reversed(chord[1:-1])], half),
    )


def _degree(tonic: Pitch, fifths: int, degree: int) -> Pitch:
    octave, letter = divmod(tonic.diatonic + degree, 7)
    step = STEPS[letter]
    return Pitch(step, Fraction(key_alter(step, fifths)), octave)


WARM_UP_KIND = DrillKind(
    name="warm-up",
    title="Warm-up in its key",
    family="Technique",
    use_when="At the start of a session, so that the chunk's key and figures are in the hands.",
    how="The scale of the chunk's key, its thirds and its arpeggio, in comfortable range.",
    clean_means="Full tone and even time; nothing is judged on speed.",
    on_slip="Go on.",
    needs="Pitches and a key.",
    make=_warm_up,
    parameters=(replace(LEARNING, default=2, by_level={}),),
    caution=WARM_UP,
    same_pitches=False,
    instead=("count-it", "alone"),
)


# Cue words --------------------------------------------------------------------------------------


def _cue_word(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    at = note_number(passage, settings["at"], otherwise=_critical(passage))
    word = str(settings["word"]) or "now"
    base = written_step(
        passage,
        repetitions=int(settings["learning_repetitions"]),
        kind=LEARN,
        say=f"Say or think “{word}” where it stands; in the last step it is gone.",
    )
    step = marked_step(
        base, name=f"With the word “{word}”", kind=LEARN, words=_word_at(passage, at, word)
    )
    turned = frozenset(note.id for note in passage.struck[at])
    return (
        replace(step, turned=turned),
        written_step(
            passage, name="As written, without it", repetitions=int(settings["repetitions"])
        ),
    )


def _critical(passage: Passage) -> int:
    """The note that a sudden change, or else the hardest way, arrives on."""
    found = sudden_change(passage)
    if found is not None:
        return found
    return min(hardest_pair(passage) + 1, len(passage.attacks) - 1)


CUE_WORD = DrillKind(
    name="cue-word",
    title="Cue word",
    family="Technique",
    use_when="The hands can do it but the moment is missed: an entry, a change, a shift.",
    how="One word on the critical note while it is learned; gone when it is proved.",
    clean_means="The moment is met; in proof it is met without the word.",
    on_slip="Play it again; two slips in a row take the tempo down.",
    needs="Any chunk.",
    is_aid=True,
    make=_cue_word,
    parameters=(
        Parameter("at", "On note", AUTO),
        Parameter("word", "Word", "now"),
        LEARNING,
        PROVING,
    ),
)


# The last thing added ---------------------------------------------------------------------------


def _without_ornaments(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    inside = [n for m in passage.cut.measures for n in m.notes]
    if not any(n.ornaments or n.grace for n in inside):
        raise DrillDoesNotFit("There is no ornament or grace note here to leave out.")
    base = written_step(
        passage,
        repetitions=int(settings["set_repetitions"]),
        kind=SET,
        say="The plain line first, in the tempo it will keep when the ornament comes.",
    )
    plain_rows = [
        replace(m, notes=tuple(replace(n, ornaments=()) for n in m.notes if not n.grace))
        for m in base.part.measures
    ]
    measures = tuple(with_accidentals(m, keep=True) for m in mended(plain_rows))
    part = replace(base.part, measures=measures)
    lead = base.covers.start.at
    plain = replace(
        base,
        name="Without ornaments",
        part=part,
        sounds=tuple(replace(s, at=s.at - lead) for s in sounds(part)),
        as_written=False,
    )
    return (plain, written_step(passage, repetitions=int(settings["repetitions"])))


ORNAMENT_LAST = DrillKind(
    name="ornament-last",
    title="Ornament last",
    family="Technique",
    use_when="A trill, turn or grace note upsets the line around it.",
    how="The line without its ornaments until it is sure; then as written.",
    clean_means="The line keeps its tempo and the ornament fits into it.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="An ornament or a grace note.",
    make=_without_ornaments,
    parameters=(SETTING, PROVING),
    instead=("alone", "two-notes"),
)


def _slur_last(passage: Passage, settings: Settings) -> tuple[Step, ...]:
    starts = [
        n.id
        for m in passage.cut.measures
        for n in m.notes
        if any(s.end == "start" for s in n.slurs)
    ]
    if not starts:
        raise DrillDoesNotFit("There is no slur here to leave for last.")
    base = written_step(
        passage,
        repetitions=int(settings["set_repetitions"]),
        kind=SET,
        say="Everything but the slurs is settled first.",
    )
    last = _slur_of(base.part, starts[-1])
    none = marked_step(
        base, name="Without slurs", kind=SET, change=lambda _, n: replace(n, slurs=())
    )
    steps = [none]
    if len(starts) > 1:
        steps.append(
            marked_step(
                base,
                name="All slurs but the last",
                kind=SET,
                change=lambda _, n: replace(
                    n, slurs=tuple(s for s in n.slurs if (n.id, s) not in last)
                ),
            )
        )
    return (*steps, written_step(passage, repetitions=int(settings["repetitions"])))


def _slur_of(part: Part, start: str) -> frozenset[tuple[str, Slur]]:
    """Both ends, with the ids of their notes, of the slur that begins on a note."""
    begun: Slur | None = None
    for measure in part.measures:
        for note in measure.notes:
            if note.id == start:
                begun = next(s for s in note.slurs if s.end == "start")
                continue
            for slur in note.slurs:
                if begun and slur.end == "stop" and slur.number == begun.number:
                    return frozenset({(start, begun), (note.id, slur)})
    return frozenset()


SLUR_LAST = DrillKind(
    name="slur-last",
    title="Last slur last",
    family="Technique",
    use_when="The slurs hide fingers that are not ready, or the last one always breaks.",
    how="Without slurs, with all but the last, then as written.",
    clean_means="The notes are as clear under the slur as without it.",
    on_slip="Count anew; two in a row take the tempo down.",
    needs="A slur.",
    is_aid=True,
    make=_slur_last,
    parameters=(SETTING, PROVING),
    instead=("articulation", "alone"),
)

KINDS = (
    RESPELL,
    ORDER,
    TWO_WAYS,
    BOW_PLAN,
    PREPARE,
    OCTAVE,
    IN_CONTEXT,
    WARM_UP_KIND,
    CUE_WORD,
    ORNAMENT_LAST,
    SLUR_LAST,
)
