"""What the API says about films."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, ClassVar, Literal

from ninja import Field, Schema
from pydantic import AfterValidator, WithJsonSchema

from frequens.core.reading.document_values import fault_words

from ..library.filming_time import filming_time
from ..library.models import Film
from ..library.sessions import TrainingSession
from .camera import camera
from .copies import copy_of


class StageOut(Schema):
    """One stage on the way in; `share` is the part done, 0 to 1."""

    name: Literal["film", "check", "index", "review", "sound"]
    state: Literal["waiting", "working", "done", "failed", "dropped"]
    share: float
    fault_text: str


class FilmOut(Schema):
    """A film and how far it has come. `usable`: its frames can be looked at.

    `copy_bytes` is what its review copy takes; before it is made that and `copy_s`, the seconds it
    takes to make, are estimates; `copy_key` names this very copy. `slowed`: so many times slower
    than life the film plays; its times are those of life. `filmed_at` is ISO 8601 with the zone of
    the clock on the wall, `filmed_from` what says so. `near_session_id`: where that session's
    last clip ended `near_off_s` seconds before this film, and it may be the next one.
    """

    id: uuid.UUID
    session_id: uuid.UUID | None
    name: str
    origin: Literal["upload", "simulated"]
    state: Literal["receiving", "waiting", "working", "ready", "failed", "cancelled"]
    fault_code: str
    fault_text: str
    created_at: dt.datetime
    bytes: int | None
    sha256: str
    codec: str
    width: int | None
    height: int | None
    rotation: int
    has_sound: bool
    sound_late: bool
    frames: int | None
    duration_us: int | None
    dropped: int | None
    recorded_at: str
    device: str
    zone: str
    filmed_at: str
    filmed_from: Literal["film", "film_and_phone", "file", "film_in_utc", ""]
    near_session_id: uuid.UUID | None
    near_off_s: float | None
    slowed: int | None
    stages: list[StageOut]
    usable: bool
    review_ready: bool
    sound_ready: bool
    copy_bytes: int | None
    copy_s: float | None
    copy_key: str

    _WORKED_OUT: ClassVar = {
        *("stages", "usable", "review_ready", "sound_ready"),
        *("copy_bytes", "copy_s", "copy_key", "filmed_at", "filmed_from"),
        *("near_session_id", "near_off_s"),
    }

    @staticmethod
    def from_film(film: Film, near: tuple[TrainingSession, float] | None = None) -> FilmOut:
        stages = [StageOut.from_orm(stage) for stage in film.stages.all()]
        done = {stage.name for stage in stages if stage.state == "done"}
        values = {
            name: getattr(film, name)
            for name in FilmOut.model_fields
            if name not in FilmOut._WORKED_OUT
        }
        copy = copy_of(film, "review" in done)
        said = filming_time(film)
        return FilmOut(
            **values,
            stages=stages,
            usable="index" in done and film.state not in ("failed",),
            review_ready="review" in done,
            sound_ready="sound" in done and film.has_sound,
            copy_bytes=copy.bytes,
            copy_s=copy.seconds,
            copy_key=copy.key,
            filmed_at=said.at.isoformat(timespec="seconds") if said else "",
            filmed_from=said.source if said else "",
            near_session_id=near[0].pk if near else None,
            near_off_s=near[1] if near else None,
        )


class FramesOut(Schema):
    """Every frame of a film: integer presentation times and their microseconds."""

    time_base: tuple[int, int]
    pts: list[int]
    times_us: list[int]
    nominal_us: int


class FrameRunsOut(Schema):
    """The same, short: the first one's presentation time, then runs of equal intervals.

    `runs` are (ticks, how often) pairs. A frame's microseconds are its ticks since the first,
    times the time base, rounded half up.
    """

    time_base: tuple[int, int]
    first_pts: int
    runs: list[tuple[int, int]]
    nominal_us: int


class PieceOut(Schema):
    """A stretch of the review copy that can be used while the rest is made."""

    first: int
    count: int


class ClickOut(Schema):
    """A press that may have been heard: seconds of sound after the first frame, and a score.

    Scores order the clicks of one film; they are no probabilities.
    """

    t_s: float
    score: float


class ClicksOut(Schema):
    """Heard clicks, the likeliest first; the first `usual` of them are usually shown.

    `learned`: confirmed clicks served as examples; `alone_s` are those that none of the film's
    clicks sounds like, and which taught nothing. A mark within `merge_s` of a click has taken it
    up; one placed at it is `width_s` wide.
    """

    clicks: list[ClickOut]
    usual: int
    learned: bool
    alone_s: list[float]
    merge_s: float
    width_s: float


class PlaceOut(Schema):
    """Where a marked word may have been said again: seconds of sound after the first frame.

    Scores order the places of one film; they are no probabilities.
    """

    t_s: float
    score: float


class PlacesOut(Schema):
    """Places to look at, the likeliest first; the first `usual` of them are usually shown.

    `learned` is false where no voice was heard at any marked instant. A mark within `apart_s` of
    a place has taken it up.
    """

    places: list[PlaceOut]
    usual: int
    learned: bool
    apart_s: float


class SlowedIn(Schema):
    """How many times slower than life a film plays, as somebody who was there knows."""

    slowed: int = Field(ge=1, le=32)


class JoinIn(Schema):
    """The session a film becomes a clip of."""

    session_id: uuid.UUID


class Fault(Schema):
    """One sentence on what is wrong and what to do."""

    fault: str


def _is_a_subject(name: str) -> str:
    if name not in camera().SUBJECTS:
        raise ValueError(fault_words("no_subject", allowed=", ".join(camera().SUBJECTS)))
    return name


Subject = Annotated[
    str,
    AfterValidator(_is_a_subject),
    WithJsonSchema({"type": "string", "enum": list(camera().SUBJECTS)}),
]


class SimulateIn(Schema):
    """What the simulated camera is asked to film."""

    animal: Subject = "goat"
    length_s: float = Field(40.0, ge=4, le=180)
    seed: int | None = Field(None, ge=0, le=2**31)
    lateness_s: float = Field(0.0, ge=0, le=2)
    variable: bool = False
    fps: Literal["24", "25", "30000/1001", "30", "50", "60"] = "30"
