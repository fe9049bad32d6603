"""Reading plain values with every fault named by its path.

The readers of documents are built from these: each takes the reading, a path and a value,
and gives the value back or None after naming the fault.
"""

from __future__ import annotations

import datetime as dt
import math
import re
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from frequens.words import fill
from frequens.words.spoken import faults as said

#: No film and no setting reaches this; it keeps absurd numbers from the arithmetic.
LONGEST_S = 7 * 24 * 3600.0

#: Days before and after these are slips of the pen: nobody filmed or planned anything then.
FIRST_DAY, LAST_DAY = dt.date(1900, 1, 1), dt.date(2199, 12, 31)

Fault = str

#: Control characters but tab and line ends, halves of surrogate pairs, and what Unicode keeps for
#: no character ever: none can be shown, and most files and pages cannot hold them.
_UNREADABLE = re.compile(
    "[\\x00-\\x08\\x0b\\x0c\\x0e-\\x1f\\x7f-\\x84\\x86-\\x9f\\ud800-\\udfff\\ufdd0-\\ufdef"
    + "".join(chr(plane * 0x10000 + end) for plane in range(17) for end in (0xFFFE, 0xFFFF))
    + "]"
)


def unreadable(text: str) -> str | None:
    """The first character of a text that nothing can show, as `U+0000`; None without one."""
    found = _UNREADABLE.search(text)
    return f"U+{ord(found[0]):04X}" if found else None


def fault_words(code: str, **values: str | float) -> str:
    """What is wrong, in words. Raises KeyError for a code nobody has words for."""
    return fill(said.FAULTS[code], values)


def fault_at(path: str, code: str, **values: str | float) -> Fault:
    """What is wrong, after its place."""
    return f"{path}: {fault_words(code, **values)}"


class InvalidDocument(ValueError):
    """The document cannot be right. `faults` holds one line per fault, all of them."""

    def __init__(self, faults: Sequence[Fault]):
        super().__init__("\n".join(faults))
        self.faults = tuple(faults)


class Reading:
    """Collects the faults met while reading; a value that failed reads as None."""

    def __init__(self) -> None:
        self.faults: list[Fault] = []

    def fault(self, path: str, code: str, **values: str | float) -> None:
        self.faults.append(fault_at(path, code, **values))

    def mapping(self, path: str, value: Any, known: Sequence[str]) -> Mapping[str, Any]:
        if not isinstance(value, Mapping):
            self.fault(path, "not_object")
            return {}
        for key in value:
            if key not in known:
                self.fault(f"{path}.{key}" if path else str(key), "unknown_key")
        return value

    def items(self, path: str, value: Any) -> Sequence[Any]:
        if not isinstance(value, list):
            self.fault(path, "not_list")
            return []
        return value


Reader = Callable[[Reading, str, Any], Any]


def number(low: float = -LONGEST_S, high: float = LONGEST_S, *, whole: bool = False) -> Reader:
    """Reads a finite number from low to high."""

    def read(reading: Reading, path: str, value: Any) -> float | int | None:
        if isinstance(value, bool) or not isinstance(value, int | float):
            reading.fault(path, "not_number")
        elif isinstance(value, float) and not math.isfinite(value):
            reading.fault(path, "not_finite")
        elif whole and value != int(value):
            reading.fault(path, "not_whole")
        elif not low <= value <= high:
            # A whole number may be too long to be written as any other.
            given = f"{value:g}" if abs(value) < 1e300 else fault_words("hundreds_of_digits")
            limits = {"low": f"{low:g}", "high": f"{high:g}"}
            reading.fault(path, "out_of_range", **limits, given=given)
        else:
            return int(value) if whole else value
        return None

    return read


def text(*, longest: int = 4000, empty: bool = True) -> Reader:
    """Reads a text of at most `longest` characters."""

    def read(reading: Reading, path: str, value: Any) -> str | None:
        if not isinstance(value, str):
            reading.fault(path, "not_text")
        elif not empty and not value:
            reading.fault(path, "empty")
        elif len(value) > longest:
            reading.fault(path, "longer", longest=longest)
        elif found := unreadable(value):
            reading.fault(path, "unreadable", found=found)
        else:
            return value
        return None

    return read


def one_of(*allowed: str) -> Reader:
    """Reads one of the texts allowed."""

    def read(reading: Reading, path: str, value: Any) -> str | None:
        if isinstance(value, str) and value in allowed:
            return value
        reading.fault(path, "not_one_of", allowed=", ".join(allowed), value=repr(value))
        return None

    return read


def date(reading: Reading, path: str, value: Any) -> str | None:
    """Reads a calendar day from FIRST_DAY to LAST_DAY."""
    try:
        day = dt.date.fromisoformat(value)
    except (TypeError, ValueError):
        reading.fault(path, "not_date", value=repr(value))
        return None
    return day.isoformat() if _is_usual(reading, path, day) else None


def instant(reading: Reading, path: str, value: Any) -> str | None:
    """Reads a day and time of day, to the minute, from FIRST_DAY to LAST_DAY."""
    try:
        at = dt.datetime.fromisoformat(value)
    except (TypeError, ValueError):
        reading.fault(path, "not_instant", value=repr(value))
        return None
    return at.isoformat(timespec="minutes") if _is_usual(reading, path, at.date()) else None


def _is_usual(reading: Reading, path: str, day: dt.date) -> bool:
    if FIRST_DAY <= day <= LAST_DAY:
        return True
    limits = {"low": FIRST_DAY.isoformat(), "high": LAST_DAY.isoformat()}
    reading.fault(path, "out_of_range", **limits, given=day.isoformat())
    return False


def without_nulls(value: Any) -> Any:
    """A plain value in whose objects nothing is null: to every reader that is the same."""
    if isinstance(value, Mapping):
        return {key: without_nulls(item) for key, item in value.items() if item is not None}
    return [without_nulls(item) for item in value] if isinstance(value, list) else value


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
