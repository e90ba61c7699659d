"""Pages in: a set of parts in one PDF becomes a piece that is divided, sent, played and mended."""

from io import BytesIO
from pathlib import Path
from uuid import uuid4

import pytest
from PIL import Image
from pypdf import PdfReader

from crumb.api import deps
from crumb.services.library import drawing
from tests.api.school import School, a_repetition, assigned, hand_in, level, ok

SET = (Path(__file__).parents[1] / "formats" / "pages" / "ridge_parts.pdf").read_bytes()


def bring_in(school: School, *files: tuple[str, bytes], set_id: str | None = None):
    return school.director.post(
        "/api/page-sets",
        files=[("files", file) for file in files],
        data={"id": set_id or str(uuid4())},
    )


@pytest.fixture
def pages(school: School, monkeypatch: pytest.MonkeyPatch) -> School:
    # Crops are cut out of pages that lie where this application keeps its files.
    monkeypatch.setattr(drawing, "get_files", school.app.dependency_overrides[deps.get_files])
    school.ids["set"] = ok(bring_in(school, ("ridge.pdf", SET)))["id"]
    school.work_off()
    return school


def the_set(school: School):
    return ok(school.director.get(f"/api/page-sets/{school.ids['set']}"))


def make(school: School, **more):
    body = {"title": "Ridge March", "goal_bpm": 96, **more}
    piece = ok(school.director.post(f"/api/page-sets/{school.ids['set']}/piece", json=body))
    school.ids["piece"], school.ids["part"] = piece["id"], piece["parts"][0]["id"]
    return piece


def split(school: School, **body):
    url = f"/api/parts/{school.ids['part']}/chunks"
    version = ok(school.director.get(url))["version"]
    view = ok(school.director.post(url, json={"version": version, **body}))
    school.ids["chunks"] = view["chunks"]
    return [chunk["label"] for chunk in view["chunks"]]


def test_it_is_read_in_the_background_and_taken_apart(pages: School):
    view = the_set(pages)
    assert (view["state"], view["title"], view["files"]) == ("done", "Ridge March", ["ridge.pdf"])
    assert [page["measures"] for page in view["pages"]] == [54, 84, 18, 34]
    named = [page["begins"] and page["begins"]["name"] for page in view["pages"]]
    assert named == ["Clarinet 1", "Clarinet 2", None, "Trumpet"]
    assert [page["last_number"] for page in view["pages"]] == [63, 93, 111, 63]
    assert sum(page["conflicts"] for page in view["pages"]) == 0


def test_the_same_upload_sent_twice_is_kept_once(school: School):
    key = str(uuid4())
    for _ in range(2):
        assert ok(bring_in(school, ("a.pdf", SET), set_id=key))["id"] == key
    assert len(ok(school.director.get("/api/page-sets"))) == 1


def test_it_becomes_a_piece_with_a_part_for_each(pages: School):
    piece = make(pages)
    assert [part["name"] for part in piece["parts"]] == ["Clarinet 1", "Clarinet 2", "Trumpet"]
    assert [part["last_number"] for part in piece["parts"]] == ["63", "111", "63"]
    assert [part["measures"] for part in piece["parts"]] == [64, 112, 64]
    assert {part["goal_bpm"] for part in piece["parts"]} == {96}
    assert the_set(pages)["piece_id"] == piece["id"]


def test_the_splitter_shows_the_page_and_divides_at_letters_and_lines(pages: School):
    make(pages)
    svg = ok(pages.director.get(f"/api/parts/{pages.ids['part']}/engraving"))["svg"]
    assert svg.count("<image") == 10, "one for each line of the page"
    assert 'id="m0"' in svg
    assert 'id="m63"' in svg
    assert "13–14 15–18" in " ".join(split(pages, op="propose", by="phrases"))
    lines = split(pages, op="propose", by="lines")
    assert lines[1:3] == ["5–9", "10–14"]


def assign(school: School, drill: str = "alone") -> None:
    item = {
        "chunk_id": school.ids["chunks"][2]["id"],
        "drill": drill,
        "settings": {},
        "ladder": {"start_bpm": 84, "goal_bpm": 96, "step_bpm": 4},
    }
    assigned(school, item)


def test_a_chunk_is_sent_as_a_crop_and_climbs_as_any_other(pages: School):
    make(pages)
    split(pages, op="by-measures", measures=4)
    assign(pages, "cumulative")
    steps = ok(pages.students[0].get(f"/api/me/stand/{pages.ids['items'][0]}"))["worked"]["steps"]
    assert all("data:image/png;base64," in step["svg"] for step in steps)
    assert steps[-1]["svg"].count('class="measure"') == 4, "at last all of its measures"
    bench = ok(
        pages.director.get(
            f"/api/parts/{pages.ids['part']}/ranking",
            params={"chunk_id": pages.ids["chunks"][2]["id"]},
        )
    )
    fit = {one["drill"] for one in bench["drills"] if not one["refused"]}
    assert {"alone", "backward", "cumulative", "stops", "off-beat-click", "run-through"} <= fit


def test_three_clean_at_goal_on_a_crop_are_level_five(pages: School):
    make(pages)
    split(pages, op="by-measures", measures=4)
    assign(pages)
    climb = [
        a_repetition(pages.ids["items"][0], tempo=tempo, second=60 * place + 15 * n)
        for place, tempo in enumerate((84, 88, 92, 96))
        for n in range(3)
    ]
    assert not hand_in(pages.students[0], *climb)["doubted"]
    assert level(pages, chunk=2) == 5


