"""What the API says about the logbook."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from ninja import Field, Schema


class LoggedOut(Schema):
    """One session in the list. `verdict` and `sentence` are None for counts entered by hand
    and for marks that cannot be measured; `then` is what the rule said where a limit ended it;
    `counts` are those entered by hand.

    Times in minutes and seconds, `per_min` reinforcements a minute.
    """

    session_id: uuid.UUID
    date: dt.date | None
    trainer: str
    tags: list[str]
    by_hand: bool
    counts: dict[str, Any] | None
    verdict: str | None
    then: str | None
    sentence: str | None
    step: str | None
    minutes: float | None
    attempts: int
    judged: int
    met: int
    per_min: float | None
    marker_latency_s: float | None
    reward_latency_s: float | None


class LogbookOut(Schema):
    """A behaviour over its sessions; `book` is the core's logbook under its own names.

    `titles` name the steps of all plans there were, `order` the present plan's from the
    bottom. Sessions come newest first; those without a day stand only in the list.
    """

    behaviour_id: uuid.UUID
    learner: str
    behaviour: str
    order: list[str]
    titles: dict[str, str]
    session_cap_s: float | None
    book: dict[str, Any]
    sessions: list[LoggedOut]


class ByHandIn(Schema):
    """A session without film, entered by hand. `counts` as `core.logbook` reads them."""

    date: dt.date
    trainer: str = Field("", max_length=200)
    tags: list[str] = []
    counts: dict[str, Any]


class TaggingIn(Schema):
    """New tags of a session."""

    tags: list[str]


class ByHandOut(Schema):
    """The session that was entered."""

    session_id: uuid.UUID
