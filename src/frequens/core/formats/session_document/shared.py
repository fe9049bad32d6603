"""Values that stand in several parts of the `frequens-session` document."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from ...reading.document_values import InvalidDocument, Reader, Reading, number, read_fields, text

#: More steps nobody trains, reads or draws; more conditions nobody keeps apart.
MOST_STEPS, MOST_CONDITIONS, MOST_PARTS = 60, 30, 30
LEVELS = ("food_lure", "empty_hand", "gesture", "target", "physical", "none")


class InvalidSession(InvalidDocument):
    """The session document cannot be right."""


def read_conditions(reading: Reading, path: str, value: Any) -> Mapping[str, Any] | None:
    """What held, by the condition's name: a text, a number, or true or false."""
    if not isinstance(value, Mapping):
        reading.fault(path, "not_object")
        return None
    if len(value) > MOST_CONDITIONS:
        reading.fault(path, "most_conditions", most=MOST_CONDITIONS)
        return None
    for key, level in value.items():
        read_key(reading, f"{path} (a name)", key)
        if isinstance(level, str):
            _label_or_none(reading, f"{path}.{key}", level)
        elif isinstance(level, bool):
            continue
        elif not isinstance(level, int | float):
            reading.fault(f"{path}.{key}", "not_level")
        else:
            number(-1e9, 1e9)(reading, f"{path}.{key}", level)
    return value


read_time = number()
read_length = number(0)
read_key = text(longest=200, empty=False)
read_label = text(longest=200, empty=False)
_label_or_none = text(longest=200)


def flag(reading: Reading, path: str, value: Any) -> bool | None:
    """Reads true or false."""
    if isinstance(value, bool):
        return value
    reading.fault(path, "not_flag", value=repr(value))
    return None


def whole_object(
    reading: Reading,
    path: str,
    value: Any,
    readers: Mapping[str, Reader],
    optional: tuple[str, ...] = (),
) -> dict[str, Any] | None:
    """An object with all its fields, None after naming what is wrong with it."""
    before = len(reading.faults)
    found = read_fields(reading, path, value, readers)
    for key in readers:
        if key not in found and key not in optional and len(reading.faults) == before:
            reading.fault(f"{path}.{key}", "missing")
    return None if len(reading.faults) > before else found


def differing(value: Any, default: Any) -> dict[str, Any]:
    """The values of a dataclass that are not its default."""
    return {
        f.name: getattr(value, f.name)
        for f in fields(value)
        if getattr(value, f.name) != getattr(default, f.name)
    }
