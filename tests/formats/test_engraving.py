import re
import threading

from crumb.core.drills import make_drill
from crumb.core.score.written import parse_span
from crumb.demo.etude import clarinet_etude
from crumb.formats.engraving import engrave, engraving_key
from crumb.formats.layout import PAGE, SNIPPET, Layout
from tests.builders import reread

ETUDE = reread(clarinet_etude())


def numbers(svg: str) -> list[str]:
    texts = re.findall(r'<g [^>]*class="mNum[^"]*"[^>]*>(.*?)</g>', svg, re.DOTALL)
    shown = [re.sub(r"<[^>]*>", "", text) for text in texts]
    return [text for text in shown if text]


def test_every_measure_and_note_of_the_part_can_be_found_in_the_drawing():
    svg = engrave(ETUDE, PAGE)
    for measure in ETUDE.measures:
        assert f'id="m{measure.index}"' in svg
        for note in measure.notes:
            assert f'id="{note.id}"' in svg, note.id


def test_printed_numbers_are_right_pickup_included():
    shown = numbers(engrave(ETUDE, PAGE))
    assert "0" not in shown
    assert shown[:3] == ["1", "2", "3"]
    assert shown[-1] == "64"


def test_a_chunk_keeps_its_numbers_and_shows_its_time_signature():
    (step,) = make_drill(ETUDE, parse_span(ETUDE, "34-35"), "alone", {}).steps
    svg = engrave(step.part, SNIPPET)
    assert numbers(svg) == ["34", "35"]
    assert 'class="meterSig"' in svg
    assert 'class="keySig"' in svg


def test_a_varied_rhythm_bears_no_measure_numbers():
    step = make_drill(ETUDE, parse_span(ETUDE, "9-10+"), "long-short", {}).steps[0]
    assert numbers(engrave(step.part, SNIPPET)) == []
    (written,) = make_drill(ETUDE, parse_span(ETUDE, "9-10+"), "alone", {}).steps
    assert numbers(engrave(written.part, SNIPPET)) != []
    assert numbers(engrave(written.part, Layout(SNIPPET.width, numbers=False))) == []


def test_any_thread_gets_the_same_drawing():
    (step,) = make_drill(ETUDE, parse_span(ETUDE, "9"), "alone", {}).steps
    drawn: list[str] = []
    threads = [
        threading.Thread(target=lambda: drawn.append(engrave(step.part, SNIPPET))) for _ in range(6)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(set(drawn)) == 1
    assert 'class="measure"' in drawn[0]


def test_the_same_music_and_layout_have_the_same_name():
    again = reread(clarinet_etude())
    assert engraving_key(ETUDE, PAGE) == engraving_key(again, PAGE)
    assert engraving_key(ETUDE, PAGE) != engraving_key(ETUDE, SNIPPET)
