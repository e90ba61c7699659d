"""MIDI files into the score model: played times drawn onto a grid, and told so.

A MIDI file holds keys and times, no notation: spelling, slurs and dynamics are not in it. Each beat
is drawn onto the grid that fits what was played best, the plainer one where two fit alike.
"""

import io
from bisect import bisect_left, bisect_right
from collections import defaultdict, deque
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from typing import TypeVar

import mido

from crumb.core.errors import CrumbError, UnreadableFile
from crumb.core.score.model import (
    ZERO,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Part,
    Score,
    Tempo,
    Time,
)
from crumb.core.score.notating import Event, lay_out
from crumb.core.score.pitch import STEPS, Pitch, key_alter
from crumb.formats.midi_timing import is_free, is_swung, straightened

MAX_BYTES = 2_000_000
MAX_EVENTS = 200_000
MAX_MEASURES = 3_000
MAX_ALL_MEASURES = 40_000
"""Measures over all tracks."""
MAX_CHANGES = 1_000
"""Changes of key, of meter or of tempo."""
_STAYS = Fraction(2)
"""Quarter notes that a tempo lasts to be one."""
MAX_TRACKS = 200
MAX_AT_ONCE = 24
"""Keys struck at once in one track; more are no chord."""
_GRIDS = (  # parts of a quarter, and what a grid costs for being less plain
    (Fraction(1, 2), Fraction(0)),
    (Fraction(1, 4), Fraction(1, 100)),
    (Fraction(1, 3), Fraction(1, 40)),
    (Fraction(1, 6), Fraction(1, 25)),
    (Fraction(1, 8), Fraction(1, 25)),
)
T = TypeVar("T")
_PERCUSSION_CHANNEL = 9
_SHARPS = {"C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5, "F#": 6, "C#": 7}
_FLATS = {"F": -1, "Bb": -2, "Eb": -3, "Ab": -4, "Db": -5, "Gb": -6, "Cb": -7}
_MINOR = 3  # a minor key has the signature of the major key three fifths below


@dataclass(frozen=True, slots=True)
class _Struck:
    start: Fraction
    end: Fraction
    key: int


@dataclass
class _Track:
    name: str
    channel: int
    notes: list[_Struck]


@dataclass
class _File:
    tracks: list[_Track]
    times: list[tuple[Fraction, Time]]
    keys: list[tuple[Fraction, Key]]
    tempos: list[tuple[Fraction, Tempo]]
    title: str
    is_swung: bool = False
    """Whether even eighths are played long and short throughout."""


def read_midi(data: bytes) -> Score:
    """Every track (and channel) with notes as a part.

    Raises:
        UnreadableFile: broken, without a note, or far longer than any piece.
    """
    if len(data) > MAX_BYTES:
        raise UnreadableFile("This MIDI file is far longer than any piece.")
    if _tracks(data) > MAX_TRACKS:
        raise UnreadableFile(f"This MIDI file has more than {MAX_TRACKS} tracks.")
    try:
        midi = mido.MidiFile(file=io.BytesIO(data))
    except (OSError, ValueError, EOFError, IndexError, KeyError) as error:
        raise UnreadableFile("This MIDI file is broken or cut off.") from error
    if midi.type == 2 or midi.ticks_per_beat <= 0:
        raise UnreadableFile("This kind of MIDI file holds no score.")
    heard = _heard(midi)
    _check_size(heard)
    onsets = sorted(note.start for track in heard.tracks for note in track.notes)
    if is_free(onsets):
        raise UnreadableFile(
            "The notes of this MIDI file do not stand on its beats, so its rhythm cannot be"
            " written. Bring it in drawn onto the beat (quantised), or as MusicXML."
        )
    heard.is_swung = is_swung(onsets)
    parts = tuple(_part(track, heard, f"P{place + 1}") for place, track in enumerate(heard.tracks))
    if not parts:
        raise UnreadableFile("There is no note in this file.")
    return Score(heard.title, "", parts)


def _tracks(data: bytes) -> int:
    """How many tracks there are, whatever the head says."""
    return data.count(b"MTrk")


def _check_size(heard: _File) -> None:
    """Refuse what would take far more paper than any piece, before anything is written down."""
    shortest = min((time.length for _, time in heard.times), default=Fraction(4))
    ends = [max(note.end for note in track.notes) for track in heard.tracks]
    if ends and max(ends) / shortest > MAX_MEASURES:
        raise UnreadableFile(f"This MIDI file has more than {MAX_MEASURES} measures.")
    if sum(ends) / shortest > MAX_ALL_MEASURES:
        raise UnreadableFile("This MIDI file has far more measures than any score.")


def _heard(midi: mido.MidiFile) -> _File:
    tracks: dict[tuple[int, int], _Track] = {}
    times: list[tuple[Fraction, Time]] = []
    keys: list[tuple[Fraction, Key]] = []
    tempos: list[tuple[Fraction, Tempo]] = []
    title = ""
    count = 0
    for number, track in enumerate(midi.tracks):
        clock = 0
        open_at: dict[tuple[int, int], deque[Fraction]] = defaultdict(deque)
        for message in track:
            count += 1
            if count > MAX_EVENTS:
                raise UnreadableFile("This MIDI file is far longer than any piece.")
            clock += message.time
            at = Fraction(clock, midi.ticks_per_beat)
            if message.type == "time_signature":
                times.append((at, _time(message.numerator, message.denominator)))
            elif message.type == "key_signature":
                keys.append((at, _key(message.key)))
            elif message.type == "set_tempo" and message.tempo > 0:
                minute = Fraction(max(round(60_000_000 / message.tempo), 1))
                tempos.append((at, Tempo(Fraction(1), minute)))
            elif message.type == "track_name" and number == 0 and not title:
                title = str(message.name).strip()[:120]
            elif message.type in ("note_on", "note_off"):
                key = (message.channel, message.note)
                if message.type == "note_on" and message.velocity > 0:
                    open_at[key].append(at)
                elif open_at[key]:
                    found = tracks.get((number, message.channel))
                    if found is None:  # the name is looked for once: that goes over the track
                        found = _Track(_name(track, message.channel), message.channel, [])
                        tracks[number, message.channel] = found
                    found.notes.append(_Struck(open_at[key].popleft(), at, message.note))
    usual = [(ZERO, Time("4", 4))]
    return _File(
        list(tracks.values()), _changes(times) or usual, _changes(keys), _settled(tempos), title
    )


def _settled(tempos: Sequence[tuple[Fraction, Tempo]]) -> list[tuple[Fraction, Tempo]]:
    """Tempos that stay; the many small steps of a ritardando are its player's."""
    in_order = sorted(dict(tempos).items(), key=lambda one: one[0])
    kept: list[tuple[Fraction, Tempo]] = []
    for place, (at, tempo) in enumerate(in_order):
        is_last = place + 1 == len(in_order)
        stays = is_last or in_order[place + 1][0] - at >= _STAYS
        if stays and (not kept or kept[-1][1] != tempo):
            # The first holds from the beginning on.
            kept.append((at if kept else ZERO, tempo))
    return kept[:MAX_CHANGES]


def _changes(marks: Sequence[tuple[Fraction, T]]) -> list[tuple[Fraction, T]]:
    """Marks in order of time, where they change something; of two at one time the last.

    Raises:
        UnreadableFile: there are more than any piece has.
    """
    kept: list[tuple[Fraction, T]] = []
    for at, mark in sorted(dict(marks).items(), key=lambda one: one[0]):
        if not kept or kept[-1][1] != mark:
            kept.append((at, mark))
    if len(kept) > MAX_CHANGES:
        raise UnreadableFile("This MIDI file changes its key or meter more often than any piece.")
    return kept


def _in_force(marks: Sequence[tuple[Fraction, T]], at: Fraction, otherwise: T) -> T:
    """The mark in force at a time."""
    place = bisect_right(marks, at, key=lambda mark: mark[0])
    return marks[place - 1][1] if place else otherwise


def _time(beats: int, unit: int) -> Time:
    if not 1 <= beats <= 64 or unit not in (1, 2, 4, 8, 16, 32, 64):
        raise UnreadableFile(f"This MIDI file has a meter of {beats}/{unit}.")
    return Time(str(beats), unit)


def _name(track: mido.MidiTrack, channel: int) -> str:
    name = str(track.name or "").strip()[:80]
    if name:
        return name
    return "Percussion" if channel == _PERCUSSION_CHANNEL else f"Channel {channel + 1}"


def _key(name: str) -> Key:
    is_minor = name.endswith("m")
    fifths = {**_SHARPS, **_FLATS}.get(name.rstrip("m"), 0)
    return Key(fifths - _MINOR if is_minor else fifths, "minor" if is_minor else "major")


def quantised(onsets: Sequence[Fraction]) -> list[Fraction]:
    """Played onsets (quarter notes, in order) drawn onto the grid of their beat."""
    by_beat: dict[int, list[int]] = defaultdict(list)
    for place, onset in enumerate(onsets):
        # What comes a little before a beat belongs to it.
        by_beat[int(onset + Fraction(1, 16))].append(place)
    found = list(onsets)
    for places in by_beat.values():
        mine = [onsets[p] for p in places]
        step = min(_GRIDS, key=lambda grid: _misfit(mine, *grid))[0]
        for p in places:
            found[p] = round(onsets[p] / step) * step
    return found


def _misfit(onsets: Sequence[Fraction], step: Fraction, extra: Fraction) -> Fraction:
    drawn = [round(o / step) * step for o in onsets]
    # Two notes struck apart must not fall together.
    merged = len({*onsets}) - len({*drawn})
    off = sum((abs(o - d) for o, d in zip(onsets, drawn, strict=True)), ZERO)
    return off / len(onsets) + extra + Fraction(max(merged, 0), 4)


def _part(track: _Track, heard: _File, part_id: str) -> Part:
    is_drum = track.channel == _PERCUSSION_CHANNEL
    events = list(_events(track.notes, heard, is_drum=is_drum))
    low = sorted(n.key for n in track.notes)[len(track.notes) // 2]
    clef = Clef("percussion", 3) if is_drum else Clef("F", 4) if low < 55 else Clef("G", 2)
    measures = _measures(events, heard, clef)
    measures = list(_with_tempos(measures, heard.tempos))
    if heard.is_swung:
        said = Direction(ZERO, "words", "Swing")
        measures[0] = replace(measures[0], directions=(said, *measures[0].directions))
    return Part(part_id, track.name, tuple(measures), instrument=track.name)


def _with_tempos(
    measures: Iterable[Measure], tempos: Sequence[tuple[Fraction, Tempo]]
) -> Iterable[Measure]:
    """Each measure with the tempo at its start, and the marks of those that come in it."""
    start = ZERO
    for measure in measures:
        end = start + measure.length
        first = bisect_left(tempos, start, key=lambda one: one[0])
        last = bisect_left(tempos, end, key=lambda one: one[0])
        marks = tuple(
            Direction(at - start, "tempo", tempo=tempo) for at, tempo in tempos[first:last]
        )
        place = bisect_right(tempos, start, key=lambda one: one[0])
        tempo = tempos[place - 1][1] if place else None
        if marks or tempo:
            measure = replace(measure, tempo=tempo, directions=(*marks, *measure.directions))
        yield measure
        start = end


def _events(
    notes: Sequence[_Struck], heard: _File, *, is_drum: bool
) -> Iterable[tuple[Fraction, Event]]:
    """Chords and rests one after another, each until the next begins."""
    ordered = sorted(notes, key=lambda n: (n.start, n.key))
    played_at = [n.start for n in ordered]
    onsets = quantised(straightened(played_at) if heard.is_swung else played_at)
    chords: dict[Fraction, list[_Struck]] = defaultdict(list)
    for onset, note in zip(onsets, ordered, strict=True):
        chords[onset].append(note)
    starts = sorted(chords)
    cursor = ZERO
    for place, start in enumerate(starts):
        if start > cursor:
            yield cursor, Event(start - cursor, ())
        following = starts[place + 1] if place + 1 < len(starts) else None
        played = max(n.end - n.start for n in chords[start])
        length = max(_drawn(played), Fraction(1, 8))
        gap = following - start if following is not None else None
        # A note let go a little early is still written up to the next one.
        if gap is not None and (length > gap or played * 20 >= gap * 11):
            length = gap
        struck = {n.key: n for n in chords[start]}.values()  # one key sounds once
        if len(struck) > MAX_AT_ONCE:
            raise UnreadableFile(f"This MIDI file strikes {len(struck)} keys at once.")
        yield start, Event(length, tuple(_model(n, heard, is_drum=is_drum) for n in struck))
        cursor = start + length


def _drawn(length: Fraction) -> Fraction:
    return min(
        (round(length / step) * step for step, _ in _GRIDS), key=lambda drawn: abs(length - drawn)
    )


def _model(struck: _Struck, heard: _File, *, is_drum: bool) -> Note:
    if is_drum:
        return Note("", ZERO, ZERO, place=Pitch("C", ZERO, 5))
    key = _in_force(heard.keys, struck.start, _PLAIN_KEY)
    return Note("", ZERO, ZERO, pitch=_spelled(struck.key, key.fifths))


_PLAIN_KEY = Key(0)


@lru_cache(maxsize=2048)
def _spelled(midi: int, fifths: int) -> Pitch:
    return spelled(midi, fifths)


def spelled(midi: int, fifths: int) -> Pitch:
    """A key number as the key signature spells it; outside it sharp in sharp keys, else flat."""
    preferred = 1 if fifths >= 0 else -1
    for choice in (None, 0, preferred):
        for step in STEPS:
            alter = key_alter(step, fifths) if choice is None else choice
            pitch = Pitch(step, Fraction(alter), 4)
            if (midi - pitch.midi) % 12 == 0:
                return replace(pitch, octave=4 + (midi - pitch.midi) // 12)
    raise AssertionError("every key has a name")


def _measures(events: Sequence[tuple[Fraction, Event]], heard: _File, clef: Clef) -> list[Measure]:
    """Measures of each meter in turn."""
    end = max(at + event.duration for at, event in events)
    marks = list(heard.times)
    if marks[0][0] > 0:
        marks.insert(0, (ZERO, Time("4", 4)))
    measures: list[Measure] = []
    starts = [at for at, _ in events]
    for place, (start, time) in enumerate(marks):
        stop = marks[place + 1][0] if place + 1 < len(marks) else end
        if stop <= start:
            continue
        key = _in_force(heard.keys, start, _PLAIN_KEY)
        row = _clipped(events, starts, start, stop)
        if (stop - start) / time.length > MAX_MEASURES:
            raise UnreadableFile(f"This MIDI file has more than {MAX_MEASURES} measures.")
        try:
            made = lay_out(row, time=time, key=key, clefs=(clef,), id_prefix=f"n{place}-")
        except CrumbError as error:
            raise UnreadableFile(
                f"This MIDI file cannot be written down: {error.message}"
            ) from error
        before = len(measures)
        measures.extend(
            replace(m, index=before + i, number=str(before + i + 1)) for i, m in enumerate(made)
        )
    return measures


def _clipped(
    events: Sequence[tuple[Fraction, Event]],
    starts: Sequence[Fraction],
    start: Fraction,
    stop: Fraction,
) -> list[Event]:
    """What sounds from one time to another; the first may have begun before."""
    found = []
    for at, event in events[max(bisect_right(starts, start) - 1, 0) : bisect_left(starts, stop)]:
        first, last = max(at, start), min(at + event.duration, stop)
        if last > first:
            found.append(replace(event, duration=last - first))
    return found
