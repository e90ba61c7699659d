"""Files that mean harm, or come from broken programs: some seventy kinds over all formats.

Each is made small in code and as large as it needs to be in bytes; none is kept in the repository.
"""

import gzip
import io
import struct
import zipfile
from collections.abc import Callable, Iterator

from bench.wind_score import wind_score
from crumb.demo.etude import clarinet_etude
from crumb.formats.musicxml.writer import write_part

_NOTE = (
    "<note><pitch><step>C</step><octave>5</octave></pitch><duration>1</duration>"
    "<voice>1</voice><type>quarter</type></note>"
)
_GRACE = "<note><grace/><pitch><step>C</step><octave>5</octave></pitch><voice>1</voice></note>"
_ATTRIBUTES = (
    "<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>4</beats>"
    "<beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef></attributes>"
)


def score(*measures: str, head: str = "", parts: int = 1) -> bytes:
    """A MusicXML score of these measures, in as many parts."""
    listed = "".join(
        f'<score-part id="P{p}"><part-name>Flute {p}</part-name></score-part>' for p in range(parts)
    )
    body = "".join(
        f'<part id="P{p}">'
        + "".join(
            f'<measure number="{n + 1}">{_ATTRIBUTES if n == 0 else ""}{text}</measure>'
            for n, text in enumerate(measures)
        )
        + "</part>"
        for p in range(parts)
    )
    return (
        f'<?xml version="1.0"?><score-partwise version="4.0">{head}<part-list>{listed}</part-list>'
        f"{body}</score-partwise>"
    ).encode()


_FULL = _NOTE * 4


def _repeat(times: str, *, forward: bool = False) -> str:
    begin = '<barline location="left"><repeat direction="forward"/></barline>' if forward else ""
    end = f'<barline location="right"><repeat direction="backward" times="{times}"/></barline>'
    return f"{begin}{_FULL}{end}"


