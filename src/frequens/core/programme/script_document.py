"""The `frequens-script` document, version 1: a script as it was taken to the yard."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any, get_args

from ..planning.next_session import MOST_REPS
from ..reading.document_values import (
    InvalidDocument,
    Reader,
    Reading,
    number,
    one_of,
    read_fields,
    text,
)
from .script import Phase, Script, ScriptLine, Sort

FORMAT, VERSION = "frequens-script", 1
#: A break before each rep at the most.
MOST_LINES = 2 * MOST_REPS
MOST_LEVELS = 30

_name = text(longest=200, empty=False)


class InvalidScript(InvalidDocument):
    """The script document cannot be right."""


def _levels(reading: Reading, path: str, value: Any) -> dict[str, str]:
    if not isinstance(value, Mapping):
        reading.fault(path, "not_object")
        return {}
    if len(value) > MOST_LEVELS:
        reading.fault(path, "more_than", most=MOST_LEVELS)
        return {}
    names = {key: _name(reading, path, key) for key in value}
    return {key: _name(reading, f"{path}.{key}", value[key]) for key, name in names.items() if name}


_LINE: Mapping[str, Reader] = {
    "sort": one_of(*get_args(Sort)),
    "phase": one_of(*get_args(Phase)),
    "step": _name,
    "levels": _levels,
    "cue": _name,
    "placement": _name,
    "pays": number(0, 100, whole=True),
}


def write_script(script: Script) -> dict[str, Any]:
    """The document of a script; what is None is left out."""
    lines = [{k: v for k, v in asdict(line).items() if v is not None} for line in script.lines]
    return {"format": FORMAT, "version": VERSION, "seed": script.seed, "lines": lines}


def read_script(document: Any) -> Script:
    """The script of a document. Raises InvalidScript naming every fault by its path."""
    reading = Reading()
    found = script_fields(reading, "", document)
    if reading.faults:
        raise InvalidScript(reading.faults)
    return Script(found["seed"], tuple(_line(line) for line in found["lines"]))


def _line(found: Mapping[str, Any]) -> ScriptLine:
    return ScriptLine(
        found["sort"],
        found["phase"],
        found.get("step"),
        found.get("levels", {}),
        found.get("cue"),
        found.get("placement"),
        found.get("pays", 0),
    )


def script_fields(reading: Reading, path: str, value: Any) -> dict[str, Any]:
    """A script's fields where it stands within another document, with its faults named there."""
    readers: dict[str, Reader] = {
        "format": one_of(FORMAT),
        "version": number(VERSION, VERSION, whole=True),
        "seed": number(0, 2**53, whole=True),
        "lines": _lines,
    }
    found = read_fields(reading, path, value, readers)
    if isinstance(value, Mapping):
        for key in readers:
            if value.get(key) is None:
                reading.fault(f"{path}.{key}".lstrip("."), "missing")
    return found


def _lines(reading: Reading, path: str, value: Any) -> list[dict[str, Any]]:
    items = reading.items(path, value)
    if len(items) > MOST_LINES:
        reading.fault(path, "more_than", most=MOST_LINES)
        return []
    lines = []
    for n, item in enumerate(items):
        line = read_fields(reading, f"{path}[{n}]", item, _LINE)
        for key in ("sort", "phase"):
            if isinstance(item, Mapping) and item.get(key) is None:
                reading.fault(f"{path}[{n}].{key}", "missing")
        lines.append(line)
    return lines
