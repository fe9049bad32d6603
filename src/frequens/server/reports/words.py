"""How the report says numbers, rules and steps."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from typing import Any

from frequens.core.rules.schools import RULES

MINUS = "−"
WAYS = {
    "free_shaping": "free shaping",
    "capturing": "capturing",
    "luring": "luring, then fading the lure",
    "targeting": "targeting",
}
MARK_AT = {"onset": "when it begins", "offset": "when it is over"}


def latency(value: float | None, digits: int = 2) -> str:
    """A signed difference in seconds: ``+0.30 s``."""
    if value is None:
        return "–"
    sign = MINUS if round(value, digits) < 0 else "+"
    return f"{sign}{abs(value):.{digits}f} s"


def percent(share: float | None) -> str:
    return "–" if share is None else f"{round(100 * share)} %"


def between(low: float | None, high: float | None) -> str:
    """An interval of shares in words."""
    if low is None or high is None:
        return "–"
    return f"{percent(low)} to {percent(high)}"


def clock(seconds: float) -> str:
    """A length as ``1:23``."""
    whole = round(seconds)
    return f"{whole // 60}:{whole % 60:02d}"


def instant(seconds: float) -> str:
    """An instant of the recording as ``1:23.467``."""
    thousandths = round(1000 * seconds)
    return f"{thousandths // 60_000}:{thousandths % 60_000 / 1000:06.3f}"


def long_day(date: dt.date | None) -> str:
    return f"{date.day} {date:%B %Y}" if date else ""


def rule_words(rule: Mapping[str, Any] | None) -> str:
    """The plan's rule for moving on, in one sentence; empty without one."""
    if not rule:
        return ""
    n = {**RULES.get(rule["kind"], {}), **rule}
    if n["kind"] == "run":
        back = f"; back after {n['miss']} misses in a row" if n["miss"] else ""
        return f"Up after {n['need']} in a row that fit{back}."
    if n["kind"] == "share":
        return (
            f"Up when {percent(n['raise'])} of the last {n['window']} fit; back below "
            f"{percent(n['lower'])}."
        )
    if n["kind"] == "block":
        return (
            f"In blocks of {n['size']}: up at {n['raise_at']} that fit, back at {n['lower_at']} "
            "or fewer."
        )
    if n["kind"] == "percentile":
        return (
            f"The criterion moves with the animal: above what about {percent(1 - n['w'])} of its "
            f"last {n['window']} reps reached."
        )
    return f"Up after {n['clean_sessions']} sessions in a row at ease."


def mark_at_words(step: Mapping[str, Any]) -> str:
    """When the marker should fall at a step."""
    if step.get("mark_at") == "hold":
        return f"after {step.get('hold_s', 0):g} s"
    return MARK_AT.get(step.get("mark_at", "onset"), MARK_AT["onset"])
