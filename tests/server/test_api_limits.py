"""The limits and defaults the API tells its clients: each is a promise, and none moves unseen.

They stand in `api-limits.txt`, a line each. Where one is meant to change, so does its line. What is
there and what must be is in the front end's types, which `make check` holds against the API.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from frequens.server.api import api

KEPT = Path(__file__).with_name("api-limits.txt")
LIMITS = (
    *("minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum"),
    *("minLength", "maxLength", "minItems", "maxItems", "pattern"),
)


def limits(path: str, value: Any) -> Iterator[str]:
    """Every limit and default below a place of the description."""
    if isinstance(value, list):
        for item in value:
            yield from limits(path, item)
    if not isinstance(value, Mapping):
        return
    said = [f"{name} {value[name]!r}" for name in LIMITS if name in value]
    if "default" in value and not isinstance(value["default"], Mapping):
        said.append(f"default {value['default']!r}")
    if said:
        yield f"{path}: {', '.join(said)}"
    for key, item in value.items():
        if key == "properties":
            for name, one in item.items():
                yield from limits(f"{path}.{name}", one)
        elif key in ("items", "prefixItems", "anyOf", "oneOf", "additionalProperties", "schema"):
            yield from limits(path + ("[]" if key in ("items", "prefixItems") else ""), item)


def told() -> list[str]:
    described = api.get_openapi_schema()
    lines = set[str]()
    for name, schema in described["components"]["schemas"].items():
        lines.update(limits(name, schema))
    for operations in described["paths"].values():
        for operation in operations.values():
            for one in operation.get("parameters", []):
                lines.update(limits(f"{operation['operationId']}({one['name']})", one))
    return sorted(lines)


def test_the_limits_and_defaults_are_those_that_were_promised():
    assert told() == KEPT.read_text(encoding="utf-8").splitlines()
