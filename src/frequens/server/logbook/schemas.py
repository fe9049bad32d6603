"""What the API says about the logbook."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from django.utils import timezone
from ninja import Field, Schema
from pydantic import field_validator

from frequens.core.history.hand_counts import HandCounts
from frequens.core.history.logbook import Logbook
from frequens.core.programme.chaining import Chaining
from frequens.core.programme.grid import Grid
from frequens.core.programme.quantity_ladder import QuantityLadder
from frequens.core.programme.transfer import Transfer
from frequens.core.reading.document_values import fault_words
from frequens.core.rules.schools import Verdict

#: An older session was not written down here.
FIRST_SESSION = dt.date(1970, 1, 1)


class LoggedOut(Schema):
    """One session in the list. `verdict`, `code` and `sentence` are its judgement with the
    sessions before it, None for marks that cannot be measured; `schools` what each school would
    have said then; `counts` are those entered by hand.

    Times in minutes and seconds, `per_min` reinforcements a minute. `marker_s` is the middle of the
    markers from the instant the plan wants, from the onset where it wants no other.
    """

    session_id: uuid.UUID
    date: dt.date | None
    trainer: str
    handler: str
    place: str
    tags: list[str]
    by_hand: bool
    counts: HandCounts | None
    verdict: str | None
    code: str | None
    sentence: str | None
    schools: dict[str, Verdict]
    disagrees: str
    step: str | None
    minutes: float | None
    attempts: int
    judged: int
    met: int
    per_min: float | None
    marker_latency_s: float | None
    marker_s: float | None
    reward_latency_s: float | None


class DisagreementOut(Schema):
    """A trainer saw it differently than the judgement, and what came in the next session."""

    session_id: uuid.UUID
    date: dt.date | None
    said: str
    next_step: str | None
    next_met: int | None
    next_judged: int | None


class LogbookOut(Schema):
    """A behaviour over its sessions; `book` is the core's logbook under its own names.

    `titles` and `parts` name the steps and parts of all plans there were, `order` the present
    plan's from the bottom. Sessions come newest first; those without a day stand only in the list.
    `programme` is the variation grid of the plan's conditions, at the step that was judged and
    above; `transfers` are the first times at a level, against the one before it. `chain` says how
    far a chain is joined, None without one, `ladders` where each measured quantity stands.
    """

    behaviour_id: uuid.UUID
    learner: str
    behaviour: str
    order: list[str]
    titles: dict[str, str]
    parts: dict[str, str]
    session_cap_s: float | None
    book: Logbook
    programme: Grid
    transfers: list[Transfer]
    chain: Chaining | None
    ladders: list[QuantityLadder]
    sessions: list[LoggedOut]
    disagreements: list[DisagreementOut]


class ByHandIn(Schema):
    """A session without film, entered by hand. `counts` as `core.history.logbook` reads them."""

    date: dt.date
    trainer: str = Field("", max_length=200)
    tags: list[str] = []
    counts: dict[str, Any]

    @field_validator("date")
    @classmethod
    def _has_been(cls, date: dt.date) -> dt.date:
        # Somewhere on earth it is tomorrow already.
        last = timezone.localdate() + dt.timedelta(days=1)
        if not FIRST_SESSION <= date <= last:
            raise ValueError(fault_words("of_range", low=str(FIRST_SESSION), high=str(last)))
        return date


class TaggingIn(Schema):
    """New tags of a session."""

    tags: list[str]


class ByHandOut(Schema):
    """The session that was entered."""

    session_id: uuid.UUID
