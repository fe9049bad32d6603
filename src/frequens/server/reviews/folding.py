"""From edits to the present state of a session, and from there to the core's record."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from frequens.core import Event, InvalidSession, SessionRecord, read_session
from frequens.core.events import MICROSECONDS
from frequens.core.interchange import FORMAT, VERSION, read_event
from frequens.media.frames import FrameIndex

from .models import Edit, TrainingSession

FACTS = ("learner", "behaviour", "date", "start_s", "end_s", "av_offset_s", "plan")
#: Facts that stand elsewhere than in the document's `session`.
ELSEWHERE = ("av_offset_s", "plan")


class Folded:
    """The state a list of edits amounts to: events by id in the order they came, and facts."""

    def __init__(self, bodies: Iterable[Mapping[str, Any]] = ()):
        self.events: dict[str, Mapping[str, Any]] = {}
        self.facts: dict[str, Any] = {}
        for body in bodies:
            self.add(body)

    def add(self, body: Mapping[str, Any]) -> None:
        """Apply one edit; the last one wins."""
        if body["op"] == "put":
            self.events[body["event"]["id"]] = body["event"]
        elif body["op"] == "drop":
            self.events.pop(body["id"], None)
        else:
            self.facts.update(body["set"])


def fold(session: TrainingSession) -> Folded:
    """The session's present state."""
    return Folded(session.edits.values_list("body", flat=True))


def film_index(session: TrainingSession) -> FrameIndex | None:
    """Frame times of the session's film, None for a session without one."""
    film = session.films.order_by("created_at").first()
    if film is None or not film.index_path.exists():
        return None
    return film.index


def document_event(stored: Mapping[str, Any], index: FrameIndex | None) -> dict[str, Any]:
    """A stored event as the document writes it: a frame becomes its time and width.

    Raises InvalidSession for a frame the film does not have.
    """
    event = dict(stored)
    if "frame" not in event:
        return event
    frame, pts = event.pop("frame"), event.pop("pts", None)
    if index is None:
        raise InvalidSession(["event.frame: this session has no film"])
    if not isinstance(frame, int) or not 0 <= frame < len(index):
        raise InvalidSession([f"event.frame: must lie from 0 to {len(index) - 1}, not {frame!r}"])
    if pts != index.pts[frame]:
        raise InvalidSession([f"event.pts: frame {frame} has pts {index.pts[frame]}, not {pts!r}"])
    event["t"] = index.times_us[frame] / MICROSECONDS
    event["width"] = index.width_us(frame) / MICROSECONDS
    event.setdefault("source", "video")
    return event


def stored_event(event: Mapping[str, Any], index: FrameIndex | None) -> dict[str, Any]:
    """A document's event as it is stored: a picture's mark finds its frame again."""
    stored = dict(event)
    if index is None or event.get("source") != "video":
        return stored
    t_us, width_us = (round(event.get(key, 0) * MICROSECONDS) for key in ("t", "width"))
    frame = index.first_after(t_us)
    if index.times_us[frame] == t_us and index.width_us(frame) == width_us:
        for key in ("t", "width"):
            stored.pop(key, None)
        stored |= {"frame": frame, "pts": index.pts[frame]}
    return stored


def session_record(session: TrainingSession, folded: Folded | None = None) -> SessionRecord:
    """The session as the core's record.

    The session's bounds give way to marks outside them, and a link to a mark that was
    removed is dropped, so that coding in progress can always be measured.
    """
    state = folded or fold(session)
    index = film_index(session)
    events = [read_event(document_event(stored, index)) for stored in state.events.values()]
    duration_s = index.duration_us / MICROSECONDS if index else session.duration_s
    document = {
        "format": FORMAT,
        "version": VERSION,
        "session": _facts(session, state, events, duration_s if index else None),
        "recording": {
            "duration_s": duration_s,
            "av_offset_s": state.facts.get("av_offset_s") or 0.0,
        },
        "settings": session.settings,
        "plan": plan_of(session, state),
    }
    return replace(read_session(document), events=_linked(events))


def plan_of(session: TrainingSession, folded: Folded) -> Mapping[str, Any]:
    """The plan in force: what the edits say, else what the session came with."""
    plan: Mapping[str, Any] = folded.facts.get("plan") or session.plan
    return plan


def _facts(
    session: TrainingSession, state: Folded, events: list[Event], whole_s: float | None
) -> dict[str, Any]:
    facts: dict[str, Any] = {
        "date": session.date.isoformat() if session.date else None,
        "learner": session.learner or None,
        "behaviour": session.behaviour or None,
    }
    if whole_s is not None:
        facts |= {"start_s": 0.0, "end_s": whole_s}
    facts |= {k: v for k, v in state.facts.items() if k not in ELSEWHERE and v is not None}
    times = [e.t_us / MICROSECONDS for e in events]
    if times and facts.get("start_s") is not None:
        facts["start_s"] = min(facts["start_s"], *times)
    if times and facts.get("end_s") is not None:
        facts["end_s"] = max(facts["end_s"], *times)
    return facts


def _linked(events: list[Event]) -> tuple[Event, ...]:
    there = {event.id for event in events}
    return tuple(
        replace(event, link=None)
        if event.kind in ("marker", "reward") and event.link is not None and event.link not in there
        else event
        for event in events
    )


def check_edit(body: Mapping[str, Any], index: FrameIndex | None, duration_s: float | None) -> None:
    """Raise InvalidSession naming what is wrong with an edit."""
    op = body.get("op")
    if op == "put":
        stored = body.get("event")
        if not isinstance(stored, Mapping):
            raise InvalidSession(["event: not an object"])
        event = read_event(document_event(stored, index))
        if event.t_us < 0 or (duration_s is not None and event.t_us > duration_s * MICROSECONDS):
            raise InvalidSession([f"event.t: outside the film: {event.t_us / MICROSECONDS:g}"])
    elif op == "drop":
        if not isinstance(body.get("id"), str):
            raise InvalidSession(["id: not a text"])
    elif op == "facts":
        _check_facts(body.get("set"))
    else:
        raise InvalidSession([f"op: must be put, drop or facts, not {op!r}"])


def _check_facts(facts: Any) -> None:
    if not isinstance(facts, Mapping):
        raise InvalidSession(["set: not an object"])
    unknown = [f"set.{key}: unknown key" for key in facts if key not in FACTS]
    if unknown:
        raise InvalidSession(unknown)
    document: dict[str, Any] = {"format": FORMAT, "version": VERSION}
    document["session"] = {k: v for k, v in facts.items() if k not in ELSEWHERE}
    document["recording"] = {k: v for k, v in facts.items() if k == "av_offset_s"}
    if facts.get("plan") is not None:
        document["plan"] = facts["plan"]
    read_session(document)


def append_edits(
    session: TrainingSession, edits: Iterable[tuple[str, Mapping[str, Any]]], author: Any = None
) -> tuple[list[str], dict[str, list[str]]]:
    """Append edits in order; those already there are left as they are.

    Returns the client ids taken (old ones included) and, for each refused, its faults.
    """
    index = film_index(session)
    duration_s = index.duration_us / MICROSECONDS if index else session.duration_s
    taken: list[str] = []
    refused: dict[str, list[str]] = {}
    for client_id, body in edits:
        try:
            check_edit(body, index, duration_s)
        except InvalidSession as invalid:
            refused[client_id] = list(invalid.faults)
            continue
        Edit.objects.get_or_create(
            session=session, client_id=client_id, defaults={"body": body, "author": author}
        )
        taken.append(client_id)
    return taken, refused
