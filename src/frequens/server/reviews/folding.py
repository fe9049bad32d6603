"""From edits to the present state of a session, and from there to the core's record."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from django.db import transaction

from frequens.core import Event, InvalidSession, SessionRecord, read_session
from frequens.core.events import MICROSECONDS
from frequens.core.interchange import FORMAT, VERSION, read_event
from frequens.core.reading import Reader, Reading, read_fields, text

from .models import Edit, TrainingSession
from .next_changes import check_changes
from .timeline import Timeline

#: Facts of the document's `session`, and those that stand elsewhere.
IN_SESSION = ("learner", "behaviour", "date", "start_s", "end_s")
ELSEWHERE = ("av_offset_s", "plan", "next_session", "trainer", "tags", "report")
FACTS = IN_SESSION + ELSEWHERE
#: Facts that lists show.
LISTED = ("learner", "behaviour", "date", "trainer", "tags")


#: A page of the report has room for so many.
MOST_PICTURES = 4


class Folded:
    """The state a list of edits amounts to: events by id in the order they came, facts, notes."""

    def __init__(self, bodies: Iterable[Mapping[str, Any]] = ()):
        self.events: dict[str, Mapping[str, Any]] = {}
        self.facts: dict[str, Any] = {}
        #: Notes beside the findings, by the part of them.
        self.notes: dict[str, str] = {}
        for body in bodies:
            self.add(body)

    def add(self, body: Mapping[str, Any]) -> None:
        """Apply one edit; the last one wins."""
        if body["op"] == "put":
            self.events[body["event"]["id"]] = body["event"]
        elif body["op"] == "drop":
            self.events.pop(body["id"], None)
        elif body["op"] == "note":
            self.notes[body["part"]] = body["text"]
        else:
            self.facts.update(body["set"])


class _Kept:
    """A session folded and read up to one edit, so that the next mark costs only itself."""

    def __init__(self) -> None:
        self.seq = self.count = 0
        self.folded = Folded()
        #: What was read of each stored event, and on which timeline.
        self.read: dict[str, tuple[Mapping[str, Any], Event]] = {}
        self.timeline: Timeline | None = None


#: The sessions worked on last. Edits are never changed, so what is kept stays true.
_KEPT: OrderedDict[Any, _Kept] = OrderedDict()
_MOST_KEPT = 32
_LOCK = threading.RLock()


def _kept(session: TrainingSession) -> _Kept:
    """What is kept of a session, brought up to its last edit. Only while holding the lock."""
    kept = _KEPT.pop(session.pk, None) or _Kept()
    _KEPT[session.pk] = kept
    while len(_KEPT) > _MOST_KEPT:
        _KEPT.popitem(last=False)
    new = session.edits.filter(pk__gt=kept.seq).values_list("pk", "body")
    for kept.seq, body in new:
        kept.folded.add(body)
        kept.count += 1
    if kept.count != session.edits.count():
        # What was kept was taken back since, by a change that failed half-way.
        del _KEPT[session.pk]
        return _kept(session)
    return kept


def fold(session: TrainingSession) -> Folded:
    """The session's present state; it is the caller's own."""
    with _LOCK:
        folded = _kept(session).folded
        own = Folded()
        own.events, own.facts = dict(folded.events), dict(folded.facts)
        own.notes = dict(folded.notes)
        return own


def _read_events(session: TrainingSession, timeline: Timeline) -> tuple[Folded, list[Event]]:
    """The present state and its events as the core reads them, in the order they came."""
    with _LOCK:
        kept = _kept(session)
        if kept.timeline != timeline:
            kept.timeline, kept.read = timeline, {}
        events = []
        for event_id, stored in kept.folded.events.items():
            known = kept.read.get(event_id)
            if known is None or known[0] is not stored:
                known = stored, read_event(timeline.document_event(stored))
                kept.read[event_id] = known
            events.append(known[1])
        return fold(session), events


def session_record(session: TrainingSession) -> SessionRecord:
    """The session as the core's record.

    The session's bounds give way to marks outside them, and a link to a mark that was
    removed is dropped, so that coding in progress can always be measured.
    """
    timeline = Timeline.of(session)
    state, events = _read_events(session, timeline)
    events += timeline.breaks(events)
    duration_s = length_s(session, timeline)
    document = {
        "format": FORMAT,
        "version": VERSION,
        "session": _facts(session, state, events, duration_s if timeline.clips else None),
        "recording": {
            "duration_s": duration_s,
            "av_offset_s": state.facts.get("av_offset_s") or 0.0,
        },
        "settings": session.settings,
        "plan": plan_of(session, state),
    }
    return replace(read_session(document), events=_linked(events))


def length_s(session: TrainingSession, timeline: Timeline) -> float | None:
    """How long the session's recording is; a session without a film says so itself."""
    if timeline.duration_us is None:
        return session.duration_s
    return timeline.duration_us / MICROSECONDS


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


