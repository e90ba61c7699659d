"""What a score prints once, over its top part, holds for every part.

MusicXML 4.0 (``<direction>``, ``<sound>``, ``<metronome>``), SMF 1.0 (Set Tempo), Unicode and SMuFL
1.4 (note signs in words); that such marks stand once for all: common practice, no source.
"""

import io
from fractions import Fraction

import mido
import pytest

from crumb.core.score.address import find_span
from crumb.core.score.glance import goal_of
from crumb.core.score.model import Tempo
from crumb.core.score.naming import span_label
from crumb.core.score.playing import playing_order
from crumb.formats.musicxml.reader import open_score, read_score
from crumb.formats.musicxml.tempos import tempo_said
from crumb.formats.reading import read_music

F = Fraction
NOTE = "<note><rest/><duration>4</duration></note>"


def measure(number: int, *marks: str, note: str = NOTE) -> str:
    said = "<attributes><divisions>1</divisions></attributes>" if number == 1 else ""
    return f'<measure number="{number}">{said}{"".join(marks)}{note}</measure>'


def words(text: str, sound: str = "") -> str:
    return f"<direction><direction-type><words>{text}</words></direction-type>{sound}</direction>"


def metronome(minute: int) -> str:
    return (
        "<direction><direction-type><metronome><beat-unit>quarter</beat-unit>"
        f"<per-minute>{minute}</per-minute></metronome></direction-type></direction>"
    )


LETTER = "<direction><direction-type><rehearsal>B</rehearsal></direction-type></direction>"
SEGNO = "<direction><direction-type><segno/></direction-type></direction>"
PLAYED = "<note><pitch><step>C</step><octave>5</octave></pitch><duration>4</duration></note>"


def score(*parts: str) -> bytes:
    names = "".join(
        f'<score-part id="P{i}"><part-name>Part {i}</part-name></score-part>'
        for i in range(1, len(parts) + 1)
    )
    music = "".join(f'<part id="P{i}">{part}</part>' for i, part in enumerate(parts, 1))
    return (
        f'<score-partwise version="4.0"><part-list>{names}</part-list>{music}</score-partwise>'
    ).encode()


TOP = "".join(
    [
        measure(1, metronome(80), note=PLAYED),
        measure(2, SEGNO, LETTER, note=PLAYED),
        measure(3, words("Fine"), metronome(120), note=PLAYED),
        measure(4, words("D.S. al Fine"), note=PLAYED),
    ]
)
BELOW = "".join(measure(n, note=PLAYED) for n in range(1, 5))


@pytest.mark.parametrize("plainly", [True, False], ids=["cut", "walked"])
def test_tempos_letters_and_jumps_of_the_top_part_hold_below(plainly: bool):
    opened = open_score(score(TOP, BELOW, BELOW), plainly=plainly)
    top, *below = (part.read().part for part in opened.parts)
    assert playing_order(top) == [0, 1, 2, 3, 1, 2]
    for part in below:
        assert [m.tempo and m.tempo.per_minute for m in part.measures] == [80, 80, 120, 120]
        assert goal_of(part) == goal_of(top) == 80
        assert span_label(part, find_span(part, "second measure of B")) == "3"
        assert playing_order(part) == playing_order(top)


def test_a_part_keeps_what_it_says_itself_and_nothing_stands_twice():
    own = "".join(
        [
            measure(1, metronome(76), note=PLAYED),
            measure(2, LETTER, note=PLAYED),
            measure(3, note=PLAYED),
            measure(4, words("D.S. al Fine"), note=PLAYED),
        ]
    )
    part = read_score(score(TOP, own)).parts[1]
    assert [m.tempo.per_minute for m in part.measures if m.tempo] == [76, 76, 120, 120]
    kinds = [[d.kind for d in m.directions] for m in part.measures]
    assert kinds[1].count("rehearsal") == 1
    assert kinds[3] == ["words"]
    assert playing_order(part) == [0, 1, 2, 3, 1, 2]


@pytest.mark.parametrize(
    ("text", "tempo"),
    [
        ("Allegro (♩ = 120)", Tempo(F(1), F(120))),
        ("♩=96-104", Tempo(F(1), F(96))),
        ("Andante \U0001d15e = c. 60", Tempo(F(2), F(60))),
        ("\ue1d5 = 132", Tempo(F(1), F(132))),
        ("Gigue, ♩. = 84", Tempo(F(3, 2), F(84))),
        ("dotted quarter = ca. 72", Tempo(F(3, 2), F(72))),
        ("half note = 66", Tempo(F(2), F(66))),
        ("Crotchet = 88", Tempo(F(1), F(88))),
        ("rit.", None),
        ("Quarter rest = silence", None),
        ("2nd time = f", None),
    ],
)
def test_a_tempo_in_words(text: str, tempo: Tempo | None):
    assert tempo_said(text) == tempo
    part = read_score(score(measure(1, words(text), note=PLAYED))).parts[0]
    assert part.measures[0].tempo == tempo


def test_a_tempo_in_the_middle_of_a_measure_begins_there():
    half = "<note><pitch><step>C</step><octave>5</octave></pitch><duration>2</duration></note>"
    middle = measure(2, note=half + metronome(60) + half)
    part = read_score(
        score(measure(1, metronome(100), note=PLAYED) + middle + measure(3, note=PLAYED))
    ).parts[0]
    assert [m.tempo.per_minute for m in part.measures if m.tempo] == [100, 100, 60]
    assert [(d.at, d.tempo and d.tempo.per_minute) for d in part.measures[1].directions] == [
        (2, 60)
    ]


def test_a_midi_file_with_two_tempos_keeps_both_and_leaves_a_ritardando_to_its_player():
    track = mido.MidiTrack()
    track.append(mido.MetaMessage("set_tempo", tempo=500_000))  # 120
    for place in range(24):
        if place == 8:
            track.append(mido.MetaMessage("set_tempo", tempo=1_000_000))  # 60
        if place in (20, 21, 22):
            slower = mido.MetaMessage("set_tempo", tempo=1_000_000 + place * 20_000)
            track.append(slower)
        track.append(mido.Message("note_on", note=60, velocity=64, time=0))
        track.append(mido.Message("note_off", note=60, velocity=0, time=480))
    file = mido.MidiFile(ticks_per_beat=480)
    file.tracks.append(track)
    out = io.BytesIO()
    file.save(file=out)
    part = read_music(out.getvalue()).score.parts[0]
    tempos = [int(m.tempo.per_minute) for m in part.measures if m.tempo]
    assert tempos[:5] == [120, 120, 60, 60, 60]
    marks = [
        (m.index, int(d.tempo.per_minute)) for m in part.measures for d in m.directions if d.tempo
    ]
    assert marks[:2] == [(0, 120), (2, 60)]
    assert len(marks) <= 3
