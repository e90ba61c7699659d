"""A tune in ABC 2.1 (the standard of December 2011): every voice a part, note for note as it says.

What the model has no place for is named; overlays are refused, for nothing of them could be shown.
"""

import re
from dataclasses import replace
from fractions import Fraction

from crumb.core.errors import NotNotatable, UnreadableFile
from crumb.core.score.meter import beams_of
from crumb.core.score.model import (
    ZERO,
    Barline,
    Change,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Score,
    Time,
)
from crumb.core.score.notating import beam
from crumb.core.score.pitch import Pitch
from crumb.formats.abc.fields import (
    SIGNS,
    clef_said,
    key_field,
    meter_field,
    tempo_field,
    unit_field,
    unit_of,
)
from crumb.formats.abc.tokens import (
    ARTICULATIONS,
    DYNAMICS,
    FIELD,
    INNER,
    JUMPS,
    MOST_IN_MEASURE,
    MOST_MEASURES,
    MOST_NOTES,
    ORNAMENTS,
    SHORT,
    TECHNICAL,
    TOKEN,
    WEDGES,
    kind_of,
    times,
    tuplet_of,
    uncommented,
)
from crumb.formats.abc.voice import Struck, Voice, sing, sounding
from crumb.formats.abc.writing import notes_of, part_of


def read_abc(data: bytes) -> tuple[Score, int]:
    """The first tune of a file, and how many tunes there are.

    Raises:
        UnreadableFile: says what cannot be read, and in which measure.
    """
    text = data.decode("utf-8-sig", "replace").replace("\r\n", "\n").replace("\r", "\n")
    tunes = [t for t in re.split(r"(?m)^(?=X:)", text) if t.startswith("X:")]
    if not tunes:
        raise UnreadableFile("There is no tune in this ABC file.")
    return _Tune().read(tunes[0]), len(tunes)


