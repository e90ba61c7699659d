"""Our reader against music21's on the corpus that the music21 package ships.

The whole corpus (some 650 files) is read by ``tools/read_corpus.py``, which takes minutes; here a
sample. Where the readings differ is a committed table with the reason for each file.
"""

import json

import pytest

from tests.formats.corpus_reading import TABLE, corpus_files, disagreements
from tests.formats.music21_reading import CORPUS
from tests.sizes import sample

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

# Every fifteenth file besides, whatever it is.
FILES = sorted({CORPUS / name for name in SAMPLE} | set(corpus_files()[::15]))
KNOWN = json.loads(TABLE.read_text())


@pytest.mark.parametrize("path", sample(FILES), ids=lambda path: str(path.relative_to(CORPUS)))
def test_every_measure_reads_as_music21_reads_it(path):
    known = KNOWN.get(str(path.relative_to(CORPUS)), {"differs": {}})
    assert disagreements(path) == known["differs"]


def test_every_disagreement_of_the_table_has_its_reason():
    for name, entry in KNOWN.items():
        assert (CORPUS / name).exists()
        assert len(entry["reason"]) > 20
        assert entry["differs"]


def test_the_sample_is_as_large_as_we_say():
    assert len(FILES) >= 80
