"""The `plan` of a `frequens-session` document as types: what `read_plan` lets through, key by key.

What a `frequens-plan` writes alike stands here, too. Times in seconds; what is null is left out.
"""

from __future__ import annotations

from typing import Literal, NotRequired

from typing_extensions import TypedDict

from ...model.events import MarkAt
from ...rules.schools import School


class ChainPart(TypedDict):
    """One part of a chain."""

    key: str
    title: NotRequired[str]


class StepQuantity(TypedDict):
    """What is measured of a step's reps."""

    name: str
    unit: str
    better: Literal["more", "less"]
    target: NotRequired[float]


#: A school and its own numbers; those it does not have are not there.
PlanRule = TypedDict(
    "PlanRule",
    {
        "kind": School,
        "need": NotRequired[int],
        "miss": NotRequired[int],
        "window": NotRequired[int],
        "raise": NotRequired[float],
        "lower": NotRequired[float],
        "size": NotRequired[int],
        "raise_at": NotRequired[int],
        "lower_at": NotRequired[int],
        "w": NotRequired[float],
        "clean_sessions": NotRequired[int],
    },
)


class CueMeaning(TypedDict):
    """A cue and the behaviour it asks for."""

    label: str
    behaviour: str


class SessionStep(TypedDict):
    """One step of the plan, as a session knows it."""

    key: str
    title: NotRequired[str]
    mark_at: NotRequired[MarkAt]
    hold_s: NotRequired[float]
    fallback: NotRequired[str]
    parts: NotRequired[list[ChainPart]]
    until_release: NotRequired[bool]
    quantity: NotRequired[StepQuantity]
    help: NotRequired[str]
    answers: NotRequired[bool]
    rate_floor_per_min: NotRequired[float]


class SessionPlan(TypedDict, total=False):
    """What a session was filmed under."""

    rule: PlanRule
    approximations: list[SessionStep]
    placement: dict[str, float]
    prompts: list[str]
    cues: list[CueMeaning]
    judging: dict[str, float]
    rate_floor_per_min: float
    session_cap_s: float
    rep_cap: int
