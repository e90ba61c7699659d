"""Reading and writing MusicXML: small files, written out here."""

import contextlib
import re
from fractions import Fraction
from pathlib import Path

import pytest

from crumb.core.errors import EmptySpan, UnreadableFile
from crumb.core.score.model import Clef, Part
from crumb.core.score.position import Position, Span
from crumb.core.score.slicing import slice_span
from crumb.demo.auditions import trombone_etude, violin_etude
from crumb.demo.etude import clarinet_etude
from crumb.demo.reel import reel
from crumb.formats.musicxml.container import plain_xml
from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part
from tests.builders import F, reread
from tests.formats.corpus_reading import corpus_files
from tests.printed_signs import wrongly_signed


def a_file(body: str, *, head: str = "") -> bytes:
    return (
        '<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1">'
        f'<part-name>Viola</part-name></score-part></part-list>{head}<part id="P1">{body}</part>'
        "</score-partwise>"
    ).encode()


def note(
    step: str = "C", octave: int = 4, duration: int = 1, extra: str = "", kind: str = "quarter"
):
    return (
        f"<note><pitch><step>{step}</step><octave>{octave}</octave></pitch>"
        f"<duration>{duration}</duration><type>{kind}</type>{extra}</note>"
    )


ATTRIBUTES = (
    "<attributes><divisions>1</divisions><key><fifths>2</fifths></key>"
    "<time><beats>3</beats><beat-type>4</beat-type></time>"
    "<clef><sign>C</sign><line>3</line></clef></attributes>"
)


def test_clef_key_time_and_tempo_stay_in_force_until_they_change():
    tempo = (
        "<direction><direction-type><metronome><beat-unit>quarter</beat-unit><beat-unit-dot/>"
        "<per-minute>72</per-minute></metronome></direction-type></direction>"
    )
    change = "<attributes><time><beats>6</beats><beat-type>8</beat-type></time></attributes>"
    score = read_score(
        a_file(
            f'<measure number="1">{ATTRIBUTES}{tempo}{note() * 3}</measure>'
            f'<measure number="2">{note() * 3}</measure>'
            f'<measure number="3">{change}{note() * 3}</measure>'
        )
    )
    first, second, third = score.parts[0].measures
    assert (second.time.text, second.key.fifths, second.clefs) == ("3/4", 2, (Clef("C", 3),))
    assert second.tempo is not None
    assert (second.tempo.beat, second.tempo.per_minute, second.tempo.quarters) == (F(3, 2), 72, 108)
    assert (third.time.text, third.time.beat) == ("6/8", F(3, 2))
    assert first.number == "1"


def test_a_pickup_is_short_and_keeps_its_printed_number():
    score = read_score(
        a_file(
            f'<measure number="0" implicit="yes">{ATTRIBUTES}{note()}</measure>'
            f'<measure number="1">{note() * 3}</measure>'
            f'<measure number="12a">{note() * 3}</measure>'
        )
    )
    part = score.parts[0]
    assert part.has_pickup
    assert [m.number for m in part.measures] == ["0", "1", "12a"]
    assert [m.length for m in part.measures] == [1, 3, 3]


def test_voices_chords_and_graces_stand_where_they_sound():
    backup = "<backup><duration>3</duration></backup>"
    grace = (
        '<note><grace slash="yes"/><pitch><step>D</step><octave>5</octave></pitch>'
        "<type>eighth</type></note>"
    )
    chord = (
        "<note><chord/><pitch><step>E</step><octave>4</octave></pitch><duration>1</duration></note>"
    )
    low = note("G", 3, 3, "<voice>2</voice>", "half")
    score = read_score(
        a_file(
            f'<measure number="1">{ATTRIBUTES}{grace}{note()}{chord}{note() * 2}'
            f"{backup}{low}</measure>"
        )
    )
    part = score.parts[0]
    (measure,) = part.measures
    placed = [(n.at, n.pitch.name, n.grace) for n in measure.notes if n.pitch]
    assert placed == [
        (F(0), "D5", "slashed"),
        (F(0), "C4", ""),
        (F(0), "E4", ""),
        (F(1), "C4", ""),
        (F(2), "C4", ""),
        (F(0), "G3", ""),
    ]
    assert part.attack_count == 5  # each chord member counts, the grace note does not
    assert measure.length == 3


def test_a_transposing_part_knows_what_sounds():
    score = read_score(write_part(clarinet_etude()).encode())
    part = score.parts[0]
    assert (part.transposition.diatonic, part.transposition.chromatic) == (-1, -2)


@pytest.mark.parametrize("number", ["1e9", "1e999999999", "x", "", "--1", "0x10", "9" * 30])
def test_a_bad_number_is_refused_with_its_place(number: str):
    with pytest.raises(UnreadableFile, match="measure 7"):
        read_score(
            a_file(
                f'<measure number="7">{ATTRIBUTES}{note().replace(">1<", f">{number}<")}</measure>'
            )
        )


