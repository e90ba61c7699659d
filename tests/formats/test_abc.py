"""ABC held to the standard: ABC 2.1 (December 2011), by section; examples from memory of it."""

from fractions import Fraction

import pytest

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Part
from crumb.core.score.playing import playing_order
from crumb.formats.abc.reader import read_abc
from crumb.formats.reading import read_music
from tests.builders import reread
from tests.printed_signs import wrongly_signed

F = Fraction


def tune(
    body: str, *, key: str = "C", meter: str = "4/4", unit: str = "1/4", head: str = ""
) -> Part:
    text = f"X:1\nT:Test\n{head}M:{meter}\nL:{unit}\nK:{key}\n{body}\n"
    part = read_abc(text.encode())[0].parts[0]
    assert wrongly_signed(part) == []
    assert reread(part).attack_count == part.attack_count
    return part


def pitches(part: Part) -> str:
    return " ".join(n.pitch.name for _, n in part.each_note() if n.pitch)


def lengths(part: Part) -> list[Fraction]:
    return [n.duration for _, n in part.each_note()]


@pytest.mark.parametrize(
    ("body", "key", "names"),
    [
        ("C, C c c' c''", "C", "C3 C4 C5 C6 C7"),  # 4.1
        ("C,,, C' c, c,,", "C", "C1 C5 C4 C3"),  # 4.1: marks may correct each other
        ("^c =c _c ^^c __c", "C", "C#5 C5 Cb5 C##5 Cbb5"),  # 4.2
        ("_B2 B2|B4", "D", "Bb4 Bb4 B4"),  # 4.2: until the bar line
        ("^F4 F4|F4", "C", "F#4 F#4 F4"),
        ("^F f|f", "C", "F#4 F#5 F5"),  # 11.3: propagate-accidentals, pitch by default
        ("^F2-|F F", "C", "F#4 F#4 F4"),  # tied over the bar line, for itself alone
        ("=F F|F", "G", "F4 F4 F#4"),
        ("F C", "Dmix", "F#4 C4"),  # 4.6: keys and modes
        ("F C B", "Ador", "F#4 C4 B4"),
        ("B E", "Gm", "Bb4 Eb4"),
        ("B E F", "D phrygian", "Bb4 Eb4 F4"),
        ("F C G", "HP", "F4 C4 G4"),
        ("F C G", "Hp", "F#4 C#4 G4"),
        ("F c G", "D =c", "F#4 C5 G4"),  # explicit accidentals in the key
        ("F B", "none", "F4 B4"),
    ],
)
def test_pitches(body: str, key: str, names: str):
    assert pitches(tune(body, key=key)) == names


def test_accidentals_hold_in_their_octave_where_a_tune_says_so():
    assert pitches(tune("^F f", head="I:propagate-accidentals octave\n")) == "F#4 F5"


@pytest.mark.parametrize(
    ("body", "unit", "values"),
    [
        ("A/2 A/ A// A3/2 A2 A", "1/8", "1/4 1/4 1/8 3/4 1 1/2"),  # 4.3
        ("A>B A<B A>>B", "1/8", "3/4 1/4 1/4 3/4 7/8 1/8"),  # 4.4: broken rhythm
        ("(3ABA (3:2:2A2B", "1/8", "1/3 1/3 1/3 2/3 1/3"),  # 4.13
        ("(5ABABA", "1/8", "1/5 1/5 1/5 1/5 1/5"),
        ("(2AB", "1/8", "3/4 3/4"),
        ("z2 x z/ C/", "1/4", "2 1 1/2 1/2"),  # 4.5
        ("[CEG]2 [C2E2G2]", "1/4", "2 2 2 2 2 2"),  # 4.17
    ],
)
def test_lengths(body: str, unit: str, values: str):
    assert lengths(tune(body, unit=unit)) == [F(v) for v in values.split()]


@pytest.mark.parametrize(
    ("meter", "unit"),
    [("2/4", F(1, 4)), ("3/4", F(1, 2)), ("6/8", F(1, 2)), ("C", F(1, 2)), ("none", F(1, 2))],
)
def test_the_unit_where_none_is_said(meter: str, unit: Fraction):
    text = f"X:1\nM:{meter}\nK:C\nA|\n"
    (part,) = read_abc(text.encode())[0].parts
    assert lengths(part)[0] == unit


def test_bars_of_rest_are_counted():
    part = tune("C4|Z2|D4|Z|", meter="4/4")  # 4.5
    assert [m.length for m in part.measures] == [4] * 5
    assert [m.number for m in part.measures] == ["1", "2", "3", "4", "5"]


def test_key_meter_and_unit_change_inside_a_tune():
    part = tune("F4|[K:G]F4|[M:3/4]F3|F [L:1/8]F2 [K:F]B2|", key="C")
    assert pitches(part) == "F4 F#4 F#4 F#4 F#4 Bb4"
    assert [m.time.text for m in part.measures] == ["4/4", "4/4", "3/4", "3/4"]
    assert [m.key.fifths for m in part.measures] == [0, 1, 1, 1]
    assert [(c.at, c.key.fifths) for c in part.measures[3].changes if c.key] == [(2, -1)]