def check_edit(body: Mapping[str, Any], timeline: Timeline, duration_s: float | None) -> None:
    """Raise InvalidSession naming what is wrong with an edit."""
    op = body.get("op")
    if op == "put":
        stored = body.get("event")
        if not isinstance(stored, Mapping):
            raise InvalidSession(["event: not an object"])
        event = read_event(timeline.document_event(stored))
        if event.t_us < 0 or (duration_s is not None and event.t_us > duration_s * MICROSECONDS):
            raise InvalidSession([f"event.t: outside the film: {event.t_us / MICROSECONDS:g}"])
    elif op == "drop":
        if not isinstance(body.get("id"), str):
            raise InvalidSession(["id: not a text"])
    elif op == "facts":
        _check_facts(body.get("set"))
    elif op == "note":
        reading = Reading()
        fields = {key: value for key, value in body.items() if key != "op"}
        found = read_fields(reading, "note", fields, _NOTE_READERS)
        reading.faults += [f"note.{key}: missing" for key in _NOTE_READERS if key not in found]
        if reading.faults:
            raise InvalidSession(reading.faults)
    else:
        raise InvalidSession([f"op: must be put, drop, facts or note, not {op!r}"])


_NOTE_READERS: dict[str, Reader] = {"part": text(longest=40, empty=False), "text": text()}


def _tags(reading: Reading, path: str, value: Any) -> list[str]:
    read = text(longest=40, empty=False)
    items = enumerate(reading.items(path, value))
    return [said for n, tag in items if (said := read(reading, f"{path}[{n}]", tag))]


def _report(reading: Reading, path: str, value: Any) -> dict[str, Any]:
    """What the trainer chose for the report: for whom, a word of their own, which marks' frames."""

    def pictures(reading: Reading, path: str, value: Any) -> list[str]:
        chosen = [str(item) for item in reading.items(path, value)]
        if len(chosen) > MOST_PICTURES:
            reading.fault(path, f"at most {MOST_PICTURES} pictures")
        return chosen

    readers: dict[str, Reader] = {"reader": text(longest=200), "words": text(longest=1200)}
    return read_fields(reading, path, value, {**readers, "pictures": pictures})


_OWN_READERS: dict[str, Reader] = {"trainer": text(longest=200), "tags": _tags, "report": _report}


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
    if facts.get("next_session") is not None:
        check_changes(facts["next_session"])
    reading = Reading()
    own = {k: facts[k] for k in _OWN_READERS if facts.get(k) is not None}
    read_fields(reading, "set", own, _OWN_READERS)
    if reading.faults:
        raise InvalidSession(reading.faults)


@transaction.atomic
def append_edits(
    session: TrainingSession, edits: Iterable[tuple[str, Mapping[str, Any]]], author: Any = None
) -> tuple[list[str], dict[str, list[str]]]:
    """Append edits in order; those already there are left as they are.

    Returns the client ids taken (old ones included) and, for each refused, its faults.
    """
    timeline = Timeline.of(session)
    duration_s = length_s(session, timeline)
    taken: list[str] = []
    new: list[Edit] = []
    refused: dict[str, list[str]] = {}
    for client_id, body in edits:
        try:
            check_edit(body, timeline, duration_s)
        except InvalidSession as invalid:
            refused[client_id] = list(invalid.faults)
            continue
        new.append(Edit(session=session, client_id=client_id, body=body, author=author))
        taken.append(client_id)
    # Those already there, or twice in this list, stay as they came first.
    Edit.objects.bulk_create(new, ignore_conflicts=True)
    _list(session)
    return taken, refused


def _list(session: TrainingSession) -> None:
    """Keep with the session what lists show of it."""
    state = fold(session)
    listed = {key: state.facts[key] for key in LISTED if state.facts.get(key)}
    listed["marks"] = len(state.events)
    session.listed = listed
    # Whatever this copy of the session knew before: another may have written since.
    session.save(update_fields=["listed"])
