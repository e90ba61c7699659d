"""What another web page sends changes nothing here, even if a browser hands its cookies over."""

import pytest

from tests.api.school import School

BODY = {"name": "Horns"}


@pytest.mark.parametrize(
    "headers",
    [
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": "https://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://testserver.evil.example"},
    ],
)
def test_a_change_from_elsewhere_is_refused(school: School, headers):
    answer = school.director.post("/api/sections", json=BODY, headers=headers)
    assert answer.status_code == 403
    assert "Nothing was changed" in answer.json()["detail"]


@pytest.mark.parametrize(
    "headers",
    [
        {},
        {"Sec-Fetch-Site": "same-origin", "Origin": "http://testserver"},
        {"Sec-Fetch-Site": "none"},
        {"Origin": "http://127.0.0.1:8327"},  # as people reach it, whatever a proxy calls it
    ],
)
def test_our_own_page_and_plain_programs_are_let_in(school: School, headers):
    answer = school.director.post("/api/sections", json=BODY, headers=headers)
    assert answer.status_code == 201, answer.text


def test_reading_is_open_to_a_link_from_anywhere(school: School):
    assert (
        school.director.get("/api/pieces", headers={"Sec-Fetch-Site": "cross-site"}).status_code
        == 200
    )
