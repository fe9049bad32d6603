"""The findings in one sentence a trainer can act on, made by rule from the numbers.

The advice decides; this says it. Before any change of criterion come the trainer's own hands:
where a third of the markers miss the behaviour, the timing is mended first.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from .advice import counted

Verdict = Literal["nothing_coded", "not_judged", "timing", "raise", "hold", "lower", "split", "end"]
Findings = Mapping[str, Any]
TitleOf = Callable[[str | None], str]
#: The timing comes first where at least this share of the marked reps, and this many, miss.
TIMING_SHARE, TIMING_LEAST = 1 / 3, 3


@dataclass(frozen=True, slots=True)
class Sentence:
    """What to do, in one sentence, and what kind of answer it is.

    `then` is what the rule said where a limit of the plan ended the session: a limit ends the
    session, not the learning.
    """

    verdict: Verdict
    text: str
    then: Verdict | None = None


def sentence(findings: Findings, title_of: TitleOf | None = None) -> Sentence:
    """The sentence for findings as `measure` gives them.

    `title_of` names an approximation by its key; without it the key itself stands.
    """
    name = title_of or (lambda key: key or "this step")
    counts, advice = findings["counts"], findings["advice"]
    if counts["attempts"] == 0:
        return Sentence("nothing_coded", "Nothing is coded yet: mark where the behaviour begins.")
    if advice is None or findings["success"]["judged"] == 0:
        return Sentence("not_judged", _not_judged(findings))
    codes = {reason["code"]: reason["numbers"] for reason in advice["reasons"]}
    last = findings["splits"]["segments"][-1]
    step = f"“{name(last['approximation'])}”"
    decision = advice["decision"]
    if decision == "end":
        return _end(findings, codes, step)
    if misses_the_behaviour(findings):
        return Sentence(
            "timing",
            f"First mend the marker's timing: it came {_timing(findings)}. Until then hold at "
            f"{step}: {_fits(last)}.",
        )
    if decision == "hold" and "unrewarded_markers" in codes:
        unpaid = codes["unrewarded_markers"]["unrewarded_markers"]
        return Sentence(
            "hold",
            f"Hold at {step}: first pay every marker; {counted(unpaid, 'marker')} brought no "
            f"reward{_timing_aside(findings)}.",
        )
    if decision == "hold" and "hand_first" in codes:
        first, of = codes["hand_first"]["before_marker"], codes["hand_first"]["n"]
        return Sentence(
            "hold",
            f"Hold at {step}: first keep the hand still until the marker; it moved before it on "
            f"{first:g} of {of:g}{_timing_aside(findings)}.",
        )
    words = {"raise": _raise, "lower": _lower, "split": _split, "hold": _hold}[decision]
    return Sentence(decision, words(findings, codes, step) + _timing_aside(findings) + ".")


def misses_the_behaviour(findings: Findings) -> bool:
    """Whether so many markers are early, late or after it was over that they come first."""
    marked, missed = findings["marker_latency_s"]["n"], missed_markers(findings)
    return missed >= TIMING_LEAST and missed >= TIMING_SHARE * marked


def missed_markers(findings: Findings) -> int:
    """Marked reps whose marker was early, late, or after the behaviour was over."""
    return sum(
        rep["timing"] in ("early", "late") or rep["behaviour_over"] is True
        for rep in findings["reps"]
        if rep["marker_s"] is not None
    )


def _not_judged(findings: Findings) -> str:
    reps = counted(findings["counts"]["attempts"], "rep")
    median = findings["marker_latency_s"]["median"]
    if median is None:
        return f"{reps}, none of them marked: judge which fit, and what to do follows."
    side = "before" if median < 0 else "after"
    return (
        f"Judge which of the {reps} fit, and what to do follows; your marker fell "
        f"{abs(median):.2f} s {side} the behaviour began."
    )


def _fits(split: Mapping[str, Any]) -> str:
    if split["judged"] == 0:
        return "no rep is judged there yet"
    return f"{split['met']} of {split['judged']} fit"


def _raise(findings: Findings, codes: Mapping[str, Any], step: str) -> str:
    last = findings["splits"]["segments"][-1]
    run = codes.get("rule_raise", {}).get("run")
    return f"Raise from {step}: {f'{run:g} in a row fit, ' if run else ''}{_fits(last)} in all"


def _lower(findings: Findings, codes: Mapping[str, Any], step: str) -> str:
    last = findings["splits"]["segments"][-1]
    if "rate_floor" in codes:
        paid = counted(codes["rate_floor"]["per_min"], "reward")
        return f"Go a step back from {step}: only {paid} in the last minute, {_fits(last)}"
    misses = codes.get("rule_lower", {}).get("misses")
    why = f"{misses:g} misses in a row, " if misses else ""
    return f"Go a step back from {step}: {why}{_fits(last)}"


def _split(findings: Findings, codes: Mapping[str, Any], step: str) -> str:
    paid = counted(codes.get("rate_floor", {}).get("per_min", 0), "reward")
    return f"Split {step} into smaller steps: only {paid} in the last minute"


def _hold(findings: Findings, codes: Mapping[str, Any], step: str) -> str:
    last = findings["splits"]["segments"][-1]
    why = ""
    if "dry_spell" in codes:
        why = f", and {codes['dry_spell']['longest_s']:.0f} s went by without a reward"
    elif "rising_pause" in codes:
        why = ", and it came back more and more slowly: a shorter session"
    elif "more_signs" in codes:
        why = ", and signs of strain grew: a shorter session"
    elif "too_few" in codes:
        why = ", too few to say more"
    return f"Hold at {step}: {_fits(last)}{why}"


def _end(findings: Findings, codes: Mapping[str, Any], step: str) -> Sentence:
    if "distress" in codes:
        return Sentence(
            "end",
            f"End here: a severe sign was seen at {step}. Rest and distance first; where fear or "
            "pain may be behind it, ask a veterinarian or a qualified behaviour professional"
            f"{_timing_aside(findings)}.",
        )
    if "rep_cap" in codes:
        n = codes["rep_cap"]
        why = f"{n['attempts']:g} reps, {n['rep_cap']:g} are the plan's limit"
    else:
        n = codes["session_cap"]
        why = (
            f"{n['training_time_s'] / 60:.1f} min, {n['session_cap_s'] / 60:.1f} are the plan's "
            "limit"
        )
    then: Verdict = "timing" if misses_the_behaviour(findings) else findings["advice"]["then"]
    last = findings["splits"]["segments"][-1]
    after = {
        "raise": f"Next time raise from {step}",
        "lower": f"Next time a step back from {step}",
        "split": f"Next time {step} in smaller steps",
        "hold": f"Next time {step} again",
        "timing": f"Next time {step} again, and the marker's timing first",
    }[then]
    return Sentence(
        "end",
        f"End on a success: {why}. {after}: {_fits(last)}{_timing_aside(findings)}.",
        then,
    )


def _timing(findings: Findings) -> str:
    """When markers came as they should not have: ``late on 3 of 12, early on 1``."""
    timing, marked = findings["timing"], findings["marker_latency_s"]["n"]
    said = [
        (timing["late"], "late"),
        (timing["early"], "early"),
        (timing["behaviour_over"] or 0, "after the behaviour was over"),
    ]
    parts = [f"{when} on {n}" for n, when in said if n]
    if parts:
        parts[0] += f" of {marked}"
    return ", ".join(parts)


def _timing_aside(findings: Findings) -> str:
    said = _timing(findings)
    return f"; your marker came {said}" if said else ""
