"""What an edit may say: each fault named at its place, before anything is appended."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from frequens.core import InvalidSession, read_session
from frequens.core.formats.session_document import FORMAT, VERSION, read_event
from frequens.core.model.events import MICROSECONDS
from frequens.core.programme.script_document import script_fields
from frequens.core.reading.document_values import (
    Reader,
    Reading,
    fault_at,
    number,
    read_fields,
    text,
)

from .card_changes import check_changes
from .led_taps import is_on_phone_clock
from .timeline import Timeline

#: Facts of the document's `session`, and those that stand elsewhere.
IN_SESSION = ("learner", "behaviour", "date", "start_s", "end_s", "time", "handler", "place")
ELSEWHERE = (
    *("av_offset_s", "plan", "settings", "next_session", "trainer", "tags", "report"),
    *("disagrees", "printed", "script", "refused_clicks", "refused_words", "taps_on"),
)
FACTS = IN_SESSION + ELSEWHERE
#: One session has no more marks; a whole day of training has a tenth of it.
MOST_EVENTS = 20_000
MOST_TAGS = 30
#: Nobody says "that was no click" more often; a film's ranking looks at the last few.
MOST_REFUSED = 500
#: A page of the report has room for so many.
MOST_PICTURES = 4


def check_edit(body: Mapping[str, Any], timeline: Timeline, duration_s: float | None) -> None:
    """Raise InvalidSession naming what is wrong with an edit."""
    op = body.get("op")
    if op == "put":
        stored = body.get("event")
        if not isinstance(stored, Mapping):
            raise InvalidSession([fault_at("event", "not_object")])
        is_tap = is_on_phone_clock(stored)
        if stored.get("clock") is not None and (not is_tap or "frame" in stored):
            raise InvalidSession([fault_at("event.clock", "phone_clock_only")])
        event = read_event(timeline.document_event(stored))
        if is_tap:
            # Its clock runs on where no camera does.
            duration_s = None
        if event.t_us < 0 or (duration_s is not None and event.t_us > duration_s * MICROSECONDS):
            raise InvalidSession(
                [fault_at("event.t", "outside_film", at=f"{event.t_us / MICROSECONDS:g}")]
            )
    elif op == "drop":
        reading = Reading()
        text(longest=200)(reading, "id", body.get("id"))
        if reading.faults:
            raise InvalidSession(reading.faults)
    elif op == "marks":
        _check_marks(body, timeline, duration_s)
    elif op == "facts":
        _check_facts(body.get("set"))
    elif op == "note":
        reading = Reading()
        fields = {key: value for key, value in body.items() if key != "op"}
        found = read_fields(reading, "note", fields, _NOTE_READERS)
        for key in _NOTE_READERS:
            if key not in found:
                reading.fault(f"note.{key}", "missing")
        if reading.faults:
            raise InvalidSession(reading.faults)
    else:
        raise InvalidSession([fault_at("op", "unknown_op", value=repr(op))])


def _check_marks(body: Mapping[str, Any], timeline: Timeline, duration_s: float | None) -> None:
    """All marks at once, in place of those there were: each as if it were put by itself."""
    events = body.get("events")
    if not isinstance(events, list):
        raise InvalidSession([fault_at("events", "not_list")])
    if len(events) > MOST_EVENTS:
        raise InvalidSession(
            [fault_at("events", "most_marks", most=MOST_EVENTS, marks=len(events))]
        )
    faults: list[str] = []
    for place, event in enumerate(events):
        try:
            check_edit({"op": "put", "event": event}, timeline, duration_s)
        except InvalidSession as invalid:
            faults += [f"events[{place}]{f.removeprefix('event')}" for f in invalid.faults]
    if faults:
        raise InvalidSession(faults)


_NOTE_READERS: dict[str, Reader] = {"part": text(longest=40, empty=False), "text": text()}


def _tags(reading: Reading, path: str, value: Any) -> list[str]:
    read = text(longest=40, empty=False)
    items = reading.items(path, value)
    if len(items) > MOST_TAGS:
        reading.fault(path, "most_tags", most=MOST_TAGS)
        return []
    return [said for n, tag in enumerate(items) if (said := read(reading, f"{path}[{n}]", tag))]


def _report(reading: Reading, path: str, value: Any) -> dict[str, Any]:
    """What the trainer chose for the report: for whom, a word of their own, which marks' frames."""

    def pictures(reading: Reading, path: str, value: Any) -> list[str]:
        read = text(longest=200, empty=False)
        items = reading.items(path, value)
        if len(items) > MOST_PICTURES:
            reading.fault(path, "most_pictures", most=MOST_PICTURES)
            return []
        chosen = [read(reading, f"{path}[{n}]", item) for n, item in enumerate(items)]
        return [mark for mark in chosen if mark]

    readers: dict[str, Reader] = {"reader": text(longest=200), "words": text(longest=1200)}
    return read_fields(reading, path, value, {**readers, "pictures": pictures})


def _refused_instants(reading: Reading, path: str, value: Any) -> list[float]:
    """Sound times of the session, seconds, at which the reviewer said that it was none."""
    read = number(0)
    items = reading.items(path, value)
    if len(items) > MOST_REFUSED:
        reading.fault(path, "most_instants", most=MOST_REFUSED)
        return []
    return [
        said
        for n, at in enumerate(items)
        if (said := read(reading, f"{path}[{n}]", at)) is not None
    ]


def _taps_on(reading: Reading, path: str, value: Any) -> dict[str, Any]:
    """Where films begin on the clock of the phone that led the session; see `led_taps`."""

    def clips(reading: Reading, path: str, value: Any) -> dict[str, float]:
        if not isinstance(value, Mapping):
            reading.fault(path, "not_object")
            return {}
        read, named = number(), text(longest=40, empty=False)
        said = {
            named(reading, path, film): read(reading, f"{path}.{film}", at)
            for film, at in value.items()
        }
        return {film: at for film, at in said.items() if film and at is not None}

    readers: dict[str, Reader] = {"clips": clips, "moved_s": number(), "end_s": number(0)}
    found = read_fields(reading, path, value, readers)
    if "clips" not in found:
        reading.fault(f"{path}: clips", "missing")
    return found


_OWN_READERS: dict[str, Reader] = {
    "taps_on": _taps_on,
    "trainer": text(longest=200),
    "tags": _tags,
    "report": _report,
    "disagrees": text(longest=400),
    "printed": text(longest=600),
    "script": script_fields,
    "refused_clicks": _refused_instants,
    "refused_words": _refused_instants,
}


def _check_facts(facts: Any) -> None:
    if not isinstance(facts, Mapping):
        raise InvalidSession([fault_at("set", "not_object")])
    unknown = [fault_at(f"set.{key}", "unknown_key") for key in facts if key not in FACTS]
    if unknown:
        raise InvalidSession(unknown)
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION, "events": []}
    document["session"] = {k: v for k, v in facts.items() if k not in ELSEWHERE}
    document["recording"] = {k: v for k, v in facts.items() if k == "av_offset_s"}
    for key in ("plan", "settings"):
        if facts.get(key) is not None:
            document[key] = facts[key]
    read_session(document)
    if facts.get("next_session") is not None:
        check_changes(facts["next_session"])
    reading = Reading()
    own = {k: facts[k] for k in _OWN_READERS if facts.get(k) is not None}
    read_fields(reading, "set", own, _OWN_READERS)
    if reading.faults:
        raise InvalidSession(reading.faults)
