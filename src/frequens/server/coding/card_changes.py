"""What a trainer changed on the card of the next session."""

from __future__ import annotations

from typing import Any

from frequens.core import InvalidSession
from frequens.core.reading.document_values import (
    Reader,
    Reading,
    instant,
    number,
    read_fields,
    text,
)

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
