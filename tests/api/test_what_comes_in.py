"""Everything that comes from outside goes through a type that says what is plausible."""

import json
from collections.abc import Iterator
from typing import Any

import pytest

from tests.conftest import ROOT

DESCRIPTION = json.loads((ROOT / "web" / "openapi.json").read_text())
_METHODS = ("get", "put", "post", "delete", "patch")


def resolved(schema: dict[str, Any]) -> dict[str, Any]:
    while "$ref" in schema:
        schema = DESCRIPTION["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]]
    return schema


def unbounded(
    schema: dict[str, Any], where: str, seen: frozenset[str] = frozenset()
) -> Iterator[str]:
    """Every field of a schema that takes whatever anybody sends."""
    name = schema.get("$ref", "")
    if name in seen:
        return
    schema, seen = resolved(schema), seen | {name} if name else seen
    for kind in ("anyOf", "oneOf", "allOf"):
        for one in schema.get(kind, ()):
            yield from unbounded(one, where, seen)
    for field, inner in schema.get("properties", {}).items():
        yield from unbounded(inner, f"{where}.{field}", seen)
    more = schema.get("additionalProperties")
    if isinstance(more, dict):
        if "maxProperties" not in schema:
            yield f"{where}: any number of keys"
        yield from unbounded(more, f"{where}.*", seen)
    if "enum" in schema or "const" in schema:
        return
    match schema.get("type"):
        case "array":
            if "maxItems" not in schema:
                yield f"{where}: any number of items"
            yield from unbounded(schema.get("items", {}), f"{where}[]", seen)
        case "string":
            if not _is_bounded_text(schema):
                yield f"{where}: any text or moment"
        case "integer" | "number":
            if not ({"minimum", "exclusiveMinimum"} & set(schema)) or not (
                {"maximum", "exclusiveMaximum"} & set(schema)
            ):
                yield f"{where}: any number"


def _is_bounded_text(schema: dict[str, Any]) -> bool:
    if schema.get("format") in ("date", "date-time"):
        return {"formatMinimum", "formatMaximum"} <= set(schema)
    if schema.get("format") in ("uuid", "binary"):
        return True
    return bool({"maxLength", "contentMediaType"} & set(schema)) or "{0," in schema.get(
        "pattern", ""
    )


def given() -> Iterator[tuple[str, dict[str, Any]]]:
    for path, operations in DESCRIPTION["paths"].items():
        for method in _METHODS:
            operation = operations.get(method)
            if operation is None:
                continue
            for parameter in operation.get("parameters", ()):
                yield f"{method} {path} ?{parameter['name']}", parameter["schema"]
            for body in operation.get("requestBody", {}).get("content", {}).values():
                yield f"{method} {path}", body["schema"]


def test_every_time_text_and_number_from_outside_has_bounds():
    found = [line for where, schema in given() for line in unbounded(schema, where)]
    assert found == []


@pytest.mark.parametrize(
    "schema",
    [
        {"type": "string"},
        {"type": "string", "format": "date-time"},
        {"type": "integer", "minimum": 0},
        {"type": "array", "items": {"type": "string", "maxLength": 3}},
        {"type": "object", "properties": {"x": {"anyOf": [{"type": "number"}]}}},
    ],
)
def test_a_field_without_bounds_is_found(schema):
    assert list(unbounded(schema, "x")) != []
