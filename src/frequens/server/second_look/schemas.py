"""What the API says about second looks."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Literal

from ninja import Schema
from pydantic import SkipValidation

from frequens.core.measures.agreement import Agreement
from frequens.core.measures.reviewer_spread import Placing

from ..coding.edit_types import StoredEvent
from ..library.sessions import TrainingSession
from .models import Settled


class OfSecondLook(Schema):
    """That a coding is a second one, and whether its reviewer has said it is done."""

    id: uuid.UUID
    is_done: bool


def second_look_of(session: TrainingSession) -> OfSecondLook | None:
    """The second look a coding belongs to; None for a session's first."""
    if session.second_of_id is None:
        return None
    look = session.second_look
    return OfSecondLook(id=look.pk, is_done=bool(look.second_at))


class LookedAt(Schema):
    """A session as second looks show it."""

    id: uuid.UUID
    date: dt.date | None
    time: str
    learner: str
    behaviour: str
    trainer: str

    @staticmethod
    def of(session: TrainingSession) -> LookedAt:
        return LookedAt(
            id=session.pk,
            date=session.date_now,
            time=session.summary.get("time") or "",
            learner=session.learner_now,
            behaviour=session.behaviour_now,
            trainer=session.trainer_now,
        )


class SecondLookOut(Schema):
    """A second look and how far it is.

    `coding_id` is the second coding; only its reviewer may open it before both are done.
    `is_yours`: whether who asks is its reviewer. `open_differences`: what is not settled yet, None
    before both are done.
    """

    id: uuid.UUID
    session: LookedAt
    coding_id: uuid.UUID
    reviewer: str
    asked_by: str
    is_yours: bool
    first_done: bool
    second_done: bool
    opened_at: dt.datetime | None
    marks: int
    open_differences: int | None


class ReviewerSpread(Schema):
    """How one person's marks differ from those of whoever coded first, by kind, over all looks."""

    reviewer: str
    looks: int
    kinds: list[Placing]


class SecondLooksOut(Schema):
    """Second looks, the newest first; sessions proposed for one; and what they say of people."""

    looks: list[SecondLookOut]
    proposed: list[LookedAt]
    share: float
    reviewers: list[ReviewerSpread]


class AskIn(Schema):
    """Who shall code the session again: a member's place, as `members` names it."""

    member_id: int


class DoneIn(Schema):
    """Which coding is done, or not yet after all."""

    coding: Literal["first", "second"]
    is_done: bool = True


class MarkOut(Schema):
    """A mark as one of the two has it: where it lies, seconds of the session, and on its film.

    `event` is the mark as it is stored; `frame` is the frame of the film nearest to it.
    """

    # As it was taken when it was put.
    event: SkipValidation[StoredEvent]
    t_s: float
    film_id: uuid.UUID
    frame: int


class SettledOut(Schema):
    """What was decided about a pair, by whom and when; `mark` is what stands since."""

    chosen: Settled.Chosen
    mark: MarkOut | None
    author: str
    at: dt.datetime


class PairOut(Schema):
    """A mark that both have, or only one of them.

    `frames` is how many frames the second lies later (negative: earlier), None where only one has
    it or they stand on two films; `differs` names the fields in which the marks differ otherwise.
    """

    kind: str
    first: MarkOut | None
    second: MarkOut | None
    frames: int | None
    difference_s: float | None
    differs: list[str]
    settled: SettledOut | None


class ComparisonOut(Schema):
    """Two codings side by side; `placing` says by kind how surely a person places a mark."""

    look: SecondLookOut
    agreement: Agreement
    placing: list[Placing]
    pairs: list[PairOut]
    length_s: float
    titles: dict[str, str]


class SettleIn(Schema):
    """What shall stand: one of the two marks, the mark on a frame of its film, or none."""

    first_id: str | None = None
    second_id: str | None = None
    chosen: Settled.Chosen
    frame: int | None = None
