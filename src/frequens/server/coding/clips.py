"""Putting a film into another session as its next clip, and taking one out of its session."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any

from django.db import transaction

from frequens.core.model.events import MICROSECONDS
from frequens.words.spoken import refusals as words

from ..library.models import Film
from ..library.sessions import BeingSeenAgain, TrainingSession
from .edit_store import append_edits, fold
from .led_taps import edit_without, edits_back_to_phone, edits_to_lay, is_on_phone_clock
from .timeline import GAP_US, Clip, Timeline


class HasMarks(Exception):
    """The film's own session has marks, which would be lost."""


@transaction.atomic
def join(film: Film, session: TrainingSession) -> None:
    """Make a film a clip of a session: the last, or by its time where nothing is marked yet.

    Raises HasMarks for one that is coded already.
    """
    own = film.session
    if own == session:
        return
    if own is not None and fold(own).events:
        raise HasMarks
    film.session = session
    film.place = 1 + max((clip.place for clip in session.films.all()), default=-1)
    film.save(update_fields=["session", "place"])
    if session.led_at is not None:
        state = fold(session)
        append_edits(session, edits_to_lay(session, film, state.events, state.facts), checked=True)
    # A mark on a frame may stand on the first clip without naming it.
    if all(is_on_phone_clock(event) for event in fold(session).events.values()):
        _put_in_order(session)
    if own is not None and not own.films.exists():
        own.delete()


def _put_in_order(session: TrainingSession) -> None:
    """The clips as they were shot, where each says when."""
    clips = list(session.films.all())
    if any(clip.filmed_at is None for clip in clips):
        return
    for place, clip in enumerate(sorted(clips, key=lambda c: (c.filmed_at, c.place))):
        Film.objects.filter(pk=clip.pk).update(place=place)


@transaction.atomic
def take_out(film: Film, author: Any) -> None:
    """Prepare a session for the loss of one of its films; the film itself stays.

    Raises BeingSeenAgain where a second look at it is under way.

    The marks of an only film keep their times. Those of one clip among several go with it,
    and later ones move up; both are edits, so that the history shows them.
    """
    session = film.session
    if session is None:
        return
    again = TrainingSession.codings.filter(second_of=session, second_look__opened_at__isnull=True)
    if again.exists():
        raise BeingSeenAgain(words.BEING_SEEN_AGAIN)
    timeline = Timeline.of(session)
    state = fold(session)
    lost = next((clip for clip in timeline.clips if clip.film_id == str(film.pk)), None)
    events = state.events
    if lost is None or not events:
        return
    bodies: list[Mapping[str, Any]] = []
    is_led = bool(state.facts.get("taps_on"))
    if len(timeline.clips) == 1 and is_led:
        bodies += edits_back_to_phone(timeline, events, state.facts)
    elif len(timeline.clips) == 1:
        session.duration_s = lost.index.duration_us / MICROSECONDS
        session.save(update_fields=["duration_s"])
        bodies = [{"op": "put", "event": timeline.document_event(e)} for e in events.values()]
        # Without a film nothing else says how long the training was.
        bounds = {"start_s": 0.0, "end_s": session.duration_s}
        bounds |= {k: v for k, v in state.facts.items() if k in bounds and v is not None}
        bodies.append({"op": "facts", "set": bounds})
    else:
        for event in events.values():
            if not is_on_phone_clock(event):
                bodies += _without(lost, timeline, event)
        if is_led:
            bodies.append(edit_without(lost.film_id, state.facts))
    Film.objects.filter(pk=film.pk).update(session=None)
    append_edits(session, [(uuid.uuid4().hex, body) for body in bodies], author)


def _without(lost: Clip, timeline: Timeline, event: Any) -> list[dict[str, Any]]:
    """The edits an event needs when a clip goes: none, gone with it, or moved up."""
    moved = _ending_without(lost, event)
    if "frame" in event:
        clip = timeline.clip_of(event)
        if clip is lost:
            return [{"op": "drop", "id": event["id"]}]
        # What names no clip stands on the first; soon that may be another one.
        return [{"op": "put", "event": {**moved, "clip": clip.film_id}}]
    t_us = event["t"] * MICROSECONDS
    if lost.start_us <= t_us < lost.end_us:
        return [{"op": "drop", "id": event["id"]}]
    if t_us >= lost.end_us:
        moved = {**moved, "t": event["t"] - _shift_s(lost)}
    return [{"op": "put", "event": moved}] if moved != event else []


def _ending_without(lost: Clip, event: Any) -> Any:
    """The event with its end, a time of the session, where that is without the clip."""
    if event.get("end_s") is None:
        return event
    end_us = event["end_s"] * MICROSECONDS
    if end_us < lost.start_us:
        return event
    if end_us < lost.end_us:
        # Up to the end of the clip before: there it was still going on.
        return {**event, "end_s": max(0, lost.start_us - GAP_US) / MICROSECONDS}
    return {**event, "end_s": event["end_s"] - _shift_s(lost)}


def _shift_s(lost: Clip) -> float:
    return (lost.index.duration_us + GAP_US) / MICROSECONDS
