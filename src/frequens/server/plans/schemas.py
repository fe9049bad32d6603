"""What the API says about learners, behaviours and plans."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any, Literal

from ninja import Field, Schema

from frequens.core.planning.shaping import PlanDocument
from frequens.core.planning.shaping.plan_types import PlanStep
from frequens.core.planning.shaping.remarks import Health
from frequens.core.programme.chaining import Chaining
from frequens.core.programme.followed import Followed
from frequens.core.programme.grid import NextLevels
from frequens.core.programme.quantity_ladder import QuantityLadder
from frequens.core.programme.script import ScriptLine
from frequens.core.reading.document_values import FIRST_DAY, LAST_DAY

from ..coding.card_changes import CardChanges


class LearnerIn(Schema):
    """A learner as it is written down."""

    name: str = Field(min_length=1, max_length=200)
    species: str = Field("", max_length=200)
    born: dt.date | None = Field(None, ge=FIRST_DAY, le=LAST_DAY)
    size: Literal["", "small", "medium", "large"] = ""
    health: list[Health] = Field([], max_length=50)
    notes: str = Field("", max_length=4000)
    piece_kj: float | None = Field(None, gt=0, le=100_000)
    day_kj: float | None = Field(None, gt=0, le=1_000_000)
    withers_cm: float | None = Field(None, gt=0, le=1000)


class LearnerOut(LearnerIn):
    """A learner as it is kept."""

    id: uuid.UUID


class BehaviourIn(Schema):
    """A new behaviour: from nothing, a starter plan, another behaviour's plan or a document."""

    learner_id: uuid.UUID
    name: str = Field("", max_length=200)
    starter: str | None = None
    copy_of: uuid.UUID | None = None
    document: dict[str, Any] | None = None


class BehaviourRow(Schema):
    """A behaviour in the list of all."""

    id: uuid.UUID
    learner_id: uuid.UUID
    name: str
    goal: str
    steps: int
    sessions: int


class WorkedSessionOut(Schema):
    """A session filmed for a behaviour: the step it ended on, and reps judged at each step."""

    session_id: uuid.UUID
    date: dt.date | None
    last_step: str | None
    judged: dict[str, int]
    met: dict[str, int]


class PlanOut(Schema):
    """A plan as it stands: version, draft and document."""

    number: int
    revision: int
    saved_at: dt.datetime
    document: PlanDocument


class BehaviourOut(Schema):
    """A behaviour with its learner, its plan and the sessions filmed for it."""

    id: uuid.UUID
    name: str
    learner: LearnerOut
    plan: PlanOut
    filmed: list[WorkedSessionOut]


class VersionOut(Schema):
    """A version of a plan and the number of sessions filmed under it."""

    number: int
    saved_at: dt.datetime
    steps: int
    sessions: int


class DraftIn(Schema):
    """A draft, and the version and revision it was made from."""

    number: int
    revision: int
    document: dict[str, Any]


class BetweenOut(Schema):
    """The key of a step that was put into a behaviour's plan."""

    behaviour_id: uuid.UUID
    step: str


class LimitOut(Schema):
    """A limit sessions are measured by, or a number of the judgement's rules.

    What it is about, its default and the reason; limits are in seconds.
    """

    name: str
    words: str
    default: float
    why: str


class RemarkOut(Schema):
    """One remark on a plan, at the place it belongs to; `numbers` are those in its words."""

    sort: Literal["check", "caution"]
    code: str
    place: str
    title: str
    text: str
    mend: str | None
    numbers: dict[str, str | float | list[str] | None]


class ReadIn(Schema):
    """A plan to read through, for a learner."""

    document: dict[str, Any]
    learner_id: uuid.UUID | None = None


class ReadOut(Schema):
    """What can be said of a plan; `faults` is what keeps it from being one."""

    remarks: list[RemarkOut]
    faults: list[str]


class ArgumentsIn(Schema):
    """A calculator's arguments by name."""

    arguments: dict[str, Any]


class WhyOut(Schema):
    """The judgement the card follows from: its decision, its reason's code, its headline."""

    decision: str
    code: str
    text: str


class NextOut(Schema):
    """The card of the next session: the rule's values, and what the trainer set instead.

    `before` is the headline it was printed under, where that has changed since; `between` a step
    to put into the plan; `levels` are where each condition with levels is set, `chain` which link
    is next, None without a chain, and `ladders` the next rung of each measured quantity.
    """

    why: WhyOut
    before: str | None
    help: str | None
    between: PlanStep | None
    warm_up: str | None
    warm_up_reps: int
    criterion: str | None
    minutes: float
    reps: int | None
    expected_reps: int
    pieces: int
    energy_share: float | None
    placement: dict[str, int]
    levels: NextLevels
    chain: Chaining | None
    ladders: list[QuantityLadder]
    vary: list[str]
    how: list[str]
    watch: list[str]
    cautions: list[str]
    stop_rules: list[str]
    changed: CardChanges
    titles: dict[str, str]


class ScriptOut(Schema):
    """The next session's script. `is_kept` is one that was taken to the yard as it stands here.

    `reps` counts reps and waits, `rewards` all that is paid; `titles` name the steps, `minutes` is
    the card's limit and `why` what the conditions follow from.
    """

    seed: int
    lines: list[ScriptLine]
    is_kept: bool
    reps: int
    rewards: int
    minutes: float
    levels: NextLevels
    titles: dict[str, str]
    criteria: dict[str, str]
    stop_rules: list[str]


class FollowedOut(Schema):
    """A session beside the script it was filmed under."""

    seed: int
    script: list[ScriptLine]
    followed: Followed
    titles: dict[str, str]


class StarterOut(Schema):
    """A starter plan."""

    key: str
    document: PlanDocument


class FilmedForIn(Schema):
    """A session that was filmed for the behaviour."""

    session_id: uuid.UUID
