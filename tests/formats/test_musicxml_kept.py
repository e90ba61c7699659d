"""What a file holds is kept, and what is not kept is said."""

from crumb.formats.musicxml.reader import read_score
from crumb.formats.musicxml.writer import write_part

HEAD = (
    '<score-partwise><part-list><score-part id="P1"><part-name>A</part-name></score-part>'
    '</part-list><part id="P1"><measure number="1"><attributes><divisions>30</divisions>'
    "<time><beats>2</beats><beat-type>4</beat-type></time></attributes>"
)
TAIL = "</measure></part></score-partwise>"


def note(duration: int, inner: str = "", step: str = "C") -> str:
    return (
        f"<note><pitch><step>{step}</step><octave>5</octave></pitch>"
        f"<duration>{duration}</duration><voice>1</voice>{inner}</note>"
    )


def read(*content: str):
    return read_score((HEAD + "".join(content) + TAIL).encode())


def there_and_back(*content: str):
    part = read(*content).parts[0]
    return part, read_score(write_part(part).encode()).parts[0]


def opening(number: int) -> str:
    """The start of a bracket of three in the time of two."""
    three, two = (f"<tuplet-number>{n}</tuplet-number>" for n in (3, 2))
    return (
        f'<tuplet number="{number}" type="start"><tuplet-actual>{three}</tuplet-actual>'
        f"<tuplet-normal>{two}</tuplet-normal></tuplet>"
    )


def test_nested_tuplets_keep_both_brackets():
    ratio = (
        "<time-modification><actual-notes>9</actual-notes>"
        "<normal-notes>4</normal-notes></time-modification>"
    )
    outer, inner = opening(1), opening(2)
    first = f"<type>eighth</type>{ratio}<notations>{outer}{inner}</notations>"
    middle = f"<type>eighth</type>{ratio}"
    last = (
        f'<type>eighth</type>{ratio}<notations><tuplet number="2" type="stop"/>'
        '<tuplet number="1" type="stop"/></notations>'
    )
    part, back = there_and_back(note(20, first), note(20, middle), note(20, last))
    for read_part in (part, back):
        notes = read_part.measures[0].notes
        assert [(b.number, b.end, b.actual, b.normal) for b in notes[0].nesting] == [
            (1, "start", 3, 2),
            (2, "start", 3, 2),
        ]
        assert [b.number for b in notes[2].nesting] == [2, 1]


def test_slides_arpeggios_and_jumps_are_kept():
    slide = '<notations><slide type="start" number="1"/></notations>'
    stop = '<notations><slide type="stop" number="1"/><arpeggiate/></notations>'
    words = "<direction-type><words>D.C.</words></direction-type>"
    jump = f'<direction>{words}<sound dacapo="yes"/></direction>'
    part, back = there_and_back(note(30, slide), note(30, stop), jump)
    for read_part in (part, back):
        notes = read_part.measures[0].notes
        assert notes[0].gestures == ("slide:start:1",)
        assert notes[1].gestures == ("slide:stop:1", "arpeggiate")
        kinds = {(d.kind, d.text) for d in read_part.measures[0].directions}
        assert {("words", "D.C."), ("jump", "dacapo")} <= kinds


def test_divisions_that_change_inside_a_measure_change_no_time():
    change = "<attributes><divisions>12</divisions></attributes>"
    part = read(note(30), change, note(12)).parts[0]
    assert [(n.at, n.duration) for n in part.measures[0].notes] == [(0, 1), (1, 1)]
    assert part.measures[0].length == 2


def test_what_is_not_kept_is_named_with_its_measure():
    verses = "<lyric><text>la</text></lyric><lyric><text>lo</text></lyric>"
    score = read("<harmony/>", note(30, verses), note(30))
    said = {what: numbers for _, what, numbers in score.unread}
    assert said == {"chord symbols": ("1",), "further verses of the text": ("1",)}


def test_bowings_fingerings_and_sticking_are_kept():
    marks = (
        "<notations><technical><up-bow/><fingering>3</fingering><string>2</string>"
        "<other-technical>R</other-technical></technical></notations>"
    )
    part, back = there_and_back(note(60, marks))
    assert part.measures[0].notes[0].technical == (
        ("up-bow", ""),
        ("fingering", "3"),
        ("string", "2"),
        ("other-technical", "R"),
    )
    assert back.measures[0].notes[0].technical == part.measures[0].notes[0].technical
