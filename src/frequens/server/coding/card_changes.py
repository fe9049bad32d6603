"""What a trainer changed on the card of the next session."""

from __future__ import annotations

from typing import Any

from typing_extensions import TypedDict

from frequens.core import InvalidSession
from frequens.core.reading.document_values import (
    Reader,
    Reading,
    instant,
    number,
    read_fields,
    text,
)


class CardChanges(TypedDict, total=False):
    """What is set instead of the rule's values; null takes one back."""

    at: str | None
    minutes: float | None
    reps: int | None
    pieces: int | None
    warm_up: str | None
    criterion: str | None
    note: str | None


_READERS: dict[str, Reader] = {
    "at": instant,
    "minutes": number(0.5, 240),
    "reps": number(1, 1000, whole=True),
    "pieces": number(1, 10_000, whole=True),
    "warm_up": text(longest=200),
    "criterion": text(longest=200),
    "note": text(longest=4000),
}


def check_changes(changes: Any) -> dict[str, Any]:
    """The changes with what is null left out. Raises InvalidSession naming every fault."""
    reading = Reading()
    found = read_fields(reading, "next_session", changes, _READERS)
    if reading.faults:
        raise InvalidSession(reading.faults)
    return found
