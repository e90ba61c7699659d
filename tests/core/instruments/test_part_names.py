"""The names that band and orchestra parts carry, row by row (see ``core/instruments/names.py``)."""

from pathlib import Path

import pytest

from crumb.core.instruments.names import desk_of
from crumb.core.instruments.players import may_play
from crumb.core.instruments.table import INSTRUMENTS, instrument_named

TABLE = Path(__file__).with_name("part_names.txt").read_text().splitlines()
ROWS = [
    (name.strip(), line.partition(":")[0])
    for line in TABLE
    for name in line.split(":")[1].split(";")
]


def test_the_table_is_long_and_knows_every_instrument():
    assert len(ROWS) > 500
    known = {instrument for _, instrument in ROWS}
    assert known == {i.name for i in INSTRUMENTS} - {"Instrument"}


@pytest.mark.parametrize(("name", "instrument"), ROWS, ids=[name for name, _ in ROWS])
def test_a_part_is_known_by_the_name_it_carries(name: str, instrument: str):
    assert instrument_named(name).name == instrument
    assert instrument_named(name.upper()).name == instrument


@pytest.mark.parametrize(
    ("name", "number"),
    [
        ("1st Violin", 1),
        ("Violins I", 1),
        ("Violin II", 2),
        ("Fl. 1", 1),
        ("Second Violins", 2),
        ("Violino primo", 1),
        ("3. Klarinette", 3),
        ("Clarinet", None),
        ("Horn in F", None),
        ("Viola", None),
    ],
)
def test_the_number_of_a_part(name: str, number: int | None):
    assert desk_of(name) == number


@pytest.mark.parametrize(
    ("section", "part", "on", "plays"),
    [
        ("Violins I", "1st Violin", "Violin", True),
        ("Violins", "Violin 2", "Violin", True),
        ("Violins I", "Violin 2", "Violin", False),
        ("Clarinets", "Flute 1", "Flute", False),
        ("Homeroom", "Part 1", "Instrument", False),
    ],
)
def test_who_may_play_a_part(section: str, part: str, on: str, plays: bool):
    assert may_play(section, part, on) is plays
