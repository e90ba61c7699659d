"""The quick way of reading MusicXML against the tree parser's: never another outcome."""

import random
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from crumb.core.errors import CrumbError
from crumb.demo.etude import clarinet_etude
from crumb.formats.musicxml.cutting import NotCuttable
from crumb.formats.musicxml.reader import PartRead, PartText, open_score, read_score, score_of
from crumb.formats.musicxml.writer import write_part
from tests.builders import a_part
from tests.formats.corpus_reading import corpus_files
from tests.formats.music21_reading import CORPUS
from tests.sizes import examples

SMALL = write_part(a_part("s:0,1,2,3,4,5,6,7,7,6,5,4,3,2,1,0", "q:0 q:2 h:4")).encode()
ETUDE = write_part(clarinet_etude()).encode()


def by_tree(data: bytes):
    """The score as the tree parser has it."""
    opened = open_score(data, plainly=False)
    assert all(isinstance(part, PartRead) for part in opened.parts)
    return score_of(opened, [part.read() for part in opened.parts])


def is_cut(data: bytes) -> bool:
    """Whether the quick way reads the whole file."""
    opened = open_score(data)
    try:
        return all(isinstance(part, PartText) and part.read() for part in opened.parts)
    except NotCuttable:
        return False


def outcome(read, data: bytes):
    """What was read; of a refusal only that it was one, as the two name other lines."""
    try:
        return read(data)
    except CrumbError:
        return "refused"


@pytest.mark.parametrize("path", corpus_files()[7::25], ids=lambda p: str(p.relative_to(CORPUS)))
def test_files_of_many_programs_are_cut_and_read_as_by_the_tree_parser(path):
    data = path.read_bytes()
    assert is_cut(data)
    assert read_score(data) == by_tree(data)


BITS = [b"<", b">", b"/", b'"', b"&", b"&amp;", b"<!-- aside -->", b"<![CDATA[x]]>", b"<?p x?>"]
BITS += [b"<note>", b"</note>", b"<chord/>", b"</measure>", b"<measure>", b"</part>", b"\xff", b""]
BITS += [b"\x01", b' id="x"', b" x:y='1'", b' print-object="no"', b"\xc3\xa9", b"=", b"<note/>"]
BITS += [b"<direction>", b"<dot/>", b" ", b"<part id='P1'>", b"<forward><duration>1</duration>"]


@settings(max_examples=examples(600), deadline=None)
@given(st.integers(300, len(SMALL)), st.integers(0, 40), st.sampled_from(BITS))
def test_a_file_that_was_tampered_with_has_one_outcome(place: int, gone: int, put: bytes):
    data = SMALL[:place] + put + SMALL[place + gone :]
    assert outcome(read_score, data) == outcome(by_tree, data)


def test_a_file_whose_letters_were_shuffled_here_and_there_has_one_outcome():
    chance = random.Random(5)
    for _ in range(60):
        data = bytearray(ETUDE)
        for _ in range(chance.randint(1, 3)):
            a = chance.randrange(400, len(data) - 60)
            piece = data[a : a + chance.randint(2, 50)]
            chance.shuffle(piece)
            data[a : a + len(piece)] = piece
        assert outcome(read_score, bytes(data)) == outcome(by_tree, bytes(data))


OTHERWISE = {
    "comments between and inside": (
        SMALL.replace(b"<note ", b"<!-- a <note> in words --><note ").replace(
            b"<duration>", b"<!-- how long --><duration>"
        ),
        True,
    ),
    "instructions to programs": (SMALL.replace(b"<note ", b"<?layout here?><note "), True),
    "wide letters": (SMALL.decode().replace("UTF-8", "UTF-16").encode("utf-16"), True),
    "a mark before the first letter": (b"\xef\xbb\xbf" + SMALL, True),
    "single quotes and line breaks in tags": (
        SMALL.replace(b'<measure number="1"', b"<measure\n  number = '1'"),
        True,
    ),
    "a text in a block of its own": (
        SMALL.replace(b"<step>C</step>", b"<step><![CDATA[C]]></step>"),
        False,
    ),
    "letters of one byte": (SMALL.replace(b"UTF-8", b"ISO-8859-1"), False),
}


@pytest.mark.parametrize("kind", OTHERWISE)
def test_files_written_otherwise_read_the_same(kind: str):
    data, cut = OTHERWISE[kind]
    assert data != SMALL
    assert is_cut(data) is cut
    assert read_score(data) == read_score(SMALL)


def test_where_an_engraver_put_a_note_is_nothing_but_words_that_say_so_are_kept():
    placed = SMALL.replace(b'<note id="', b'<note default-x="80.5" relative-y="-3" id="')
    assert placed != SMALL
    assert read_score(placed) == read_score(SMALL)
    sung = SMALL.replace(b"</note>", b'<lyric><text> default-x="3" la</text></lyric></note>', 1)
    assert read_score(sung).parts[0].measures[0].notes[0].lyric == 'default-x="3" la'


def test_a_hidden_note_is_not_taken_for_its_visible_twin():
    hidden = SMALL.replace(b"<note id=", b'<note print-object="no" id=', 1)
    first, *others = (n.hidden for n in read_score(hidden).parts[0].measures[0].notes)
    assert first
    assert not any(others)


def test_a_wrong_note_is_told_with_its_measure_on_either_way():
    wrong = SMALL.replace(b"<octave>5</octave>", b"<octave>99</octave>")
    words = []
    for read in (read_score, by_tree):
        with pytest.raises(CrumbError) as refusal:
            read(wrong)
        words.append(refusal.value.message)
    assert words[0] == words[1]
    assert "Test part, measure 0: a note" in words[0]


def test_the_same_note_in_other_divisions_lasts_as_its_own_measure_says():
    halved = SMALL.replace(
        b"</measure>", b"<attributes><divisions>1</divisions></attributes></measure>", 1
    )
    one, two = read_score(halved).parts[0].measures
    assert one == read_score(SMALL).parts[0].measures[0]
    assert two.notes[0].duration == read_score(SMALL).parts[0].measures[1].notes[0].duration * (
        Fraction(4)
    )


def test_two_parts_of_one_name_are_still_one_part():
    twice = SMALL.replace(b"</score-partwise>", b'<part id="P1"><measure number="9"/></part>')
    assert not is_cut(twice + b"</score-partwise>")
