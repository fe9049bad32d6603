"""What the API says about drills."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal

from ninja import Field, Schema

from frequens.core.drill import (
    Advice,
    By,
    Delays,
    Difficulty,
    Instant,
    Lag,
    LevelKey,
    Score,
    WeeklyChange,
)
from frequens.core.statistics.summaries import Share

from .scripts import Script

Source = Literal["drawn", "film"]
AnyLevel = LevelKey | Literal["film"]
#: Seconds of a drill's own time; a film's may be waited for.
Seconds = Annotated[float, Field(ge=-1, le=600)]


class DrillIn(Schema):
    """A drill to begin. `seed` names the draw; without one nobody knows it.

    From a film: `session_id`, and no `level`, as nothing there can be made easier.
    """

    instant: Instant
    level: LevelKey | None = None
    asked: Literal["touch", "lift"] = "lift"
    session_id: uuid.UUID | None = None
    seconds: float = Field(60, ge=30, le=90)
    seed: int | None = Field(None, ge=0, lt=2**32)


class DrillOut(Script):
    """A drill to do."""

    id: uuid.UUID
    source: Source
    instant: Instant
    level: AnyLevel
    seconds: float
    session_id: uuid.UUID | None


class PressedIn(Schema):
    """What was measured, seconds: `shown` by a window's place, when the first picture with its
    instant was drawn, and how long after the one before; where the instant is counted from
    another, so long after that was drawn, and the longer of the two. `picture_s` is the usual
    time from picture to picture, `frame_s` that of the display's frames: longer and shorter for
    a film.
    """

    presses: list[Seconds] = Field(max_length=1000)
    shown: dict[int, tuple[Seconds, Annotated[float, Field(ge=0, le=600)]]] = Field(max_length=1000)
    frame_s: float = Field(gt=0, le=1)
    picture_s: float = Field(gt=0, le=1)
    by: By


class HeardOut(Schema):
    """Clicks in a sound, seconds from its first sample, in their order."""

    clicks_s: list[float]


class DrillRow(Schema):
    """A finished drill in short, seconds. `spread_s` is None for fewer than six marks."""

    id: uuid.UUID
    at: dt.datetime
    source: Source
    instant: Instant
    level: AnyLevel
    by: By
    caught: Share
    wrong: int
    marks: int
    lag_s: float | None
    low_s: float | None
    high_s: float | None
    spread_s: float | None
    left_out: bool


class ScoredOut(Schema):
    """A finished drill: each mark, and how much of the lag is the machine's."""

    run: DrillRow
    drill: DrillOut
    score: Score
    delays: Delays


class CurveOut(Schema):
    """How one kind of drill changes over the weeks: the lag, and its spread."""

    source: Source
    instant: Instant
    level: AnyLevel
    lag: WeeklyChange
    spread: WeeklyChange


class DrillsOut(Schema):
    """One's own drills, the newest first, what they teach, and which level is next by instant."""

    levels: list[Difficulty]
    runs: list[DrillRow]
    curves: list[CurveOut]
    learned: Lag | None
    advice: dict[Instant, Advice]


class LeaveOutIn(Schema):
    """Whether a drill counts for nothing."""

    left_out: bool


class DrillSession(Schema):
    """A session whose film can be drilled on: enough of it is coded."""

    id: uuid.UUID
    date: dt.date | None
    learner: str
    behaviour: str
    reps: int
