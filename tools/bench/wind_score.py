"""A wind score made for measuring: twenty parts of four hundred measures, all kinds of notation."""

from collections.abc import Iterator
from random import Random

PARTS = (
    ("Flute 1", 0, 0, "G"),
    ("Flute 2", 0, 0, "G"),
    ("Oboe", 0, 0, "G"),
    ("Clarinet in Bb 1", -1, -2, "G"),
    ("Clarinet in Bb 2", -1, -2, "G"),
    ("Clarinet in Bb 3", -1, -2, "G"),
    ("Bass Clarinet", -8, -14, "G"),
    ("Bassoon", 0, 0, "F"),
    ("Alto Saxophone", -5, -9, "G"),
    ("Tenor Saxophone", -8, -14, "G"),
    ("Baritone Saxophone", -12, -21, "G"),
    ("Trumpet in Bb 1", -1, -2, "G"),
    ("Trumpet in Bb 2", -1, -2, "G"),
    ("Horn in F 1", -4, -7, "G"),
    ("Horn in F 2", -4, -7, "G"),
    ("Trombone 1", 0, 0, "F"),
    ("Trombone 2", 0, 0, "F"),
    ("Euphonium", 0, 0, "F"),
    ("Tuba", 0, 0, "F"),
    ("Snare Drum", 0, 0, "percussion"),
)
_STEPS = "CDEFGAB"
_SHAPES = (  # note lengths in sixteenths that fill a measure of four
    (4, 4, 4, 4),
    (2,) * 8,
    (1,) * 16,
    (4, 2, 2, 4, 2, 2),
    (8, 4, 4),
    (3, 1, 3, 1, 4, 4),
    (1, 1, 2, 1, 1, 2, 4, 4),
    (16,),
    (2, 2, 1, 1, 1, 1, 2, 2, 4),
)
_THEMES = 240
_TYPES = {1: "16th", 2: "eighth", 3: "eighth", 4: "quarter", 8: "half", 16: "whole"}


def wind_score(parts: int = len(PARTS), measures: int = 400, *, comes_back: bool = True) -> bytes:
    """The score as MusicXML; the same bytes every time.

    Args:
        parts: how many.
        measures: of each.
        comes_back: much of it comes again, in its own part and in others, as in most scores; else
            hardly a measure is like another.
    """
    return "".join(_lines(parts, measures, comes_back=comes_back)).encode()


def _lines(parts: int, measures: int, *, comes_back: bool) -> Iterator[str]:
    yield '<?xml version="1.0" encoding="UTF-8"?>\n<score-partwise version="4.0">\n'
    yield "  <work><work-title>Measured March</work-title></work>\n  <part-list>\n"
    for i in range(parts):
        name = PARTS[i % len(PARTS)][0]
        yield f'    <score-part id="P{i + 1}"><part-name>{name}</part-name></score-part>\n'
    yield "  </part-list>\n"
    for i in range(parts):
        yield f'  <part id="P{i + 1}">\n'
        for m in range(measures):
            # Themes of eight measures that come back, so that there is kin to find.
            theme = m % 48 * 5 + i % 4 if comes_back else _THEMES + i * measures + m
            yield _measure(i, m, theme)
        yield "  </part>\n"
    yield "</score-partwise>\n"


def _attributes(part: int) -> str:
    _, diatonic, chromatic, clef = PARTS[part % len(PARTS)]
    line = {"G": "<line>2</line>", "F": "<line>4</line>"}.get(clef, "")
    moved = (
        f"<transpose><diatonic>{diatonic}</diatonic><chromatic>{chromatic}</chromatic></transpose>"
        if chromatic
        else ""
    )
    return (
        "      <attributes>\n        <divisions>12</divisions>\n"
        f"        <key><fifths>{(-chromatic * 7) % 12 % 5 - 2}</fifths></key>\n"
        "        <time><beats>4</beats><beat-type>4</beat-type></time>\n"
        f"        <clef><sign>{clef}</sign>{line}</clef>{moved}\n      </attributes>\n"
    )


def _measure(part: int, measure: int, theme: int) -> str:
    text = [f'    <measure number="{measure + 1}" width="240.5">\n']
    if measure == 0:
        text.append(_attributes(part))
        text.append(
            '      <direction placement="above"><direction-type><metronome><beat-unit>quarter'
            "</beat-unit><per-minute>108</per-minute></metronome></direction-type></direction>\n"
        )
    if measure % 16 == 0:
        letter = chr(65 + measure // 16 % 26)
        text.append(
            f"      <direction><direction-type><rehearsal>{letter}</rehearsal></direction-type>"
            "</direction>\n"
        )
    if (measure + part) % 7 == 0:
        text.append(
            '      <direction placement="below"><direction-type><dynamics><mf/></dynamics>'
            "</direction-type></direction>\n"
        )
    if (measure * 3 + part) % 11 == 0:
        text.append(
            '      <note><rest measure="yes"/><duration>48</duration><voice>1</voice></note>\n'
        )
    else:
        at = 0
        for k, length in enumerate(_SHAPES[theme % len(_SHAPES)]):
            text.append(_note(part, theme, k, at, length))
            at += length
    text.append("    </measure>\n")
    return "".join(text)


def _note(part: int, theme: int, k: int, at: int, length: int) -> str:
    if theme < _THEMES:
        height = 30 + (theme * 7 + k * (3 if theme % 3 else 1) + (k * k) % 5) % 12 - part % 3
    else:
        height = 28 + Random(theme * 100 + k).randrange(14)  # noqa: S311 - any notes will do
    step, octave = _STEPS[height % 7], height // 7
    where = f'default-x="{80.5 + 12 * at}" default-y="-{10 + height % 7 * 5}.00"'
    if PARTS[part % len(PARTS)][3] == "percussion":
        sound = (
            "        <unpitched>\n          <display-step>C</display-step>\n"
            "          <display-octave>5</display-octave>\n        </unpitched>\n"
        )
    else:
        sharp = "          <alter>1</alter>\n" if (theme + k) % 9 == 0 else ""
        sound = (
            f"        <pitch>\n          <step>{step}</step>\n{sharp}"
            f"          <octave>{octave}</octave>\n        </pitch>\n"
        )
    dots = "        <dot/>\n" if length == 3 else ""
    beam = ""
    if length <= 2:
        place = "begin" if at % 4 == 0 else "end" if (at + length) % 4 == 0 else "continue"
        beam = f'        <beam number="1">{place}</beam>\n'
    marks = ""
    if k == 0 and theme % 2:
        marks += '          <slur number="1" placement="above" type="start"/>\n'
    if k == 1 and theme % 2:
        marks += '          <slur number="1" type="stop"/>\n'
    if (theme + k) % 5 == 0:
        marks += "          <articulations>\n            <staccato/>\n          </articulations>\n"
    notations = f"        <notations>\n{marks}        </notations>\n" if marks else ""
    return (
        f"      <note {where}>\n{sound}        <duration>{length * 3}</duration>\n"
        f"        <voice>1</voice>\n        <type>{_TYPES[length]}</type>\n{dots}"
        f"        <stem>up</stem>\n{beam}{notations}      </note>\n"
    )