class _Tune:
    """Reads one tune."""

    def __init__(self) -> None:
        self.titles: list[str] = []
        self.composer = ""
        self.meter: Time | None = Time("4", 4)
        self.unit: Fraction | None = None
        self.key = key_field("C")
        self.tempo_text = ""
        self.voices: dict[str, Voice] = {}
        self.voice_texts: dict[str, str] = {}
        self.holds = "pitch"
        self.unread: dict[str, dict[str, list[str]]] = {}
        self.current = ""
        self.in_body = False
        self.struck = 0

    def read(self, text: str) -> Score:
        """The whole of it."""
        for raw in text.split("\n")[:200_000]:
            self._line(raw)
        parts = []
        for voice in self.voices.values():
            self._close(voice, "|", is_end=True)
            if voice.measures:
                parts.append(part_of(voice))
        if not any(part.has_notes for part in parts):
            raise UnreadableFile("There is no note in this file.")
        unread = tuple(
            (owner, what, tuple(dict.fromkeys(numbers)))
            for owner, found in self.unread.items()
            for what, numbers in found.items()
        )
        return Score(self.titles[0] if self.titles else "", self.composer, tuple(parts), unread)

    def _line(self, raw: str) -> None:
        if raw.startswith(("%%", "I:")):
            found = re.search(r"propagate-accidentals\s+(\w+)", raw)
            if found:
                self.holds = found[1]
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
                self.titles.append(value[:200])
            case "C":
                self.composer = self.composer or value[:200]
            case "V":
                self._voice_field(value)
            case "w":
                if self.in_body:
                    self._words(self._here(), value)
            case "K" if not self.in_body:
                self.key = key_field(value)
                self.in_body = True
            case "M" if not self.in_body:
                self.meter = meter_field(value)
            case "L" if not self.in_body:
                self.unit = unit_field(value)
            case "Q" if not self.in_body:
                self.tempo_text = value
            case "K" | "M" | "L" | "Q" | "P" if self.in_body:
                self._change(self._here(), letter, value)

    def _voice_field(self, value: str) -> None:
        name, _, rest = value.partition(" ")
        self.voice_texts.setdefault(name, rest)
        if self.in_body:
            self.current = name
            self._here()

    def _here(self) -> Voice:
        name = self.current or next(iter(self.voice_texts), "1")
        if name not in self.voices:
            said = self.voice_texts.get(name, "")
            told = re.search(r'(?:name|nm)="([^"]*)"', said)
            unit = self.unit or unit_of(self.meter)
            voice = Voice(
                id=f"P{len(self.voices) + 1}",
                name=(told[1] if told else "") or f"Part {len(self.voices) + 1}",
                key=self.key,
                meter=self.meter,
                unit=unit,
                clef=clef_said(said) or self.key.clef or Clef("G", 2),
            )
            if len(self.voices) >= 100:
                raise UnreadableFile("This tune has more than 100 voices.")
            self.voices[name] = voice
            if self.tempo_text:
                self._tempo(voice, self.tempo_text)
        return self.voices[name]

    # Music ------------------------------------------------------------------------------------

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
                self._close(voice, found["bar"], ending=found["ending"] or found["alone"] or "")
            case "tuplet":
                voice.tuplet = tuplet_of(found, voice.meter)
            case "grace":
                self._grace(voice, found["graces"], is_slashed=bool(found["slash"]))
            case "sign":
                voice.marks.append((found["mark"] or found["old"]).strip())
            case "short":
                voice.marks.append(SHORT[found["short"]])
            case "quoted":
                self._quoted(voice, found["text"])
            case "chord":
                self._chord(voice, found)
            case "note":
                self._note(voice, found)
            case "broken":
                self._broken(voice, found["broken"])
            case "slur":
                self._slur(voice, found["slur"])
            case "tie":
                if voice.row:
                    voice.row[-1].ties = True
            case "user":
                self._not_kept(voice, f"a sign of its own: {found['user']}")
            case "overlay":
                raise UnreadableFile(
                    "This tune lays voices over each other (&), which is not read."
                )

    def _inline(self, voice: Voice, letter: str, value: str) -> None:
        if letter == "V":
            self._voice_field(value)
        elif letter in "KMLQP":
            self._change(voice, letter, value)

    def _change(self, voice: Voice, letter: str, value: str) -> None:
        match letter:
            case "K":
                voice.key = key_field(value)
                voice.said = {}
                self._changed(voice, Change(voice.at, key=voice.key.key))
                if voice.key.clef and voice.key.clef != voice.clef:
                    voice.clef = voice.key.clef
                    self._changed(voice, Change(voice.at, clef=voice.clef))
            case "M":
                voice.meter = meter_field(value)
                if voice.meter is not None:
                    self._changed(voice, Change(voice.at, time=voice.meter))
                if self.unit is None:
                    voice.unit = unit_of(voice.meter)
            case "L":
                voice.unit = unit_field(value)
            case "Q":
                self._tempo(voice, value)
            case "P":
                voice.directions.append(Direction(voice.at, "rehearsal", value[:8]))

    def _changed(self, voice: Voice, change: Change) -> None:
        if voice.row:
            voice.changes.append(change)
        # At the barline it is part of what is in force there.

    def _tempo(self, voice: Voice, text: str) -> None:
        words = re.search(r'"([^"]*)"', text)
        if words and words[1].strip():
            voice.directions.append(Direction(voice.at, "words", words[1].strip()[:200]))
        tempo = tempo_field(text, voice.unit)
        if tempo is None:
            return
        voice.tempo = tempo
        if not voice.row:
            voice.tempo_at_start = tempo
        voice.directions.append(Direction(voice.at, "tempo", tempo=tempo))

    def _quoted(self, voice: Voice, text: str) -> None:
        if text[:1] in ("^", "_", "<", ">", "@") and text[1:].strip():
            words = text[1:].strip()[:200]
            voice.directions.append(Direction(voice.at, "words", words, above=text[0] != "_"))
        elif text.strip():
            self._not_kept(voice, "chord symbols")

    def _not_kept(self, voice: Voice, what: str) -> None:
        found = self.unread.setdefault(voice.id, {}).setdefault(what, [])
        found.append(str(len(voice.measures) + 1))

    def _pitch(self, voice: Voice, acc: str | None, step: str, octaves: str) -> Pitch:
        letter = step.upper()
        octave = 5 if step.islower() else 4
        octave += octaves.count("'") - octaves.count(",")
        if not 0 <= octave <= 9:
            raise UnreadableFile(f"A note {step}{octaves} is out of all reach.")
        name = letter if self.holds == "pitch" else f"{letter}{octave}"
        if acc:
            if self.holds != "not":
                voice.said[name] = SIGNS[acc]
            alter = Fraction(SIGNS[acc])
        elif (letter, octave) in voice.tied and not voice.row:
            # Tied over the barline it keeps its sign; the sign holds for this note alone.
            alter = voice.tied[letter, octave]
        else:
            alter = Fraction(voice.said.get(name, voice.key.letters[letter]))
        return Pitch(letter, alter, octave)

    def _note(self, voice: Voice, found: re.Match[str]) -> None:
        step = found["step"]
        if step in "ZX":
            return self._bars_of_rest(voice, int(found["num"] or 1))
        length = voice.unit * times(found["num"], found["den"])
        if step in "zx":
            rest = Note("", ZERO, ZERO, is_rest=True, hidden=step == "x")
            return self._strike(voice, [rest], length)
        pitch = self._pitch(voice, found["acc"], step, found["oct"])
        return self._strike(voice, [Note("", ZERO, ZERO, pitch=pitch)], length)

    def _chord(self, voice: Voice, found: re.Match[str]) -> None:
        notes, first, ties = [], None, False
        place = 0
        inside = "".join(found["inside"].split())
        while place < len(inside):
            one = INNER.match(inside, place)
            if one is None:
                place += 1  # a mark inside a chord
                continue
            place = one.end()
            ties |= bool(one["tie"])
            if first is None:
                first = times(one["num"], one["den"])
            if one["step"] not in "zx":
                pitch = self._pitch(voice, one["acc"], one["step"], one["oct"])
                notes.append(Note("", ZERO, ZERO, pitch=pitch))
        if not notes:
            return
        notes.sort(key=lambda n: n.pitch.midi if n.pitch else 0)
        length = voice.unit * (first or 1) * times(found["cnum"], found["cden"])
        self._strike(voice, notes, length)
        voice.row[-1].ties = ties

    def _strike(self, voice: Voice, notes: list[Note], length: Fraction) -> None:
        if not 0 < length <= 64:
            raise UnreadableFile(f"A note of {length} quarter notes makes no sense.")
        if voice.broken is not None:
            length, voice.broken = length * voice.broken, None
        struck = Struck(length, self._marked(voice, notes), slurs=voice.slurs)
        voice.slurs = []
        if voice.tuplet is not None:
            p, q, left = voice.tuplet
            struck.tuplet = (p, q)
            before = voice.row[-1] if voice.row else None
            struck.starts_tuplet = before is None or before.tuplet is None or before.stops_tuplet
            struck.stops_tuplet = left == 1
            voice.tuplet = None if left == 1 else (p, q, left - 1)
        voice.row.append(struck)
        if not notes[0].is_rest:
            voice.line.append((len(voice.measures), len(voice.row) - 1))
        voice.at += sounding(struck)
        self.struck += len(notes)
        if len(voice.row) > MOST_IN_MEASURE:
            raise UnreadableFile("A measure of this tune holds more than a measure of music does.")
        if self.struck > MOST_NOTES:
            raise UnreadableFile(f"This tune has more than {MOST_NOTES} notes.")

    def _marked(self, voice: Voice, notes: list[Note]) -> list[Note]:
        """Graces before, and marks on, what is struck."""
        articulations, ornaments, technical = [], [], []
        is_held = False
        for mark in voice.marks:
            if mark in ARTICULATIONS:
                articulations.append(ARTICULATIONS[mark])
            elif mark in ORNAMENTS:
                ornaments.append(ORNAMENTS[mark])
            elif mark in TECHNICAL:
                technical.append((TECHNICAL[mark], ""))
            elif mark in ("0", "1", "2", "3", "4", "5"):
                technical.append(("fingering", mark))
            elif mark in ("fermata", "invertedfermata"):
                is_held = True
            else:
                self._stand(voice, mark)
        voice.marks = []
        head, *others = notes
        head = replace(
            head,
            articulations=tuple(articulations),
            ornaments=tuple(ornaments),
            technical=tuple(technical),
            fermata=is_held,
        )
        graces, voice.graces = voice.graces, []
        return [*graces, head, *others]

    def _stand(self, voice: Voice, mark: str) -> None:
        """A mark that stands by itself."""
        if mark in DYNAMICS:
            voice.directions.append(Direction(voice.at, "dynamic", mark, above=False))
        elif mark in WEDGES:
            voice.directions.append(Direction(voice.at, "wedge", WEDGES[mark], above=False))
        elif mark in ("segno", "coda"):
            voice.directions.append(Direction(voice.at, mark, mark))
        elif mark in JUMPS:
            voice.directions.append(Direction(voice.at, "jump", JUMPS[mark]))
            voice.directions.append(Direction(voice.at, "words", mark))
        else:
            self._not_kept(voice, f"a mark called {mark[:30]}")

    def _grace(self, voice: Voice, text: str, *, is_slashed: bool) -> None:
        for one in INNER.finditer("".join(text.split())):
            if one["step"] in "zx":
                continue
            pitch = self._pitch(voice, one["acc"], one["step"], one["oct"])
            grace = "slashed" if is_slashed else "grace"
            voice.graces.append(Note("", ZERO, ZERO, pitch=pitch, grace=grace, type="eighth"))

    def _broken(self, voice: Voice, signs: str) -> None:
        if not voice.row:
            return
        short = Fraction(1, 2 ** len(signs))
        first, second = (2 - short, short) if signs[0] == ">" else (short, 2 - short)
        last = voice.row[-1]
        before = sounding(last)
        last.written *= first
        voice.at += sounding(last) - before
        voice.broken = second

    def _slur(self, voice: Voice, sign: str) -> None:
        if sign == "(":
            voice.slurs.append("start")
        elif voice.row:
            voice.row[-1].slurs.append("stop")

    def _bars_of_rest(self, voice: Voice, count: int) -> None:
        length = voice.meter.length if voice.meter else Fraction(4)
        for place in range(min(max(count, 1), MOST_MEASURES)):
            if place:
                self._close(voice, "|")
            rest = Note("", ZERO, ZERO, is_rest=True)
            voice.row.append(Struck(length, [rest]))
            voice.at += length

    # Measures ---------------------------------------------------------------------------------

    def _close(self, voice: Voice, bar: str, *, ending: str = "", is_end: bool = False) -> None:
        signs = re.sub(r"[\s\[]*[0-9][0-9,-]*$", "", bar)
        backward = (signs.startswith(":") and "|" in signs) or signs.startswith("::")
        forward = signs.rstrip("]").endswith(":") and signs != ":|"
        if voice.row or voice.graces or voice.marks:
            for mark in voice.marks:
                self._stand(voice, mark)
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
            self._measure(voice, tuple(right))
        elif backward and voice.measures:
            before = voice.measures[-1]
            repeat = Barline("right", "light-heavy", repeat="backward")
            voice.measures[-1] = replace(before, barlines=(*before.barlines, repeat))
        if forward:
            voice.left.append(Barline("left", "heavy-light", repeat="forward"))
        if ending:
            voice.ending = ending.replace("-", ",")
            voice.left.append(Barline("left", ending=voice.ending, ending_type="start"))

    def _measure(self, voice: Voice, right: tuple[Barline, ...]) -> None:
        if len(voice.measures) >= MOST_MEASURES:
            raise UnreadableFile(f"This tune has more than {MOST_MEASURES} measures.")
        index = len(voice.measures)
        time = voice.meter or Time("4", 4)
        key, before, clef = self._opening(voice, time)
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

    def _opening(self, voice: Voice, time: Time) -> tuple[Key, Time, Clef]:
        """What is in force at the left barline: changes inside the measure come later."""
        key, clef = voice.key.key, voice.clef
        if voice.changes:
            last = voice.measures[-1] if voice.measures else None
            for change in reversed(voice.changes):
                if change.key:
                    key = last.key if last else self.key.key
                if change.clef:
                    clef = last.clefs[0] if last else clef
                if change.time:
                    time = last.time if last else self.meter or time
        return key, time, clef

    def _words(self, voice: Voice, text: str) -> None:
        """One line of words under the notes of the line before it."""
        syllables = re.findall(r"[^\s\-_*|]+-?|[_*|]|-", text.replace("\\-", "\u2010"))
        notes = iter(voice.line)
        inside = False  # of a word
        for syllable in syllables:
            if syllable == "|":
                continue
            where = next(notes, None)
            if where is None:
                return
            if syllable not in ("_", "*", "-"):
                text = ("-" if inside else "") + syllable
                sing(voice, where, text.replace("~", " ").replace("\u2010", "-")[:40])
                inside = syllable.endswith("-")
