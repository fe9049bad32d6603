"""What each line of the judgement looked at, in words and numbers, whether it was true or not."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from .case import Case
from .lines import last_stays, tries_above
from .words import HELP_WORDS, counted


def _of(count: float, of: float) -> str:
    return f"{count:g} of {of:g}"


def _last(case: Case, count: int) -> str:
    last = case.record.last(count)
    return f"{sum(last)} of the last {len(last)} fit"


def _pay(case: Case) -> str:
    if case.paid_per_min is None:
        return "too little work to tell"
    return f"{case.paid_per_min:.1f} a minute, {case.floor_per_min:.1f} is the least"


def _times(count: int) -> str:
    return counted(count, "time")


def _pauses(case: Case) -> str:
    """Pauses before a rep, and coming back after being sent away, where there are enough."""
    said = [
        f"{rise.first_s:.1f} s at first, {rise.last_s:.1f} s at the end"
        for rise in (case.today.pauses, case.today.returns)
        if rise is not None and rise.first_s is not None and rise.last_s is not None
    ]
    return "; ".join(said) or "too few to tell"


def _longest(case: Case) -> str:
    return f"{max((length for length, _ in case.waits), default=0):.0f} s at most"


#: By code: the question in words, and what was found.
CHECKED: Mapping[str, tuple[str, Callable[[Case], str]]] = {
    "distress": ("Strong signs of strain?", lambda c: f"{c.today.signs[2]}"),
    "unease": (
        "Ease: marked signs, and leaving the work?",
        lambda c: f"{c.today.signs[1]}, and {c.today.opt_outs}",
    ),
    "rule_lower": ("Does the school say lower?", lambda c: c.school.decision),
    "five_misses": ("Misses in a row?", lambda c: f"{c.record.run(False)}"),
    "mostly_missed": ("Mostly failing?", lambda c: _last(c, c.numbers.low_reps)),
    "rate_floor": ("Paid often enough?", _pay),
    "ease_first": (
        "Quite at ease: slight signs, marked signs, leaving?",
        lambda c: f"{c.today.signs[0]}, {c.today.signs[1]}, {c.today.opt_outs}",
    ),
    "failed_above": ("Failed at the next step lately?", lambda c: _times(len(tries_above(c)))),
    "failed_above_today": ("And today?", lambda c: _times(sum(tries_above(c)))),
    "mend_timing": ("Markers that missed?", lambda c: _of(*c.today.missed)),
    "mend_pay": ("Markers without a reward?", lambda c: _of(*c.today.unpaid)),
    "mend_hand": ("The hand before the marker?", lambda c: _of(*c.today.hand_first)),
    "help_left": (
        "More help than the step allows?",
        lambda c: f"{HELP_WORDS[c.most_help]} is allowed",
    ),
    "lure_long": (
        "Food in the hand?",
        lambda c: f"on {counted(sum(t.help == 'food_lure' for t in c.record.trials), 'rep')}",
    ),
    "cue_overlap": (
        "Cue and help together?",
        lambda c: _of(c.today.overlapped, c.today.cued),
    ),
    "cue_repeated": (
        "Cue said more than once?",
        lambda c: _of(c.today.repeated, c.today.presentations),
    ),
    "not_waiting": (
        "Shown unasked?",
        lambda c: _of(c.record.total("alarms"), c.record.total("windows")),
    ),
    "not_tested": ("Waits without a cue?", lambda c: f"{c.record.total('windows')}"),
    "wrong_answers": (
        "Answered with something else?",
        lambda c: _of(c.record.total("wrong"), c.record.total("presentations")),
    ),
    "uneven": (
        "Weak in one condition?",
        lambda c: f"{len({i for t in c.record.trials for i in t.conditions.items()})} looked at",
    ),
    "rising_pause": ("Slower and slower?", _pauses),
    "more_signs": (
        "More signs at the end?",
        lambda c: f"{c.today.signs_first} at first, {c.today.signs_last} at the end",
    ),
    "dry_spell": ("A long wait for pay?", _longest),
    "left_early": (
        "Left before it was let go?",
        lambda c: _times(sum(not kept for kept in last_stays(c))),
    ),
    "plateau": ("No further for long?", lambda c: f"{len(c.record.met)} reps on record"),
}
