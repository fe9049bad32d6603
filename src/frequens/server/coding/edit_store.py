"""From edits to the present state of a session, and from there to the core's record."""

from __future__ import annotations

import json
import threading
from collections import OrderedDict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.db import connection, transaction
from django.db.models.expressions import RawSQL

from frequens.core import Event, InvalidSession, SessionRecord, read_session
from frequens.core.formats.session_document import FORMAT, VERSION, read_event
from frequens.core.model.events import MICROSECONDS

from ..library.sessions import TrainingSession
from .edit_checks import ELSEWHERE, check_edit
from .led_taps import is_on_phone_clock, laid
from .models import Edit
from .timeline import Timeline

#: Facts that lists show.
SUMMARISED = (
    *("learner", "behaviour", "date", "time", "trainer", "handler", "place", "tags"),
    "disagrees",
)


class Folded:
    """The state a list of edits amounts to: events by id in the order they came, facts, notes.

    `taps` are the marks of a led session as the trainer tapped them; a film changes none of them.
    """

    def __init__(self, bodies: Iterable[Mapping[str, Any]] = ()):
        self.events: dict[str, Mapping[str, Any]] = {}
        self.facts: dict[str, Any] = {}
        #: Notes beside the findings, by the part of them.
        self.notes: dict[str, str] = {}
        self.taps: dict[str, Mapping[str, Any]] = {}
        for body in bodies:
            self.add(body)

    def add(self, body: Mapping[str, Any]) -> None:
        """Apply one edit; the last one wins."""
        if body["op"] == "put":
            event = body["event"]
            self.events[event["id"]] = event
            if event.get("source") == "tap" and is_on_phone_clock(event):
                self._tapped(event)
        elif body["op"] == "drop":
            self.events.pop(body["id"], None)
            # Taken back on the phone it never was; taken out at the film it was tapped.
            if not self.facts.get("taps_on"):
                self.taps.pop(body["id"], None)
        elif body["op"] == "marks":
            self.events = {event["id"]: event for event in body["events"]}
        elif body["op"] == "note":
            self.notes[body["part"]] = body["text"]
        else:
            self.facts.update(body["set"])

    def _tapped(self, event: Mapping[str, Any]) -> None:
        if event["id"] not in self.taps or not self.facts.get("taps_on"):
            self.taps[event["id"]] = event

    def copy(self) -> Folded:
        """The same state, to go on from by itself."""
        own = Folded()
        own.events, own.facts, own.notes = dict(self.events), dict(self.facts), dict(self.notes)
        own.taps = dict(self.taps)
        return own


class _Kept:
    """A session folded and read up to one edit, so that the next mark costs only itself."""

    def __init__(self) -> None:
        self.seq = 0
        #: The last edit's own id. Row ids may be given twice, after a change was taken back.
        self.last = ""
        self.folded = Folded()
        #: What was read of each stored event, and on which timeline.
        self.read: dict[str, tuple[Mapping[str, Any], Event]] = {}
        self.timeline: Timeline | None = None

    def catch_up(self, session: TrainingSession, up_to: int | None = None) -> None:
        edits = session.edits.filter(pk__gt=self.seq)
        if up_to is not None:
            edits = edits.filter(pk__lte=up_to)
        new = edits.values_list("pk", "client_id", "body")
        for self.seq, self.last, body in new:
            self.folded.add(body)

    def apart(self) -> _Kept:
        """A copy that goes on by itself and is kept by nobody."""
        own = _Kept()
        own.seq, own.last, own.folded = self.seq, self.last, self.folded.copy()
        own.read, own.timeline = dict(self.read), self.timeline
        return own


#: The sessions worked on last, as they are committed. Edits are never changed, so what is kept
#: stays true; what a transaction still holds may be taken back and is never kept.
_KEPT: OrderedDict[Any, _Kept] = OrderedDict()
_MOST_KEPT = 64
_LOCK = threading.RLock()


def _kept(session: TrainingSession) -> _Kept:
    """What is known of a session, brought up to its last edit. Only while holding the lock."""
    if connection.in_atomic_block:
        kept = _KEPT[session.pk].apart() if session.pk in _KEPT else _Kept()
        kept.catch_up(session)
        return kept
    kept = _KEPT.pop(session.pk) if session.pk in _KEPT else _Kept()
    _KEPT[session.pk] = kept
    while len(_KEPT) > _MOST_KEPT:
        _KEPT.popitem(last=False)
    kept.catch_up(session)
    return kept


@dataclass(frozen=True)
class Present:
    """A session as it stands after one of its edits; its parts belong together.

    `seq` and `last` name that edit, `events` are as the core reads them, in the order they came.
    """

    seq: int
    last: str
    folded: Folded
    timeline: Timeline
    events: list[Event]


def present(session: TrainingSession) -> Present:
    """The session as it stands now."""
    timeline = Timeline.of(session)
    with _LOCK:
        return _read(_kept(session), timeline)


def as_of(session: TrainingSession, client_id: str) -> Present:
    """The session as its edit with this client id left it, on its films as they are now.

    Raises Edit.DoesNotExist where there is none.
    """
    then = _Kept()
    then.catch_up(session, up_to=session.edits.get(client_id=client_id).pk)
    return _read(then, Timeline.of(session))


