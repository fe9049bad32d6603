"""What each line of the judgement looked at, in numbers, whether it was true or not."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from .case import Case
from .lines import last_stays, tries_above


def _pair(count: str, of: str, pair: tuple[int, int]) -> Mapping[str, Any]:
    return {count: pair[0], of: pair[1]}


def _mostly_missed(case: Case) -> Mapping[str, Any]:
    last = case.record.last(case.numbers.low_reps)
    return {"met": sum(last), "judged": len(last)}


def _pauses(case: Case) -> Mapping[str, Any]:
    """Pauses before a rep, and coming back after being sent away, where there are enough."""
    known = [
        rise
        for rise in (case.today.pauses, case.today.returns)
        if rise is not None and rise.first_s is not None and rise.last_s is not None
    ]
    names = (("first_s", "last_s"), ("back_first_s", "back_last_s"))
    return {
        name: value
        for rise, (first, last) in zip(known, names, strict=False)
        for name, value in ((first, rise.first_s), (last, rise.last_s))
    }


#: By code: what was found. `core.words` has the question and the words for it.
CHECKED: Mapping[str, Callable[[Case], Mapping[str, Any]]] = {
    "distress": lambda c: {"signs": c.today.signs[2]},
    "unease": lambda c: {"signs": c.today.signs[1], "opt_outs": c.today.opt_outs},
    "rule_lower": lambda c: {"decision": c.school.decision},
    "five_misses": lambda c: {"misses": c.record.run(False)},
    "mostly_missed": _mostly_missed,
    "rate_floor": lambda c: {"per_min": c.paid_per_min, "rate_floor_per_min": c.floor_per_min},
    "ease_first": lambda c: {
        "mild": c.today.signs[0],
        "signs": c.today.signs[1],
        "opt_outs": c.today.opt_outs,
    },
    "failed_above": lambda c: {"tries": len(tries_above(c))},
    "failed_above_today": lambda c: {"tries": sum(tries_above(c))},
    "mend_timing": lambda c: _pair("missed", "n", c.today.missed),
    "mend_pay": lambda c: _pair("unpaid", "n", c.today.unpaid),
    "mend_hand": lambda c: _pair("before_marker", "n", c.today.hand_first),
    "help_left": lambda c: {"help": c.most_help},
    "lure_long": lambda c: {"lured": sum(t.help == "food_lure" for t in c.record.trials)},
    "cue_overlap": lambda c: {"overlapped": c.today.overlapped, "n": c.today.cued},
    "cue_repeated": lambda c: {"repeated": c.today.repeated, "n": c.today.presentations},
    "not_waiting": lambda c: {
        "alarms": c.record.total("alarms"),
        "windows": c.record.total("windows"),
    },
    "not_tested": lambda c: {"windows": c.record.total("windows")},
    "wrong_answers": lambda c: {
        "wrong": c.record.total("wrong"),
        "n": c.record.total("presentations"),
    },
    "uneven": lambda c: {
        "levels": len({item for t in c.record.trials for item in t.conditions.items()})
    },
    "rising_pause": _pauses,
    "more_signs": lambda c: {
        "first_third": c.today.signs_first,
        "last_third": c.today.signs_last,
    },
    "dry_spell": lambda c: {"longest_s": max((length for length, _ in c.waits), default=0.0)},
    "left_early": lambda c: {"left": sum(not kept for kept in last_stays(c))},
    "plateau": lambda c: {"judged": len(c.record.met)},
}
