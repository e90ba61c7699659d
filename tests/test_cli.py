"""The command line as a script sees it: JSON on standard output, exit status, one sentence."""

import json
import subprocess
import sys
from contextlib import redirect_stderr, redirect_stdout
from fractions import Fraction
from io import StringIO
from itertools import pairwise
from pathlib import Path

import mido
import music21
import pytest
from pypdf import PdfReader

from crumb.cli import main
from crumb.core.drills import CATALOGUE
from crumb.demo.etude import TITLE, clarinet_etude
from crumb.formats.musicxml.writer import write_part


@pytest.fixture(scope="module")
def etude(tmp_path_factory: pytest.TempPathFactory) -> str:
    path = tmp_path_factory.mktemp("cli") / "etude.musicxml"
    path.write_text(write_part(clarinet_etude(), title=TITLE))
    return str(path)


COMMAND = [sys.executable, "-c", "import sys; from crumb.cli import main; sys.exit(main())"]


def crumb(*arguments: str) -> subprocess.CompletedProcess[str]:
    """The command in this process: to start Python each time took most of the time."""
    out, err = StringIO(), StringIO()
    with redirect_stdout(out), redirect_stderr(err):
        try:
            status = main(arguments)
        except SystemExit as ended:
            status = int(ended.code or 0)
    return subprocess.CompletedProcess(arguments, status, out.getvalue(), err.getvalue())


def test_a_shell_finds_the_same(etude: str):
    done = subprocess.run(
        [*COMMAND, "parts", etude, "--json"], capture_output=True, text=True, check=True
    )
    assert done.stdout == crumb("parts", etude, "--json").stdout


def answer(*arguments: str):
    done = crumb(*arguments, "--json")
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


def test_parts(etude: str):
    (part,) = answer("parts", etude)
    assert part == {
        "id": "P1",
        "name": "Clarinet in B♭",
        "instrument": "Clarinet in B♭",
        "transpose": -2,
        "measures": 65,
        "notes": clarinet_etude().attack_count,
    }


def test_score_has_exact_time_and_both_pitches(etude: str):
    score = answer("score", etude, "--part", "P1")
    pickup, first = score["measures"][:2]
    assert (pickup["number"], pickup["length"], pickup["nominal"]) == ("0", "1", "4")
    assert (first["time"], first["key"], first["tempo"]) == ("4/4", 1, 106)
    note = first["notes"][1]
    assert (note["at"], note["duration"], note["pitch"]) == ("1", "1/2", "B4")
    assert note["midi"] == 71 - 2
    assert {"voice", "grace", "tie", "articulations", "slur"} <= note.keys()
    assert score["measures"][33]["marks"][0] == {"at": "0", "kind": "rehearsal", "text": "R"}


def test_chunks_tile_the_part(etude: str):
    chunks = answer("chunks", etude, "--part", "P1", "--by", "measures:4")
    assert len(chunks) == 16
    assert chunks[0]["start"] == {"index": 0, "number": "0", "at": "0"}
    for one, following in pairwise(chunks):
        assert one["end"] == following["start"]
    assert chunks[-1]["end"] == {"index": 65, "number": None, "at": "0"}
    assert all(chunk["reasons"] for chunk in chunks)


def test_drills_lists_the_catalogue():
    names = {d["name"] for d in answer("drills")}
    assert {"alone", "backward", "long-short", "short-long", "hold"} <= names


def test_drill_has_steps_minutes_and_burst(etude: str):
    made = answer(
        "drill", etude, "--span", "9+", "--drill", "long-short", "--tempo", "82", "--goal", "106"
    )
    assert made["span"] == "9→"
    varied = made["steps"][0]
    assert (varied["tempo"], varied["burst_tempo"], varied["kind"]) == (82, 106, "learn")
    assert [n["duration"] for n in varied["notes"][:2]] == ["3/4", "1/4"]
    assert varied["notes"][1]["at"] == "3/4"
    # 4 x (9 quarters + breath) and 3 x (5 quarters + breath) at 82
    seconds = 4 * (9 * 60 / 82 + 2) + 3 * (5 * 60 / 82 + 2)
    assert made["minutes"] == pytest.approx(seconds / 60)


@pytest.mark.parametrize("span", ["33-36", "33.2-34.1", "R3-R6", "61+", "61"])
def test_spans_as_people_say_them(etude: str, span: str):
    made = answer("drill", etude, "--span", span, "--drill", "alone")
    assert made["steps"][0]["notes"]


def test_a_setting_can_be_given(etude: str):
    made = answer(
        "drill", etude, "--span", "9", "--drill", "hold", "--set", "hold=2", "--set", "group=3"
    )
    assert made["settings"]["hold"] == 2
    assert [n["duration"] for n in made["steps"][0]["notes"][:3]] == ["1/4", "1/2", "1/4"]


