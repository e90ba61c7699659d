"""Barlines of a tune: a measure ends, and what is in force at its start is written down."""

import re
from dataclasses import replace

from crumb.core.errors import NotNotatable, UnreadableFile
from crumb.core.score.meter import beams_of
from crumb.core.score.model import ZERO, Barline, Clef, Key, Measure, Time
from crumb.core.score.notating import beam
from crumb.formats.abc.marks import stand_alone
from crumb.formats.abc.tokens import MOST_MEASURES
from crumb.formats.abc.tune import Tune
from crumb.formats.abc.voice import Voice
from crumb.formats.abc.writing import notes_of


def close_measure(
    tune: Tune, voice: Voice, bar: str, *, ending: str = "", is_end: bool = False
) -> None:
    """End the measure at a barline, with its repeat signs and its ending.

    Raises:
        UnreadableFile: a value cannot be written, or the tune has too many measures.
    """
    signs = re.sub(r"[\s\[]*[0-9][0-9,-]*$", "", bar)
    backward = (signs.startswith(":") and "|" in signs) or signs.startswith("::")
    forward = signs.rstrip("]").endswith(":") and signs != ":|"
    if voice.row or voice.graces or voice.marks:
        for mark in voice.marks:
            stand_alone(tune, voice, mark)
        voice.marks = []
        right = []
        if backward:
            right.append(Barline("right", "light-heavy", repeat="backward"))
        elif "|]" in signs or is_end:
            right.append(Barline("right", "light-heavy"))
        elif "||" in signs:
            right.append(Barline("right", "light-light"))
        if voice.ending and (backward or ending or is_end or "||" in signs or "|]" in signs):
            number, voice.ending = voice.ending, ""
            kind = "stop" if backward or is_end else "discontinue"
            line = right.pop() if right else Barline("right")
            right.append(replace(line, ending=number, ending_type=kind))
        _store_measure(tune, voice, tuple(right))
    elif backward and voice.measures:
        before = voice.measures[-1]
        repeat = Barline("right", "light-heavy", repeat="backward")
        voice.measures[-1] = replace(before, barlines=(*before.barlines, repeat))
    if forward:
        voice.left.append(Barline("left", "heavy-light", repeat="forward"))
    if ending:
        voice.ending = ending.replace("-", ",")
        voice.left.append(Barline("left", ending=voice.ending, ending_type="start"))


def _store_measure(tune: Tune, voice: Voice, right: tuple[Barline, ...]) -> None:
    if len(voice.measures) >= MOST_MEASURES:
        raise UnreadableFile(f"This tune has more than {MOST_MEASURES} measures.")
    index = len(voice.measures)
    time = voice.meter or Time("4", 4)
    key, before, clef = _opening(tune, voice, time)
    try:
        notes = tuple(notes_of(voice.row, index))
    except NotNotatable as error:
        raise UnreadableFile(f"Measure {index + 1}: {error.message}") from error
    length = voice.at
    lead = max(time.length - length, ZERO) if index == 0 else ZERO
    voice.measures.append(
        Measure(
            index=index,
            number=str(index + 1),
            length=length or time.length,
            time=before,
            key=key,
            clefs=(clef,),
            tempo=voice.tempo_at_start,
            implicit=index == 0 and length < time.length,
            notes=beam(notes, beams_of(time), lead),
            directions=tuple(voice.directions),
            changes=tuple(voice.changes),
            barlines=(*voice.left, *right),
        )
    )
    voice.tied = {
        (n.pitch.step, n.pitch.octave): n.pitch.alter
        for struck in voice.row[-1:]
        if struck.ties
        for n in struck.notes
        if n.pitch
    }
    voice.row, voice.directions, voice.changes, voice.left = [], [], [], []
    voice.said, voice.at = {}, ZERO
    voice.tempo_at_start = voice.tempo


def _opening(tune: Tune, voice: Voice, time: Time) -> tuple[Key, Time, Clef]:
    """Key, meter and clef in force at the left barline; changes inside the measure come later."""
    key, clef = voice.key.key, voice.clef
    if voice.changes:
        last = voice.measures[-1] if voice.measures else None
        for change in reversed(voice.changes):
            if change.key:
                key = last.key if last else tune.key.key
            if change.clef:
                clef = last.clefs[0] if last else clef
            if change.time:
                time = last.time if last else tune.meter or time
    return key, time, clef
