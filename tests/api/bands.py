"""A band for API tests: three sections with a march in front of them."""

from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from crumb.core.score.model import Part
from crumb.demo.march import TITLE, march
from crumb.formats.musicxml.writer import write_score
from tests.api.school import School, a_school, brought_in, ok

PARTS = ("Clarinet 1", "Horn in F", "Snare drum")


def parts() -> list[Part]:
    return [part for part in march().parts if part.name in PARTS]


def a_band(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    """Clarinets, horns and a snare with a march in front of them."""
    school = a_school(app, new_session, students=3)
    for name, players in (("Horns", ["Hal", "Hana"]), ("Percussion", ["Pia"])):
        section = ok(school.director.post("/api/sections", json={"name": name}))
        body = {"names": players}
        made = ok(school.director.post(f"/api/sections/{section['id']}/students", json=body))
        school.ids[name] = {
            "id": section["id"],
            "students": [row["student_id"] for row in made],
            "pins": {row["name"]: row["pin"] for row in made},
        }
    piece = brought_in(school, write_score(parts(), title=TITLE).encode())
    school.ids["piece"] = piece["id"]
    by_name = {part["name"]: part for part in piece["parts"]}
    school.ids["parts"] = by_name
    sections = {
        "Clarinet 1": school.ids["section"],
        "Horn in F": school.ids["Horns"]["id"],
        "Snare drum": school.ids["Percussion"]["id"],
    }
    ok(
        school.director.put(
            f"/api/pieces/{piece['id']}/parts",
            json={
                "parts": [
                    {
                        "part_id": part["id"],
                        "played_on": part["played_on"] or part["instrument"],
                        "section_ids": [sections[name]],
                    }
                    for name, part in by_name.items()
                ]
            },
        )
    )
    return school
