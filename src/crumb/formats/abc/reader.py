"""A tune in ABC 2.1 (the standard of December 2011): every voice a part, note for note as it says.

What the model has no place for is named; overlays are refused, for nothing of them could be shown.
"""

import re

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Clef, Score
from crumb.formats.abc.changes import change, set_tempo
from crumb.formats.abc.fields import clef_said, key_field, meter_field, unit_field, unit_of
from crumb.formats.abc.marks import read_quoted
from crumb.formats.abc.measures import close_measure
from crumb.formats.abc.striking import (
    lengthen_and_shorten,
    read_chord,
    read_graces,
    read_note,
    read_slur,
)
from crumb.formats.abc.tokens import FIELD, SHORT, TOKEN, kind_of, tuplet_of, uncommented
from crumb.formats.abc.tune import Tune
from crumb.formats.abc.voice import Voice, sing_line
from crumb.formats.abc.writing import part_of


def read_abc(data: bytes) -> tuple[Score, int]:
    """The first tune of a file, and how many tunes there are.

    Raises:
        UnreadableFile: says what cannot be read, and in which measure.
    """
    text = data.decode("utf-8-sig", "replace").replace("\r\n", "\n").replace("\r", "\n")
    tunes = [t for t in re.split(r"(?m)^(?=X:)", text) if t.startswith("X:")]
    if not tunes:
        raise UnreadableFile("There is no tune in this ABC file.")
    return _TuneReader().read(tunes[0]), len(tunes)


class _TuneReader:
    """Reads one tune."""

    def __init__(self) -> None:
        self.tune = Tune()
        self.voice_texts: dict[str, str] = {}
        self.current = ""
        self.in_body = False

    def read(self, text: str) -> Score:
        """The whole of it."""
        for raw in text.split("\n")[:200_000]:
            self._line(raw)
        parts = []
        for voice in self.tune.voices.values():
            close_measure(self.tune, voice, "|", is_end=True)
            if voice.measures:
                parts.append(part_of(voice))
        if not any(part.has_notes for part in parts):
            raise UnreadableFile("There is no note in this file.")
        unread = tuple(
            (owner, what, tuple(dict.fromkeys(numbers)))
            for owner, found in self.tune.unread.items()
            for what, numbers in found.items()
        )
        return Score(
            self.tune.titles[0] if self.tune.titles else "",
            self.tune.composer,
            tuple(parts),
            unread,
        )

    def _line(self, raw: str) -> None:
        if raw.startswith(("%%", "I:")):
            found = re.search(r"propagate-accidentals\s+(\w+)", raw)
            if found:
                self.tune.holds = found[1]
            return
        line = uncommented(raw)
        field_said = FIELD.match(line)
        if field_said is not None and not re.match(r"^[A-Ga-gzxZX]:\|", line):
            self._field(field_said[1], field_said[2].strip())
        elif self.in_body and line.strip():
            self._music(line)

    def _field(self, letter: str, value: str) -> None:
        match letter:
            case "T":
                self.tune.titles.append(value[:200])
            case "C":
                self.tune.composer = self.tune.composer or value[:200]
            case "V":
                self._voice_field(value)
            case "w":
                if self.in_body:
                    sing_line(self._here(), value)
            case "K" if not self.in_body:
                self.tune.key = key_field(value)
                self.in_body = True
            case "M" if not self.in_body:
                self.tune.meter = meter_field(value)
            case "L" if not self.in_body:
                self.tune.unit = unit_field(value)
            case "Q" if not self.in_body:
                self.tune.tempo_text = value
            case "K" | "M" | "L" | "Q" | "P" if self.in_body:
                change(self.tune, self._here(), letter, value)

    def _voice_field(self, value: str) -> None:
        name, _, rest = value.partition(" ")
        self.voice_texts.setdefault(name, rest)
        if self.in_body:
            self.current = name
            self._here()

    def _here(self) -> Voice:
        name = self.current or next(iter(self.voice_texts), "1")
        if name not in self.tune.voices:
            said = self.voice_texts.get(name, "")
            told = re.search(r'(?:name|nm)="([^"]*)"', said)
            unit = self.tune.unit or unit_of(self.tune.meter)
            voice = Voice(
                id=f"P{len(self.tune.voices) + 1}",
                name=(told[1] if told else "") or f"Part {len(self.tune.voices) + 1}",
                key=self.tune.key,
                meter=self.tune.meter,
                unit=unit,
                clef=clef_said(said) or self.tune.key.clef or Clef("G", 2),
            )
            if len(self.tune.voices) >= 100:
                raise UnreadableFile("This tune has more than 100 voices.")
            self.tune.voices[name] = voice
            if self.tune.tempo_text:
                set_tempo(voice, self.tune.tempo_text)
        return self.tune.voices[name]

    def _music(self, line: str) -> None:
        voice = self._here()
        voice.line = []
        place = 0
        while place < len(line):
            found = TOKEN.match(line, place)
            if found is None:
                where = f"measure {len(voice.measures) + 1}"
                raise UnreadableFile(
                    f"In {where} stands “{line[place : place + 8]}”, which is no ABC."
                )
            place = found.end()
            self._token(voice, kind_of(found), found)
            voice = self._here()  # an inline field may have changed it

    def _token(self, voice: Voice, kind: str, found: re.Match[str]) -> None:
        match kind:
            case "field":
                self._inline(voice, found["letter"], found["value"].strip())
            case "bar":
                close_measure(
                    self.tune, voice, found["bar"], ending=found["ending"] or found["alone"] or ""
                )
            case "tuplet":
                voice.tuplet = tuplet_of(found, voice.meter)
            case "grace":
                read_graces(self.tune, voice, found["graces"], is_slashed=bool(found["slash"]))
            case "sign":
                voice.marks.append((found["mark"] or found["old"]).strip())
            case "short":
                voice.marks.append(SHORT[found["short"]])
            case "quoted":
                read_quoted(self.tune, voice, found["text"])
            case "chord":
                read_chord(self.tune, voice, found)
            case "note":
                read_note(self.tune, voice, found)
            case "broken":
                lengthen_and_shorten(voice, found["broken"])
            case "slur":
                read_slur(voice, found["slur"])
            case "tie":
                if voice.row:
                    voice.row[-1].ties = True
            case "user":
                self.tune.not_kept(voice, f"a sign of its own: {found['user']}")
            case "overlay":
                raise UnreadableFile(
                    "This tune lays voices over each other (&), which is not read."
                )

    def _inline(self, voice: Voice, letter: str, value: str) -> None:
        if letter == "V":
            self._voice_field(value)
        elif letter in "KMLQP":
            change(self.tune, voice, letter, value)
