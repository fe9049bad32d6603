"""Reading plain values with every fault named by its path.

The readers of documents are built from these: each takes the reading, a path and a value,
and gives the value back or None after naming the fault.
"""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Callable, Mapping, Sequence
from typing import Any

#: No film and no setting reaches this; it keeps absurd numbers from the arithmetic.
LONGEST_S = 7 * 24 * 3600.0

Fault = str


class InvalidDocument(ValueError):
    """The document cannot be right. `faults` holds one line per fault, all of them."""

    def __init__(self, faults: Sequence[Fault]):
        super().__init__("\n".join(faults))
        self.faults = tuple(faults)


class Reading:
    """Collects the faults met while reading; a value that failed reads as None."""

    def __init__(self) -> None:
        self.faults: list[Fault] = []

    def fault(self, path: str, text: str) -> None:
        self.faults.append(f"{path}: {text}")

    def mapping(self, path: str, value: Any, known: Sequence[str]) -> Mapping[str, Any]:
        if not isinstance(value, Mapping):
            self.fault(path, "not an object")
            return {}
        for key in value:
            if key not in known:
                self.fault(f"{path}.{key}" if path else str(key), "unknown key")
        return value

    def items(self, path: str, value: Any) -> Sequence[Any]:
        if not isinstance(value, list):
            self.fault(path, "not a list")
            return []
        return value


Reader = Callable[[Reading, str, Any], Any]


def number(low: float = -LONGEST_S, high: float = LONGEST_S, *, whole: bool = False) -> Reader:
    """Reads a finite number from low to high."""

    def read(reading: Reading, path: str, value: Any) -> float | int | None:
        if isinstance(value, bool) or not isinstance(value, int | float):
            reading.fault(path, "not a number")
        elif not math.isfinite(value):
            reading.fault(path, "not a finite number")
        elif whole and value != int(value):
            reading.fault(path, "not a whole number")
        elif not low <= value <= high:
            reading.fault(path, f"must lie from {low:g} to {high:g}, not {value:g}")
        else:
            return int(value) if whole else value
        return None

    return read


def text(*, longest: int = 4000, empty: bool = True) -> Reader:
    """Reads a text of at most `longest` characters."""

    def read(reading: Reading, path: str, value: Any) -> str | None:
        if not isinstance(value, str):
            reading.fault(path, "not a text")
        elif not empty and not value:
            reading.fault(path, "must not be empty")
        elif len(value) > longest:
            reading.fault(path, f"longer than {longest} characters")
        else:
            return value
        return None

    return read


def one_of(*allowed: str) -> Reader:
    """Reads one of the texts allowed."""

    def read(reading: Reading, path: str, value: Any) -> str | None:
        if isinstance(value, str) and value in allowed:
            return value
        reading.fault(path, f"must be one of {', '.join(allowed)}, not {value!r}")
        return None

    return read


def date(reading: Reading, path: str, value: Any) -> str | None:
    """Reads a calendar day."""
    try:
        return dt.date.fromisoformat(value).isoformat()
    except (TypeError, ValueError):
        reading.fault(path, f"not a date like 2026-05-02: {value!r}")
        return None


def read_fields(
    reading: Reading, path: str, value: Any, readers: Mapping[str, Reader]
) -> dict[str, Any]:
    """The fields of an object that are there and not null, each by its reader."""
    found = reading.mapping(path, value, tuple(readers))
    return {
        key: readers[key](reading, f"{path}.{key}", item)
        for key, item in found.items()
        if key in readers and item is not None
    }
