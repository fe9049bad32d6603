"""A step put between two others: half-way where there is a number to halve."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from frequens.words import fill
from frequens.words.spoken import next_session as words

Step = Mapping[str, Any]


def step_between(key: str, low: Step | None, high: Step) -> dict[str, Any]:
    """A new step before `high`, after `low` where there is one below.

    A hold and a measured aim lie half-way; what counts has to be said by the trainer, because
    nobody else can know what half of it looks like.
    """
    titles = {"low": _title(low) if low else "", "high": _title(high)}
    made: dict[str, Any] = {
        "key": key,
        "title": fill(words.STEP_BETWEEN["between" if low else "half_way"], {}, **titles),
        "mark_at": high.get("mark_at", "onset"),
    }
    for name in ("until_release", "answers", "help", "parts"):
        if name in high:
            made[name] = high[name]
    if low is not None:
        made["fallback"] = low["key"]
    if high.get("mark_at") == "hold":
        made["hold_s"] = round((_hold(low) + high["hold_s"]) / 2, 2)
        made["criterion"] = fill(words.STEP_BETWEEN["hold"], made)
    quantity, aim = high.get("quantity"), _half(low, high)
    if quantity is not None:
        made["quantity"] = {k: v for k, v in quantity.items() if k != "target"}
        if aim is not None:
            made["quantity"]["target"] = aim
            made["criterion"] = fill(
                words.STEP_BETWEEN[quantity["better"]],
                {"aim": aim},
                quantity=quantity["name"],
                unit=fill(words.UNIT, quantity) if quantity["unit"] else "",
            )
    return made


def _title(step: Step) -> str:
    title: str = step.get("title") or step["key"]
    return title


def _hold(step: Step | None) -> float:
    held = step.get("hold_s") if step is not None else None
    return 0.0 if held is None else float(held)


def _half(low: Step | None, high: Step) -> float | None:
    """Half-way between two aims of the same kind; None where there are not two of them."""
    quantity = high.get("quantity") or {}
    before = (low.get("quantity") or {}) if low is not None else {}
    if "target" not in quantity:
        return None
    aim = float(quantity["target"])
    if low is None:
        return round(aim / 2, 3) if quantity["better"] == "more" else None
    if "target" not in before or before.get("name") != quantity.get("name"):
        return None
    return round((float(before["target"]) + aim) / 2, 3)
