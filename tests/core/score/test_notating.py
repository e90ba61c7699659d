from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import NotNotatable
from crumb.core.score.meter import beams_of
from crumb.core.score.model import Clef, Key, Note, Time
from crumb.core.score.notating import Event, is_plain, lay_out, value_of, values_of
from crumb.core.score.pitch import parse_pitch
from tests.builders import EIGHTHS, F, a_part

durations = st.builds(
    Fraction, st.integers(1, 48), st.sampled_from([1, 2, 3, 4, 6, 8, 12, 16])
).filter(lambda d: d <= 12)


@pytest.mark.parametrize(
    ("quarters", "type_name", "dots", "ratio"),
    [
        (F(1), "quarter", 0, (1, 1)),
        (F(3, 4), "eighth", 1, (1, 1)),
        (F(7, 4), "quarter", 2, (1, 1)),
        (F(1, 3), "eighth", 0, (3, 2)),
        (F(2, 3), "quarter", 0, (3, 2)),
        (F(1, 6), "16th", 0, (3, 2)),
        (F(1, 5), "16th", 0, (5, 4)),
    ],
)
def test_a_duration_is_written_as_a_musician_writes_it(quarters, type_name, dots, ratio):
    value = value_of(quarters)
    assert value is not None
    assert (value.type, value.dots, (value.actual, value.normal)) == (type_name, dots, ratio)


@given(durations)
def test_tied_values_add_up_to_the_duration_exactly(duration: Fraction):
    assert sum((v.duration for v in values_of(duration)), F(0)) == duration


def test_a_duration_without_a_name_is_refused_in_words():
    with pytest.raises(NotNotatable, match="11/13"):
        values_of(F(11, 13))


def _events(lengths: list[Fraction]) -> list[Event]:
    note = Note(id="n", at=F(0), duration=F(1), pitch=parse_pitch("C5"))
    return [Event(length, (note,)) for length in lengths]


@given(
    st.lists(
        st.sampled_from([F(1, 4), F(1, 2), F(3, 4), F(1), F(5, 4), F(3, 2), F(3)]), min_size=1
    ),
    st.sampled_from([Time("4", 4), Time("3", 4), Time("6", 8), Time("5", 16), Time("2", 2)]),
)
def test_laid_out_measures_are_full_and_keep_every_attack(lengths, time: Time):
    measures = lay_out(
        _events(lengths), time=time, key=Key(0), clefs=(Clef("G", 2),), id_prefix="t"
    )
    attacks = []
    at = F(0)
    for measure in measures:
        assert sum((n.duration for n in measure.notes), F(0)) == time.length
        attacks.extend(at + note.at for note in measure.notes if note.is_attack)
        at += measure.length
    starts = [sum(lengths[:i], F(0)) for i in range(len(lengths))]
    assert attacks == starts


def test_no_note_hides_a_barline():
    measures = lay_out(
        _events([F(3), F(2)]), time=Time("4", 4), key=Key(0), clefs=(Clef("G", 2),), id_prefix="t"
    )
    tied = [(n.duration, n.tie) for m in measures for n in m.notes if n.sounds]
    assert tied == [(F(3), None), (F(1), "start"), (F(1), "stop")]


def test_triplets_are_bracketed_where_their_sum_is_plain_again():
    third = F(1, 3)
    (measure,) = lay_out(
        _events([third] * 6 + [F(2)]),
        time=Time("4", 4),
        key=Key(0),
        clefs=(Clef("G", 2),),
        id_prefix="t",
    )
    edges = [(n.tuplet.starts, n.tuplet.stops) for n in measure.notes if n.tuplet]
    assert edges == [(True, False), (False, False), (False, True)] * 2


def test_eighths_are_beamed_by_the_beat():
    beams = [n.beams for n in a_part(EIGHTHS).measures[0].notes]
    assert beams == [("begin",), ("end",)] * 4


def test_a_dotted_pair_has_a_hook_on_its_short_note():
    notes = a_part("e.:0 s:1 q:2 h:3").measures[0].notes
    assert notes[0].beams == ("begin",)
    assert notes[1].beams == ("end", "backward hook")


def test_beams_follow_the_meter():
    assert beams_of(Time("6", 8)).lengths == (F(3, 2),) * 2
    assert beams_of(Time("4", 4)).lengths == (1,)
    assert beams_of(Time("2", 2)).lengths == (1,)


@given(st.integers(0, 12))
def test_a_power_of_two_needs_no_tuplet(power: int):
    assert is_plain(F(3, 2**power))
    assert not is_plain(F(1, 3 * 2**power))