def test_a_drill_tells_its_rungs_its_climb_and_other_climbs(etude: str):
    call = ("drill", etude, "--span", "9-10+", "--drill", "standard-set", "--goal", "106")
    made = answer(*call)
    assert 5 <= len(made["rungs"]) <= 6
    assert (made["rungs"][0], made["rungs"][-1]) == (64, 106)
    assert made["minutes"] < made["climb_minutes"] <= 20
    assert made["rungs_in_minutes"] == len(made["rungs"])
    assert made["finer"]["step"] == 2
    assert made["finer"]["climb_minutes"] > made["climb_minutes"]
    assert made["shorter"]["climb_minutes"] < made["climb_minutes"]
    assert made["notes_per_click"] == "4"
    assert made["notes_per_second"][-1] == pytest.approx(106 * 4 / 60, abs=0.001)
    short = answer(*call, "--minutes", "5")
    assert short["rungs_in_minutes"] < len(short["rungs"])
    by_hand = answer(*call, "--step", "21")
    assert by_hand["rungs"] == [64, 85, 106]


def test_a_drill_is_written_as_notation_sound_and_drawing(etude: str, tmp_path: Path):
    for suffix in (".musicxml", ".mid", ".svg", ".pdf"):
        out = tmp_path / f"drill{suffix}"
        crumb("drill", etude, "--span", "9-10+", "--drill", "backward", "--out", str(out))
        assert out.stat().st_size > 500
    score = music21.converter.parse(tmp_path / "drill.musicxml", forceSource=True)
    drawn = (tmp_path / "drill.svg").read_text()
    assert len(score.parts[0].getElementsByClass("Measure")) == drawn.count('class="measure"')
    notes = sum(
        m.type == "note_on" and m.velocity > 0 for m in mido.MidiFile(tmp_path / "drill.mid")
    )
    assert notes == len(score.parts[0].flatten().notes)


@pytest.mark.parametrize("kind", [k.name for k in CATALOGUE])
def test_every_drill_is_made_or_refused_in_a_sentence(etude: str, capsys, kind: str):
    status = main(["drill", etude, "--span", "9-10+", "--drill", kind, "--goal", "106", "--json"])
    said = capsys.readouterr()
    if status:
        assert status == 2
        assert said.err.strip().endswith(".")
        return
    made = json.loads(said.out)
    assert made["drill"] == kind
    assert made["minutes"] > 0
    assert made["coverage"]["turned"] <= made["coverage"]["notes"]
    for step in made["steps"]:
        assert step["kind"] in ("learn", "set", "prove")
        assert step["notes"]
        assert Fraction(step["quarters"]) >= max(
            Fraction(n["at"]) + Fraction(n["duration"]) for n in step["notes"]
        )


def test_ladder():
    rungs = answer("ladder", "--start", "82", "--goal", "106", "--step", "4")["rungs"]
    assert rungs == [82, 86, 90, 94, 98, 102, 106]
    clipped = answer("ladder", "--start", "83", "--goal", "110", "--step", "5")["rungs"]
    assert clipped == [83, 88, 93, 98, 103, 108, 110]


def test_without_json_it_is_readable(etude: str):
    assert "Clarinet in B♭" in crumb("parts", etude).stdout
    assert "rungs: 82, 86" in crumb("ladder", "--start", "82", "--goal", "90", "--step", "4").stdout


@pytest.mark.parametrize(
    "arguments",
    [
        ("ladder", "--start", "100", "--goal", "90", "--step", "2"),
        ("ladder", "--start", "x", "--goal", "90", "--step", "2"),
        ("drill", "{etude}", "--span", "999", "--drill", "alone"),
        ("drill", "{etude}", "--span", "9", "--drill", "nothing"),
        ("drill", "{etude}", "--span", "33-34", "--drill", "long-short"),
        ("drill", "{etude}", "--span", "9", "--drill", "alone", "--out", "x.docx"),
        ("chunks", "{etude}", "--part", "P1", "--by", "measures:0"),
        ("score", "{etude}", "--part", "P9"),
        ("dance",),
        (),
    ],
)
def test_a_wrong_call_exits_with_two(etude: str, arguments: tuple[str, ...]):
    done = crumb(*(a.format(etude=etude) for a in arguments))
    assert done.returncode == 2
    assert done.stdout == ""
    assert done.stderr.strip()


@pytest.mark.parametrize(
    ("content", "reason"), [(b"%PDF-1.7", "PDF"), (b"", "empty"), (None, "No such file")]
)
def test_a_file_that_cannot_be_used_exits_with_three(tmp_path: Path, content, reason):
    path = tmp_path / "part.xml"
    if content is not None:
        path.write_bytes(content)
    done = crumb("parts", str(path), "--json")
    assert done.returncode == 3
    assert done.stdout == ""
    assert len(done.stderr.strip().splitlines()) == 1
    assert reason in done.stderr


@pytest.mark.parametrize("by", ["phrases", "lines", "marks", "load"])
def test_proposed_chunks_tile_the_part_and_say_why(etude: str, by: str):
    chunks = answer("chunks", etude, "--by", by)
    assert chunks[0]["start"] == {"index": 0, "number": "0", "at": "0"}
    assert chunks[-1]["end"]["index"] == 65
    assert all(a["end"] == b["start"] for a, b in pairwise(chunks))
    assert all(chunk["reasons"] for chunk in chunks)