def _read(kept: _Kept, timeline: Timeline) -> Present:
    if kept.timeline != timeline:
        kept.timeline, kept.read = timeline, {}
    folded = kept.folded
    events = []
    for event_id, stored in folded.events.items():
        if timeline.clips and is_on_phone_clock(stored):
            continue
        known = kept.read.get(event_id)
        if known is None or known[0] is not stored:
            known = stored, read_event(timeline.document_event(stored))
            kept.read[event_id] = known
        events.append(known[1])
    events += _on_films(folded.events.values(), folded.facts, timeline)
    return Present(kept.seq, kept.last, folded.copy(), timeline, events)


def _on_films(
    stored: Iterable[Mapping[str, Any]], facts: Mapping[str, Any], timeline: Timeline
) -> list[Event]:
    """Those of the events on a phone's clock that the session's films show; none without films."""
    if not timeline.clips:
        return []
    taps = {event["id"]: event for event in stored if is_on_phone_clock(event)}
    places = laid(taps.values(), facts, timeline)
    return [
        read_event(timeline.document_event({**taps[key], "t": at.t_s, "width": at.width_s}))
        for key, at in places.items()
    ]


def fold(session: TrainingSession) -> Folded:
    """The session's present state; it is the caller's own."""
    with _LOCK:
        return _kept(session).folded.copy()


def session_record(session: TrainingSession, now: Present | None = None) -> SessionRecord:
    """The session as the core's record; `now` for whoever knows how it stands already.

    The session's bounds give way to marks outside them, and a link to a mark that was
    removed is dropped, so that coding in progress can always be measured.
    """
    now = now or present(session)
    state, timeline = now.folded, now.timeline
    events = [*now.events, *timeline.breaks(now.events)]
    duration_s = length_s(session, timeline)
    document = {
        "format": FORMAT,
        "version": VERSION,
        "session": _facts(session, state, events, duration_s if timeline.clips else None),
        "recording": {
            "duration_s": duration_s,
            "av_offset_s": state.facts.get("av_offset_s") or 0.0,
        },
        "settings": settings_of(session, state),
        "plan": plan_of(session, state),
        "events": [],
    }
    taps = _on_films(state.taps.values(), state.facts, timeline)
    return replace(read_session(document), events=_linked(events), taps=tuple(taps))


def length_s(session: TrainingSession, timeline: Timeline) -> float | None:
    """How long the session's recording is; a session without a film says so itself."""
    if timeline.duration_us is None:
        return session.duration_s
    return timeline.duration_us / MICROSECONDS


def plan_of(session: TrainingSession, folded: Folded) -> Mapping[str, Any]:
    """The plan in force: what the edits say, else what the session came with."""
    plan: Mapping[str, Any] = folded.facts.get("plan") or session.plan
    return plan


def settings_of(session: TrainingSession, folded: Folded) -> Mapping[str, Any]:
    """The limits in force, in seconds by name: what the edits say, else what it came with."""
    said = folded.facts.get("settings")
    settings: Mapping[str, Any] = session.settings if said is None else said
    return settings


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
    if whole_s is not None and state.facts.get("taps_on"):
        # A phone that led on after its film had come says when by its own clock.
        facts["end_s"] = min(facts["end_s"], whole_s)
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


def append_edits(
    session: TrainingSession,
    edits: Iterable[tuple[str, Mapping[str, Any]]],
    author: Any = None,
    *,
    checked: bool = False,
) -> tuple[list[str], dict[str, list[str]]]:
    """Append edits in order; those already there are left as they are.

    `checked` for edits that were made from what has been read and checked already. Returns the
    client ids taken (old ones included) and, for each refused, its faults. Raises
    TrainingSession.DoesNotExist where the session was removed meanwhile.
    """
    timeline = Timeline.of(session)
    duration_s = length_s(session, timeline)
    taken: list[str] = []
    new: dict[str, Mapping[str, Any]] = {}
    refused: dict[str, list[str]] = {}
    for client_id, body in edits:
        try:
            if not checked:
                check_edit(body, timeline, duration_s)
        except InvalidSession as invalid:
            refused[client_id] = list(invalid.faults)
            continue
        # Twice in one list it stays as it came first.
        new.setdefault(client_id, body)
        taken.append(client_id)
    if new:
        rows = [_row(session, *edit, author) for edit in new.items()]
        # All other writers wait meanwhile: nothing is worked out in here that need not be.
        with transaction.atomic():
            # Edits of one session come one after another, so that their numbers are the order in
            # which they can be seen; and one sent twice at the same time is there once.
            TrainingSession.codings.select_for_update().only("pk").get(pk=session.pk)
            there = set(
                session.edits.filter(client_id__in=list(new)).values_list("client_id", flat=True)
            )
            with _LOCK:
                state = _kept(session).folded
            Edit.objects.bulk_create(row for row in rows if row.client_id not in there)
            for client_id, body in new.items():
                if client_id not in there:
                    state.add(body)
            _summarise(session, state)
    return taken, refused


def _row(session: TrainingSession, client_id: str, body: Mapping[str, Any], author: Any) -> Edit:
    # Written out before the transaction: a long import takes its time over that.
    text = RawSQL("%s", [json.dumps(body)])
    return Edit(session=session, client_id=client_id, body=text, author=author)


def _summarise(session: TrainingSession, state: Folded) -> None:
    """Keep with the session what lists show of it."""
    summary = {key: state.facts[key] for key in SUMMARISED if state.facts.get(key)}
    session.summary = {**summary, "marks": len(state.events)}
    # Whatever this copy of the session knew before: another may have written since.
    TrainingSession.codings.filter(pk=session.pk).update(summary=session.summary)
