"""What one session adds to the logbook beside rate, steps and timing: how the animal was, whether
it answers, stays, comes back, does its chain, and with how much help.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..statistics.summaries import Share, wilson

Findings = Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class DayTrend:
    """One session's row. What it does not hold is None; a share of nothing is None as well.

    `signs` counts signs of any severity, `worst` is the strongest, `opt_outs` counts leaving the
    work. `alarms` are windows with the behaviour although nothing was asked, `said_per_cue` the
    words said for each asking. `kept` are stays until let go, `stay_s` their median seconds and
    `pays_in_place` the mean of pays of a stay. `return_s` is the Kaplan-Meier median of coming
    back, `lost` those that did not. `completed` are chains done to the end, `weakest` the key of
    their weakest part. `alone` are attempts without help.
    """

    id: str
    date: dt.date
    signs: int
    worst: int
    opt_outs: int
    d_prime: float | None
    hits: Share | None
    alarms: Share | None
    said_per_cue: float | None
    kept: Share | None
    stay_s: float | None
    pays_in_place: float | None
    return_s: float | None
    lost: int | None
    completed: Share | None
    weakest: str | None
    alone: Share | None


def trend(session_id: str, date: dt.date, findings: Findings) -> DayTrend:
    """The row of a session with these findings, in whole or in short."""
    control, returns = findings["stimulus_control"], findings["returns"]
    asked = control["hit"] + control["wrong"] + control["miss"]
    windows = control["false_alarm"] + control["correct_rejection"]
    stay = _stay(findings)
    chains = list(findings["chains"].values())
    helped = findings["helped"]
    return DayTrend(
        id=session_id,
        date=date,
        signs=sum(sign["count"] for sign in findings["signs"]["labels"].values()),
        worst=max((sign["worst"] for sign in findings["signs"]["labels"].values()), default=0),
        opt_outs=findings["opt_outs"]["count"],
        d_prime=control["d_prime"],
        hits=wilson(control["hit"], asked) if asked else None,
        alarms=wilson(control["false_alarm"], windows) if windows else None,
        said_per_cue=_said_per_cue(findings["cues"]),
        kept=_pooled(s["kept"] for s in findings["stays"].values()),
        stay_s=stay["held_s"]["median"] if stay else None,
        pays_in_place=stay["pays_per_rep"]["mean"] if stay else None,
        return_s=returns["km_median_s"],
        lost=returns["lost"] if returns["n"] else None,
        completed=_pooled(chain["completed"] for chain in chains),
        weakest=next((c["weakest"] for c in reversed(chains) if c["weakest"]), None),
        alone=wilson(helped["of"] - helped["count"], helped["of"]) if helped else None,
    )


def _stay(findings: Findings) -> Mapping[str, Any] | None:
    """The stays of the step worked last, else of the one with most of them."""
    stays: Mapping[str, Any] = findings["stays"]
    step = findings["in_force"]["approximation"] if findings["in_force"] else None
    if (step or "") in stays:
        found: Mapping[str, Any] = stays[step or ""]
        return found
    return max(stays.values(), key=lambda s: s["attempts"], default=None)


def _said_per_cue(cues: Mapping[str, Any]) -> float | None:
    """Words said for each asking, over all cues."""
    said = [(c["said"]["mean"] * c["said"]["n"], c["said"]["n"]) for c in cues.values()]
    asked = sum(n for _, n in said)
    return sum(total for total, _ in said) / asked if asked else None


def _pooled(shares: Any) -> Share | None:
    known: Sequence[Mapping[str, Any]] = [s for s in shares if s["of"]]
    if not known:
        return None
    return wilson(sum(s["count"] for s in known), sum(s["of"] for s in known))
