"""A led session and its films: which film shows what the phone's clock said.

A tap keeps its time on the phone's clock (`clock` is "phone") for as long as nobody has set it on a
frame. The session's fact `taps_on` says where each film begins on that clock, so that moving all
taps along is one edit::

    {"clips": {film id: seconds of the phone's clock at its first frame},
     "moved_s": seconds they were moved by a shared instant; null while only clocks say it,
     "end_s": when the session had ended, seconds of the phone's clock}
"""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from frequens.core.linking.taps_on_film import TAP_WIDTH_S, FilmedStretch, Laid, lay_taps
from frequens.core.model.events import MICROSECONDS

from ..library.models import Film
from ..library.sessions import TrainingSession
from .timeline import GAP_US, Timeline

PHONE = "phone"


def is_on_phone_clock(stored: Mapping[str, Any]) -> bool:
    """Whether a stored event's time is that of the phone which led the session."""
    return stored.get("clock") == PHONE


def laid(
    stored: Iterable[Mapping[str, Any]], facts: Mapping[str, Any], timeline: Timeline
) -> Mapping[str, Laid]:
    """Where events on the phone's clock lie on a session's films, by id; on none, left out."""
    on = facts.get("taps_on") or {}
    begins = on.get("clips", {})
    moved_s = on.get("moved_s") or 0.0
    films = [
        FilmedStretch(
            clip.start_us / MICROSECONDS,
            begins[clip.film_id] - moved_s,
            clip.index.duration_us / MICROSECONDS,
        )
        for clip in timeline.clips
        if clip.film_id in begins
    ]
    films.sort(key=lambda film: film.tapped_from_s)
    return lay_taps(filter(is_on_phone_clock, stored), films)


def edits_to_lay(
    session: TrainingSession, film: Film, events: Mapping[str, Any], facts: Mapping[str, Any]
) -> list[tuple[str, Mapping[str, Any]]]:
    """The edits that lay a led session's taps on a film that has become one of its clips."""
    known = facts.get("taps_on")
    on = known or {"clips": {}, "moved_s": None, "end_s": facts.get("end_s")}
    ended_s = max([on["end_s"] or 0.0, *(event.get("t", 0.0) for event in events.values())])
    begins_s = _begins_s(session, film, ended_s)
    if begins_s is None:
        begins_s = _after(session, on["clips"])
    on = {**on, "clips": {**on["clips"], str(film.pk): begins_s}}
    bodies: list[Mapping[str, Any]] = []
    if known is None:
        # Earlier phones did not say whose clock it was; and a film has ends of its own.
        bodies = [
            {"op": "put", "event": {**event, "clock": PHONE}}
            for event in events.values()
            if event.get("source") == "tap" and "frame" not in event
        ]
        bodies.append({"op": "facts", "set": {"start_s": None, "end_s": None}})
    bodies.append({"op": "facts", "set": {"taps_on": on}})
    return [(uuid.uuid4().hex, body) for body in bodies]


def edits_back_to_phone(
    timeline: Timeline, events: Mapping[str, Any], facts: Mapping[str, Any]
) -> list[Mapping[str, Any]]:
    """The edits that take the only film from a led session: its marks go back to its clock."""
    on = facts["taps_on"]
    (clip,) = timeline.clips
    to_phone_s = on["clips"].get(clip.film_id, 0.0) - (on["moved_s"] or 0.0)
    bodies: list[Mapping[str, Any]] = []
    for stored in events.values():
        if is_on_phone_clock(stored):
            continue
        event = timeline.document_event(stored)
        at = {key: event[key] + to_phone_s for key in ("t", "end_s") if event.get(key) is not None}
        moved = {key: round(max(0.0, t), 6) for key, t in at.items()}
        bodies.append({"op": "put", "event": {**event, **moved, "clock": PHONE}})
    bounds = {"start_s": 0.0, "end_s": on["end_s"]}
    return [*bodies, {"op": "facts", "set": {"taps_on": None, **bounds}}]


def edit_without(film_id: str, facts: Mapping[str, Any]) -> Mapping[str, Any]:
    """The edit that takes one film of several from under a led session's taps."""
    on = facts["taps_on"]
    clips = {film: at for film, at in on["clips"].items() if film != film_id}
    return {"op": "facts", "set": {"taps_on": {**on, "clips": clips}}}


def _begins_s(session: TrainingSession, film: Film, ended_s: float) -> float | None:
    """When a film begins on the phone's clock, seconds; None where no clock says it.

    A camera whose clock has it at another time than the session is not believed.
    """
    if film.filmed_at is None or session.led_at is None:
        return None
    # The first tap, half its width into that clock, is the instant the session began.
    zero = session.led_at - dt.timedelta(seconds=TAP_WIDTH_S / 2)
    begins_s = (film.filmed_at - zero).total_seconds()
    length_s = (film.duration_us or 0) / MICROSECONDS
    return round(begins_s, 6) if -length_s < begins_s < ended_s else None


def _after(session: TrainingSession, others: Mapping[str, float]) -> float:
    """After the last of the other films, else with the session."""
    before = session.films.filter(pk__in=others).order_by("-place").first()
    if before is None:
        return 0.0
    return others[str(before.pk)] + ((before.duration_us or 0) + GAP_US) / MICROSECONDS
