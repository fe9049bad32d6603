"""Open formats in and out: the `frequens-session` document, CSV and WebVTT."""

from __future__ import annotations

import json
import threading
import uuid
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from django.db import transaction

from frequens.core import Event, InvalidSession, SessionRecord, read_session, write_session
from frequens.core.formats.session_document import write_event
from frequens.core.formats.text_formats import read_csv, read_webvtt, write_csv, write_webvtt
from frequens.core.model.events import MICROSECONDS
from frequens.core.reading.acceptable import check_text, read_json
from frequens.core.reading.document_values import fault_at

from ..accounts.models import Workspace
from ..library.sessions import TrainingSession
from .edit_checks import MOST_EVENTS
from .edit_store import append_edits, fold, length_s, plan_of, session_record
from .timeline import Timeline

MEDIA_TYPES = {"json": "application/json", "csv": "text/csv", "vtt": "text/vtt"}
#: An imported file larger than this is not a coded session: the most marks one may have, each
#: with a few words, take less.
MOST_BYTES = 8 * 1024**2
#: One is read at a time: it is all computing, and others are not to wait for several.
_TURN = threading.Lock()


def export(session: TrainingSession, form: str) -> str:
    """The session in one of the formats of MEDIA_TYPES."""
    record = session_record(session)
    if form == "csv":
        return write_csv(record.events)
    if form == "vtt":
        return write_webvtt(record.events)
    return json.dumps(write_session(record), indent=1, ensure_ascii=False) + "\n"


def read_document(text: str) -> SessionRecord:
    """The record of a JSON text. Raises InvalidSession, also for a text that is not JSON."""
    document = read_json(text)
    events = document.get("events") if isinstance(document, dict) else None
    if isinstance(events, list):
        _check_number(len(events))
    return read_session(document)


def read_marks(text: str) -> SessionRecord:
    """The marks of a text in any of the formats, told by its content, with what comes with them.

    Raises InvalidSession naming every fault.
    """
    check_text(text)
    start = text.removeprefix("\ufeff").lstrip()
    if start.startswith("{"):
        return read_document(start)
    is_vtt = start.startswith("WEBVTT")
    # A mark has a line or a row; more of them are more marks, or a table that is none.
    _check_number(start.count("\nNOTE frequens ") if is_vtt else start.count("\n") - 1)
    return SessionRecord(events=read_webvtt(start) if is_vtt else read_csv(text))


def _check_number(marks: int) -> None:
    if marks > MOST_EVENTS:
        raise InvalidSession([fault_at("events", "most_marks", most=MOST_EVENTS, marks=marks)])


def import_session(workspace: Workspace, text: str, author: Any) -> TrainingSession:
    """A new session without a film from a `frequens-session` text."""
    with _TURN:
        record = read_document(text)
    document = write_session(replace(record, events=()))
    facts = {
        "start_s": record.session.start_s,
        "end_s": record.session.end_s,
        "av_offset_s": record.recording.av_offset_s,
        **{key: getattr(record.session, key) for key in ("time", "handler", "place")},
    }
    bodies: list[dict[str, Any]] = [
        {"op": "facts", "set": facts},
        {"op": "marks", "events": [write_event(event) for event in record.events]},
    ]
    session = TrainingSession(
        workspace=workspace,
        date=record.session.date,
        learner=record.session.learner or "",
        behaviour=record.session.behaviour or "",
        plan=document.get("plan", {}),
        settings=document.get("settings", {}),
        duration_s=record.recording.duration_s,
    )
    with transaction.atomic():
        session.save(force_insert=True)
        append_edits(session, _fresh(bodies), author, checked=True)
    return session


def import_marks(session: TrainingSession, text: str, author: Any) -> int:
    """Replace the session's marks by those of a text, as an edit like any other.

    A `frequens-session` text also gives its plan and limits to a session without a plan. Raises
    InvalidSession where a mark cannot be; then nothing has changed.
    """
    with _TURN:
        record = read_marks(text)
    timeline = Timeline.of(session)
    made = timeline.break_ids
    _check_inside(record.events, length_s(session, timeline))
    stored = [
        timeline.stored_event(write_event(event)) for event in record.events if event.id not in made
    ]
    bodies: list[dict[str, Any]] = [{"op": "marks", "events": stored}]
    document = write_session(replace(record, events=()))
    own = {key: document[key] for key in ("plan", "settings") if key in document}
    if "plan" in own and not plan_of(session, fold(session)):
        bodies.insert(0, {"op": "facts", "set": own})
    append_edits(session, _fresh(bodies), author, checked=True)
    return len(record.events)


def _check_inside(events: Sequence[Event], duration_s: float | None) -> None:
    """Raise InvalidSession for marks that lie outside the session's own film."""
    faults = [
        fault_at(f"events[{place}].t", "outside_film", at=f"{event.t_us / MICROSECONDS:g}")
        for place, event in enumerate(events)
        if event.t_us < 0 or (duration_s is not None and event.t_us > duration_s * MICROSECONDS)
    ]
    if faults:
        raise InvalidSession(faults)


def _fresh(bodies: Sequence[dict[str, Any]]) -> list[tuple[str, dict[str, Any]]]:
    return [(uuid.uuid4().hex, body) for body in bodies]