def test_the_survey_names_the_crux_for_the_instrument_asked_for(etude: str):
    found = answer("survey", etude, "--part", "P1")
    assert len(found["measures"]) == 65
    most = max(found["measures"], key=lambda m: m["load"])
    assert found["crux"] == {"index": most["index"], "number": most["number"]}
    assert {"load", "notes_per_second", "spots"} <= most.keys()
    kinds = {s["kind"] for m in found["measures"] for s in m["spots"]}
    assert "break" in kinds
    piano = answer("survey", etude, "--instrument", "Piano", "--tempo", "60")
    assert "break" not in {s["kind"] for m in piano["measures"] for s in m["spots"]}
    assert piano["measures"][9]["notes_per_second"] == 4


def test_kin_names_parts_and_measures(etude: str):
    links = answer("kin", etude)
    same = next(k for k in links if k["relation"] == "identical")
    assert same["a"]["part"] == same["b"]["part"] == "P1"
    assert same["a"]["to"] - same["a"]["from"] == same["b"]["to"] - same["b"]["from"]
    assert (same["interval"], same["differs"]) == (0, [])


@pytest.mark.parametrize(
    "wrong",
    [
        ("chunks", "--by", "colour"),
        ("survey", "--instrument", "Kazoo"),
        ("survey", "--tempo", "-4"),
    ],
)
def test_a_wrong_wish_is_said_in_a_sentence(etude: str, wrong: tuple[str, ...]):
    command, *rest = wrong
    done = crumb(command, etude, *rest)
    assert done.returncode == 2
    assert done.stderr.strip()


# Levels -----------------------------------------------------------------------------------------


def a_pass(minute: int, **more: object) -> dict[str, object]:
    return {"at": f"2026-11-02T16:{minute:02}:00-05:00", "tempo": 100, **more}


def test_level_reads_evidence_in_any_order_and_says_what_comes_next(tmp_path: Path):
    lines = [a_pass(2), a_pass(0, clean=False), a_pass(1), a_pass(3), {"what": "repetition"}]
    path = tmp_path / "evidence.jsonl"
    path.write_text("\n".join(json.dumps(line) for line in lines[:4]) + "\n\n")
    found = answer("level", str(path), "--goal", "100", "--today", "2026-11-03")
    assert (found["level"], found["name"]) == (5, "at tempo")
    assert found["seams"] == {"in": False, "out": False}
    assert (found["solid"], found["best_single"], found["enough"]) == (100, 100, False)
    assert found["interval"][0] < found["secure_tempo"] < found["interval"][1]
    assert 0 < found["p_clean_at_goal"] < 1
    assert found["due"] == "2026-11-04"
    assert "seam" in found["next"]
    path.write_text(json.dumps(lines[4]))
    done = crumb("level", str(path), "--goal", "100")
    assert done.returncode == 3
    assert done.stderr.startswith("Line 1:")
    assert crumb("level", "--goal", "100").returncode == 2


def test_line_by_line_each_answer_comes_before_the_next_question():
    with subprocess.Popen(
        [*COMMAND, "level", "--lines"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdin is not None
        assert process.stdout is not None
        for asked, wanted in (
            ({"goal": 100, "evidence": [a_pass(i) for i in range(3)]}, 5),
            ({"goal": 200, "evidence": [a_pass(i) for i in range(3)]}, 2),
        ):
            process.stdin.write(json.dumps(asked) + "\n")
            process.stdin.flush()
            assert json.loads(process.stdout.readline())["level"] == wanted
        process.stdin.write("nonsense\n")
        process.stdin.flush()
        assert "error" in json.loads(process.stdout.readline())
        process.stdin.close()
        assert process.wait(20) == 0


def test_the_schema_of_level_holds_what_level_takes_and_gives():
    schema = answer("schema", "level")
    assert {"goal", "today", "evidence"} <= set(schema["input"]["properties"])
    assert {"level", "secure_tempo", "interval", "due"} <= set(schema["answer"]["properties"])


def test_a_sheet_of_several_drills_is_a_pdf_of_at_most_two_pages(etude: str, tmp_path: Path):
    out = tmp_path / "sheet.pdf"
    drills = ("--drill", "standard-set", "--drill", "backward", "--drill", "stops")
    made = answer("sheet", etude, "--span", "9-10+", *drills, "--boxes", "--out", str(out))
    assert made["drills"] == ["standard-set", "backward", "stops"]
    reader = PdfReader(out)
    assert len(reader.pages) <= 2
    text = " ".join(page.extract_text() for page in reader.pages)
    for word in ("Backward chain", "Stops that move apart", "♩", "a clinician decides"):
        assert word in text
    alone = tmp_path / "drill.pdf"
    answer("drill", etude, "--span", "9", "--drill", "alone", "--out", str(alone))
    text = " ".join(page.extract_text() for page in PdfReader(alone).pages)
    assert "Clean means" in text
    assert "64" in text
    wrong = crumb("sheet", etude, "--span", "9", "--drill", "alone", "--out", "sheet.txt")
    assert wrong.returncode == 2
