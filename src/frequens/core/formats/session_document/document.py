"""The `frequens-session` document, version 1: reading with every fault named, and writing.

Writing a record that was read gives back the document's own keys and values, so
that a round trip changes nothing.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ...model.bouts import BoutFault, training_clock
from ...model.events import (
    MICROSECONDS,
    Event,
    Plan,
    PlannedCue,
    Recording,
    SessionFacts,
    SessionRecord,
    Settings,
    on_picture_time,
)
from ...reading.document_values import Reading, fault_at, fault_words
from .by_hand import read_by_hand, written_counts
from .events import read_events, write_event
from .facts import read_facts, read_recording, read_settings
from .plan import read_plan_part, written_step
from .shared import InvalidSession, differing

FORMAT = "frequens-session"
VERSION = 1


def read_session(document: Any) -> SessionRecord:
    """The record a `frequens-session` document describes.

    `document` is what a JSON reader returns. Raises InvalidSession naming every fault
    by its path and the allowed range.
    """
    reading = Reading()
    known = ("format", "version", "session", "recording", "settings", "plan", "by_hand", "events")
    top = reading.mapping("", document, known)
    if not top:
        raise InvalidSession(reading.faults or [fault_at("format", "missing")])
    if top.get("format") != FORMAT:
        reading.fault("format", "must_be", wanted=repr(FORMAT), value=repr(top.get("format")))
    if top.get("version") != VERSION or isinstance(top.get("version"), bool):
        reading.fault("version", "must_be", wanted=str(VERSION), value=repr(top.get("version")))
    record = SessionRecord(
        session=read_facts(reading, top.get("session", {})),
        recording=read_recording(reading, top.get("recording", {})),
        settings=Settings(**read_settings(reading, "settings", top.get("settings", {}))),
        plan=read_plan_part(reading, top.get("plan", {})),
        events=read_events(reading, top.get("events")) if "events" in top else (),
        by_hand=read_by_hand(reading, top["by_hand"]) if "by_hand" in top else None,
    )
    if "by_hand" in top and record.events:
        reading.fault("events", "hand_has_marks")
    if "events" not in top and "by_hand" not in top:
        # A file that breaks off must not read as a session in which nothing happened.
        reading.fault("events", "missing")
    if not reading.faults:
        _check_whole(reading, record)
    if reading.faults:
        raise InvalidSession(reading.faults)
    return record


def _check_whole(reading: Reading, record: SessionRecord) -> None:
    """Faults that only show when all parts are seen together."""
    places: dict[str, int] = {}
    for place, event in enumerate(record.events):
        if event.id in places:
            reading.fault(
                f"events[{place}].id",
                "first_used",
                value=repr(event.id),
                place=places[event.id],
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
                reading.fault(f"{path}.link", "no_such_event", value=repr(event.link))
            elif kinds[event.link] not in allowed:
                reading.fault(
                    f"{path}.link",
                    "wrong_link",
                    allowed=fault_words("link_or").join(allowed),
                    kind=kinds[event.link],
                )
        if steps and event.approximation is not None and event.approximation not in steps:
            reading.fault(f"{path}.approximation", "not_in_plan", value=repr(event.approximation))
        if event.kind == "no_cue_window" and _is_past_the_film(event.end_us, record):
            reading.fault(
                f"{path}.end_s", "outside_film", at=f"{(event.end_us or 0) / MICROSECONDS:g}"
            )
        _check_bounds(reading, path, event, record, has_bouts)
    _check_parts(reading, record, places)
    try:
        training_clock(record)
    except BoutFault as fault:
        reading.fault(f"events[{places[fault.event_id]}].kind", fault.code)


def _is_past_the_film(instant_us: int | None, record: SessionRecord) -> bool:
    duration = record.recording.duration_s
    if instant_us is None or duration is None:
        return False
    return instant_us > round(duration * MICROSECONDS)


def _check_parts(reading: Reading, record: SessionRecord, places: Mapping[str, int]) -> None:
    """A part belongs inside an attempt, and its step must have it."""
    in_force: str | None = None
    current: Event | None = None
    key: str | None = None
    for event in record.ordered:
        if event.kind == "criterion":
            in_force = event.approximation
        elif event.kind in ("bout_start", "bout_end"):
            current = None
        elif event.kind == "onset":
            current = event
            key = event.approximation if event.approximation is not None else in_force
        elif event.kind == "part":
            path = f"events[{places[event.id]}].part"
            step = record.plan.approximation(key)
            if current is None:
                reading.fault(path, "outside_attempt")
            elif step is None or all(event.part != part.key for part in step.parts):
                code = "no_part" if step is None else "no_part.of_step"
                named = repr(step.key) if step else ""
                reading.fault(path, code, step=named, value=repr(event.part))


def _check_bounds(
    reading: Reading, path: str, event: Event, record: SessionRecord, has_bouts: bool
) -> None:
    at = event.t_us / MICROSECONDS
    duration = record.recording.duration_s
    if at < 0 or (duration is not None and event.t_us > round(duration * MICROSECONDS)):
        code = "outside_film.from_0" if duration is None else "outside_film.of_length"
        reading.fault(f"{path}.t", code, length_s=duration or 0, at=at)
        return
    if has_bouts:
        return
    start_s, end_s = record.session.start_s, record.session.end_s
    heard = on_picture_time(event, record.recording)
    if heard is not event and not (
        (start_s is None or heard.t_us >= round(start_s * MICROSECONDS))
        and (end_s is None or heard.t_us <= round(end_s * MICROSECONDS))
        and heard.t_us >= 0
    ):
        offset = record.recording.av_offset_s
        reading.fault(f"{path}.t", "outside_by_sound", offset_s=offset, at=at)
        return
    # Compared as whole microseconds, like all instants: no crumb of a float decides.
    if start_s is not None and event.t_us < round(start_s * MICROSECONDS):
        reading.fault(f"{path}.t", "before_start", start_s=start_s, at=at)
    if end_s is not None and event.t_us > round(end_s * MICROSECONDS):
        reading.fault(f"{path}.t", "after_end", end_s=end_s, at=at)


def write_session(record: SessionRecord) -> dict[str, Any]:
    """The `frequens-session` document of a record, ready for a JSON writer.

    Defaults are left out, times are seconds with at most six decimals.
    """
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION}
    document["session"] = differing(record.session, SessionFacts())
    document["recording"] = differing(record.recording, Recording())
    if "av_offset_s" not in document["recording"]:
        document["recording"]["av_offset_s"] = 0.0
    settings = differing(record.settings, Settings())
    if settings:
        document["settings"] = settings
    plan = differing(record.plan, Plan())
    for key in ("rule", "placement", "judging"):
        if key in plan:
            plan[key] = dict(plan[key])
    if record.plan.approximations:
        plan["approximations"] = [written_step(step) for step in record.plan.approximations]
    if record.plan.prompts:
        plan["prompts"] = list(record.plan.prompts)
    if record.plan.cues:
        plan["cues"] = [differing(cue, PlannedCue("", "")) for cue in record.plan.cues]
    if plan:
        document["plan"] = plan
    if record.by_hand is not None:
        document["by_hand"] = written_counts(record.by_hand)
    document["events"] = [write_event(event) for event in record.events]
    return document
