"""MIDI files of a drill, at a tick rate every tuplet in it divides."""

import io
from fractions import Fraction
from math import lcm

import mido

from crumb.core.instruments.percussion import key_of
from crumb.core.score.model import Part
from crumb.core.score.position import sounds

_LOWEST_RATE, _HIGHEST_RATE = 480, 32767


def tick_rate(part: Part) -> int:
    """Ticks to a quarter that every onset and end falls on exactly, where MIDI can hold it."""
    needed = 1
    for sound in sounds(part):
        needed = lcm(needed, sound.at.denominator, sound.end.denominator)
    rate = needed * -(-_LOWEST_RATE // needed)
    return rate if rate <= _HIGHEST_RATE else _LOWEST_RATE * 7


def write_midi(part: Part, *, tempo: Fraction, beat: Fraction) -> bytes:
    """A format 0 file: sounding pitch, ties merged, one tempo.

    Args:
        part: what is played.
        tempo: beats a minute.
        beat: one beat in quarter notes.
    """
    rate = tick_rate(part)
    track = mido.MidiTrack()
    track.append(
        mido.MetaMessage(
            "track_name", name=part.name.encode("latin-1", "replace").decode("latin-1")
        )
    )
    track.append(mido.MetaMessage("set_tempo", tempo=round(60_000_000 / (tempo * beat))))
    events = []
    for sound in sounds(part):
        if sound.grace:
            continue
        if sound.pitch is None:
            channel, key = 9, key_of(sound.drum)
        else:
            channel, key = 0, min(max(sound.midi or 0, 0), 127)
        events.append((round(sound.at * rate), 1, key, channel))
        events.append((round(sound.end * rate), 0, key, channel))
    now = 0
    for tick, is_on, key, channel in sorted(events):
        kind = "note_on" if is_on else "note_off"
        track.append(
            mido.Message(kind, note=key, velocity=80 * is_on, time=tick - now, channel=channel)
        )
        now = tick
    file = mido.MidiFile(type=0, ticks_per_beat=rate)
    file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()
