"""Settling what two codings differ in, one mark at a time; both originals are kept."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any

from django.db import transaction

from frequens.core import InvalidSession
from frequens.core.reading.document_values import fault_at
from frequens.words.spoken import refusals as words

from ..coding.edit_store import append_edits
from ..coding.timeline import Timeline
from .comparing import Comparison, Pair, Placed, comparison_of
from .looks import Refused
from .models import SecondLook, Settled


@transaction.atomic
def settle(
    look: SecondLook,
    pair_ids: tuple[str | None, str | None],
    chosen: str,
    frame: int | None,
    author: Any,
) -> Settled:
    """Let one of the two marks stand, the mark on another frame of its film, or none.

    The session's own marks change by an edit, the second coding's never do; settling a pair again
    counts instead of what was settled before. Raises Refused for a pair that is not there or a
    mark that is not, InvalidSession for a frame the film does not have.
    """
    # Of two who settle at once the second knows what the first has written.
    look = SecondLook.objects.select_for_update().get(pk=look.pk)
    found = comparison_of(look)
    pair = next((p for p in found.pairs if p.ids == pair_ids), None)
    if pair is None:
        raise Refused(words.NO_SUCH_PAIR)
    event = _settled_mark(pair, chosen, frame, found)
    session = look.first
    body = {"op": "put", "event": event} if event else {"op": "drop", "id": _own_id(pair)}
    edit_id = uuid.uuid4().hex
    _, refused = append_edits(session, [(edit_id, body)], author)
    if refused:
        raise InvalidSession(refused[edit_id])
    return Settled.objects.create(
        look=look,
        first=dict(pair.first.stored) if pair.first else None,
        second=dict(pair.second.stored) if pair.second else None,
        chosen=chosen,
        event=event,
        author=author,
    )


def _settled_mark(
    pair: Pair, chosen: str, frame: int | None, found: Comparison
) -> dict[str, Any] | None:
    """The mark as it is to stand in the session, under the session's own ids."""
    if chosen == Settled.Chosen.NONE:
        return None
    if chosen == Settled.Chosen.FIRST:
        return _as_it_is(pair.first, words.NOT_IN_FIRST)
    if chosen == Settled.Chosen.SECOND:
        return _as_of_second(pair, found)
    event = _as_it_is(pair.first, "") if pair.first else _as_of_second(pair, found)
    placed = pair.first or pair.second
    if frame is None or placed is None:
        raise Refused(words.WHICH_FRAME)
    return _on_frame(event, placed.film_id, frame, found.timeline)


def _as_it_is(placed: Placed | None, fault: str) -> dict[str, Any]:
    if placed is None:
        raise Refused(fault)
    return dict(placed.stored)


def _as_of_second(pair: Pair, found: Comparison) -> dict[str, Any]:
    event = _as_it_is(pair.second, words.NOT_IN_SECOND)
    event["id"] = _own_id(pair)
    ids = {p.second.stored["id"]: _own_id(p) for p in found.pairs if p.second}
    linked = ids.get(event.pop("link", None))
    return {**event, "link": linked} if linked else event


def _own_id(pair: Pair) -> str:
    """The id of the mark in the session; one that only the second coding has gets its own."""
    if pair.first is not None:
        return str(pair.first.stored["id"])
    return f"second-{pair.second.stored['id'] if pair.second else ''}"


def _on_frame(
    event: Mapping[str, Any], film_id: str, frame: int, timeline: Timeline
) -> dict[str, Any]:
    clip = timeline.clip_of({"clip": film_id})
    if not 0 <= frame < len(clip.index):
        limits = {"low": 0, "high": len(clip.index) - 1}
        raise InvalidSession([fault_at("frame", "out_of_range", **limits, given=str(frame))])
    moved = {k: v for k, v in event.items() if k not in ("t", "width", "clock", "source")}
    return {**moved, "frame": frame, "pts": clip.index.pts[frame], "clip": film_id}
