"""Findings and plans are what their types say, key by key: what the API's schema is made from.

Checked by pydantic, which reads the same classes the schema is made from.
"""

from __future__ import annotations

import json
from dataclasses import fields
from pathlib import Path

import pytest
from hypothesis import given
from pydantic import TypeAdapter, ValidationError

from frequens.core import measure, read_session
from frequens.core.findings import Findings
from frequens.core.formats.session_document import read_plan, write_session
from frequens.core.formats.session_document.plan_types import PlanRule, SessionPlan, SessionStep
from frequens.core.history.hand_counts import HandCounts, read_hand_counts
from frequens.core.model.events import Approximation, Plan
from frequens.core.planning.shaping import STARTERS, PlanDocument, read_shaping_plan
from frequens.core.planning.shaping.document import session_plan
from frequens.core.planning.shaping.plan_types import PlanStep
from frequens.core.reading.document_values import without_nulls
from frequens.core.rules.schools import RULES

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


PLAN = TypeAdapter(PlanDocument)


@pytest.mark.parametrize("key", STARTERS)
def test_plans_that_are_read_are_of_their_type(key):
    plan = read_shaping_plan(STARTERS[key])
    assert PLAN.dump_python(PLAN.validate_python(plan)) == plan


@pytest.mark.parametrize("key", PlanDocument.__annotations__)
def test_every_key_of_the_type_is_one_the_reader_knows(key):
    plan = {"format": "frequens-plan", "version": 1}
    assert read_shaping_plan({**plan, key: plan.get(key)}) == plan


@pytest.mark.parametrize("key", PlanStep.__annotations__)
def test_every_key_of_a_step_is_one_the_reader_knows(key):
    step = {"key": "touch", key: "touch" if key == "key" else None}
    plan = {"format": "frequens-plan", "version": 1, "approximations": [step]}
    assert read_shaping_plan(plan)["approximations"][0]["key"] == "touch"


SESSION_PLAN, COUNTS = TypeAdapter(SessionPlan), TypeAdapter(HandCounts)


def as_session_plan(plan):
    """The plan read by its type and written again."""
    return SESSION_PLAN.dump_python(SESSION_PLAN.validate_json(json.dumps(plan), strict=True))


@given(sessions())
def test_the_plan_of_any_session_is_of_its_type(session):
    plan = json.loads(json.dumps(write_session(session).get("plan", {})))
    assert as_session_plan(plan) == plan


@pytest.mark.parametrize("key", STARTERS)
def test_what_a_shaping_plan_hands_to_a_session_is_of_its_type(key):
    plan = session_plan(read_shaping_plan(STARTERS[key]))
    assert as_session_plan(plan) == plan


def test_a_sessions_plan_has_the_keys_of_what_is_read_from_it():
    assert SessionPlan.__annotations__.keys() == {f.name for f in fields(Plan)}
    assert SessionStep.__annotations__.keys() == {f.name for f in fields(Approximation)}


@pytest.mark.parametrize("key", sorted(SessionPlan.__annotations__.keys() - {"approximations"}))
def test_what_is_null_in_a_plan_may_as_well_be_left_out(key):
    step = {"key": "touch", **dict.fromkeys(SessionStep.__annotations__.keys() - {"key"})}
    plan = {key: None, "approximations": [step]}
    lean = without_nulls(plan)
    assert lean == {"approximations": [{"key": "touch"}]}
    assert read_plan(lean) == read_plan(plan)


def test_counts_by_hand_are_of_their_type():
    every = {
        "minutes": 4,
        "reps": 12,
        "met": 9,
        "reinforcements": 9,
        "opt_outs": 1,
        "note": "windy",
        "approximation": "ring",
        "help": "gesture",
        "conditions": {"side": "left", "wind": True},
        "signs": [{"severity": 1}, {"severity": 2, "label": "ears back"}],
    }
    assert every.keys() == HandCounts.__annotations__.keys()
    assert COUNTS.dump_python(COUNTS.validate_python(read_hand_counts(every))) == every


def test_the_schools_numbers_are_those_of_the_rules():
    numbers = {key for school in RULES.values() for key in school}
    assert PlanRule.__annotations__.keys() == {"kind", *numbers}
