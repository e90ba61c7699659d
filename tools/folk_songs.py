"""The folk songs with marked phrases that the music21 package ships: a line is a phrase.

ABC encodings of the Essen collection; music21's own reader drops line ends, so this small one reads
just what these files hold. Used to learn phrase weights and to measure them.
"""

import re
from bisect import bisect_right
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from importlib.util import find_spec
from pathlib import Path

from crumb.core.score.pitch import Pitch, key_alter
from crumb.core.split.melody import Melody

_TOKEN = re.compile(
    r"(?P<sign>[_^=]{0,2})(?P<step>[A-Ga-gzx])(?P<octave>[,']*)(?P<times>\d*)"
    r"(?P<slash>/*)(?P<over>\d*)(?P<tie>-?)|(?P<bar>\|\]?|:\||\|:|\[\|)|\((?P<tuplet>\d)"
)
_KEYS = {"C": 0, "G": 1, "D": 2, "A": 3, "E": 4, "B": 5, "H": 5, "F#": 6, "F": -1, "Bb": -2}
_KEYS |= {"Eb": -3, "Es": -3, "Ab": -4, "Db": -5, "Dm": -1, "Gm": -2, "Em": 1, "Cm": -3}
_SIGNS = {"^": 1, "_": -1, "=": 0, "^^": 2, "__": -2}
_SHORTENED = {2: 3, 3: 2, 4: 3, 6: 2, 8: 3}
FEWEST_NOTES = 8


@dataclass(frozen=True, slots=True)
class FolkSong:
    """A melody and the notes (by index, the first apart) that start a line."""

    name: str
    melody: Melody
    starts: frozenset[int]


def files() -> list[Path]:
    """The collection's files by name."""
    package = find_spec("music21")
    if package is None or package.origin is None:
        raise FileNotFoundError("music21 is not installed")
    return sorted((Path(package.origin).parent / "corpus" / "essenFolksong").glob("*.abc"))


def learned_from() -> list[Path]:
    """Two files of three: what the weights were learned from."""
    return [path for i, path in enumerate(files()) if i % 3 != 2]


def held_out() -> list[Path]:
    """Every third file by name: never learned from."""
    return files()[2::3]


def songs(path: Path) -> Iterator[FolkSong]:
    """Every song of a file that has a phrase to find and eight notes or more."""
    for block in re.split(r"\n\s*\n", path.read_text("latin-1")):
        lines = [line for line in block.splitlines() if line.strip() and line[0] != "%"]
        head = {line[0]: line[2:].strip() for line in reversed(lines) if line[1:2] == ":"}
        body = [line for line in lines if line[1:2] != ":"]
        if "X" in head and body:
            song = _Tune(head, f"{path.name}#{head['X']}").read(body)
            if song is not None:
                yield song


class _Tune:
    def __init__(self, head: dict[str, str], name: str) -> None:
        self.name = name
        self.unit = 4 * Fraction(head.get("L", "1/8"))
        self.fifths = _KEYS.get(head.get("K", "C"), 0)
        self.meter = re.search(r"(\d+)/(\d+)", head.get("M", ""))
        self.clock = Fraction(0)
        self.onsets: list[Fraction] = []
        self.ends: list[Fraction] = []
        self.pitches: list[int] = []
        self.bars: list[Fraction] = []
        self.starts: set[int] = set()
        self.signs: dict[tuple[str, int], int] = {}
        self.tied = False
        self.tuplet = (0, Fraction(1))

    def read(self, body: list[str]) -> FolkSong | None:
        for line in body:
            before = len(self.onsets)
            for token in _TOKEN.finditer(line):
                self._token(token)
            if 0 < before < len(self.onsets):
                self.starts.add(before)
        if len(self.onsets) < FEWEST_NOTES or not self.starts:
            return None
        return FolkSong(self.name, self._melody(), frozenset(self.starts))

    def _token(self, token: re.Match[str]) -> None:
        if token["bar"]:
            self.bars.append(self.clock)
            self.signs.clear()
            return
        if token["tuplet"]:
            count = int(token["tuplet"])
            self.tuplet = (count, Fraction(_SHORTENED.get(count, 2), count))
            return
        length = self.unit * int(token["times"] or 1)
        if token["slash"]:
            length /= int(token["over"]) if token["over"] else 2 ** len(token["slash"])
        if self.tuplet[0]:
            length *= self.tuplet[1]
            self.tuplet = (self.tuplet[0] - 1, self.tuplet[1])
        if token["step"] in "zx":
            self.tied = False
        else:
            self._note(token, length)
        self.clock += length

    def _note(self, token: re.Match[str], length: Fraction) -> None:
        step = token["step"].upper()
        octave = 4 + token["step"].islower() + token["octave"].count("'")
        octave -= token["octave"].count(",")
        if token["sign"]:
            self.signs[step, octave] = _SIGNS.get(token["sign"], 0)
        alter = self.signs.get((step, octave), key_alter(step, self.fifths))
        midi = Pitch(step, Fraction(alter), octave).midi
        if self.tied and self.pitches[-1:] == [midi]:
            self.ends[-1] = self.clock + length
        else:
            self.onsets.append(self.clock)
            self.ends.append(self.clock + length)
            self.pitches.append(midi)
        self.tied = bool(token["tie"])

    def _melody(self) -> Melody:
        # A file has no barline where a line ends with a measure: places are counted by the meter
        # from the barline before, or the missing barlines would give the phrases away.
        measure, beat = Fraction(4), Fraction(1)
        bars = self.bars
        if self.meter:
            beats, unit = int(self.meter[1]), int(self.meter[2])
            measure = Fraction(4 * beats, unit)
            is_compound = beats in (6, 9, 12)
            beat = Fraction(4 * (3 if is_compound else 1), unit)
        else:
            bars = []
        first = bars[0] if bars else Fraction(0)
        phases = []
        for onset in self.onsets:
            place = bisect_right(bars, onset) - 1
            phases.append((onset - (bars[place] if place >= 0 else first)) % measure)
        return Melody(
            tuple(self.onsets), tuple(self.ends), tuple(self.pitches), tuple(phases), measure, beat
        )


def boundary_f1(found: frozenset[int], marked: frozenset[int]) -> float:
    """Harmonic mean of precision and recall of phrase starts in one song."""
    right = len(found & marked)
    return 2 * right / (len(found) + len(marked)) if found or marked else 1.0
