"""The `frequens-plan` document, version 1: a whole shaping plan, and the part a session needs.

A plan is held as its plain document, because it is written by hand and goes through many
drafts; `read_shaping_plan` says everything that cannot be in one.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, get_args

from ...formats.session_document import FORMAT as SESSION_FORMAT
from ...formats.session_document import (
    MOST_STEPS,
    STEP_READERS,
    flag,
    read_cues,
    read_placement,
    read_prompts,
    read_rule,
    read_session,
    read_settings,
)
from ...formats.session_document import VERSION as SESSION_VERSION
from ...model.events import MarkAt, MarkerKind
from ...reading.document_values import (
    InvalidDocument,
    Reader,
    Reading,
    date,
    number,
    one_of,
    read_fields,
    text,
)
from ...rules.judgement_numbers import read_judging
from ..calculators.schedules import StageKind
from .plan_types import Dimension, Hazard, Way

FORMAT = "frequens-plan"
VERSION = 1
#: Cautions, markers and the like: more than these nobody reads.
MOST_PARTS = 30
MOST_RUNGS = 100


class InvalidPlan(InvalidDocument):
    """The plan document cannot be right."""


_line = text(longest=400)
_name = text(longest=200, empty=False)
_paragraph = text(longest=4000)

_STEP: Mapping[str, Reader] = {
    "key": _name,
    "title": _line,
    "criterion": _paragraph,
    "mark_at": one_of(*get_args(MarkAt)),
    "hold_s": number(0, 3600),
    "way": one_of(*get_args(Way)),
    "fallback": _name,
    **STEP_READERS,
}
_PLAN: Mapping[str, Reader] = {
    "behaviour": _line,
    "goal": _paragraph,
    "way": one_of(*get_args(Way)),
    "after_marker": one_of("release", "stay"),
    "after_miss": one_of("wait", "no_reward_marker"),
    "reset": one_of("toss", "in_position"),
    "lure_reps": number(0, 1000, whole=True),
    "rate_floor_per_min": number(0, 1000),
    "session_cap_s": number(0, 24 * 3600),
    "rep_cap": number(1, 100_000, whole=True),
    "notes": _paragraph,
}


def _list_of(read: Reader, most: int) -> Reader:
    def read_all(reading: Reading, path: str, value: Any) -> list[Any]:
        items = reading.items(path, value)
        if len(items) > most:
            reading.fault(path, "more_than", most=most)
        return [read(reading, f"{path}[{n}]", item) for n, item in enumerate(items[:most])]

    return read_all


def _object_of(readers: Mapping[str, Reader], *required: str) -> Reader:
    def read(reading: Reading, path: str, value: Any) -> dict[str, Any]:
        before = len(reading.faults)
        found = read_fields(reading, path, value, readers)
        for key in required:
            if key not in found and len(reading.faults) == before:
                reading.fault(f"{path}.{key}", "missing")
        return found

    return read


_raises = _list_of(one_of(*get_args(Dimension)), len(get_args(Dimension)))
_step = _object_of({**_STEP, "raises": _raises, "retired": flag}, "key")
_WHOLE: Mapping[str, Reader] = {
    **_PLAN,
    "format": one_of(FORMAT),
    "version": number(VERSION, VERSION, whole=True),
    "markers": _list_of(
        _object_of({"name": _name, "meaning": one_of(*get_args(MarkerKind))}, "name", "meaning"), 10
    ),
    "placement": read_placement,
    "prompts": read_prompts,
    "settings": read_settings,
    "judging": read_judging,
    "cues": read_cues,
    "cue": _object_of({"name": _name, "from_step": _name}, "name"),
    "rule": read_rule,
    "conditions": _list_of(
        _object_of({"name": _name, "levels": _list_of(_name, MOST_PARTS)}, "name"), MOST_PARTS
    ),
    "programme": _object_of(
        {
            "fades_days": number(1, 365, whole=True),
            "wait_share": number(0, 0.9),
            "new_share": number(0.1, 1),
        }
    ),
    "ladders": _list_of(
        _object_of(
            {
                "name": _name,
                "rungs": _list_of(number(-1e9, 1e9), MOST_RUNGS),
                "least_days": number(0, 365, whole=True),
                "limit": number(-1e9, 1e9),
            },
            "name",
        ),
        MOST_PARTS,
    ),
    "stages": _list_of(
        _object_of(
            {
                "name": _name,
                "kind": one_of(*get_args(StageKind)),
                "until": _name,
                "least_weeks": number(0, 52),
                "most_weeks": number(0, 104),
                "goes": number(1, 200, whole=True),
            },
            "name",
        ),
        MOST_PARTS,
    ),
    "calendar": _object_of(
        {
            "begins": date,
            "a_day": number(1, 10, whole=True),
            "a_week": number(1, 70, whole=True),
            "rest": _list_of(number(0, 6, whole=True), 6),
        }
    ),
    "chain": _object_of(
        {"direction": one_of("forward", "backward"), "parts": _list_of(_name, MOST_PARTS)}
    ),
    "hazards": _list_of(one_of(*get_args(Hazard)), len(get_args(Hazard))),
    "approximations": _list_of(_step, MOST_STEPS),
}


def read_shaping_plan(document: Any) -> dict[str, Any]:
    """The plan with what is null left out. Raises InvalidPlan naming every fault by its path."""
    reading = Reading()
    found = reading.mapping("", document, tuple(_WHOLE))
    for key in ("format", "version"):
        if key not in found:
            reading.fault(key, "missing")
    plan = {
        key: _WHOLE[key](reading, key, value)
        for key, value in found.items()
        if key in _WHOLE and value is not None
    }
    if not reading.faults:
        _check_keys(reading, plan)
    if reading.faults:
        raise InvalidPlan(reading.faults)
    return plan


def _check_keys(reading: Reading, plan: Mapping[str, Any]) -> None:
    keys: list[str] = []
    for place, step in enumerate(plan.get("approximations", [])):
        if step["key"] in keys:
            reading.fault(f"approximations[{place}].key", "used_twice", value=repr(step["key"]))
        keys.append(step["key"])
        if step.get("mark_at") == "hold" and "hold_s" not in step:
            reading.fault(f"approximations[{place}].hold_s", "hold_missing")
    for place, step in enumerate(plan.get("approximations", [])):
        if "fallback" in step and step["fallback"] not in keys:
            reading.fault(
                f"approximations[{place}].fallback", "not_in_plan", value=repr(step["fallback"])
            )
    for place, stage in enumerate(plan.get("stages", [])):
        if "until" in stage and stage["until"] not in keys:
            reading.fault(f"stages[{place}].until", "not_in_plan", value=repr(stage["until"]))
    names = [ladder["name"] for ladder in plan.get("ladders", [])]
    for place, name in enumerate(names):
        if name in names[:place]:
            reading.fault(f"ladders[{place}].name", "used_twice", value=repr(name))
    cue = plan.get("cue", {})
    if "from_step" in cue and cue["from_step"] not in keys:
        reading.fault("cue.from_step", "not_in_plan", value=repr(cue["from_step"]))


def steps_in_use(plan: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    """The steps that are not retired, from the bottom."""
    return [s for s in plan.get("approximations", []) if not s.get("retired")]


def step_in_use(plan: Mapping[str, Any], key: str | None) -> Mapping[str, Any] | None:
    """The step with this key, None where there is none or it is retired."""
    return next((s for s in steps_in_use(plan) if s["key"] == key), None)


def session_plan(plan: Mapping[str, Any]) -> dict[str, Any]:
    """The `plan` of a `frequens-session` document filmed under this one.

    Retired steps are left out, and a fallback to one of them too.
    """
    steps = steps_in_use(plan)
    keys = {step["key"] for step in steps}
    wanted = ("key", "title", "mark_at", "hold_s", "fallback", *STEP_READERS)
    made: dict[str, Any] = {
        "approximations": [
            {
                key: step[key]
                for key in wanted
                if key in step and not (key == "fallback" and step[key] not in keys)
            }
            for step in steps
        ]
    }
    whole = ("rule", "placement", "rate_floor_per_min", "session_cap_s", "rep_cap")
    for key in (*whole, "prompts", "cues"):
        if key in plan:
            made[key] = plan[key]
    judging = dict(plan.get("judging", {}))
    if "lure_reps" in plan:
        # The plan's own limit of lures is the judgement's.
        judging.setdefault("lure_reps", plan["lure_reps"])
    if judging:
        made["judging"] = judging
    # What the session's own reader would refuse must not leave here.
    document = {"format": SESSION_FORMAT, "version": SESSION_VERSION, "plan": made, "events": []}
    read_session(document)
    return made
