"""Random notation written out and read again: whatever the model keeps comes back as it was."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.half_measures import with_halves
from crumb.core.score.model import (
    Barline,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Part,
    Slur,
    Tempo,
    Time,
    Tuplet,
)
from crumb.core.score.notating import TYPES
from crumb.core.score.pitch import STEPS, Pitch, Transposition
from crumb.formats.musicxml.reader import open_score, read_score
from crumb.formats.musicxml.writer import write_part
from tests.builders import a_part, reread
from tests.sizes import examples

NAMES = {length: name for name, length in TYPES}
LENGTHS = [Fraction(4), Fraction(2), Fraction(1), Fraction(1, 2), Fraction(1, 4)]
WORDS = st.text("abcdefgh äöü♭<&>'\".-", min_size=1, max_size=12).map(str.strip).filter(bool)
ARTICULATIONS = ("staccato", "tenuto", "accent", "strong-accent", "breath-mark", "spiccato")
ORNAMENTS = ("trill-mark", "mordent", "turn", "tremolo:single:3", "tremolo:start:2")
TECHNICAL = (("up-bow", ""), ("stopped", ""), ("fingering", "4"), ("string", "2"))
DYNAMICS = ("p", "mf", "ff", "sfz", "più f")

pitches = st.builds(
    Pitch,
    st.sampled_from(STEPS),
    st.sampled_from([Fraction(a) for a in (-2, -1, 0, 1, 2)] + [Fraction(1, 2), Fraction(-1, 2)]),
    st.integers(0, 8),
)


def some(values, most=2):
    """A few of some values, each once, in their order."""
    chosen = st.lists(st.sampled_from(values), max_size=most, unique=True)
    return chosen.map(lambda kept: tuple(v for v in values if v in kept))


@st.composite
def marks(draw):
    """What a note may carry besides its pitch and length."""
    slurs = draw(st.lists(st.sampled_from([Slur(1, "start"), Slur(2, "stop")]), max_size=2))
    return {
        "articulations": draw(some(ARTICULATIONS)),
        "ornaments": draw(some(ORNAMENTS, 1)),
        "technical": draw(some(TECHNICAL)),
        "slurs": tuple(slurs),
        "fermata": draw(st.booleans()),
        "accidental": draw(st.sampled_from(["", "sharp", "flat", "natural"])),
        "notehead": draw(st.sampled_from(["", "x", "diamond"])),
        "lyric": draw(st.one_of(st.just(""), WORDS)),
    }


IN_A = Transposition(-2, -3)
KINDS = ["note", "note", "note", "rest", "chord", "dotted", "triplet", "stroke"]


@st.composite
def rows(draw, index):
    """The notes of a measure of one voice, with chords, rests, ties, grace and cue notes."""
    made: list[Note] = []
    at = Fraction(0)

    def add(**said) -> None:
        kind = "r" if said.get("is_rest") else "n"
        name = f"{kind}{index}-{at.numerator}_{at.denominator}-{len(made)}"
        made.append(Note(id=name, at=at, **said))

    for _ in range(draw(st.integers(1, 6))):
        length = draw(st.sampled_from(LENGTHS))
        shape = {"duration": length, "type": NAMES[length]}
        kind = draw(st.sampled_from(KINDS))
        if draw(st.integers(0, 5)) == 0:
            grace = draw(st.sampled_from(["grace", "slashed"]))
            add(duration=Fraction(0), pitch=draw(pitches), grace=grace, type="eighth")
        if kind == "rest":
            add(**shape, is_rest=True, hidden=draw(st.booleans()))
        elif kind == "stroke":
            drum = draw(st.sampled_from(["", "Snare Drum", "Triangle & “bells”"]))
            add(**shape, place=Pitch("C", Fraction(0), 5), drum=drum)
        elif kind == "dotted":
            shape |= {"duration": length * Fraction(3, 2), "dots": 1}
            add(**shape, pitch=draw(pitches), **draw(marks()))
        elif kind == "triplet":
            shape |= {"duration": length * Fraction(2, 3), "tuplet": Tuplet(3, 2)}
            for place in range(3):
                if place:
                    at += shape["duration"]
                tuplet = Tuplet(3, 2, starts=place == 0, stops=place == 2)
                add(**(shape | {"tuplet": tuplet}), pitch=draw(pitches))
        else:
            tie = draw(st.sampled_from([None, None, "start", "stop", "continue"]))
            add(**shape, pitch=draw(pitches), tie=tie, **draw(marks()))
            if kind == "chord":
                add(**shape, pitch=draw(pitches), in_chord=True)
        at += shape["duration"]
    return tuple(made), at


@st.composite
def any_parts(draw):
    """A part of a few measures, each as long as what stands in it."""
    time = Time("4", 4)
    key = Key(draw(st.integers(-6, 6)))
    measures = []
    for index in range(draw(st.integers(1, 3))):
        notes, length = draw(rows(index))
        places = sorted({note.at for note in notes})
        directions = tuple(
            Direction(place, kind, text, above=draw(st.booleans()))
            for place in draw(st.lists(st.sampled_from(places), max_size=2, unique=True))
            for kind, text in [
                draw(
                    st.one_of(
                        WORDS.map(lambda text: ("words", text)),
                        st.sampled_from(DYNAMICS).map(lambda text: ("dynamic", text)),
                        st.sampled_from([("wedge", "crescendo"), ("wedge", "stop")]),
                        st.just(("segno", "segno")),
                    )
                )
            ]
        )
        measures.append(
            Measure(
                index=index,
                number=draw(st.sampled_from([str(index + 1), "X1", "12a"])),
                length=length,
                time=time,
                key=key,
                clefs=(Clef("G", 2),),
                notes=notes,
                directions=tuple(sorted(directions, key=lambda d: d.at)),
                barlines=draw(
                    st.sampled_from(
                        [
                            (),
                            (Barline("right", "light-heavy"),),
                            (Barline("left", "", "forward"),),
                            (Barline("right", "light-heavy", "backward", 3),),
                            (Barline("right", "", "", 2, "1, 2", "stop"),),
                        ]
                    )
                ),
                implicit=draw(st.booleans()),
                transposition=draw(st.sampled_from([None, IN_A])) if index else None,
                new_system=draw(st.booleans()),
            )
        )
    transposition = draw(st.sampled_from([Transposition(), Transposition(-1, -2)]))
    return Part("P1", draw(WORDS), tuple(with_halves(measures)), draw(WORDS), transposition)


parts = any_parts().filter(lambda part: part.attack_count)  # a file without a note is none


def with_beams_of(part: Part, other: Part) -> Part:
    """Beams are added where a file has none: they are compared apart."""
    measures = []
    for mine, theirs in zip(part.measures, other.measures, strict=True):
        notes = tuple(
            replace(a, beams=b.beams) for a, b in zip(mine.notes, theirs.notes, strict=True)
        )
        measures.append(replace(mine, notes=notes))
    return replace(part, measures=tuple(measures))


@settings(max_examples=examples(150))
@given(parts)
def test_what_the_model_keeps_comes_back_as_it_was(part: Part):
    back = reread(part)
    # Signs that say another pitch, or too little, are put right.
    part = replace(part, measures=with_accidentals(part.measures, keep=True))
    assert with_beams_of(part, back) == back


@settings(max_examples=examples(80))
@given(parts)
def test_what_came_back_once_comes_back_again_to_the_letter(part: Part):
    once = reread(part)
    assert reread(once) == once
    assert write_part(reread(once)) == write_part(once)


@settings(max_examples=examples(80))
@given(parts)
def test_both_ways_of_reading_agree_on_it(part: Part):
    data = write_part(part).encode()
    (by_tree,) = open_score(data, plainly=False).parts
    assert by_tree.read().part == read_score(data).parts[0]


@settings(max_examples=examples(60))
@given(parts, WORDS, WORDS)
def test_title_and_composer_come_back_whatever_letters_they_have(part, title: str, composer: str):
    score = read_score(write_part(part, title=title, composer=composer).encode())
    assert (score.title, score.composer) == (title, composer)


@given(st.sampled_from(LENGTHS), st.integers(0, 1), st.integers(20, 300))
def test_a_tempo_mark_comes_back_with_its_beat(length: Fraction, dots: int, minute: int):
    beat = length * (Fraction(3, 2) if dots else 1)
    tempo = Tempo(beat, Fraction(minute))
    note = Note("n0-0_1-0", Fraction(0), Fraction(4), Pitch("C", Fraction(0), 5), type="whole")
    mark = Direction(Fraction(0), "tempo", tempo=tempo)
    measure = Measure(
        0,
        "1",
        Fraction(4),
        Time("4", 4),
        Key(0),
        (Clef("G", 2),),
        tempo=tempo,
        notes=(note,),
        directions=(mark,),
    )
    part = Part("P1", "Horn", (measure,), "Horn")
    assert reread(part) == part


@pytest.mark.parametrize("said", ["Al-", "-le-", "-ja", "oh", "<--", "- <", "--", "-"])
def test_hyphens_of_a_syllable_come_back_and_more_of_them_are_text(said: str):
    part = a_part("w:0")
    first = part.measures[0]
    sung = replace(first, notes=(replace(first.notes[0], lyric=said),))
    back = reread(replace(part, measures=(sung,)))
    assert back.measures[0].notes[0].lyric == said
