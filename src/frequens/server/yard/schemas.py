"""What the API says to a phone in the yard."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Literal

from ninja import Schema
from pydantic import AwareDatetime

from frequens.core.decisions.judging import Digest
from frequens.core.programme.script import ScriptLine


class YardQuantity(Schema):
    """Which way a measured value is better, and where the step is reached."""

    better: Literal["more", "less"]
    target: float | None


class YardStep(Schema):
    """One step as the judgement asks for it."""

    key: str
    title: str
    hold_s: float | None
    rate_floor_per_min: float | None
    help: str | None
    until_release: bool
    answers: bool
    fallback: str | None
    quantity: YardQuantity | None


class YardPlan(Schema):
    """What the judgement asks of a plan, with every default written out."""

    approximations: list[YardStep]
    prompts: list[str]
    rule: dict[str, float | str]
    rate_floor_per_min: float | None
    session_cap_s: float | None
    rep_cap: int | None
    numbers: dict[str, float]


class YardLimits(Schema):
    """The plan's limits that a session in short asks for, seconds."""

    dry_spell_s: float
    reward_link_s: float


class YardCard(Schema):
    """What the next session is: the card's values, the trainer's changes in their place."""

    sentence: str
    warm_up: str | None
    warm_up_reps: int
    criterion: str | None
    minutes: float
    reps: int | None
    pieces: int
    stop_rules: list[str]


class YardKit(Schema):
    """All a phone needs to lead a behaviour's next session without a network.

    `criteria` are sentences by step; `history` the remembered sessions in short, as the core writes
    them, and `plan` is what it judges them by. `card` is None before the first session, `script`
    empty where none was taken along.
    """

    behaviour_id: uuid.UUID
    learner: str
    behaviour: str
    plan: YardPlan
    criteria: dict[str, str]
    history: list[Digest]
    limits: YardLimits
    card: YardCard | None
    script: list[ScriptLine]


class LedIn(Schema):
    """A session that a phone leads: for which behaviour, and when it began on the phone's clock."""

    behaviour_id: uuid.UUID
    began_at: AwareDatetime


class LedOut(Schema):
    """A session that a phone led."""

    id: uuid.UUID
    began_at: dt.datetime
