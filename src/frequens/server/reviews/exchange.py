"""Open formats in and out: the `frequens-session` document, CSV and WebVTT."""

from __future__ import annotations

import json
import uuid
from collections.abc import Sequence
from typing import Any

from django.db import transaction

from frequens.core import Event, InvalidSession, SessionRecord, read_session, write_session
from frequens.core.interchange import write_event
from frequens.core.text_formats import read_csv, read_webvtt, write_csv, write_webvtt

from ..workspaces.models import Workspace
from .folding import append_edits, fold, plan_of, session_record
from .models import TrainingSession
from .timeline import Timeline

MEDIA_TYPES = {"json": "application/json", "csv": "text/csv", "vtt": "text/vtt"}
#: An imported file larger than this is not a coded session.
MOST_BYTES = 32 * 1024**2


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
    try:
        return read_session(json.loads(text))
    except json.JSONDecodeError as error:
        raise InvalidSession(
            [f"not JSON: line {error.lineno}, column {error.colno}: {error.msg}"]
        ) from error
    except RecursionError as error:
        raise InvalidSession(["not JSON: nested too deeply"]) from error


def read_events(text: str) -> tuple[Event, ...]:
    """The events of a text in any of the formats, told by its content."""
    start = text.removeprefix("\ufeff").lstrip()
    if start.startswith("WEBVTT"):
        return read_webvtt(start)
    if start.startswith("{"):
        return read_document(start).events
    return read_csv(text)


@transaction.atomic
def import_session(workspace: Workspace, text: str, author: Any) -> TrainingSession:
    """A new session without a film from a `frequens-session` text."""
    record = read_document(text)
    document = write_session(record)
    session = TrainingSession.objects.create(
        workspace=workspace,
        date=record.session.date,
        learner=record.session.learner or "",
        behaviour=record.session.behaviour or "",
        plan=document.get("plan", {}),
        settings=document.get("settings", {}),
        duration_s=record.recording.duration_s,
    )
    facts = {
        "start_s": record.session.start_s,
        "end_s": record.session.end_s,
        "av_offset_s": record.recording.av_offset_s,
    }
    _append(session, [{"op": "facts", "set": facts}], record.events, author)
    return session


@transaction.atomic
def import_marks(session: TrainingSession, text: str, author: Any) -> int:
    """Replace the session's marks by those of a text, as edits that can be undone.

    A `frequens-session` text also gives its plan to a session that has none. Raises
    InvalidSession where a mark cannot be; then nothing has changed.
    """
    events = read_events(text)
    state = fold(session)
    bodies: list[dict[str, Any]] = [{"op": "drop", "id": event_id} for event_id in state.events]
    if not plan_of(session, state) and text.lstrip("\ufeff \n\r\t").startswith("{"):
        plan = write_session(read_document(text)).get("plan")
        bodies.append({"op": "facts", "set": {"plan": plan}})
    _append(session, bodies, events, author)
    return len(events)


def _append(
    session: TrainingSession,
    bodies: Sequence[dict[str, Any]],
    events: Sequence[Event],
    author: Any,
) -> None:
    timeline = Timeline.of(session)
    made = timeline.break_ids
    puts = [
        {"op": "put", "event": timeline.stored_event(write_event(event))}
        for event in events
        if event.id not in made
    ]
    edits = [(uuid.uuid4().hex, body) for body in (*bodies, *puts)]
    _, refused = append_edits(session, edits, author)
    if refused:
        places = {client_id: place - len(bodies) for place, (client_id, _) in enumerate(edits)}
        raise InvalidSession(
            [
                f"events[{places[client_id]}]{fault.removeprefix('event')}"
                for client_id, faults in refused.items()
                for fault in faults
            ]
        )