def test_a_pickup_and_repeats_with_endings():
    part = tune("A|:d2 d2|c2 c2|1 B4:|2 A4|]", meter="4/4")
    assert part.has_pickup
    assert [m.number for m in part.measures] == ["0", "1", "2", "3", "4"]
    assert playing_order(part) == [0, 1, 2, 3, 1, 2, 4]


def test_voices_are_parts_and_their_ids_stay(tmp_path):
    text = (
        b'X:1\nT:Duet\nM:4/4\nL:1/4\nV:1 name="Flute"\nV:2 name="Bassoon" clef=bass\nK:C\n'
        b"V:1\ncdef|\nV:2\nC,D,E,F,|\n[V:1] g4|\n[V:2] G,4|\n"
    )
    one, two = read_music(text), read_music(text)
    assert one.score == two.score
    flute, bassoon = one.score.parts
    assert (flute.id, flute.name, pitches(flute)) == ("P1", "Flute", "C5 D5 E5 F5 G5")
    assert (bassoon.id, bassoon.name, pitches(bassoon)) == ("P2", "Bassoon", "C3 D3 E3 F3 G3")
    assert bassoon.measures[0].clefs[0].sign == "F"


def test_the_first_tune_is_read_and_the_others_are_told():
    reading = read_music(b"X:1\nT:One\nK:C\nC|\n\nX:2\nT:Two\nK:D\nD|\n")
    assert reading.score.title == "One"
    assert reading.remarks == ("There are 2 tunes in this file; the first was read.",)


def test_slurs_ties_graces_marks_words_and_lyrics():
    part = tune(
        '"^slowly"(A {/c}B) .c !trill!d|!mf!~e Hf "Am"g2-|g4|\nw: one two~too three-ee * sev- en\n'
    )
    notes = [n for _, n in part.each_note()]
    assert [n.lyric for n in notes if not n.grace][:4] == ["one", "two too", "three-", "-ee"]
    assert [(s.end) for n in notes for s in n.slurs] == ["start", "stop"]
    assert [n.grace for n in notes if n.grace] == ["slashed"]
    assert {"staccato"} == {a for n in notes for a in n.articulations}
    assert [o for n in notes for o in n.ornaments] == ["trill-mark", "turn"]
    assert sum(n.fermata for n in notes) == 1
    assert [n.tie for n in notes if n.pitch and n.pitch.name == "G5"] == ["start", "stop"]
    kinds = {(d.kind, d.text) for m in part.measures for d in m.directions}
    assert {("words", "slowly"), ("dynamic", "mf")} <= kinds


def test_a_note_of_two_values_is_marked_slurred_and_sung_once():
    part = tune("(!tenuto!A5 HB5)|\nw: one two", meter="none", unit="1/4")
    notes = [n for _, n in part.each_note()]
    assert [n.duration for n in notes] == [4, 1, 4, 1]
    assert [n.lyric for n in notes] == ["one", "", "two", ""]
    assert [n.articulations for n in notes] == [("tenuto",), (), (), ()]
    assert [n.fermata for n in notes] == [False, False, False, True]
    assert [[s.end for s in n.slurs] for n in notes] == [["start"], [], [], ["stop"]]


def test_a_tie_that_leads_to_another_pitch_is_none():
    part = tune("^A-^B A2")
    assert [n.tie for _, n in part.each_note()] == [None, None, None]
    assert pitches(part) == "A#4 B#4 A#4"


def test_accidentals_hold_for_their_note_alone_where_a_tune_says_so():
    assert pitches(tune("^F F", head="I:propagate-accidentals not\n")) == "F#4 F4"


def test_tempos():
    assert tune("A", head="Q:1/4=96\n").measures[0].tempo.per_minute == 96
    assert tune("A", head='Q:"Lively" 3/8=84\n').measures[0].tempo.beat == F(3, 2)
    part = tune("A4|[Q:1/4=60]A4|", head="Q:1/4=120\n")
    assert [m.tempo.per_minute for m in part.measures] == [120, 60]


def test_comments_directives_and_line_ends_say_nothing():
    part = tune('A B % a comment\n%%MIDI program 1\n"^100 % sure"c \\\nd|\nr: a remark')
    assert pitches(part) == "A4 B4 C5 D5"


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ("A & B|", "over each other"),
        ("A #$? B|", "which is no ABC"),
        ("[M:4/5]A|", "makes no sense"),
        ("A0|", "makes no sense"),
        ("z4|", "no note"),
    ],
)
def test_what_cannot_be_read_is_said(body: str, said: str):
    with pytest.raises(UnreadableFile, match=said):
        tune(body)


def test_a_measure_that_a_repeat_cuts_is_counted_once():
    """ABC 2.1, 4.8: repeats may stand inside a measure; common practice counts it once."""
    (part,) = read_abc(b"X:1\nT:T\nM:2/4\nL:1/4\nK:C\nG|c c|d:|:e|f f|g:|\n")[0].parts
    assert [m.number for m in part.measures] == ["0", "1", "2", "2", "3", "4"]
    assert [m.lead for m in part.measures] == [0, 0, 0, 1, 0, 0]
