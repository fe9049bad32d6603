"""What reports say of days, rules and steps."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from typing import Any

from frequens.core.rules.schools import RULES
from frequens.words import fill
from frequens.words.forms import NOTHING
from frequens.words.spoken import report as said


def between(low: float | None, high: float | None) -> str:
    """An interval of shares in words."""
    if low is None or high is None:
        return NOTHING
    return fill(said.BETWEEN, {"low": low, "high": high})


def long_day(date: dt.date | None) -> str:
    """A day with its month's name; empty without one."""
    if date is None:
        return ""
    month = said.MONTHS[date.month - 1]
    return fill(said.DAY, {"day": date.day, "year": date.year}, month=month)


def rule_words(rule: Mapping[str, Any] | None) -> str:
    """The plan's rule for moving on, in one sentence; empty without one."""
    if not rule:
        return ""
    kind = rule["kind"]
    numbers = {**RULES.get(kind, {}), **rule}
    if kind == "run" and not numbers["miss"]:
        kind = "run.no_way_back"
    if kind == "percentile":
        numbers["above"] = 1 - numbers["w"]
    return fill(said.RULES[kind], numbers)


def mark_at_words(step: Mapping[str, Any]) -> str:
    """When the marker should fall at a step."""
    mark_at = step.get("mark_at", "onset")
    template = said.MARK_AT.get(mark_at, said.MARK_AT["onset"])
    return fill(template, {"hold_s": step.get("hold_s", 0)})
