"""A part of pages: its measures are numbered, measured and have their places."""

from dataclasses import replace
from fractions import Fraction

from crumb.core.pages.crops import crop_text, read_crops, rows_of, runs_of
from crumb.core.pages.model import Area, PageMeasure
from crumb.core.pages.part import OfPage, part_of_pages, with_printed
from crumb.core.score.matching import carried_measures
from crumb.core.score.numbered import numbered_part, time_said
from crumb.core.score.position import Position, Span
from crumb.core.score.slicing import slice_span
from crumb.core.split.proposals import by_lines, by_marks
from crumb.formats.musicxml.reader import read_part
from crumb.formats.musicxml.writer import write_part


def of_pages(*measures: PageMeasure, page: str = "p", place: int = 0) -> list[OfPage]:
    return [OfPage(one, page, place) for one in measures]


def a_measure(x: int, system: int = 0, **said: object) -> PageMeasure:
    top = system * 200
    area = Area(x, top, x + 100, top + 200)
    return PageMeasure(area, top + 80, top + 120, system, **said)  # type: ignore[arg-type]


def a_part(*measures: PageMeasure):
    return part_of_pages("Horn", instrument="Horn", measures=of_pages(*measures), goal=Fraction(92))


def test_measures_get_numbers_letters_meters_and_lines():
    part = a_part(
        a_measure(0, number=5, time="3/4"),
        a_measure(100, letter="A"),
        a_measure(0, system=1, time="6/8"),
    )
    assert [m.number for m in part.measures] == ["5", "6", "7"]
    assert [m.length for m in part.measures] == [3, 3, 3]
    assert part.measures[1].rehearsal == "A"
    assert [edge.at.index for edge in by_lines(part)] == [2]
    assert [edge.at.index for edge in by_marks(part)] == [1, 2]


def test_a_rest_of_several_measures_is_as_many_measures_side_by_side():
    part = a_part(a_measure(0), a_measure(100, stands_for=4), a_measure(200))
    assert [m.number for m in part.measures] == ["1", "2", "3", "4", "5", "6"]
    assert [m.printed.left for m in part.measures if m.printed] == [0, 100, 125, 150, 175, 200]


def test_a_pickup_is_a_beat_unless_its_length_is_said():
    counted = (a_measure(0), a_measure(100, number=1))
    assert a_part(*counted).measures[0].length == 1
    said = (replace(counted[0], quarters="3/2"), counted[1])
    assert a_part(*said).measures[0].length == Fraction(3, 2)
    assert a_part(*said).has_pickup


def test_repeats_and_endings_are_played_as_they_are_printed():
    part = a_part(
        a_measure(0, opens_repeat=True),
        a_measure(100, ending="1", closes_repeat=True),
        a_measure(200, ending="2"),
        a_measure(300),
    )
    assert part.measures[1].barlines[-1].repeat == "backward"
    assert [b.ending for m in part.measures for b in m.barlines if b.ending_type == "start"] == [
        "1",
        "2",
    ]


def test_it_is_written_down_and_read_again_with_its_places():
    part = a_part(a_measure(0, letter="A"), a_measure(100), a_measure(0, system=1))
    again = with_printed(
        replace(read_part(write_part(part).encode()), instrument=part.instrument),
        [m.printed for m in part.measures],
    )
    assert [(m.number, m.length, m.printed, m.new_system) for m in again.measures] == [
        (m.number, m.length, m.printed, m.new_system) for m in part.measures
    ]
    assert again.is_on_pages


def test_a_chunk_is_cut_out_of_the_page_where_it_starts_and_ends_with_its_landing():
    part = a_part(*(a_measure(x) for x in (0, 100, 200, 300)))
    span = Span(Position(1, Fraction(2)), Position(3, Fraction(0)), True)
    crops = read_crops(crop_text(slice_span(part, span)))
    assert [(c.index, c.left, c.right) for c in crops] == [
        (1, 150, 200),
        (2, 200, 300),
        (3, 300, 325),
    ]
    assert [b.at for b in crops[0].beats] == ["2", "3"]
    assert crops[-1].beats == (), "what is landed on is shown, and no slip is marked there"


def test_rows_hold_what_fits_and_neighbours_are_one_picture():
    part = a_part(*(a_measure(x) for x in (0, 100, 200)), a_measure(0, system=1))
    crops = read_crops(crop_text(part))
    rows = rows_of(crops, 300.0, 10.0, by_line=False)
    assert [[c.index for c in row] for row in rows] == [[0, 1, 2], [3]]
    assert [len(run) for run in runs_of(rows[0])] == [3]
    assert [[c.index for c in row] for row in rows_of(crops, 9.0, 10.0, by_line=True)] == [
        [0, 1, 2],
        [3],
    ]


def test_a_moved_barline_loses_no_measure_and_a_new_one_divides_only_its_own():
    before = a_part(*(a_measure(x) for x in (0, 100, 200, 300)))
    moved = a_part(
        a_measure(0).between(0, 112),
        a_measure(100).between(112, 200),
        a_measure(200),
        a_measure(300),
    )
    assert carried_measures(before, moved) == {0: 0, 1: 1, 2: 2, 3: 3}
    split = a_part(
        a_measure(0), a_measure(100).between(100, 150), a_measure(150).between(150, 200),
        a_measure(200), a_measure(300),
    )  # fmt: skip
    assert carried_measures(before, split) == {0: 0, 2: 3, 3: 4}


def test_notation_that_takes_the_place_of_pages_is_matched_by_number():
    pages = a_part(*(a_measure(x, **({"number": 9} if not x else {})) for x in (0, 100, 200)))
    notes = numbered_part(
        "Horn", instrument="Horn", count=12, time=time_said("4/4"), goal=Fraction(92)
    )
    assert carried_measures(pages, notes) == {0: 8, 1: 9, 2: 10}
