"""Anything at all sent to every route, by people of every right: never a fault of ours.

What is sent is made by Schemathesis from the API's own description: bodies that keep to it and
bodies that do not, numbers at their bounds, every alphabet. Half of the addresses are of things
that are there. ``CRUMB_FUZZ`` says how many tries each route gets; otherwise one, and six in
``./check full``.
"""

import os
from typing import Any

import pytest
import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from checks.sizes import Size
from tests.api.school import (
    School,
    a_repetition,
    a_school,
    an_item,
    assigned,
    invited,
    ok,
    play,
    with_music,
)
from tests.sizes import SIZE

TRIES = int(os.environ.get("CRUMB_FUZZ", "6" if SIZE is Size.FULL else "1"))
AT_THE_DOOR = max(TRIES // 3, 1)
"""Tries of somebody who is not signed in: most get no further than the door."""
LEFT_OUT = {"signOut", "endOtherSessions", "changePassword", "renewPin", "deletePiece"}
"""What would end the very session that tries, or take away what the others try on."""


@pytest.fixture(scope="module")
def fuzzed(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    school = with_music(a_school(app, new_session))
    school = assigned(school, an_item(school))
    play(school.students[0], a_repetition(school.ids["items"][0]))
    leader = f"/api/sections/{school.ids['section']}/students/{school.ids['students'][-1]}/leader"
    ok(school.director.put(leader, json={"is_leader": True}))
    return school


def assistant_of(school: School) -> TestClient:
    """Somebody who helps with the section."""
    return invited(school, role="assistant", section_ids=[school.ids["section"]])[0]


def sent(client: TestClient, case: Any) -> Any:
    """What comes back; a number of the sender's own making is no header."""
    asked = case.as_transport_kwargs(base_url="http://localhost")
    if isinstance(asked.get("data"), str | bytes):
        asked["content"] = asked.pop("data")
    asked.pop("cookies", None)
    if "files" in asked:
        asked["files"] = [(name, _as_file(value)) for name, value in _pairs(asked["files"])]
    asked["headers"] = {
        name: value
        for name, value in dict(asked["headers"]).items()
        if name.lower() not in ("cookie", "content-length")
    }
    asked["url"] = asked["url"].replace("http://localhost", "") or "/"
    return client.request(**asked)


def _pairs(files: Any) -> list[tuple[str, Any]]:
    return list(files.items()) if isinstance(files, dict) else list(files)


def _as_file(value: Any) -> Any:
    """What a form can carry: no client sends a number that is not written out."""
    if isinstance(value, tuple):
        return (*value[:1], _as_file(value[1]), *value[2:])
    return value if isinstance(value, str | bytes) else str(value)


_RARER = ("nobody", "student", "leader", "assistant")
ROLES = [*(pytest.param(role, marks=pytest.mark.full) for role in _RARER), "director"]


@pytest.mark.parametrize("role", ROLES)
def test_nothing_that_is_sent_is_a_fault_of_ours(fuzzed: School, role: str):
    client: TestClient = {
        "nobody": TestClient(fuzzed.app, raise_server_exceptions=False),
        "student": fuzzed.students[0],
        "leader": fuzzed.students[-1],
        "assistant": assistant_of(fuzzed),
        "director": fuzzed.director,
    }[role]
    known = {f"{name}_id": str(value) for name, value in fuzzed.ids.items() if name != "items"}
    known["item_id"] = fuzzed.ids["items"][0]
    description = schemathesis.openapi.from_dict(fuzzed.app.openapi())
    faults: list[str] = []
    tried = 0
    for found in list(description.get_all_operations())[:: 1 if SIZE is Size.FULL else 2]:
        operation = found.ok()
        if operation.definition.raw.get("operationId") in LEFT_OUT:
            continue

        @settings(
            max_examples=AT_THE_DOOR if role == "nobody" else TRIES,
            deadline=None,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(
            st.one_of(
                operation.as_strategy(generation_mode=mode)
                for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE)
            ),
            st.booleans(),
        )
        def one(case: Any, is_there: bool) -> None:
            nonlocal tried
            if is_there:
                for name in case.path_parameters or {}:
                    case.path_parameters[name] = known.get(name, case.path_parameters[name])
            answer = sent(client, case)
            tried += 1
            said = f"{case.method} {case.path} {case.body!r}"[:300]
            # Where a method is not there at all, the description has nothing to say either.
            documented = {*operation.definition.raw["responses"], "405"}  # noqa: B023
            if str(answer.status_code) not in documented:
                faults.append(f"undocumented {answer.status_code}: {said}")
            if answer.status_code >= 500:
                faults.append(f"{answer.status_code}: {said}")
            elif answer.status_code >= 400 and not answer.json().get("detail"):
                faults.append(f"no words: {said}")

        one()
    assert tried > 60
    assert faults == []
