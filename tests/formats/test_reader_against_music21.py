"""Our reader against music21's on the corpus that the music21 package ships."""

import pytest

from crumb.formats.musicxml.reader import read_score
from tests.formats.music21_reading import (
    CORPUS,
    measure_rows,
    measures_by_part,
    our_rows,
    parse,
    printed_number,
)

# Chosen for variety: eras, scorings, pickups, tuplets (nested too), several voices and staves.
SAMPLE = """
bach/bwv297.mxl bach/bwv337.mxl beethoven/opus18no1/movement3.mxl ciconia/quod_jactatur.xml
cpebach/h186.mxl demos/chord_realization_exercise.mxl demos/nested_tuplet_finale_test.xml
handel/rinaldo/Lascia_chio_pianga.mxl haydn/opus1no1/movement2.mxl haydn/opus1no1/movement3.mxl
haydn/opus74no1/movement1.mxl haydn/opus74no1/movement2.mxl johnson_j_r/lift_every_voice.mxl
joplin/maple_leaf_rag.mxl leadSheet/berlinAlexandersRagtime.mxl leadSheet/fosterBrownHair.mxl
liliuokalani/aloha_oe.mxl lusitano/allor_che_ignuda.mxl monteverdi/madrigal.3.1.mxl
monteverdi/madrigal.3.15.mxl mozart/k155/movement1.mxl mozart/k155/movement3.mxl
mozart/k156/movement1.mxl mozart/k156/movement3.mxl mozart/k458/movement2.mxl
mozart/k545/movement1_exposition.mxl mozart/k80/movement2.mxl mozart/k80/movement4.mxl
schoenberg/opus19/movement2.mxl schoenberg/opus19/movement6.mxl
schumann_clara/polonaise_op1n1.mxl schumann_clara/polonaise_op1n2.mxl
schumann_robert/opus41no1/movement2.mxl schumann_robert/opus41no1/movement4.mxl
schumann_robert/opus48no2.mxl theoryExercises/TriadExercise.mxl theoryExercises/checker_demo.mxl
trecento/PMFC_13_01-Kyrie-Summe-Clementissime.mxl verdi/laDonnaEMobile.mxl
webern/webern_dormi_jesu_op_16_no_2.mxl
""".split()

# Where the readings differ and why; everything else must be equal.
NUMBERS_MUSIC21_CHANGES = {
    # A measure printed X1 comes out as 4X1: music21 puts the running number before the letter.
    "liliuokalani/aloha_oe.mxl": {"X1", "X2"},
}


@pytest.mark.parametrize("name", SAMPLE)
def test_every_measure_reads_as_music21_reads_it(name: str):
    path = CORPUS / name
    ours = read_score(path.read_bytes())
    theirs = measures_by_part(parse(path), ours)
    assert [len(part.measures) for part in ours.parts] == [len(rows) for rows in theirs]
    for part, rows in zip(ours.parts, theirs, strict=True):
        for measure, staves in zip(part.measures, rows, strict=True):
            found = sorted(
                (row for staff in staves for row in measure_rows(staff)),
                key=lambda row: (row[0], row[2] or "", row[1]),
            )
            assert our_rows(measure) == found, f"{part.name}, measure {measure.number}"
            if measure.number not in NUMBERS_MUSIC21_CHANGES.get(name, set()):
                assert measure.number == printed_number(staves[0])


def test_the_sample_is_as_large_as_we_say():
    assert len(SAMPLE) == len(set(SAMPLE)) >= 30
