"""Events as CSV and as WebVTT: texts that other programs open, and that read back unchanged."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable, Sequence
from typing import Any

from frequens.words import fill
from frequens.words.spoken import exports as words

from ..model.events import KIND_ORDER, Event
from ..reading.acceptable import read_json
from ..reading.document_values import InvalidDocument, fault_at, fault_words
from .session_document import InvalidSession, read_event, write_event

CSV_COLUMNS = (
    "id",
    "kind",
    "t",
    "width",
    "source",
    "approximation",
    "label",
    "met",
    "value",
    "conditions",
    "link",
    "marker",
    "level",
    "placement",
    "pieces",
    "severity",
    "end_s",
    "text",
    "part",
)
_NUMBERS = frozenset({"t", "width", "value", "pieces", "severity", "end_s"})
_JSON = frozenset({"met", "conditions"})
#: A spreadsheet takes a cell that begins with one of these for a formula.
_FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r", "\n", "'")
_VTT_MARK = "NOTE frequens "
#: How long a caption of an instant stays readable, milliseconds.
_CAPTION_MS = 600


def write_csv(events: Iterable[Event]) -> str:
    """A table with one row per event; texts that look like formulas are quoted with '."""
    text = io.StringIO()
    table = csv.writer(text, lineterminator="\r\n")
    table.writerow(CSV_COLUMNS)
    for event in events:
        written = write_event(event)
        table.writerow([_cell(column, written) for column in CSV_COLUMNS])
    return text.getvalue()


def _cell(column: str, written: dict[str, Any]) -> str:
    if column not in written:
        return ""
    value = written[column]
    if column in _JSON:
        return json.dumps(value, ensure_ascii=False)
    if column in _NUMBERS:
        return repr(value)
    return safe_cell(str(value))


def safe_cell(text: str) -> str:
    """A text as no spreadsheet takes it for a formula: quoted with ' where it looks like one."""
    return "'" + text if text.startswith(_FORMULA_STARTS) else text


def read_csv(text: str) -> tuple[Event, ...]:
    """The events of a table `write_csv` wrote. Raises InvalidSession naming every fault."""
    rows = csv.reader(io.StringIO(text.removeprefix("\ufeff"), newline=""))
    faults: list[str] = []
    events: list[Event] = []
    try:
        header = next(rows, [])
        unknown = [name for name in header if name not in CSV_COLUMNS]
        if unknown or "kind" not in header:
            raise InvalidSession(
                [fault_at("row 1", "unknown_column", value=repr(name)) for name in unknown]
                or [fault_at("row 1", "no_kind_column")]
            )
        for number, row in enumerate(rows, 2):
            _collect(events, faults, f"row {number}", lambda r=row, h=header: _event_of_row(h, r))
    except csv.Error as error:
        faults.append(fault_words("not_csv", problem=str(error)))
    if faults:
        raise InvalidSession(faults)
    return tuple(events)


def _event_of_row(header: Sequence[str], row: Sequence[str]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for column, cell in zip(header, row, strict=False):
        if cell == "" and not (column == "text" and _is_note(header, row)):
            continue
        if column in _NUMBERS or column in _JSON:
            found[column] = _value(column, cell)
        else:
            found[column] = cell[1:] if cell[:1] == "'" and cell[1:2] in _FORMULA_STARTS else cell
    return found


def _is_note(header: Sequence[str], row: Sequence[str]) -> bool:
    """An empty note is a note all the same; other kinds have no text."""
    return "kind" in header and row[header.index("kind")] == "note"


def _value(column: str, cell: str) -> Any:
    try:
        return read_json(cell)
    except InvalidDocument as invalid:
        code = "cell.number" if column in _NUMBERS else "cell.value"
        raise InvalidDocument([fault_at(column, code, value=repr(cell[:40]))]) from invalid


def write_webvtt(events: Iterable[Event]) -> str:
    """Captions for a player, each with the exact event in a note before it."""
    blocks = ["WEBVTT"]
    for event in sorted(events, key=lambda e: (e.t_us, KIND_ORDER[e.kind])):
        exact = json.dumps(write_event(event), ensure_ascii=False)
        # A note must not hold the arrow that separates times.
        blocks.append(_VTT_MARK + exact.replace(">", "\\u003e"))
        start = max(0, (event.t_us + 500) // 1000)
        blocks.append(
            f"{_clock(start)} --> {_clock(start + _CAPTION_MS)}\n{_escaped(_caption(event))}"
        )
    return "\n\n".join(blocks) + "\n"


def _caption(event: Event) -> str:
    word = words.CAPTIONS.get(event.kind, event.kind.replace("_", " "))
    if event.kind == "marker":
        word = words.OTHER_MARKERS.get(event.marker or "event", word)
    detail = event.label or event.approximation or event.part or event.placement or event.text
    return fill(words.CAPTION, {}, word=word, detail=" ".join(detail.split())) if detail else word


def _escaped(text: str) -> str:
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")


def _clock(milliseconds: int) -> str:
    seconds, ms = divmod(milliseconds, 1000)
    minutes, s = divmod(seconds, 60)
    return f"{minutes // 60:02}:{minutes % 60:02}:{s:02}.{ms:03}"


def read_webvtt(text: str) -> tuple[Event, ...]:
    """The events of captions `write_webvtt` wrote. Raises InvalidSession naming every fault."""
    # Only these end a line in WebVTT; a mark's text may hold other separators.
    lines = re.split("\r\n|\n|\r", text.removeprefix("\ufeff"))
    if not lines[0].startswith("WEBVTT"):
        raise InvalidSession([fault_at("line 1", "not_webvtt")])
    faults: list[str] = []
    events: list[Event] = []
    for number, line in enumerate(lines, 1):
        if line.startswith(_VTT_MARK):
            exact = line.removeprefix(_VTT_MARK)
            _collect(events, faults, f"line {number}", lambda e=exact: read_json(e))
    if not events and not faults:
        faults.append(fault_words("no_marks_in_captions"))
    if faults:
        raise InvalidSession(faults)
    return tuple(events)


def _collect(events: list[Event], faults: list[str], path: str, parse: Any) -> None:
    try:
        events.append(read_event(parse(), path))
    except InvalidSession as invalid:
        faults.extend(invalid.faults)
    except InvalidDocument as invalid:
        faults.extend(f"{path}: {fault}" for fault in invalid.faults)
