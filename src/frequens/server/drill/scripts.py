"""A drill's script, drawn when it begins."""

from __future__ import annotations

from typing import Literal

from ninja import Schema

from frequens.core.drill import (
    Act,
    FilmedRep,
    FilmedSession,
    Instant,
    LevelKey,
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
from ..findings.store import measurement_of
from ..library.sessions import TrainingSession

#: A film's drill has no level: what is seen there is as hard as it was.
FILM_LEVEL: Literal["film"] = "film"


class Script(Schema):
    """What a drill shows: acts of the drawn animal or pieces of film, and what may be pressed.

    `asked`, and whether a second thing has to hold (`both`), are of the drawn animal alone.
    """

    asked: Literal["touch", "lift"] | None = None
    both: bool = False
    acts: list[Act] = []
    pieces: list[Piece] = []
    windows: list[Window]


def drawn_script(
    level_key: LevelKey,
    instant: Instant,
    asked: Literal["touch", "lift"],
    seconds: float,
    seed: int,
) -> Script:
    """A drill on the drawn animal."""
    level = level_of(level_key)
    acts = draw_acts(level, instant, asked, seconds, seed)
    windows = windows_of(acts, instant, asked, level.both)
    return Script(asked=asked, both=level.both, acts=acts, windows=windows)


def film_script(session: TrainingSession, instant: Instant, seconds: float, seed: int) -> Script:
    """A drill on a session's own films. Raises ValueError where too little of it was coded."""
    pieces, windows = draw_pieces(_filmed_session(session), instant, seconds, seed)
    return Script(pieces=pieces, windows=windows)


def _filmed_session(session: TrainingSession) -> FilmedSession:
    now = present(session)
    clips = now.timeline.clips
    on_films = _OnFilms(now)
    found = measurement_of(session, keep=True).findings
    reps = []
    for rep in found["reps"] if found else []:
        onset, offset = on_films.at(rep["id"]), on_films.at(rep["offset_id"])
        if onset is None:
            continue
        known = offset[1] if offset is not None and offset[0] == onset[0] else None
        reps.append(FilmedRep(onset[0], onset[1], known))
    return FilmedSession(
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
