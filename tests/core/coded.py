"""Coded sessions for tests, written the way a reviewer would say them."""

from __future__ import annotations

from typing import Any

from frequens.core import SessionRecord, read_session

FRAME = 1 / 30


def document(events: list[dict[str, Any]], **parts: Any) -> dict[str, Any]:
    """A `frequens-session` document around these events; other top-level keys by name."""
    return {"format": "frequens-session", "version": 1, "events": events, **parts}


def record(events: list[dict[str, Any]], **parts: Any) -> SessionRecord:
    return read_session(document(events, **parts))


class Coding:
    """Collects events with ids of their own: ``Coding().onset(5.0).marker(5.3)``."""

    def __init__(self, width: float = 0.0):
        self.width = width
        self.events: list[dict[str, Any]] = []

    def _add(self, kind: str, t: float, fields: dict[str, Any]) -> Coding:
        event = {"id": f"{kind}{len(self.events)}", "kind": kind, "t": t, **fields}
        if self.width:
            event.setdefault("width", self.width)
        self.events.append(event)
        return self

    def onset(self, t: float, **fields: Any) -> Coding:
        return self._add("onset", t, fields)

    def offset(self, t: float, **fields: Any) -> Coding:
        return self._add("offset", t, fields)

    def marker(self, t: float, marker: str = "event", **fields: Any) -> Coding:
        return self._add("marker", t, {"marker": marker, **fields})

    def reward(self, t: float, **fields: Any) -> Coding:
        return self._add("reward", t, fields)

    def reach(self, t: float, **fields: Any) -> Coding:
        return self._add("reach", t, fields)

    def event(self, kind: str, t: float, **fields: Any) -> Coding:
        return self._add(kind, t, fields)

    def record(self, **parts: Any) -> SessionRecord:
        return record(self.events, **parts)
