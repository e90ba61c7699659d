"""Broken, hostile and foreign files: refused quickly, with a sentence that says what is wrong."""

import io
import resource
import zipfile

import pytest

from crumb.core.errors import UnreadableFile
from crumb.demo.etude import clarinet_etude
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import read_music
from tests import pace

GOOD = write_part(clarinet_etude()).encode()
CONTAINER = '<container><rootfiles><rootfile full-path="{path}"/></rootfiles></container>'


def an_mxl(files: dict[str, bytes], root: str = "score.xml") -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("META-INF/container.xml", CONTAINER.format(path=root))
        for name, data in files.items():
            archive.writestr(name, data)
    return out.getvalue()


BOMB = b"""<?xml version="1.0"?><!DOCTYPE score-partwise [
<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">
<!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;&b;&b;">]><score-partwise>&c;</score-partwise>"""
OUTSIDE = b"""<?xml version="1.0"?><!DOCTYPE score-partwise [
<!ENTITY x SYSTEM "file:///etc/hostname">]><score-partwise>&x;</score-partwise>"""
MANY = b'<score-partwise><part id="P1">' + b"<measure/>" * 100_000 + b"</part></score-partwise>"

MANY_RESTS = (
    '<mei xmlns="http://www.music-encoding.org/ns/mei"><music><body><mdiv><score><scoreDef>'
    f"<staffGrp>{''.join(f'<staffDef n={chr(34)}{n}{chr(34)}/>' for n in range(1, 200))}</staffGrp>"
    "</scoreDef><section>"
    + '<measure><staff n="1"><layer><multiRest num="500"/></layer></staff></measure>' * 30
    + "</section></score></mdiv></body></music></mei>"
).encode()
FILES = {
    "empty": (b"", "empty"),
    "a PDF named .xml": (b"%PDF-1.7 something", "PDF"),
    "a MIDI file": (b"MThd\x00\x00\x00\x06", "MIDI"),
    "a MIDI file of nothing": (
        b"MThd\x00\x00\x00\x06\x00\x00\x00\x01\x01\xe0MTrk\x00\x00\x00\x04\x00\xff/\x00",
        "no note",
    ),
    "MEI with entities": (b'<!DOCTYPE mei [<!ENTITY a "a">]><mei>&a;</mei>', "entities"),
    "MEI of rests": (MANY_RESTS, "far more measures"),
    "MEI of nothing": (b"<mei></mei>", "no score"),
    "ABC of nothing": (b"X:1\nT:Nothing\nK:C\n", "cannot be read|no note|no measure"),
    "ABC without end": (b"X:1\nK:C\n" + b"C" * 5_000_000, "longer than any piece"),
    "words": (b"Dear director, here is the part.", "not a MusicXML"),
    "another kind of XML": (b"<html><body/></html>", "not a score"),
    "cut off": (GOOD[: len(GOOD) // 2], "cut off"),
    "an entity bomb": (BOMB, "entities"),
    "an outside entity": (OUTSIDE, "entities"),
    "an entity bomb in wide letters": (BOMB.decode().encode("utf-16"), "entities"),
    "wrong encoding": (b'<?xml version="1.0" encoding="utf-8"?><score-partwise>\xff\xfe', "broken"),
    "a hundred thousand measures": (MANY, "more than"),
    "no measures": (b"<score-partwise><part id='P1'/></score-partwise>", "no measure"),
    "no notes": (
        b"<score-partwise><part id='P1'><measure number='1'/></part></score-partwise>",
        "no note",
    ),
    "instructions that never end": (
        b"<score-partwise>" + b"<?" * 3_000_000 + b"</score-partwise>",
        "broken",
    ),
    "comments that never end": (
        b"<score-partwise>" + b"<!--" * 2_000_000 + b"</score-partwise>",
        "broken",
    ),
    "a comment in a tag": (
        GOOD.replace(b"<measure ", b"<measure <!-- here --> ", 1),
        "broken",
    ),
    "a million empty parts": (
        b"<score-partwise>"
        + b"".join(b'<part id="%d"></part>' % i for i in range(1_000_000))
        + b"</score-partwise>",
        "no measure",
    ),
    "attributes that never end": (
        b'<score-partwise><part id="P1"><measure number="1"><note'
        + b' a="' * 2_000_000
        + b"></note></measure></part></score-partwise>",
        "broken",
    ),
    "too deep": (
        b"<score-partwise>" + b"<a>" * 5000 + b"</a>" * 5000 + b"</score-partwise>",
        "nested|broken",
    ),
    "a zip bomb": (an_mxl({"score.xml": b" " * 50_000_000}), "far more"),
    "a path out of the container": (an_mxl({"x.xml": GOOD}, "../../etc/passwd"), "does not hold"),
    "a container without a table": (
        an_mxl({"score.xml": GOOD}).replace(b"META-INF", b"META-INX"),
        "not a MusicXML container|broken",
    ),
    "a broken container": (an_mxl({"score.xml": GOOD})[:400], "broken"),
    "too many files": (an_mxl({f"{i}.xml": b"" for i in range(300)}), "more than"),
}


@pytest.mark.parametrize("kind", FILES)
def test_it_is_refused_with_the_reason(kind: str):
    data, reason = FILES[kind]
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss

    def read():
        with pytest.raises(UnreadableFile, match=reason) as refusal:
            read_music(data)
        assert refusal.value.message.endswith(".")

    assert pace.seconds(read) < 700 * pace.sums()  # less than the box of a job allows
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 300_000  # kilobytes


def test_a_good_container_is_read():
    score = read_music(an_mxl({"score.xml": GOOD})).score
    assert len(score.parts[0].measures) == 65


RAISED = [
    ('<slur type="start" number="1"', '<slur type="start" number="²"'),
    ("<clef>", '<clef number="²">'),
]


@pytest.mark.parametrize(("plain", "raised"), RAISED)
def test_a_raised_digit_in_a_number_that_decides_little_is_read_as_usual(plain: str, raised: str):
    xml = write_part(clarinet_etude())
    hostile = xml.replace(plain, raised)
    assert hostile != xml
    found = read_music(hostile.encode()).score.parts[0]
    assert found.attack_count == clarinet_etude().attack_count


@pytest.mark.parametrize("tag", ["beat-type", "octave", "fifths"])
def test_a_raised_digit_in_a_number_that_matters_is_refused_in_words(tag: str):
    xml = write_part(clarinet_etude())
    start = xml.index(f"<{tag}>") + len(tag) + 2
    with pytest.raises(UnreadableFile, match="²"):
        read_music(f"{xml[:start]}²{xml[xml.index('<', start) :]}".encode())
