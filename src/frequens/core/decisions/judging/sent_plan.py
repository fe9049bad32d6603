"""What the judgement asks of a plan, with every default written out: for a program elsewhere that
judges by the same rules, such as a phone without a network."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from ...model.events import Plan
from ...rules.judgement_numbers import Judging
from ...rules.schools import with_defaults
from .judge import DEFAULT_RULE

_OF_STEP = ("key", "hold_s", "rate_floor_per_min", "help", "until_release", "answers", "fallback")


def sent_plan(plan: Plan) -> dict[str, Any]:
    """The plan as plain values: its steps in order, its rule and all numbers of the rules."""
    given: Mapping[str, Any] = plan.judging
    return {
        "approximations": [
            {name: getattr(step, name) for name in _OF_STEP}
            | {"title": step.title or step.key}
            | {
                "quantity": step.quantity
                and {"better": step.quantity.better, "target": step.quantity.target}
            }
            for step in plan.approximations
        ],
        "prompts": list(plan.prompts),
        "rule": with_defaults(plan.rule or DEFAULT_RULE),
        "rate_floor_per_min": plan.rate_floor_per_min,
        "session_cap_s": plan.session_cap_s,
        "rep_cap": plan.rep_cap,
        "numbers": asdict(Judging(**given)),
    }
