"""Steps out of a passage: as written, as written with changed marks, or laid out anew."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.drills.model import DOWN, PROVE, Slip, Step
from crumb.core.drills.passage import Passage
from crumb.core.evidence.model import Kind
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.meter import beams_of, beat_starts, even
from crumb.core.score.model import ZERO, Direction, Measure, Note, Part, Time
from crumb.core.score.notating import Event, lay_out
from crumb.core.score.position import Sound, Span, sounds
from crumb.core.score.slicing import LANDING_SUFFIX, played_quarters, slice_span

ONE = Fraction(1)
AGAIN = "As written"


def written_step(
    passage: Passage,
    span: Span | None = None,
    *,
    name: str = AGAIN,
    repetitions: int,
    kind: Kind = PROVE,
    say: str = "",
    pace: Fraction = ONE,
    click: Fraction | None = None,
    click_at: Fraction = ZERO,
    slip: Slip = DOWN,
    turned: frozenset[str] | None = None,
) -> Step:
    """The span (or the whole passage) as written, clicked on the beat of its first measure."""
    part, where = passage.part, span or passage.span
    cut = _untimed(passage.cut if where == passage.span else slice_span(part, where), where)
    lead = where.start.at
    time = part.measures[where.start.index].time
    quarters = played_quarters(part, where)
    on_beats = click is None and click_at == 0
    return Step(
        name=name,
        kind=kind,
        repetitions=repetitions,
        part=cut,
        sounds=_from(lead, sounds(cut)),
        quarters=quarters,
        click=time.beat if click is None else click,
        covers=where,
        as_written=True,
        say=say,
        pace=pace,
        click_at=click_at,
        slip=slip,
        turned=turned,
        clicks=uneven_clicks(cut, quarters, time.beat, lead=lead) if on_beats else (),
    )


def _untimed(cut: Part, where: Span) -> Part:
    """A cut without the tempo printed at its start: a step is played at that of its ladder."""
    first = cut.measures[0]
    kept = tuple(d for d in first.directions if d.kind != "tempo" or d.at > where.start.at)
    if len(kept) == len(first.directions):
        return cut
    return replace(cut, measures=(replace(first, directions=kept), *cut.measures[1:]))


def uneven_clicks(
    part: Part, quarters: Fraction, beat: Fraction, *, lead: Fraction = ZERO
) -> tuple[Fraction, ...]:
    """Onsets of a step's beats in quarter notes; empty if a click every ``beat`` will do.

    Args:
        part: what the step plays.
        quarters: its length.
        beat: the beat of its first measure.
        lead: quarter notes of the part before it begins.
    """
    found: list[Fraction] = []
    begin = -lead
    for measure in part.measures:
        found.extend(begin + at for at in beat_starts(measure))
        begin += measure.length
    inside = tuple(at for at in found if 0 <= at < quarters)
    is_even = all(at == i * beat for i, at in enumerate(inside))
    return () if is_even and len(inside) * beat >= quarters else inside


def _from(lead: Fraction, found: Iterable[Sound]) -> tuple[Sound, ...]:
    return tuple(replace(s, at=s.at - lead) for s in found) if lead else tuple(found)


def marked_step(
    step: Step,
    *,
    name: str,
    kind: Kind,
    change: Callable[[Measure, Note], Note | None] | None = None,
    words: Callable[[Measure], Iterable[Direction]] | None = None,
) -> Step:
    """A written step with other marks on its notes or words above them; not as written any more.

    ``change`` may make a note a hidden rest, or leave a chord member or grace note out (None).
    """
    measures = []
    for measure in step.part.measures:
        notes = measure.notes
        if change:
            changed = (change(measure, note) for note in measure.notes)
            notes = tuple(note for note in changed if note is not None)
        added = tuple(words(measure)) if words else ()
        measures.append(replace(measure, notes=notes, directions=(*measure.directions, *added)))
    part = replace(step.part, measures=with_accidentals(measures, keep=True))
    return replace(
        step,
        name=name,
        kind=kind,
        part=part,
        sounds=_from(step.covers.start.at, sounds(part)),
        as_written=False,
    )


def laid_step(
    passage: Passage,
    events: Sequence[Event],
    *,
    name: str,
    kind: Kind,
    repetitions: int,
    time: Time | None = None,
    group: Fraction | None = None,
    say: str = "",
    pace: Fraction = ONE,
    click: Fraction | None = None,
    slip: Slip = DOWN,
    burst: Fraction | None = None,
    turned: frozenset[str] | None = None,
    covers: Span | None = None,
) -> Step:
    """A row of events in measures of its own, under the passage's key and clef."""
    part = laid_part(passage, events, time=time, group=group)
    quarters = sum((event.duration for event in events), ZERO)
    is_uneven = click is None and part.measures[0].time.is_uneven
    return Step(
        name=name,
        kind=kind,
        repetitions=repetitions,
        part=part,
        sounds=sounds(part),
        quarters=quarters,
        click=passage.beat if click is None else click,
        covers=covers or passage.span,
        as_written=False,
        burst=burst,
        say=say,
        pace=pace,
        slip=slip,
        turned=turned,
        clicks=uneven_clicks(part, quarters, passage.beat) if is_uneven else (),
    )


def laid_part(
    passage: Passage,
    events: Iterable[Event],
    *,
    time: Time | None = None,
    group: Fraction | None = None,
) -> Part:
    """The notation of :func:`laid_step`."""
    meter = time or passage.meter
    cut = passage.cut.measures[0]
    measures = lay_out(
        events,
        time=meter,
        key=cut.key,
        clefs=cut.clefs[:1],
        id_prefix="v",
        groups=even(group) if group else beams_of(meter),
        strokes=passage.is_struck,
    )
    part = passage.part
    return Part(
        id=part.id,
        name=part.name,
        measures=measures,
        instrument=part.instrument,
        transposition=part.transposition,
        staff_lines=part.staff_lines,
    )


def note_ids(events: Iterable[Event]) -> frozenset[str]:
    """Which notes of the part a row of events plays."""
    return frozenset(note.id for event in events for note in event.model)


def plain_id(note: Note) -> str:
    """The id of a note in its part, whatever a cut made of it."""
    return note.id.split(LANDING_SUFFIX)[0]


def is_landing(note: Note) -> bool:
    """Whether a note of a cut is the one landed on."""
    return LANDING_SUFFIX in note.id


def bare(event: Event) -> Event:
    """An event's pitches and place on the staff alone: no marks, no slurs, no words."""
    return Event(event.duration, tuple(_bare(note) for note in event.model))


def _bare(note: Note) -> Note:
    marks = (note.articulations, note.ornaments, note.technical, note.gestures, note.lyric)
    if not any(marks) and not note.fermata:
        return note
    return replace(
        note,
        articulations=(),
        ornaments=(),
        technical=(),
        gestures=(),
        fermata=False,
        lyric="",
    )


def with_length(event: Event, duration: Fraction) -> Event:
    """The same sound, longer or shorter."""
    return replace(event, duration=duration)


def plural(count: int, one: str, many: str = "") -> str:
    """``1 note``, ``3 notes``."""
    return f"{count} {one if count == 1 else many or one + 's'}"


def word_at(passage: Passage, place: int, word: str) -> Callable[[Measure], Iterable[Direction]]:
    """A word over one attack of the passage, for ``marked_step``."""
    where = passage.attacks[place]

    def words(measure: Measure) -> Iterable[Direction]:
        if measure.index == where.index:
            yield Direction(where.at, "words", word)

    return words
