"""Plain values from outside: what no part of the house can work with is refused as it comes in.

A lone surrogate cannot be written to any file, a control character breaks workbooks and pages,
an integer of four hundred digits is no number of anything, and a value nested a thousand deep
ends every function that walks it.
"""

from __future__ import annotations

import json
import math
from typing import Any

from .document_values import InvalidDocument, fault_at, fault_words, unreadable

#: Whole numbers above this are not kept exactly by every program that reads JSON (RFC 8259, 6).
MOST_NUMBER = 2**53
MOST_DEPTH = 24
#: More are not read by anybody.
MOST_FAULTS = 100


def read_json(text: str | bytes) -> Any:
    """The value of a JSON text. Raises InvalidDocument for one the house cannot work with."""
    try:
        value = json.loads(text, parse_int=_whole)
    except json.JSONDecodeError as error:
        at = {"line": error.lineno, "column": error.colno}
        raise InvalidDocument([fault_words("not_json", **at, problem=error.msg)]) from error
    except UnicodeDecodeError as error:
        raise InvalidDocument([fault_words("not_utf8", byte=error.start)]) from error
    except RecursionError as error:
        raise InvalidDocument([fault_words("not_json_depth")]) from error
    check_value(value)
    return value


def _whole(digits: str) -> int | float:
    # What is far too large is refused with its place in `check_value`.
    return int(digits) if len(digits) < 20 else float("inf")


def check_value(value: Any) -> None:
    """Raise InvalidDocument naming each text, number and depth nothing here can work with."""
    faults: list[str] = []
    waiting: list[tuple[str, Any, int]] = [("", value, 0)]
    while waiting and len(faults) < MOST_FAULTS:
        path, item, depth = waiting.pop()
        if isinstance(item, str):
            faults += _unreadable(path, item)
        elif isinstance(item, bool) or item is None:
            continue
        elif isinstance(item, int | float):
            if not math.isfinite(item):
                faults.append(fault_at(path or "value", "not_finite"))
            elif not -MOST_NUMBER <= item <= MOST_NUMBER:
                faults.append(fault_at(path or "value", "too_large_a_number"))
        elif depth >= MOST_DEPTH:
            faults.append(fault_at(path.split(".")[0] or "value", "too_deep"))
        elif isinstance(item, dict):
            for key, inner in item.items():
                faults += _unreadable(path, key)
                waiting.append((f"{path}.{key}" if path else key, inner, depth + 1))
        elif isinstance(item, list):
            waiting += [(f"{path}[{n}]", inner, depth + 1) for n, inner in enumerate(item)]
    if faults:
        raise InvalidDocument(faults)


def _unreadable(path: str, text: str) -> list[str]:
    found = unreadable(text)
    return [] if found is None else [fault_at(path or "text", "unreadable", found=found)]


def check_text(text: str, path: str = "") -> None:
    """Raise InvalidDocument for a text with a character that cannot be written everywhere."""
    faults = _unreadable(path, text)
    if faults:
        raise InvalidDocument(faults)
