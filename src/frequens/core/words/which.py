"""Which of a code's sentences is meant, told by its numbers: the same in every language."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Numbers = Mapping[str, Any]


def _first(*names: str) -> Callable[[Numbers], str]:
    """The first of these numbers that is there."""
    return lambda numbers: next((n for n in names if numbers.get(n) is not None), "")


#: What a school lacks for a raise, by the number that says it.
LACKING = _first("more", "criterion", "values", "clean")
#: By code: the name of the sentence that is meant; empty for the code's usual one.
WHICH: Mapping[str, Callable[[Numbers], str]] = {
    "rule_lower": _first("misses", "clean", "window"),
    "rule_raise": _first("need", "clean", "target", "size"),
    "too_few": _first("more"),
    "between": _first("more"),
    "mid_block": _first("more"),
    "nothing_judged": lambda n: "judge" if n["attempts"] else "",
    "lure_kept": lambda n: "no_limit" if n["reps"] is None else "",
    # Of lines that were looked at: what was found.
    "checked.rate_floor": lambda n: "unknown" if n["per_min"] is None else "",
    "checked.rising_pause": lambda n: (
        "unknown" if "first_s" not in n else "both" if "back_first_s" in n else ""
    ),
    "floor_impossible": lambda n: "own" if n["is_own"] else "",
}


def which(code: str, numbers: Numbers) -> str:
    """The key of the sentence that is meant: the code, or ``code.name`` where it has several."""
    meant = WHICH[code](numbers) if code in WHICH else ""
    return f"{code}.{meant}" if meant else code