@pytest.mark.parametrize(
    ("part", "measures"),
    [
        (clarinet_etude(), 65),
        (trombone_etude().part, 33),
        (violin_etude().part, 33),
        *((part, 41) for part in reel().parts),
    ],
    ids=lambda one: getattr(one, "name", None),
)
def test_what_we_write_comes_back_the_same(part: Part, measures: int):
    back = reread(part)
    assert len(back.measures) == len(part.measures) == measures
    for ours, theirs in zip(part.measures, back.measures, strict=True):
        assert (ours.number, ours.length, ours.key, ours.time) == (
            theirs.number,
            theirs.length,
            theirs.key,
            theirs.time,
        )
        for a, b in zip(ours.notes, theirs.notes, strict=True):
            assert (
                a.at,
                a.duration,
                a.pitch,
                a.in_chord,
                a.tie,
                a.slurs,
                a.articulations,
                a.beams,
            ) == (
                b.at,
                b.duration,
                b.pitch,
                b.in_chord,
                b.tie,
                b.slurs,
                b.articulations,
                b.beams,
            )
    assert reread(back) == back


def test_timewise_files_are_turned_part_by_part():
    xml = a_file("").decode()
    body = f'<measure number="1"><part id="P1">{ATTRIBUTES}{note() * 3}</part></measure>'
    timewise = xml.replace("score-partwise", "score-timewise").replace(
        '<part id="P1"></part>', body
    )
    assert read_score(timewise.encode()).parts[0].attack_count == 3


def test_musical_time_is_never_a_float():
    part = reread(clarinet_etude())
    for measure in part.measures:
        assert isinstance(measure.length, Fraction)
        assert all(isinstance(x, Fraction) for n in measure.notes for x in (n.at, n.duration))


SIGNLESS = re.compile(rb"<accidental[^>]*>[^<]*</accidental>")


@pytest.mark.parametrize("path", corpus_files()[::29], ids=lambda p: p.name)
def test_files_that_leave_accidentals_out_are_engraved_with_them(path: Path):
    """MusicXML 4.0: ``<alter>`` is the pitch; ``<accidental>`` may be left to the program."""
    data = plain_xml(path.read_bytes())
    for part in read_score(SIGNLESS.sub(b"", data)).parts:
        assert wrongly_signed(part) == []
        for first in range(0, len(part.measures), 5):
            whole = Span(Position(first, Fraction(0)), Position(first + 1, Fraction(0)))
            with contextlib.suppress(EmptySpan):
                assert wrongly_signed(slice_span(part, whole)) == []


def _tuplets(durations: list[int], actual: int, normal: int, divisions: int, kind: str) -> bytes:
    change = (
        f"<time-modification><actual-notes>{actual}</actual-notes>"
        f"<normal-notes>{normal}</normal-notes></time-modification>"
    )
    notes = "".join(note(duration=d, kind=kind, extra=change) for d in durations)
    head = f"<attributes><divisions>{divisions}</divisions></attributes>"
    rest = f"<note><rest/><duration>{divisions * 2}</duration></note>"
    return a_file(f'<measure number="1">{head}{notes}{rest}</measure>')


@pytest.mark.parametrize(
    ("durations", "actual", "normal", "divisions", "kind"),
    [
        ([341, 342, 341] * 2, 3, 2, 1024, "eighth"),
        ([341, 341, 341] * 2, 3, 2, 1024, "eighth"),  # what is over was dropped
        ([342, 341, 341] * 2, 3, 2, 1024, "eighth"),
        ([205, 205, 204, 205, 205] * 2, 5, 4, 1024, "16th"),
        ([69, 68, 69, 68, 69, 68, 69] * 2, 7, 4, 480, "16th"),
    ],
)
def test_rounded_tuplets_are_what_was_meant(durations, actual, normal, divisions, kind):
    """MusicXML 4.0: ``<time-modification>``; many programs write 1024 divisions to a quarter."""
    part = read_score(_tuplets(durations, actual, normal, divisions, kind)).parts[0]
    (measure,) = part.measures
    notes = [n for n in measure.notes if n.pitch]
    unit = F(1, actual)
    assert [n.duration for n in notes] == [unit] * len(durations)
    assert [n.at for n in notes] == [unit * place for place in range(len(durations))]
    assert measure.notes[-1].at == 2
    assert measure.length == 4
    assert reread(part) == part


def test_what_is_off_by_more_than_rounding_is_kept_as_the_file_has_it():
    part = read_score(_tuplets([2, 2, 2], 3, 2, 4, "eighth")).parts[0]
    assert [n.duration for n in part.measures[0].notes if n.pitch] == [F(1, 2)] * 3
