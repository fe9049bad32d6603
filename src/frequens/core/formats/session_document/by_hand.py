"""Counts of a session nobody filmed, in a `frequens-session` document."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ...model.events import ByHand
from ...reading.document_values import Reader, Reading, number, one_of, read_fields, text
from .shared import LEVELS, differing, read_conditions, read_label

MOST_SIGNS = 500


def _sign(reading: Reading, path: str, value: Any) -> tuple[str, int] | None:
    readers: dict[str, Reader] = {"label": read_label, "severity": number(1, 3, whole=True)}
    found = read_fields(reading, path, value, readers)
    if "severity" not in found:
        reading.fault(f"{path}.severity", "missing")
    severity = found.get("severity")
    return None if severity is None else (found.get("label") or "", severity)


def _signs(reading: Reading, path: str, value: Any) -> tuple[tuple[str, int], ...]:
    items = reading.items(path, value)
    if len(items) > MOST_SIGNS:
        reading.fault(path, "most_signs", most=MOST_SIGNS)
        return ()
    found = [_sign(reading, f"{path}[{n}]", item) for n, item in enumerate(items)]
    return tuple(sign for sign in found if sign is not None)


def read_hand_signs(reading: Reading, path: str, value: Any) -> list[dict[str, Any]]:
    """Signs as they are written: a `severity` from 1 to 3 and perhaps a `label`."""
    return [
        ({"label": label} if label else {}) | {"severity": severity}
        for label, severity in _signs(reading, path, value)
    ]


BY_HAND_READERS: Mapping[str, Reader] = {
    "approximation": text(longest=200),
    "judged": number(0, 2000, whole=True),
    "met": number(0, 2000, whole=True),
    "rewards": number(0, 5000, whole=True),
    "minutes": number(0.1, 240),
    "signs": _signs,
    "opt_outs": number(0, 500, whole=True),
    "conditions": read_conditions,
    "help": one_of(*LEVELS),
    "attempts": number(0, 2000, whole=True),
}


def read_by_hand(reading: Reading, value: Any) -> ByHand:
    """What was counted; the fits are among the judged."""
    found = read_fields(reading, "by_hand", value, BY_HAND_READERS)
    found = {key: item for key, item in found.items() if item is not None}
    if found.get("met", 0) > found.get("judged", 0):
        reading.fault("by_hand.met", "more_than_judged", judged=found.get("judged", 0))
    return ByHand(**found)


def written_counts(counts: ByHand) -> dict[str, Any]:
    """The counts as they are written: what is none is left out."""
    written = differing(counts, ByHand())
    if counts.signs:
        named = [({"label": label} if label else {}) | {"severity": s} for label, s in counts.signs]
        written["signs"] = named
    return written
