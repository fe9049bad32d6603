"""The `frequens-plan` document as types: what `read_shaping_plan` lets through, key by key.

The API's schema and the front end's types are made from these. Times in seconds.
"""

from __future__ import annotations

from typing import Literal, NotRequired

from typing_extensions import TypedDict

from ...formats.session_document.plan_types import CueMeaning, PlanRule, SessionStep
from ...model.events import MarkerKind
from ..calculators.schedules import StageKind

Way = Literal["free_shaping", "capturing", "luring", "targeting"]
#: What a step asks more of than the one before it.
Dimension = Literal["topography", "precision", "speed", "duration", "distance", "distraction"]
#: What is part of the work and may carry a risk.
Hazard = Literal[
    "speed_height_turning",
    "jumping",
    "raised_platform",
    "worn_or_following",
    "ropes",
    "hoof_or_claw",
    "objects_in_mouth",
    "large_animal",
    "children",
]


class PlanStep(SessionStep):
    """One step of the flight, as a session knows it and with what only the plan says; the last one
    reached is the behaviour itself."""

    criterion: NotRequired[str]
    raises: NotRequired[list[Dimension]]
    way: NotRequired[Way]
    retired: NotRequired[bool]


class PlanMarker(TypedDict):
    """A marker and what it says."""

    name: str
    meaning: MarkerKind


class PlanCue(TypedDict):
    """The new cue, and the step from which it is given."""

    name: str
    from_step: NotRequired[str]


class PlanCondition(TypedDict):
    """What is varied, by levels."""

    name: str
    levels: NotRequired[list[str]]


class PlanProgramme(TypedDict, total=False):
    """How sessions vary: after how many days untried a level counts as untried, the share of the
    chances at a cued step in which nothing is asked and waiting is paid, and that of the work at a
    level that is new."""

    fades_days: int
    wait_share: float
    new_share: float


class PlanLadder(TypedDict):
    """The rungs of one quantity of the plan's steps, by its name and in its unit.

    `least_days` are to pass on each rung, `limit` is a value beyond which the veterinarian is asked
    first.
    """

    name: str
    rungs: NotRequired[list[float]]
    least_days: NotRequired[int]
    limit: NotRequired[float]


class PlanStage(TypedDict):
    """A stretch of the programme that takes weeks.

    It ends when the judgement goes on from the step `until`, not before `least_weeks` and `goes`
    sessions; without a step when these are done. `kind` names the common practice it follows, which
    says whatever is left out here.
    """

    name: str
    kind: NotRequired[StageKind]
    until: NotRequired[str]
    least_weeks: NotRequired[float]
    most_weeks: NotRequired[float]
    goes: NotRequired[int]


class PlanCalendar(TypedDict, total=False):
    """On which days one trains: from which day on, sessions a day and a week, and days of rest
    (0 is Monday)."""

    begins: str
    a_day: int
    a_week: int
    rest: list[int]


class PlanChain(TypedDict, total=False):
    """The chain the behaviour is a part of."""

    direction: Literal["forward", "backward"]
    parts: list[str]


class PlanDocument(TypedDict):
    """A whole shaping plan."""

    format: str
    version: int
    behaviour: NotRequired[str]
    goal: NotRequired[str]
    way: NotRequired[Way]
    after_marker: NotRequired[Literal["release", "stay"]]
    after_miss: NotRequired[Literal["wait", "no_reward_marker"]]
    reset: NotRequired[Literal["toss", "in_position"]]
    lure_reps: NotRequired[int]
    prompts: NotRequired[list[str]]
    markers: NotRequired[list[PlanMarker]]
    placement: NotRequired[dict[str, float]]
    rule: NotRequired[PlanRule]
    rate_floor_per_min: NotRequired[float]
    session_cap_s: NotRequired[float]
    rep_cap: NotRequired[int]
    cue: NotRequired[PlanCue]
    cues: NotRequired[list[CueMeaning]]
    settings: NotRequired[dict[str, float]]
    judging: NotRequired[dict[str, float]]
    conditions: NotRequired[list[PlanCondition]]
    programme: NotRequired[PlanProgramme]
    ladders: NotRequired[list[PlanLadder]]
    stages: NotRequired[list[PlanStage]]
    calendar: NotRequired[PlanCalendar]
    chain: NotRequired[PlanChain]
    hazards: NotRequired[list[Hazard]]
    notes: NotRequired[str]
    approximations: NotRequired[list[PlanStep]]
