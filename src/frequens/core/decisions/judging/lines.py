"""The lines of the judgement, one small function each, in the order of the table.

A line that is true gives its finding: the code, the decision it would make, and its numbers.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from ...measures.helping import STRENGTH
from .case import Case
from .rising import has_risen

Decision = Literal["raise", "hold", "lower", "split", "fade", "proof", "end", "none"]
Numbers = Mapping[str, Any]


@dataclass(frozen=True)
class Finding:
    """A line that is true. `help` is the level to fade to, `split` the steps around a new one."""

    code: str
    decision: Decision
    numbers: Numbers = field(default_factory=dict)
    help: str | None = None
    split: tuple[str | None, str | None] | None = None


Line = Callable[[Case], Finding | None]


def _down(case: Case, code: str, numbers: Numbers) -> Finding:
    """A step back; without one below, a smaller step before this one."""
    if case.below is not None:
        return Finding(code, "lower", numbers)
    return Finding(code, "split", numbers, split=(None, case.key))


# -- 1 and 2: the animal ------------------------------------------------------------------


def distress(case: Case) -> Finding | None:
    severe = case.today.signs[2]
    return Finding("distress", "end", {"signs": severe}) if severe else None


def unease(case: Case) -> Finding | None:
    today, n = case.today, case.numbers
    signs, left = today.signs[1], today.opt_outs
    often = left >= n.unease_opt_outs and left >= n.opt_out_share * today.attempts
    if signs >= n.unease_signs or often or (signs and left):
        return _down(case, "unease", {"signs": signs, "opt_outs": left})
    return None


# -- 3: failing ---------------------------------------------------------------------------


def rule_lower(case: Case) -> Finding | None:
    if case.school.decision != "lower":
        return None
    return _down(case, "rule_lower", case.school.numbers)


def five_misses(case: Case) -> Finding | None:
    misses = case.record.run(False)
    if misses < case.numbers.misses:
        return None
    return _down(case, "five_misses", {"misses": misses})


def mostly_missed(case: Case) -> Finding | None:
    n = case.numbers
    last = case.record.last(n.low_reps)
    if len(last) < n.low_reps or sum(last) >= n.low_share * n.low_reps - 1e-9:
        return None
    return _down(case, "mostly_missed", {"met": sum(last), "judged": len(last)})


# -- 4: pay -------------------------------------------------------------------------------


def _pay(case: Case) -> Numbers | None:
    per_min = case.paid_per_min
    if per_min is None or per_min >= case.floor_per_min - 1e-9:
        return None
    return {"per_min": round(per_min, 3), "rate_floor_per_min": round(case.floor_per_min, 3)}


def rate_floor(case: Case) -> Finding | None:
    numbers = _pay(case)
    if numbers is None or case.good or case.says_raise:
        return None
    return _down(case, "rate_floor", numbers)


def slow_pay(case: Case) -> Finding | None:
    numbers = _pay(case)
    if numbers is None or not (case.good or case.says_raise):
        return None
    return Finding("slow_pay", "hold", numbers)


# -- 5: the school says raise, and -------------------------------------------------------------


def ease_first(case: Case) -> Finding | None:
    today, n = case.today, case.numbers
    mild, marked, left = today.signs[0], today.signs[1], today.opt_outs
    often = mild >= n.mild_signs and mild >= n.mild_per_min * today.minutes
    if left or marked >= n.two_signs or often:
        return Finding("ease_first", "hold", {"mild": mild, "signs": marked, "opt_outs": left})
    return None


def tries_above(case: Case) -> list[bool]:
    """Failed tries at the next step since it was done there last, each: was it today?"""
    n, tries = case.numbers, list[bool]()
    for session in case.sessions:
        own = [trial.met for trial in session.trials if trial.step == case.above]
        if len(own) >= n.sure_reps and sum(own) >= n.sure_share * len(own) - 1e-9:
            tries = []
        elif len(own) >= n.try_reps and sum(own) < n.try_share * len(own) - 1e-9:
            tries.append(session is case.today)
    return tries


def failed_above(case: Case) -> Finding | None:
    tries = tries_above(case) if case.above is not None else []
    if len(tries) < 2:
        return None
    return Finding("failed_above", "split", {"tries": len(tries)}, split=(case.key, case.above))


def failed_above_today(case: Case) -> Finding | None:
    tries = tries_above(case) if case.above is not None else []
    return Finding("failed_above_today", "hold", {"tries": 1}) if tries == [True] else None


def _often(count: int, of: int, least: int, share: float) -> bool:
    return count >= least and count >= share * of - 1e-9


def mend_timing(case: Case) -> Finding | None:
    count, of = case.today.missed
    if not _often(count, of, case.numbers.missed, case.numbers.missed_share):
        return None
    return Finding("mend_timing", "hold", {"missed": count, "n": of, **case.today.missed_kinds})


def mend_pay(case: Case) -> Finding | None:
    count, of = case.today.unpaid
    if not _often(count, of, case.numbers.unpaid, case.numbers.unpaid_share):
        return None
    return Finding("mend_pay", "hold", {"unpaid": count, "n": of})


def mend_hand(case: Case) -> Finding | None:
    count, of = case.today.hand_first
    if not _often(count, of, case.numbers.hand, case.numbers.hand_share):
        return None
    return Finding("mend_hand", "hold", {"before_marker": count, "n": of})


def help_left(case: Case) -> Finding | None:
    """Most of what made the rule say raise was done with more help than the step allows."""
    known = [trial.help for trial in case.school.because if trial.help is not None]
    if not case.says_raise or not known:
        return None
    level = next(
        one
        for one in reversed(STRENGTH)
        if 2 * sum(STRENGTH.index(h) >= STRENGTH.index(one) for h in known) > len(known)
    )
    if STRENGTH.index(level) >= STRENGTH.index(case.most_help):
        return None
    return Finding("help_left", "fade", {"n": len(known)}, help=case.weaker(level))


def lure_long(case: Case) -> Finding | None:
    n = case.numbers
    lured = [trial.help == "food_lure" for trial in case.record.trials]
    if sum(lured) <= n.lure_reps or not any(lured[-n.lure_recent :] if n.lure_recent else []):
        return None
    numbers = {"lured": sum(lured), "lure_reps": n.lure_reps}
    return Finding("lure_long", "fade", numbers, help=case.weaker("food_lure"))


def cue_overlap(case: Case) -> Finding | None:
    count, of = case.today.overlapped, case.today.cued
    if not _often(count, of, case.numbers.cue, case.numbers.cue_share):
        return None
    return Finding("cue_overlap", "hold", {"overlapped": count, "n": of})


def cue_repeated(case: Case) -> Finding | None:
    count, of = case.today.repeated, case.today.presentations
    if not _often(count, of, case.numbers.cue, case.numbers.cue_share):
        return None
    return Finding("cue_repeated", "hold", {"repeated": count, "n": of})


def not_waiting(case: Case) -> Finding | None:
    alarms, windows = case.record.total("alarms"), case.record.total("windows")
    n = case.numbers
    if not _asks(case) or alarms < n.alarms or alarms <= n.alarm_share * windows + 1e-9:
        return None
    return Finding("not_waiting", "hold", {"alarms": alarms, "windows": windows})


def not_tested(case: Case) -> Finding | None:
    windows = case.record.total("windows")
    if not _asks(case) or windows >= case.numbers.windows or not_waiting(case) is not None:
        return None
    return Finding("not_tested", "hold", {"windows": windows, "wanted": case.numbers.windows})


def wrong_answers(case: Case) -> Finding | None:
    wrong, asked = case.record.total("wrong"), case.record.total("presentations")
    n = case.numbers
    if not _asks(case) or wrong < n.wrong or wrong <= n.wrong_share * asked + 1e-9:
        return None
    return Finding("wrong_answers", "hold", {"wrong": wrong, "n": asked})


def _asks(case: Case) -> bool:
    return case.step is not None and case.step.answers


def uneven(case: Case) -> Finding | None:
    """The weakest level of a condition with which it fails more often than not."""
    n = case.numbers
    levels: dict[tuple[str, str], list[bool]] = {}
    for trial in case.record.trials:
        for item in trial.conditions.items():
            levels.setdefault(item, []).append(trial.met)
    weak = [
        (sum(last) / len(last), name, level, sum(last), len(last))
        for (name, level), met in levels.items()
        if len(met) >= n.level_reps and (last := met[-n.level_last :])
        if sum(last) < n.level_share * len(last) - 1e-9
    ]
    if not weak:
        return None
    _, name, level, met_there, of = min(weak)
    return Finding(
        "uneven", "hold", {"condition": name, "level": level, "met": met_there, "judged": of}
    )


def rising_pause(case: Case) -> Finding | None:
    for what, rise in (("pause", case.today.pauses), ("return", case.today.returns)):
        if rise is not None and has_risen(rise, case.numbers):
            numbers = {"what": what, "first_s": rise.first_s, "last_s": rise.last_s, "p": rise.p}
            return Finding("rising_pause", "hold", numbers)
    return None


def more_signs(case: Case) -> Finding | None:
    first, last = case.today.signs_first, case.today.signs_last
    if last < first + case.numbers.more_signs:
        return None
    return Finding("more_signs", "hold", {"first_third": first, "last_third": last})


def dry_spell(case: Case) -> Finding | None:
    """A long wait for pay that reaches into the last third of the work."""
    worked = case.today.worked
    limit = max(case.today.limit_s, 2 * case.cycle_s)
    late = [
        length
        for length, end in case.waits
        if worked is not None and length > limit + 1e-9 and end > worked.total * 2 / 3
    ]
    if not late:
        return None
    return Finding("dry_spell", "hold", {"longest_s": round(max(late), 3), "limit_s": limit})


def last_stays(case: Case) -> tuple[bool, ...]:
    """The last stays of today at the step, kept or not."""
    return case.today.stays.get(case.key or "", ())[-case.numbers.stays :]


def left_early(case: Case) -> Finding | None:
    if case.step is None or not case.step.until_release:
        return None
    last = last_stays(case)
    if not last or sum(last) >= case.numbers.kept_share * len(last) - 1e-9:
        return None
    return Finding("left_early", "hold", {"kept": sum(last), "n": len(last)})


# -- 6: no further --------------------------------------------------------------------------


def plateau(case: Case) -> Finding | None:
    n, met = case.numbers, case.record.met
    sessions = sum(bool(entry.trials) for entry in case.record.entries)
    if case.says_raise or case.school.kind == "percentile":
        return None
    if len(met) < n.plateau_reps or sessions < n.plateau_sessions:
        return None
    share, third = sum(met) / len(met), len(met) // 3
    gain = (sum(met[-third:]) - sum(met[:third])) / third
    if not n.plateau_low <= share <= n.plateau_high or gain >= n.plateau_gain - 1e-9:
        return None
    numbers = {"met": sum(met), "judged": len(met), "sessions": sessions, "gain": round(gain, 3)}
    return Finding("plateau", "split", numbers, split=(case.below, case.key))


def half_met(case: Case) -> bool:
    """Whether at least half of the last reps fit: help is not taken from an animal that fails."""
    share = case.record.share_of_last(case.numbers.last_reps)
    return share is not None and share >= 0.5


def at_limit(case: Case) -> Finding | None:
    """A limit of the plan that was reached, or passed by a fifth: no decision."""
    passed, attempts = 60 * case.today.minutes, case.today.attempts
    reached = [(passed, case.plan.session_cap_s), (attempts, case.plan.rep_cap)]
    shares = [value / cap for value, cap in reached if cap]
    if not shares or max(shares) < 1:
        return None
    code = "over_limit" if max(shares) >= case.numbers.over - 1e-9 else "at_limit"
    return Finding(
        code, "hold", {"minutes": round(case.today.minutes, 2), "attempts": case.today.attempts}
    )


def food_first(case: Case) -> Finding | None:
    count, of = case.today.food_first, case.today.exposures
    if not _often(count, of, case.numbers.hand, case.numbers.hand_share):
        return None
    return Finding("food_first", "hold", {"food_first": count, "n": of})


#: Lines 1 to 4: they decide whatever the school says.
FIRST: Sequence[Line] = (distress, unease, rule_lower, five_misses, mostly_missed, rate_floor)
#: Line 5: what keeps a raise back, in its order.
KEEPS: Sequence[Line] = (
    ease_first, failed_above, failed_above_today, mend_timing, mend_pay, mend_hand, help_left,
    lure_long, cue_overlap, cue_repeated, not_waiting, not_tested, wrong_answers, uneven,
    rising_pause, more_signs, dry_spell, left_early,
)  # fmt: skip
#: Said beside and never deciding.
BESIDE: Sequence[Line] = (slow_pay, at_limit, food_first)
