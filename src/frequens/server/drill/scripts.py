"""A drill's script: drawn when it begins, and read again whenever it is looked at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from frequens.core.drill import (
    Act,
    Filmed,
    FilmedRep,
    Instant,
    Moved,
    Piece,
    Window,
    draw_acts,
    draw_pieces,
    level_of,
    windows_of,
)
from frequens.core.model.events import MICROSECONDS

from ..coding.edit_store import Present, present
from ..coding.timeline import Timeline
from ..findings.store import measured
from ..library.sessions import TrainingSession

#: A film's drill has no level: what is seen there is as hard as it was.
FILM_LEVEL = "film"


def drawn_script(
    level_key: str, instant: Instant, asked: Moved, seconds: float, seed: int
) -> dict[str, Any]:
    """A drill on the drawn animal. Raises ValueError for a level there is not."""
    level = level_of(level_key)
    acts = draw_acts(level, instant, asked, seconds, seed)
    windows = windows_of(acts, instant, asked, level.both)
    return _script(asked=asked, both=level.both, acts=acts, windows=windows)


def film_script(
    session: TrainingSession, instant: Instant, seconds: float, seed: int
) -> dict[str, Any]:
    """A drill on a session's own films. Raises ValueError where too little of it was coded."""
    pieces, windows = draw_pieces(_filmed(session), instant, seconds, seed)
    return _script(pieces=pieces, windows=windows)


def _script(windows: list[Window], **values: Any) -> dict[str, Any]:
    found = {"acts": [], "pieces": [], "asked": None, "both": False, **values}
    return {
        **found,
        "acts": [asdict(act) for act in found["acts"]],
        "pieces": [asdict(piece) for piece in found["pieces"]],
        "windows": [asdict(window) for window in windows],
    }


def windows_in(script: Mapping[str, Any]) -> list[Window]:
    return [Window(**window) for window in script["windows"]]


def acts_in(script: Mapping[str, Any]) -> list[Act]:
    return [Act(**act) for act in script["acts"]]


def pieces_in(script: Mapping[str, Any]) -> list[Piece]:
    return [Piece(**piece) for piece in script["pieces"]]


def _filmed(session: TrainingSession) -> Filmed:
    now = present(session)
    clips = now.timeline.clips
    on_films = _OnFilms(now)
    found = measured(session, keep=True).findings
    reps = []
    for rep in found["reps"] if found else []:
        onset, offset = on_films.at(rep["id"]), on_films.at(rep["offset_id"])
        if onset is None:
            continue
        known = offset[1] if offset is not None and offset[0] == onset[0] else None
        reps.append(FilmedRep(onset[0], onset[1], known))
    return Filmed(
        lengths_s={clip.film_id: clip.index.duration_us / MICROSECONDS for clip in clips},
        reps=reps,
        others=[
            place
            for key, event in now.folded.events.items()
            if event["kind"] == "other_behaviour" and (place := on_films.at(key)) is not None
        ],
    )


class _OnFilms:
    """Where marks stand that were placed on a frame: film, and seconds of it."""

    def __init__(self, now: Present):
        self._events = now.folded.events
        self._timeline: Timeline = now.timeline

    def at(self, key: str | None) -> tuple[str, float] | None:
        event = self._events.get(key) if key else None
        if event is None or "frame" not in event:
            return None
        clip = self._timeline.clip_of(event)
        return clip.film_id, clip.index.times_us[event["frame"]] / MICROSECONDS
