"""The events of a `frequens-session` document: their fields by kind, read and written."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, get_args

from ...model.events import KIND_ORDER, MICROSECONDS, Event, MarkerKind, Source
from ...reading.document_values import Reader, Reading, number, one_of, read_fields, text
from .shared import LEVELS, InvalidSession, read_conditions, read_key, read_label, read_time


def _met(reading: Reading, path: str, value: Any) -> bool | None:
    if value is None or isinstance(value, bool):
        return value
    reading.fault(path, "not_flag_or_null", value=repr(value))
    return None


#: The readers of the fields a kind may have beside id, kind, t, width and source.
KIND_FIELDS: Mapping[str, Mapping[str, Reader]] = {
    "bout_start": {},
    "bout_end": {},
    "criterion": {"approximation": read_key},
    "cue": {"label": read_label},
    "prompt": {"level": one_of(*LEVELS)},
    "exposure": {"label": read_label, "value": number(-1e9, 1e9), "end_s": read_time},
    "part": {"part": read_key},
    "onset": {
        "approximation": read_key,
        "label": read_label,
        "met": _met,
        "value": number(-1e9, 1e9),
        "conditions": read_conditions,
        "link": read_key,
    },
    "offset": {},
    "marker": {"marker": one_of(*get_args(MarkerKind)), "link": read_key},
    "reach": {},
    "reward": {"placement": read_label, "pieces": number(1, 1000, whole=True), "link": read_key},
    "reset": {},
    "release": {},
    "other_behaviour": {"label": read_label},
    "sign": {"label": read_label, "severity": number(1, 3, whole=True)},
    "off_task_start": {},
    "off_task_end": {},
    "no_cue_window": {"end_s": read_time},
    "note": {"text": text()},
}
REQUIRED: Mapping[str, tuple[str, ...]] = {
    "criterion": ("approximation",),
    "prompt": ("level",),
    "exposure": ("label",),
    "part": ("part",),
    "marker": ("marker",),
    "other_behaviour": ("label",),
    "sign": ("label", "severity"),
    "no_cue_window": ("end_s",),
    "note": ("text",),
}
_COMMON: Mapping[str, Reader] = {
    "id": read_key,
    "t": read_time,
    "width": number(0, 3600),
    "source": one_of(*get_args(Source)),
}
_EVENT_READERS: Mapping[str, Mapping[str, Reader]] = {
    kind: {**_COMMON, **fields} for kind, fields in KIND_FIELDS.items()
}


def read_events(reading: Reading, value: Any) -> tuple[Event, ...]:
    """The events in the order they stand in."""
    events: list[Event] = []
    for place, item in enumerate(reading.items("events", value)):
        event = _read_event(reading, f"events[{place}]", item)
        if event:
            events.append(event)
    return tuple(events)


def _read_event(reading: Reading, path: str, value: Any) -> Event | None:
    if not isinstance(value, Mapping):
        reading.fault(path, "not_object")
        return None
    kind = value.get("kind")
    if not isinstance(kind, str) or kind not in KIND_ORDER:
        reading.fault(f"{path}.kind", "unknown_kind", value=repr(kind))
        return None
    faults_before = len(reading.faults)
    readers = _EVENT_READERS[kind]
    read = read_fields(reading, path, {k: v for k, v in value.items() if k != "kind"}, readers)
    for name in ("id", "t", *REQUIRED.get(kind, ())):
        if read.get(name) is None and not any(
            f.startswith(f"{path}.{name}:") for f in reading.faults[faults_before:]
        ):
            reading.fault(f"{path}.{name}", "missing")
    if len(reading.faults) > faults_before:
        return None
    end_s = read.pop("end_s", None)
    if end_s is not None and end_s < read["t"]:
        reading.fault(f"{path}.end_s", "end_before_t")
        return None
    return Event(
        kind=kind,  # type: ignore[arg-type]  # checked against KIND_ORDER above
        t_us=round(read.pop("t") * MICROSECONDS),
        width_us=round(read.pop("width", 0) * MICROSECONDS),
        end_us=None if end_s is None else round(end_s * MICROSECONDS),
        written=frozenset(k for k, v in value.items() if v is not None or k == "met"),
        **read,
    )


def read_event(value: Any, path: str = "event") -> Event:
    """One event of a document. Raises InvalidSession naming every fault of it."""
    reading = Reading()
    event = _read_event(reading, path, value)
    if event is None:
        raise InvalidSession(reading.faults)
    return event


def write_event(event: Event) -> dict[str, Any]:
    """One event as the document writes it: only the keys its kind has and that say something."""
    written: dict[str, Any] = {"id": event.id, "kind": event.kind, "t": event.t_us / MICROSECONDS}
    if event.width_us or "width" in event.written:
        written["width"] = event.width_us / MICROSECONDS
    if event.source is not None:
        written["source"] = event.source
    for name in KIND_FIELDS[event.kind]:
        if name == "end_s":
            if event.end_us is not None:
                written["end_s"] = event.end_us / MICROSECONDS
            continue
        value = getattr(event, name)
        if name == "pieces" and value == 1 and "pieces" not in event.written:
            continue
        if value is not None or name in event.written:
            written[name] = dict(value) if isinstance(value, Mapping) else value
    return written
