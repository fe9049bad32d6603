"""The `frequens-session` document, version 1: reading with every fault named, and writing.

Writing a record that was read gives back the document's own keys and values, so
that a round trip changes nothing.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import fields
from typing import Any, get_args

from .bouts import BoutFault, training_clock
from .events import (
    KIND_ORDER,
    MICROSECONDS,
    Approximation,
    Event,
    MarkAt,
    MarkerKind,
    Plan,
    Recording,
    SessionFacts,
    SessionRecord,
    Settings,
    Source,
)
from .reading import (
    InvalidDocument,
    Reader,
    Reading,
    date,
    number,
    one_of,
    read_fields,
    text,
)
from .rules import RULES

FORMAT = "frequens-session"
VERSION = 1
LEVELS = ("food_lure", "empty_hand", "gesture", "target", "physical", "none")


class InvalidSession(InvalidDocument):
    """The session document cannot be right."""


def _met(reading: Reading, path: str, value: Any) -> bool | None:
    if value is None or isinstance(value, bool):
        return value
    reading.fault(path, f"must be true, false or null, not {value!r}")
    return None


def _conditions(reading: Reading, path: str, value: Any) -> Mapping[str, Any] | None:
    if not isinstance(value, Mapping):
        reading.fault(path, "not an object")
        return None
    for key, level in value.items():
        if not isinstance(level, str | int | float | bool) or (
            isinstance(level, float) and not math.isfinite(level)
        ):
            reading.fault(f"{path}.{key}", "must be a text, a finite number or true/false")
    return value


_time = number()
_length = number(0)
_key = text(longest=200, empty=False)
_label = text(longest=200, empty=False)

#: The readers of the fields a kind may have beside id, kind, t, width and source.
KIND_FIELDS: Mapping[str, Mapping[str, Reader]] = {
    "bout_start": {},
    "bout_end": {},
    "criterion": {"approximation": _key},
    "cue": {"label": _label},
    "prompt": {"level": one_of(*LEVELS)},
    "onset": {
        "approximation": _key,
        "label": _label,
        "met": _met,
        "value": number(-1e9, 1e9),
        "conditions": _conditions,
        "link": _key,
    },
    "offset": {},
    "marker": {"marker": one_of(*get_args(MarkerKind)), "link": _key},
    "reach": {},
    "reward": {"placement": _label, "pieces": number(1, 1000, whole=True), "link": _key},
    "reset": {},
    "release": {},
    "other_behaviour": {"label": _label},
    "sign": {"label": _label, "severity": number(1, 3, whole=True)},
    "off_task_start": {},
    "off_task_end": {},
    "no_cue_window": {"end_s": _time},
    "note": {"text": text()},
}
REQUIRED: Mapping[str, tuple[str, ...]] = {
    "criterion": ("approximation",),
    "prompt": ("level",),
    "marker": ("marker",),
    "other_behaviour": ("label",),
    "sign": ("label", "severity"),
    "no_cue_window": ("end_s",),
    "note": ("text",),
}
_COMMON: Mapping[str, Reader] = {
    "id": _key,
    "t": _time,
    "width": number(0, 3600),
    "source": one_of(*get_args(Source)),
}
_EVENT_READERS: Mapping[str, Mapping[str, Reader]] = {
    kind: {**_COMMON, **fields} for kind, fields in KIND_FIELDS.items()
}


def read_session(document: Any) -> SessionRecord:
    """The record a `frequens-session` document describes.

    `document` is what a JSON reader returns. Raises InvalidSession naming every fault
    by its path and the allowed range.
    """
    reading = Reading()
    known = ("format", "version", "session", "recording", "settings", "plan", "events")
    top = reading.mapping("", document, known)
    if not top:
        raise InvalidSession(reading.faults or ["format: missing"])
    if top.get("format") != FORMAT:
        reading.fault("format", f"must be {FORMAT!r}, not {top.get('format')!r}")
    if top.get("version") != VERSION:
        reading.fault("version", f"must be {VERSION}, not {top.get('version')!r}")
    record = SessionRecord(
        session=_read_facts(reading, top.get("session", {})),
        recording=_read_recording(reading, top.get("recording", {})),
        settings=_read_settings(reading, top.get("settings", {})),
        plan=_read_plan(reading, top.get("plan", {})),
        events=_read_events(reading, top.get("events", [])),
    )
    if not reading.faults:
        _check_whole(reading, record)
    if reading.faults:
        raise InvalidSession(reading.faults)
    return record


def _read_facts(reading: Reading, value: Any) -> SessionFacts:
    name = text(longest=200)
    readers: dict[str, Reader] = {
        "date": date,
        "learner": name,
        "behaviour": name,
        "start_s": _time,
        "end_s": _time,
    }
    facts = SessionFacts(**read_fields(reading, "session", value, readers))
    if facts.start_s is not None and facts.end_s is not None and facts.end_s < facts.start_s:
        reading.fault("session.end_s", f"before session.start_s ({facts.start_s:g})")
    return facts


def _read_recording(reading: Reading, value: Any) -> Recording:
    readers: dict[str, Reader] = {"duration_s": _length, "av_offset_s": number(-10, 10)}
    read = read_fields(reading, "recording", value, readers)
    return Recording(**{k: v for k, v in read.items() if v is not None})


def _read_settings(reading: Reading, value: Any) -> Settings:
    readers: dict[str, Reader] = {f.name: number(0, 3600) for f in fields(Settings)}
    read = read_fields(reading, "settings", value, readers)
    return Settings(**{k: v for k, v in read.items() if v is not None})


def _read_plan(reading: Reading, value: Any) -> Plan:
    known = ("rule", "approximations", "placement", *_PLAN_NUMBERS)
    found = reading.mapping("plan", value, known)
    steps: list[Approximation] = []
    for place, item in enumerate(
        reading.items("plan.approximations", found.get("approximations", []))
    ):
        step = _read_approximation(reading, f"plan.approximations[{place}]", item)
        if step and any(step.key == other.key for other in steps):
            reading.fault(f"plan.approximations[{place}].key", f"used twice: {step.key!r}")
        elif step:
            steps.append(step)
    for step in steps:
        if step.fallback is not None and all(step.fallback != other.key for other in steps):
            place = steps.index(step)
            reading.fault(
                f"plan.approximations[{place}].fallback", f"not in the plan: {step.fallback!r}"
            )
    numbers = {
        key: read(reading, f"plan.{key}", found[key])
        for key, read in _PLAN_NUMBERS.items()
        if found.get(key) is not None
    }
    return Plan(
        tuple(steps),
        read_rule(reading, "plan.rule", found.get("rule")),
        placement=read_placement(reading, "plan.placement", found.get("placement")),
        **numbers,
    )


_PLAN_NUMBERS: Mapping[str, Reader] = {
    "rate_floor_per_min": number(0, 1000),
    "session_cap_s": number(0, 24 * 3600),
    "rep_cap": number(1, 100_000, whole=True),
}


def read_placement(reading: Reading, path: str, value: Any) -> Mapping[str, float] | None:
    """Shares by placement that add up to 1."""
    if value is None:
        return None
    if not isinstance(value, Mapping):
        reading.fault(path, "not an object")
        return None
    faults_before = len(reading.faults)
    shares = {
        place: number(0, 1)(reading, f"{path}.{place}", share) for place, share in value.items()
    }
    if len(reading.faults) == faults_before and abs(sum(shares.values()) - 1) > 0.001:
        reading.fault(path, f"shares must add up to 1, not {sum(shares.values()):g}")
    return shares


def _read_approximation(reading: Reading, path: str, value: Any) -> Approximation | None:
    readers: dict[str, Reader] = {
        "key": _key,
        "title": text(longest=400),
        "mark_at": one_of(*get_args(MarkAt)),
        "hold_s": number(0, 3600),
        "fallback": _key,
    }
    read = read_fields(reading, path, value, readers)
    if not read.get("key"):
        if "key" not in read:
            reading.fault(f"{path}.key", "missing")
        return None
    if read.get("mark_at") == "hold" and read.get("hold_s") is None:
        reading.fault(f"{path}.hold_s", 'missing: mark_at is "hold"')
    return Approximation(**{k: v for k, v in read.items() if v is not None})


def read_rule(reading: Reading, path: str, value: Any) -> Mapping[str, Any] | None:
    """One of the schools with its numbers."""
    if value is None:
        return None
    kind = value.get("kind") if isinstance(value, Mapping) else None
    if not isinstance(kind, str) or kind not in RULES:
        reading.fault(f"{path}.kind", f"must be one of {', '.join(RULES)}, not {kind!r}")
        return None
    parameters = RULES[kind]
    found = reading.mapping(path, value, ("kind", *parameters))
    faults_before = len(reading.faults)
    for key, given in found.items():
        if key in parameters:
            whole = isinstance(parameters[key], int)
            low, high = (1, 1000) if whole else (0, 1)
            if key in ("miss", "lower_at") and whole:
                low = 0
            number(low, high, whole=whole)(reading, f"{path}.{key}", given)
    if len(reading.faults) == faults_before:
        for low_key, high_key in (
            ("lower", "raise"),
            ("lower_at", "raise_at"),
            ("raise_at", "size"),
        ):
            numbers = {**parameters, **found}
            if low_key in parameters and numbers[low_key] > numbers[high_key]:
                reading.fault(
                    f"{path}.{low_key}",
                    f"must not be above {high_key} ({numbers[high_key]:g}): {numbers[low_key]:g}",
                )
    return dict(found)


def _read_events(reading: Reading, value: Any) -> tuple[Event, ...]:
    events: list[Event] = []
    for place, item in enumerate(reading.items("events", value)):
        event = _read_event(reading, f"events[{place}]", item)
        if event:
            events.append(event)
    return tuple(events)


def _read_event(reading: Reading, path: str, value: Any) -> Event | None:
    if not isinstance(value, Mapping):
        reading.fault(path, "not an object")
        return None
    kind = value.get("kind")
    if not isinstance(kind, str) or kind not in KIND_ORDER:
        reading.fault(f"{path}.kind", f"unknown kind {kind!r}")
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
        reading.fault(f"{path}.end_s", "before t")
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


def _check_whole(reading: Reading, record: SessionRecord) -> None:
    """Faults that only show when all parts are seen together."""
    places: dict[str, int] = {}
    for place, event in enumerate(record.events):
        if event.id in places:
            reading.fault(
                f"events[{place}].id",
                f"used twice: {event.id!r}, first in events[{places[event.id]}]",
            )
        places.setdefault(event.id, place)
    kinds = {event.id: event.kind for event in record.events}
    steps = {step.key for step in record.plan.approximations}
    has_bouts = any(e.kind in ("bout_start", "bout_end") for e in record.events)
    for place, event in enumerate(record.events):
        path = f"events[{place}]"
        if event.kind in ("marker", "reward") and event.link is not None:
            allowed = ("onset",) if event.kind == "marker" else ("marker", "onset")
            if event.link not in kinds:
                reading.fault(f"{path}.link", f"no event has the id {event.link!r}")
            elif kinds[event.link] not in allowed:
                reading.fault(
                    f"{path}.link", f"must name {' or '.join(allowed)}, not {kinds[event.link]}"
                )
        if steps and event.approximation is not None and event.approximation not in steps:
            reading.fault(f"{path}.approximation", f"not in the plan: {event.approximation!r}")
        _check_bounds(reading, path, event, record, has_bouts)
    try:
        training_clock(record)
    except BoutFault as fault:
        reading.fault(f"events[{places[fault.event_id]}].kind", str(fault))


def _check_bounds(
    reading: Reading, path: str, event: Event, record: SessionRecord, has_bouts: bool
) -> None:
    at = event.t_us / MICROSECONDS
    duration = record.recording.duration_s
    if at < 0 or (duration is not None and event.t_us > round(duration * MICROSECONDS)):
        end = "" if duration is None else f" to {duration:g}"
        reading.fault(f"{path}.t", f"outside the film: must lie from 0{end}, not {at:g}")
        return
    if has_bouts:
        return
    start_s, end_s = record.session.start_s, record.session.end_s
    # Compared as whole microseconds, like all instants: no crumb of a float decides.
    if start_s is not None and event.t_us < round(start_s * MICROSECONDS):
        reading.fault(f"{path}.t", f"before session.start_s ({start_s:g}): {at:g}")
    if end_s is not None and event.t_us > round(end_s * MICROSECONDS):
        reading.fault(f"{path}.t", f"after session.end_s ({end_s:g}): {at:g}")


def write_session(record: SessionRecord) -> dict[str, Any]:
    """The `frequens-session` document of a record, ready for a JSON writer.

    Defaults are left out, times are seconds with at most six decimals.
    """
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION}
    document["session"] = _differing(record.session, SessionFacts())
    document["recording"] = _differing(record.recording, Recording())
    if "av_offset_s" not in document["recording"]:
        document["recording"]["av_offset_s"] = 0.0
    settings = _differing(record.settings, Settings())
    if settings:
        document["settings"] = settings
    plan = _differing(record.plan, Plan())
    for key in ("rule", "placement"):
        if key in plan:
            plan[key] = dict(plan[key])
    if record.plan.approximations:
        plan["approximations"] = [
            dict(_differing(step, Approximation("")).items()) for step in record.plan.approximations
        ]
    if plan:
        document["plan"] = plan
    document["events"] = [write_event(event) for event in record.events]
    return document


def _differing(value: Any, default: Any) -> dict[str, Any]:
    return {
        f.name: getattr(value, f.name)
        for f in fields(value)
        if getattr(value, f.name) != getattr(default, f.name)
    }


def write_event(event: Event) -> dict[str, Any]:
    """One event as the document writes it: only the keys its kind has and that say something."""
    written: dict[str, Any] = {"id": event.id, "kind": event.kind, "t": event.t_us / MICROSECONDS}
    if event.width_us or "width" in event.written:
        written["width"] = event.width_us / MICROSECONDS
    if event.source is not None:
        written["source"] = event.source
    for name in KIND_FIELDS[event.kind]:
        if name == "end_s":
            written["end_s"] = (event.end_us or 0) / MICROSECONDS
            continue
        value = getattr(event, name)
        if name == "pieces" and value == 1 and "pieces" not in event.written:
            continue
        if value is not None or name in event.written:
            written[name] = dict(value) if isinstance(value, Mapping) else value
    return written