def mxl(name: str, data: bytes, *, path: str = "score.xml", extra: int = 0) -> bytes:
    """A compressed container."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(
            "META-INF/container.xml",
            f'<container><rootfiles><rootfile full-path="{path}"/></rootfiles></container>',
        )
        archive.writestr(name, data)
        for number in range(extra):
            archive.writestr(f"x{number}", b"")
    return out.getvalue()


def _length(value: int) -> bytes:
    found = [value & 0x7F]
    while value := value >> 7:
        found.insert(0, value & 0x7F | 0x80)
    return bytes(found)


def midi(*tracks: bytes, division: int = 480, kind: int = 1) -> bytes:
    """A MIDI file of these tracks."""
    head = b"MThd" + struct.pack(">IHHH", 6, kind, len(tracks), division)
    return head + b"".join(b"MTrk" + struct.pack(">I", len(t)) + t for t in tracks)


_END = b"\x00\xff\x2f\x00"


def _notes(count: int, gap: int = 0, length: int = 240, key: int = 60) -> bytes:
    one = _length(gap) + bytes([0x90, key, 64]) + _length(length) + bytes([0x80, key, 0])
    return one * count


def _chords(count: int) -> bytes:
    on = b"".join(b"\x00" + bytes([0x90, key, 64]) for key in range(20, 120))
    off = _length(480) + bytes([0x80, 20, 0])
    off += b"".join(b"\x00" + bytes([0x80, key, 0]) for key in range(21, 120))
    return (on + off) * count


def _etude() -> bytes:
    return write_part(clarinet_etude()).encode()


def _entities() -> bytes:
    levels = "".join(
        f'<!ENTITY e{n} "{"&e" + str(n - 1) + ";" if n else "la" * 50}'.replace(
            f"&e{n - 1};", f"&e{n - 1};" * 10
        )
        + '">'
        for n in range(9)
    )
    return (
        f'<?xml version="1.0"?><!DOCTYPE score-partwise [{levels}]>'
        "<score-partwise>&e8;</score-partwise>"
    ).encode()


def _tuplets(depth: int) -> str:
    starts = "".join(f'<tuplet number="{n % 6 + 1}" type="start"/>' for n in range(depth))
    return (
        "<note><pitch><step>C</step><octave>5</octave></pitch><duration>1</duration><type>quarter"
        f"</type><time-modification><actual-notes>{3**20}</actual-notes><normal-notes>2"
        f"</normal-notes></time-modification><notations>{starts}</notations></note>"
    )


def _abc(body: str, head: str = "") -> bytes:
    return f"X:1\nT:Test\nM:4/4\nL:1/8\n{head}K:C\n{body}\n".encode()


def _mei(inside: str) -> bytes:
    return (
        '<?xml version="1.0"?><mei xmlns="http://www.music-encoding.org/ns/mei"><music><body><mdiv>'
        '<score><scoreDef><staffGrp><staffDef n="1" lines="5" clef.shape="G" clef.line="2" '
        f'meter.count="4" meter.unit="4"/></staffGrp></scoreDef><section>{inside}</section></score>'
        "</mdiv></body></music></mei>"
    ).encode()


def _mei_measure(n: int, content: str) -> str:
    return f'<measure n="{n}"><staff n="1"><layer n="1">{content}</layer></staff></measure>'


_MEI_NOTE = '<note pname="c" oct="5" dur="4"/>'

KINDS: dict[str, Callable[[], bytes]] = {
    # Repeats, which an engraver plays out.
    "a million times.musicxml": lambda: score(_repeat("1000000"), _FULL),
    "times beyond words.musicxml": lambda: score(_repeat("9" * 4000), _FULL),
    "times below zero.musicxml": lambda: score(_repeat("-5"), _FULL),
    "times in other digits.musicxml": lambda: score(_repeat("٣٣٣٣٣٣٣"), _FULL),
    "a hundred repeats of forty.musicxml": lambda: score(
        *[_repeat("40", forward=True) for _ in range(100)]
    ),
    "a thousand endings.musicxml": lambda: score(
        *[
            f'<barline location="left"><ending number="{n}" type="start"/></barline>{_FULL}'
            '<barline location="right"><repeat direction="backward"/></barline>'
            for n in range(1, 1000)
        ]
    ),
    "three thousand repeats.musicxml": lambda: score(*[_repeat("2")] * 3_000),
    "da capo for ever.musicxml": lambda: score(
        *[f'{_FULL}<direction><sound dacapo="yes"/></direction>'] * 800
    ),
    # Many of something.
    "half a million graces.musicxml": lambda: score(_GRACE * 500_000 + _FULL),
    "ten thousand graces.musicxml": lambda: score(_GRACE * 10_000 + _FULL),
    "a hundred thousand notes in a measure.musicxml": lambda: score(_NOTE * 100_000),
    "a chord of five thousand.musicxml": lambda: score(
        _NOTE + _NOTE.replace("<note>", "<note><chord/>") * 5_000
    ),
    "a thousand parts.musicxml": lambda: score(_FULL, parts=1000),
    "fifty thousand measures.musicxml": lambda: score(*[_FULL] * 50_000),
    "five thousand measures.musicxml": lambda: score(*[_FULL] * 5_000),
    "a hundred thousand measures.musicxml": lambda: score(*["<forward/>"] * 100_000),
    "a thousand voices.musicxml": lambda: score(
        "".join(
            _NOTE.replace("<voice>1<", f"<voice>{v}<") + "<backup><duration>1</duration></backup>"
            for v in range(1000)
        )
        + _FULL
    ),
    "a hundred thousand words.musicxml": lambda: score(
        "<direction><direction-type><words>loud</words></direction-type></direction>" * 100_000
        + _FULL
    ),
    "words of ten megabytes.musicxml": lambda: score(
        f"<direction><direction-type><words>{'la ' * 3_000_000}</words></direction-type>"
        f"</direction>{_FULL}"
    ),
    "a title of five megabytes.musicxml": lambda: score(
        _FULL, head=f"<work><work-title>{'x' * 5_000_000}</work-title></work>"
    ),
    "a part's name of a megabyte.musicxml": lambda: score(_FULL).replace(
        b"Flute 0", b"Flute" * 200_000
    ),
    "a lyric of a megabyte.musicxml": lambda: score(
        _NOTE.replace("</note>", f"<lyric><text>{'la' * 500_000}</text></lyric></note>") + _FULL
    ),
    "ten thousand slurs at once.musicxml": lambda: score(
        _NOTE.replace(
            "</note>",
            "<notations>"
            + "".join(f'<slur number="{n}" type="start"/>' for n in range(10_000))
            + "</notations></note>",
        )
        + _FULL
    ),
    "ten thousand key changes.musicxml": lambda: score(
        *[
            f"<attributes><key><fifths>{n % 7}</fifths></key></attributes>{_FULL}"
            for n in range(10_000)
        ]
    ),
    "ten thousand clefs in a measure.musicxml": lambda: score(
        "<attributes><clef><sign>F</sign><line>4</line></clef></attributes>" * 10_000 + _FULL
    ),
    # Numbers.
    "divisions beyond words.musicxml": lambda: score(_FULL).replace(
        b"<divisions>1<", b"<divisions>1e999999999<"
    ),
    "divisions of a thousand digits.musicxml": lambda: score(_FULL).replace(
        b"<divisions>1<", b"<divisions>" + b"7" * 1000 + b"<"
    ),
    "divisions of nothing.musicxml": lambda: score(_FULL).replace(
        b"<divisions>1<", b"<divisions>0<"
    ),
    "a duration without end.musicxml": lambda: score(
        _NOTE.replace("<duration>1<", "<duration>99999999999999999999<")
    ),
    "a duration below zero.musicxml": lambda: score(_NOTE.replace("<duration>1<", "<duration>-7<")),
    "an octave beyond hearing.musicxml": lambda: score(
        _NOTE.replace("<octave>5<", "<octave>900000000<")
    ),
    "a beat of nothing.musicxml": lambda: score(_FULL).replace(b"<beat-type>4<", b"<beat-type>0<"),
    "a meter of a billion.musicxml": lambda: score(_FULL).replace(
        b"<beats>4<", b"<beats>1000000000<"
    ),
    "a meter of a thousand sums.musicxml": lambda: score(_FULL).replace(
        b"<beats>4<", b"<beats>" + b"1+" * 100_000 + b"1<"
    ),
    "a key of a million sharps.musicxml": lambda: score(_FULL).replace(
        b"<fifths>0<", b"<fifths>1000000<"
    ),
    "tuplets inside tuplets.musicxml": lambda: score(_tuplets(2_000) + _FULL),
    "a tempo of nothing.musicxml": lambda: score(
        "<direction><direction-type><metronome><beat-unit>quarter</beat-unit><per-minute>0"
        f'</per-minute></metronome></direction-type><sound tempo="0"/></direction>{_FULL}'
    ),
    "a multiple rest of a billion.musicxml": lambda: score(
        f"<attributes><measure-style><multiple-rest>1000000000</multiple-rest></measure-style>"
        f"</attributes>{_FULL}"
    ),
    "a tempo of a billion.musicxml": lambda: score(f'<sound tempo="999999999999"/>{_FULL}'),
    "a transposition of a million.musicxml": lambda: score(_FULL).replace(
        b"</clef></attributes>",
        b"</clef><transpose><chromatic>1000000</chromatic></transpose></attributes>",
    ),
    "ninety staves.musicxml": lambda: score(_FULL).replace(
        b"<time>", b"<staves>900000</staves><time>"
    ),
    "a backup before the start.musicxml": lambda: score(
        f"<backup><duration>99999</duration></backup>{_FULL}"
    ),
    # The shape of the file.
    "one line of 39 megabytes.musicxml": lambda: (
        (wind_score(20, 400).replace(b"\n", b"") * 1)[:-17].ljust(39_000_000, b" ")
        + b"</score-partwise>"
    ),
    "deep.musicxml": lambda: score("<a>" * 200_000 + "</a>" * 200_000),
    "attributes without end.musicxml": lambda: score(
        "<note " + " ".join(f'a{n}="x"' for n in range(300_000)) + "/>"
    ),
    "comments without end.musicxml": lambda: b"<score-partwise>" + b"<!--" * 2_000_000,
    "an attribute of ten megabytes.musicxml": lambda: score(
        f'<note x="{"y" * 10_000_000}"/>{_FULL}'
    ),
    "entities.musicxml": _entities,
    "an entity from outside.musicxml": lambda: (
        b'<?xml version="1.0"?><!DOCTYPE score-partwise [<!ENTITY x SYSTEM "file:///etc/passwd">]>'
        b"<score-partwise>&x;</score-partwise>"
    ),
    "cut in the middle.musicxml": lambda: wind_score(10, 200)[:4_000_000],
    "wide letters.musicxml": lambda: (
        b"\xff\xfe" + (_etude()[:200_000]).decode().encode("utf-16-le")
    ),
    "another's namespace.musicxml": lambda: score(_FULL).replace(b"<note>", b"<x:note>"),
    "control characters.musicxml": lambda: score(_FULL).replace(b"Flute", b"Fl\x00\x01ute"),
    "a timewise storm.musicxml": lambda: (
        b"<score-timewise>"
        + b"".join(
            b'<measure number="%d">' % n
            + b"".join(b'<part id="P%d"/>' % p for p in range(200))
            + b"</measure>"
            for n in range(2_000)
        )
        + b"</score-timewise>"
    ),
    # Containers.
    "a bomb.mxl": lambda: mxl("score.xml", b"<score-partwise>" + b"\0" * 400_000_000),
    "a bomb of spaces.mxl": lambda: mxl(
        "score.xml", b"<score-partwise>" + b" " * 119_000_000 + b"</score-partwise>"
    ),
    "a thousand files.mxl": lambda: mxl("score.xml", score(_FULL), extra=1_000),
    "a way out.mxl": lambda: mxl("../../etc/score.xml", score(_FULL), path="../../etc/score.xml"),
    "no contents.mxl": lambda: mxl("score.xml", score(_FULL)).replace(b"META-INF", b"META-OUT"),
    "cut off.mxl": lambda: mxl("score.xml", _etude())[:2_000],
    "a zip in a zip.mxl": lambda: mxl("score.xml", mxl("score.xml", b"x" * 10_000_000)),
    "gzip.mxl": lambda: gzip.compress(score(_FULL)),
    # MIDI.
    "five hundred tracks far apart.mid": lambda: midi(
        *[_notes(3, gap=480 * 4 * 4_000) + _END for _ in range(500)]
    ),
    "150,000 key signatures.mid": lambda: midi(
        (b"\x00\xff\x59\x02\x01\x00" + b"\x01\xff\x59\x02\x00\x00") * 75_000 + _notes(1_000) + _END
    ),
    "20,000 notes in a track.mid": lambda: midi(_notes(20_000) + _END),
    "390,000 events.mid": lambda: midi(_notes(195_000, length=12) + _END),
    "chords of a hundred.mid": lambda: midi(_chords(1_000) + _END),
    "20,000 meters.mid": lambda: midi(
        b"\x00\xff\x58\x04\x04\x02\x18\x08" + b"\x60\xff\x58\x04\x03\x03\x18\x08" * 20_000,
        _notes(2_000) + _END,
    ),
    "a meter of nothing.mid": lambda: midi(
        b"\x00\xff\x58\x04\x00\x02\x18\x08" + _notes(100) + _END
    ),
    "a meter of the smallest.mid": lambda: midi(
        b"\x00\xff\x58\x04\x01\xff\x18\x08" + _notes(100) + _END
    ),
    "a note that never ends.mid": lambda: midi(b"\x00\x90\x3c\x40" + _END),
    "a gap of a lifetime.mid": lambda: midi(_notes(2, gap=0x0FFFFFFF) + _END),
    "one tick a quarter.mid": lambda: midi(_notes(3_000, length=1) + _END, division=1),
    "32,767 ticks a quarter.mid": lambda: midi(_notes(3_000, length=7919) + _END, division=32_767),
    "frames in place of quarters.mid": lambda: midi(_notes(10) + _END, division=0xE728),
    "tracks without end.mid": lambda: (
        b"MThd"
        + struct.pack(">IHHH", 6, 1, 65_535, 480)
        + (b"MTrk" + struct.pack(">I", 4) + _END) * 20_000
    ),
    "a track longer than the file.mid": lambda: (
        b"MThd\x00\x00\x00\x06\x00\x01\x00\x01\x01\xe0MTrk"
        + struct.pack(">I", 0xFFFFFFF0)
        + _notes(10)
    ),
    "a text of fifteen megabytes.mid": lambda: midi(
        b"\x00\xff\x03" + _length(15_000_000) + b"x" * 15_000_000 + _notes(10) + _END
    ),
    # ABC and MEI.
    "a hundred thousand notes.abc": lambda: _abc("CDEFGABc|" * 12_000),
    "repeats.abc": lambda: _abc("|:" * 5_000 + "CDEF GABc" + ":|" * 5_000),
    "macros.abc": lambda: _abc("n" * 2_000, "m: n = " + "CD" * 1_000 + "\n"),
    "brackets.abc": lambda: _abc("[" * 100_000 + "C" + "]" * 100_000),
    "tuplets.abc": lambda: _abc("(9:9:9" * 50_000 + "C"),
    "numbers.abc": lambda: _abc("C" + "9" * 100_000),
    "a line of three megabytes.abc": lambda: _abc("C" * 3_000_000),
    "five thousand measures.mei": lambda: _mei(
        "".join(_mei_measure(n, _MEI_NOTE * 4) for n in range(1, 5_000))
    ),
    "deep layers.mei": lambda: _mei(
        _mei_measure(1, "<beam>" * 3_000 + _MEI_NOTE + "</beam>" * 3_000)
    ),
    "a dur of nothing.mei": lambda: _mei(_mei_measure(1, '<note pname="c" oct="5" dur="0"/>')),
    # Not music at all.
    "a picture.musicxml": lambda: b"\x89PNG\r\n\x1a\n" + bytes(range(256)) * 4_000,
    "a page.musicxml": lambda: b"<html>" + b"<p>music</p>" * 100_000 + b"</html>",
    "nothing but zeros.mid": lambda: bytes(5_000_000),
    "half a head.mid": lambda: b"MThd\x00\x00",
}


def files() -> Iterator[tuple[str, bytes]]:
    """Every kind by its file name."""
    for name, make in KINDS.items():
        yield name, make()
