"""The findings are what their types say, key by key: what the API's schema is made from.

Checked by pydantic, which reads the same classes the schema is made from.
"""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hypothesis import given
from pydantic import TypeAdapter, ValidationError

from frequens.core import measure, read_session
from frequens.core.findings import Findings

from .test_properties import sessions

TYPED = TypeAdapter(Findings)
WORKED = json.loads(Path(__file__).with_name("trials-worked.json").read_text(encoding="utf-8"))


def as_typed(findings):
    """The document read by its types and written again; nothing of another kind is taken."""
    return TYPED.dump_python(TYPED.validate_json(json.dumps(findings), strict=True), mode="json")


@given(sessions())
def test_every_key_is_of_its_type_and_none_is_missing_or_too_many(session):
    found = measure(session)
    assert as_typed(found) == found


def test_the_worked_session_is_too_and_its_document_can_be_written():
    found = measure(read_session(WORKED))
    assert as_typed(found) == found
    assert json.loads(json.dumps(found, allow_nan=False)) == found


def test_another_key_or_another_type_is_noticed():
    found = measure(read_session(WORKED))
    assert as_typed(found | {"more": 1}) != found | {"more": 1}
    with pytest.raises(ValidationError):
        as_typed(found | {"training_time_s": "long"})
    del found["counts"]["pieces"]
    with pytest.raises(ValidationError):
        as_typed(found)