def test_its_sheet_shows_the_crop(pages: School):
    make(pages)
    split(pages, op="by-measures", measures=4)
    assign(pages)
    job = ok(pages.director.post(f"/api/sheets/of/{pages.ids['assignment']}"))
    pages.work_off()
    done = ok(pages.director.get(f"/api/sheets/jobs/{job['id']}"))
    assert done["state"] == "done", done["message"]
    pdf = pages.director.get(f"/api/sheets/jobs/{job['id']}/pdf").content
    assert any(page.images for page in PdfReader(BytesIO(pdf)).pages)


def test_a_mended_barline_moves_every_number_and_can_be_undone(pages: School):
    page = the_set(pages)["pages"][0]["id"]
    url = f"/api/pages/{page}/acts"
    before = ok(pages.director.get(f"/api/pages/{page}"))["measures"]
    area = before[1]["area"]
    middle = (area["left"] + area["right"]) // 2
    mended = ok(pages.director.post(url, json={"op": "split", "place": 1, "x": middle}))
    assert [m["number"] for m in mended["measures"]][:5] == [0, 1, 2, 3, 4]
    fifth = next(m for m in mended["measures"] if m["said_number"] == 5)
    assert (fifth["number"], fifth["counted"]) == (5, 6), "the printed number shows what is wrong"
    back = ok(pages.director.post(url, json={"op": "undo"}))
    assert back["measures"] == before
    assert back["can_redo"]
    assert ok(pages.director.post(url, json={"op": "redo"}))["measures"] == mended["measures"]
    refused = pages.director.post(url, json={"op": "join", "place": 400})
    assert (refused.status_code, refused.json()["detail"]) == (
        422,
        "There is no such measure on this page.",
    )


def test_pages_are_put_in_order_left_out_and_given_to_sections(pages: School):
    view = the_set(pages)
    wishes = [
        {"id": page["id"], "is_left_out": place == 2, "begins": page["begins"]}
        for place, page in enumerate(view["pages"])
    ]
    wishes[3]["begins"] |= {"name": "Cornet", "played_on": "Cornet"}
    wishes[3]["begins"]["section_id"] = str(pages.ids["section"])
    url = f"/api/page-sets/{pages.ids['set']}/pages"
    ok(pages.director.put(url, json={"pages": [*wishes[3:], *wishes[:3]]}))
    piece = make(pages)
    assert [part["name"] for part in piece["parts"]] == ["Cornet", "Clarinet 1", "Clarinet 2"]
    assert piece["parts"][0]["section_ids"] == [str(pages.ids["section"])]
    assert piece["parts"][2]["last_number"] == "93"
    refused = pages.director.put(url, json={"pages": wishes[:2]})
    assert "changed meanwhile" in refused.json()["detail"]


def test_a_page_is_turned_and_read_anew(school: School):
    data = BytesIO()
    Image.new("L", (300, 400), "white").save(data, "PNG")
    school.ids["set"] = ok(bring_in(school, ("a.png", data.getvalue())))["id"]
    school.work_off()
    (page,) = the_set(school)["pages"]
    assert "No staff was found" in page["message"]
    ok(school.director.post(f"/api/pages/{page['id']}/turn"))
    school.work_off()
    (turned,) = the_set(school)["pages"]
    assert (turned["turn"], turned["width"], turned["height"]) == (1, 400, 300)


def test_a_second_making_is_a_new_version_and_what_was_played_counts(pages: School):
    make(pages)
    split(pages, op="by-measures", measures=4)
    first = pages.ids["part"]
    page = the_set(pages)["pages"][0]["id"]
    last = ok(pages.director.get(f"/api/pages/{page}"))["measures"][-1]["area"]
    middle = (last["left"] + last["right"]) // 2
    place = len(ok(pages.director.get(f"/api/pages/{page}"))["measures"]) - 1
    ok(
        pages.director.post(
            f"/api/pages/{page}/acts", json={"op": "split", "place": place, "x": middle}
        )
    )
    piece = make(pages)
    assert piece["parts"][0]["id"] != first
    assert piece["parts"][0]["last_number"] == "64"
    moved = [line["text"] for line in piece["report"] if line["kind"] == "moved"]
    assert any("Chunks moved over" in text for text in moved)
    assert len(ok(pages.director.get("/api/pieces"))) == 1


def test_making_twice_with_one_id_makes_one_piece(pages: School):
    body = {"title": "Ridge March", "id": str(uuid4())}
    url = f"/api/page-sets/{pages.ids['set']}/piece"
    one, two = (ok(pages.director.post(url, json=body)) for _ in range(2))
    assert one["id"] == two["id"]


def test_pages_of_a_piece_go_with_the_piece(pages: School):
    make(pages)
    refused = pages.director.delete(f"/api/page-sets/{pages.ids['set']}")
    assert "Delete the piece" in refused.json()["detail"]


def test_a_locked_or_broken_pdf_is_refused_in_words(school: School):
    school.ids["set"] = ok(bring_in(school, ("a.pdf", b"%PDF-1.4 nothing")))["id"]
    school.work_off()
    view = the_set(school)
    assert view["state"] == "failed"
    assert view["message"].startswith("This PDF is damaged")


def test_a_student_never_sees_the_set(pages: School):
    for url in ("/api/page-sets", f"/api/page-sets/{pages.ids['set']}"):
        assert pages.students[0].get(url).status_code == 403
    page = the_set(pages)["pages"][0]["id"]
    assert pages.students[0].get(f"/api/pages/{page}/picture").status_code == 403
    picture = pages.director.get(f"/api/pages/{page}/picture", params={"width": 300})
    assert picture.headers["content-type"] == "image/png"
    assert Image.open(BytesIO(picture.content)).width == 300
