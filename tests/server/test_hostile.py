"""Every route with values nobody means well with: refused or taken, and never a failure of ours.

The values are chosen by hand; `test_api_contract` makes others from the API's own description.
"""

from __future__ import annotations

import inspect
import itertools
import json
import random

import pytest

from frequens.server.plans.calculators import CALCULATORS
from tests.long import few

from .api_description import DESCRIBED
from .conftest import sent

VALUES = [
    None, True, 0, -1, 1e308, -1e-320, 2**53, 10**400, "", " ", "x" * 5000, "\ud800", "\uffff",
    "\x00", "é" * 300, "9999-12-31", "0001-01-01T00:00", "205-05-02", "nan", "../../etc", "'; --",
    [], {}, [[]], {"a": {"b": {}}}, [None], [{}] * 50, list(range(3000)), {"": ""}, {"op": "put"},
    {"kind": "onset"}, {"kind": "run", "need": 10**30}, {"in_place": 1e200},
]  # fmt: skip
TEXTS = ["", "x", "-1", "9" * 5000, "\ud800", "%00", "1e309", "ÿ", "null", "0-0"]
SEED = 20261125
OPERATIONS = [
    (method.upper(), path, operation)
    for path, methods in DESCRIBED["paths"].items()
    for method, operation in methods.items()
]


def fields_of(operation):
    """Names of the fields a body may have, two levels deep."""
    components = DESCRIBED["components"]["schemas"]
    content = operation.get("requestBody", {}).get("content", {})
    schema = content.get("application/json", {}).get("schema", {})
    name = schema.get("$ref", "").rpartition("/")[2]
    return list(components.get(name, {}).get("properties", {}))


def bodies(operation, chance):
    fields = fields_of(operation)
    yield from chance.sample(VALUES, 6)
    for field, value in itertools.product(fields, chance.sample(VALUES, 7)):
        yield {field: value}
    for _ in range(10):
        yield {field: chance.choice(VALUES) for field in fields}


@pytest.fixture
def ids(coded, bell, wren):
    """What is there, by the names addresses give it."""
    made = {"film_id": str(coded.films.get().pk), "session_id": str(coded.pk)}
    made |= {"behaviour_id": bell["id"], "learner_id": bell["learner"]["id"]}
    return {**made, "number": "1", "frame": "3", "form": "json", "name": "reps"}


def addressed(path, ids, chance, hostile):
    for name, value in ids.items():
        for written in (f"{{{name}}}", f"{{uuid:{name}}}"):
            is_bad = hostile and chance.random() < 0.3
            path = path.replace(written, chance.choice(TEXTS) or "x" if is_bad else value)
    return path


def plain(text):
    return text.encode("utf-8", "replace").decode()


def said(client, method, path, body, query=""):
    text = json.dumps(body, ensure_ascii=True) if body is not None else ""
    return client.generic(method, path + query, text, content_type="application/json")


@pytest.mark.long
@pytest.mark.parametrize(
    ("method", "path", "operation"),
    [pytest.param(*o, id=f"{o[0]} {o[2]['operationId']}") for o in OPERATIONS],
)
def test_no_hostile_request_makes_the_house_fail(wren, ids, method, path, operation):
    wren.raise_request_exception = False
    chance = random.Random(f"{SEED} {method} {path}")
    for place, body in enumerate(bodies(operation, chance)):
        hostile = place % 3 == 2
        address = addressed(path, ids, chance, hostile)
        query = ""
        if operation.get("parameters") and hostile:
            names = [p["name"] for p in operation["parameters"] if p["in"] == "query"]
            query = "?" + "&".join(f"{name}={chance.choice(TEXTS)[:3000]}" for name in names)
        has_body = method in ("POST", "PUT", "PATCH")
        answer = said(wren, method, plain(address), body if has_body else None, plain(query))
        assert answer.status_code < 500, (address[:80], query[:80], repr(body)[:200])
        if method == "DELETE" and answer.status_code == 204:
            break


@pytest.mark.parametrize("name", few(5, sorted(CALCULATORS)))
def test_no_calculator_fails_on_hostile_arguments(wren, name):
    wren.raise_request_exception = False
    chance = random.Random(f"{SEED} {name}")
    names = list(inspect.signature(CALCULATORS[name]).parameters)
    likely = [1, 2, 5, 10, 0.5, 30, "cm", "in", ["a", "b"], {"a": 0.5, "b": 0.5}, [1, 2], "left"]
    for _ in range(150):
        chosen = [n for n in names if chance.random() < 0.9]
        arguments = {n: chance.choice(VALUES if chance.random() < 0.4 else likely) for n in chosen}
        path = f"/api/plans/calculators/{name}"
        status, _answer = sent(wren, "POST", path, {"arguments": arguments})
        assert status in (200, 422), arguments


@pytest.mark.parametrize("value", few(4, VALUES), ids=lambda value: repr(value)[:20])
def test_no_edit_fails_on_hostile_values(wren, ids, value):
    """Each field an event, a plan or a fact may have."""
    wren.raise_request_exception = False
    path = f"/api/sessions/{ids['session_id']}/edits"
    event = {"id": "x", "kind": "onset", "t": 1.0}
    fields = ("id", "kind", "t", "width", "frame", "pts", "clip", "conditions", "value", "label",
              "link", "met", "end_s", "severity", "approximation", "text", "source")  # fmt: skip
    facts = ("learner", "date", "plan", "next_session", "trainer", "tags", "report", "start_s")
    bodies = [{"op": "put", "event": {**event, field: value}} for field in fields]
    bodies += [{"op": "facts", "set": {fact: value}} for fact in facts]
    bodies += [{"op": "facts", "set": {"plan": {"approximations": value}}}]
    bodies += [{"op": "facts", "set": {"next_session": {"at": value, "note": value}}}]
    bodies += [{"op": "note", "part": value, "text": value}, {"op": "drop", "id": value}]
    bodies += [{"op": "marks", "events": value}, {"op": value}, {"op": "put", "event": value}]
    for place, body in enumerate(bodies):
        edits = {"edits": [{"client_id": f"c{place}", "body": body}], "findings": True}
        answer = said(wren, "POST", path, edits)
        assert answer.status_code in (200, 422), body
    pages = ("findings", "export.json", "export.csv", "export.vtt", "tables.xlsx", "report.html")
    for page in pages:
        assert wren.get(f"/api/sessions/{ids['session_id']}/{page}").status_code in (200, 404, 422)
    for page in ("/api/today", f"/api/logbook/{ids['behaviour_id']}", "/api/sessions"):
        assert wren.get(page).status_code == 200
