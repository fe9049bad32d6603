"""Whatever is sent, the API answers as its description says, and never fails by itself."""

from __future__ import annotations

import copy

import hypothesis
import pytest
import schemathesis
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from django.test import Client
from ninja.openapi.schema import OpenAPISchema
from schemathesis.checks import not_a_server_error

from frequens.server.api import api
from frequens.server.wsgi import application
from tests.long import few

from .api_description import DESCRIBED

SCHEMA = schemathesis.openapi.from_dict(copy.deepcopy(dict(DESCRIBED)))
SCHEMA.app = application
#: Each by its own name: tests that share one are run once where several processes share the work.
OPERATIONS = [found.ok() for found in SCHEMA.get_all_operations()]
#: Uploads and simulated films are whole-body or long-running; they have tests of their own.
SKIPPED = {"upload", "simulate", "review_copy", "original", "sound", "still"}


@pytest.fixture
def cookies(trainer):
    client = Client()
    client.force_login(trainer)
    # As Django's own client does it: a request that ends must not close the test's transaction.
    ends = (request_started, request_finished)
    for signal in ends:
        signal.disconnect(close_old_connections)
    yield {"sessionid": client.cookies["sessionid"].value, "csrftoken": "t" * 32}
    for signal in ends:
        signal.connect(close_old_connections)


@pytest.mark.parametrize("count", few(1, [4, 12]))
@pytest.mark.parametrize("operation", OPERATIONS, ids=lambda operation: operation.label)
def test_no_request_makes_the_server_fail(operation, count, cookies):
    if operation.definition.raw["operationId"] in SKIPPED:
        pytest.skip("has tests of its own")

    @hypothesis.given(operation.as_strategy())
    @hypothesis.settings(
        max_examples=count,
        deadline=None,
        suppress_health_check=list(hypothesis.HealthCheck),
    )
    def holds(case):
        case.call_and_validate(
            cookies=cookies,
            headers={"X-CSRFToken": cookies["csrftoken"], "Host": "localhost"},
            checks=[not_a_server_error],
        )

    holds()


def test_no_two_types_of_the_api_have_one_name(monkeypatch):
    """The later one would stand in for both in the description, and nobody would hear of it."""
    seen = {}
    add = OpenAPISchema.add_schema_definitions

    def watched(self, definitions):
        for name, definition in definitions.items():
            assert seen.setdefault(name, definition) == definition, name
        add(self, definitions)

    monkeypatch.setattr(OpenAPISchema, "add_schema_definitions", watched)
    api.get_openapi_schema(path_prefix="/elsewhere/")
    assert len(seen) > 100
