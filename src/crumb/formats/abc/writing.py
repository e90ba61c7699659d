"""Writing of a voice as measures of notes and as a part."""

from collections.abc import Iterator, Sequence
from dataclasses import replace

from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.half_measures import with_halves
from crumb.core.score.model import (
    ZERO,
    Measure,
    Note,
    Part,
    Slur,
    Tuplet,
)
from crumb.core.score.notating import values_of
from crumb.core.score.pitch import Pitch
from crumb.formats.abc.voice import GOES_ON, Struck, Voice


def notes_of(row: list[Struck], index: int) -> Iterator[Note]:
    """The notes of a measure, each struck thing in as many tied values as it takes."""
    count = 0
    tied: set[Pitch | None] = set()
    at = ZERO
    for number, struck in enumerate(row):
        # A tie leads to the same pitch; at the barline the next measure tells.
        after = {n.pitch for n in row[number + 1].notes} if number + 1 < len(row) else None
        graces = [n for n in struck.notes if n.grace]
        body = [n for n in struck.notes if not n.grace]
        for grace in graces:
            yield replace(grace, id=f"g{index}-{count}", at=at)
            count += 1
        if struck.tuplet is None:
            values = values_of(struck.written)
            ratios = [(v.duration, v.type, v.dots, (v.actual, v.normal)) for v in values]
        else:
            p, q = struck.tuplet
            ratios = [
                (v.duration * q / p, v.type, v.dots, (p, q)) for v in values_of(struck.written)
            ]
        for part, (duration, kind, dots, (actual, normal)) in enumerate(ratios):
            is_last = part + 1 == len(ratios)
            tie = {(True, True): "continue", (True, False): "stop", (False, True): "start"}
            tuplet = Tuplet(actual, normal) if actual != normal else None
            if tuplet and struck.tuplet:
                tuplet = replace(
                    tuplet,
                    starts=struck.starts_tuplet and part == 0,
                    stops=struck.stops_tuplet and is_last,
                )
            for place, note in enumerate(body):
                back = part > 0 or note.pitch in tied
                on = not is_last or (struck.ties and (after is None or note.pitch in after))
                slurs = [s for s in struck.slurs if (is_last if s == "stop" else part == 0)]
                yield replace(
                    note,
                    id=f"{'r' if note.is_rest else 'n'}{index}-{count}{GOES_ON if part else ''}",
                    at=at,
                    duration=duration,
                    type=kind,
                    dots=dots,
                    tuplet=tuplet,
                    in_chord=place > 0,
                    tie=None if note.is_rest else tie.get((back, on)),
                    slurs=tuple(Slur(1, end) for end in slurs) if place == 0 else (),
                    articulations=note.articulations if part == 0 else (),
                    ornaments=note.ornaments if part == 0 else (),
                    technical=note.technical if part == 0 else (),
                    lyric=note.lyric if part == 0 else "",
                    fermata=note.fermata and is_last,
                )
                count += 1
            at += duration
        tied = {n.pitch for n in body} if struck.ties else set()


def part_of(voice: Voice) -> Part:
    """A voice as a part: ties across barlines closed, measures counted as musicians count."""
    measures = list(voice.measures)
    for before, after in zip(range(len(measures)), range(1, len(measures)), strict=False):
        open_ends = {
            n.pitch
            for n in measures[before].notes
            if n.tie in ("start", "continue") and n.end == measures[before].length
        }
        if not open_ends:
            continue
        notes = tuple(
            replace(n, tie="continue" if n.tie == "start" else "stop")
            if n.at == 0 and n.pitch in open_ends and n.tie in (None, "start") and not n.grace
            else n
            for n in measures[after].notes
        )
        measures[after] = replace(measures[after], notes=notes)
    numbered = _numbered(measures)
    return Part(voice.id, voice.name, with_accidentals(numbered), instrument=voice.name)


def _numbered(measures: Sequence[Measure]) -> list[Measure]:
    """Measures counted as musicians count: a pickup is none, nor is what a repeat cuts off one."""
    marked = [
        replace(m, implicit=True) if m.index and _repeats(measures[m.index - 1], m) else m
        for m in measures
    ]
    number = -1 if measures[0].implicit and len(measures) > 1 else 0
    made = []
    for measure in with_halves(marked):
        number += not measure.lead
        implicit = measures[measure.index].implicit or bool(measure.lead)
        made.append(replace(measure, number=str(number), implicit=implicit))
    return made


def _repeats(before: Measure, measure: Measure) -> bool:
    """Whether a repeat stands between two measures."""
    rights = [b.repeat for b in before.barlines if b.side == "right"]
    return any(rights) or any(b.repeat for b in measure.barlines if b.side == "left")
