"""MIDI files of a drill, at a tick rate every tuplet in it divides, each step at its own tempo."""

import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import lcm

import mido

from crumb.core.instruments.percussion import key_of
from crumb.core.instruments.programs import program_of
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Sound, sounds

_LOWEST_RATE, _HIGHEST_RATE = 480, 32767
_LOUD, _LIGHT = 80, 60
"""Velocity of a note, and of a grace note before it."""
_GRACE = Fraction(1, 8)
"""Quarter notes that a grace note takes, if the note before it lasts long enough."""
_DRUMS = 9  # channel


@dataclass(frozen=True, slots=True)
class Piece:
    """A part and the tempo it is played at, in beats a minute."""

    part: Part
    tempo: Fraction


@dataclass(frozen=True, slots=True)
class _Heard:
    at: Fraction
    end: Fraction
    key: int
    channel: int
    velocity: int


def _rate(heard: Sequence[_Heard]) -> int:
    """Ticks to a quarter that every onset and end falls on exactly, where MIDI can hold it."""
    needed = 1
    for one in heard:
        if one.velocity == _LOUD:
            needed = lcm(needed, one.at.denominator, one.end.denominator)
    rate = needed * -(-_LOWEST_RATE // needed)
    return rate if rate <= _HIGHEST_RATE else _LOWEST_RATE * 7


def write_midi(part: Part, *, tempo: Fraction, beat: Fraction) -> bytes:
    """A part at one tempo; see :func:`write_pieces`."""
    return write_pieces([Piece(part, tempo)], beat=beat)


def write_pieces(pieces: Sequence[Piece], *, beat: Fraction) -> bytes:
    """A format 0 file of parts one after another: sounding pitch, ties merged, grace notes kept.

    Args:
        pieces: what is played, each at a tempo of its own.
        beat: one beat in quarter notes.
    """
    heard = _heard(pieces)
    rate = _rate(heard)
    first = pieces[0].part
    track = mido.MidiTrack()
    name = first.name.encode("latin-1", "replace").decode("latin-1")
    track.append(mido.MetaMessage("track_name", name=name))
    track.append(mido.Message("program_change", program=program_of(first), channel=0))
    events: list[tuple[int, int, mido.Message | mido.MetaMessage]] = []
    start = ZERO
    for piece in pieces:
        minute = round(60_000_000 / (piece.tempo * beat))
        events.append((round(start * rate), 1, mido.MetaMessage("set_tempo", tempo=minute)))
        start += piece.part.length
    for one in heard:
        on = {"note": one.key, "channel": one.channel}
        begin = mido.Message("note_on", velocity=one.velocity, **on)
        events.append((round(one.at * rate), 2, begin))
        events.append((round(one.end * rate), 0, mido.Message("note_off", velocity=0, **on)))
    now = 0
    for tick, _, message in sorted(events, key=lambda e: (e[0], e[1], getattr(e[2], "note", 0))):
        track.append(message.copy(time=tick - now))
        now = tick
    file = mido.MidiFile(type=0, ticks_per_beat=rate)
    file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _heard(pieces: Sequence[Piece]) -> list[_Heard]:
    found: list[_Heard] = []
    start = ZERO
    for piece in pieces:
        found.extend(_of_part(piece.part, start))
        start += piece.part.length
    return found


def _of_part(part: Part, start: Fraction) -> Iterator[_Heard]:
    """What sounds of a part; grace notes come before their note, in what the one before leaves."""
    graces: list[Sound] = []
    ended = ZERO
    for sound in sounds(part):
        channel = 0 if sound.midi is not None else _DRUMS
        key = min(max(sound.midi, 0), 127) if sound.midi is not None else key_of(sound.drum)
        if sound.grace:
            graces.append(sound)
            continue
        for place, grace in enumerate(graces):
            room = min(_GRACE * len(graces), max(sound.at - ended / 2, ZERO), sound.at)
            if room <= 0 or grace.midi is None:
                continue
            at = start + sound.at - room * (len(graces) - place) / len(graces)
            high = min(max(grace.midi, 0), 127)
            yield _Heard(at, at + room / len(graces), high, 0, _LIGHT)
        graces = []
        ended = sound.at
        yield _Heard(start + sound.at, start + sound.end, key, channel, _LOUD)
