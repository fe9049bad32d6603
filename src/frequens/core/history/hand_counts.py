"""A session nobody filmed: what was counted by hand, as it is kept and as findings."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NotRequired

from typing_extensions import TypedDict

from ..formats.session_document import BY_HAND_READERS, read_hand_signs
from ..reading.document_values import InvalidDocument, Reader, Reading, number, read_fields, text
from ..statistics.summaries import wilson


class HandSign(TypedDict):
    """A sign of unease, 1 (slight) to 3 (severe)."""

    severity: int
    label: NotRequired[str]


class HandCounts(TypedDict):
    """What was counted; whatever nobody counted is not there."""

    minutes: float
    reps: NotRequired[int]
    met: NotRequired[int]
    reinforcements: NotRequired[int]
    approximation: NotRequired[str]
    note: NotRequired[str]
    opt_outs: NotRequired[int]
    conditions: NotRequired[dict[str, str | float | bool]]
    help: NotRequired[str]
    signs: NotRequired[list[HandSign]]


_HAND_READERS: dict[str, Reader] = {
    "minutes": number(0.1, 240),
    "reps": number(0, 2000, whole=True),
    "met": number(0, 2000, whole=True),
    "reinforcements": number(0, 5000, whole=True),
    "approximation": text(longest=200),
    "note": text(longest=4000),
    # What the judgement asks for, as a session document by hand says it.
    **{key: BY_HAND_READERS[key] for key in ("opt_outs", "conditions", "help")},
    "signs": read_hand_signs,
}


def read_hand_counts(value: Any) -> dict[str, Any]:
    """Counts of a session entered by hand: `minutes` (required), `reps`, `met` among them,
    `reinforcements`, `approximation`, `note`, `opt_outs`, `signs` (each with a `severity` and
    perhaps a `label`), `help` and `conditions`, which held for all of it.

    Raises InvalidDocument naming every fault.
    """
    reading = Reading()
    found = read_fields(reading, "by_hand", value, _HAND_READERS)
    if not reading.faults:
        if "minutes" not in found:
            reading.fault("by_hand.minutes", "missing")
        if found.get("met", 0) > found.get("reps", 0):
            reading.fault("by_hand.met", "more_than_reps", reps=found.get("reps", 0))
    if reading.faults:
        raise InvalidDocument(reading.faults)
    return found


def findings_by_hand(counts: Mapping[str, Any]) -> dict[str, Any]:
    """Counts entered by hand under the keys of the findings; what they cannot tell is None."""
    minutes, reps = counts["minutes"], counts.get("reps", 0)
    judged = reps if "met" in counts else 0
    met = wilson(counts.get("met", 0), judged)
    # A blank is no zero: without a count nothing is known of the pay.
    paid = counts.get("reinforcements")
    share = {"met": met.count, "judged": met.of, "share": met.share}
    share |= {"low": met.low, "high": met.high}
    step = {
        "approximation": counts.get("approximation") or None,
        "training_time_s": minutes * 60,
        "attempts": reps,
        **share,
    }
    return {
        "training_time_s": minutes * 60,
        "counts": {"attempts": reps, "reinforcements": paid},
        "success": {**share, "longest_run": 0},
        "splits": {"segments": [step], "approximations": [step]},
        "marker_latency_s": None,
        "timing_error_s": None,
        "reward_latency_s": None,
    }
