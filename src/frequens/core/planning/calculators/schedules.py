"""How much, and when: doses within a session and stages over the calendar."""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from .checks import between, positive, whole

FIRST_SESSION_S, LONGEST_SHAPING_S = 90.0, 300.0
BLOCK_S = 150.0
DOSES = (
    "A first shaping session is 1 to 2 min, none over 5 min; blocks of 2 to 3 min with play, "
    "toilet or sniffing breaks; end on a success."
)
DOSES_CAUTION = (
    "Water and shade; stop at heavy breathing, lameness or reluctance. Old, young, pregnant, "
    "overweight or injured animals: fewer reps, ask the veterinarian first."
)
STAGES = "Two to three weeks a stage for getting used to touch, noise or something pulled along."
#: What a stage is for: getting used to touch, noise or what follows; short goes before the real
#: equipment; a pick-up and hand-over; or one of the trainer's own.
StageKind = Literal["getting_used", "short_goes", "fetch", "own"]
STAGES_CAUTION = (
    "Nothing that touches or follows moves into the animal; it moves into it. A stage goes on "
    "only when the one before is easy."
)


@dataclass(frozen=True, slots=True)
class StageNumbers:
    """How long a stage lasts: weeks at least, after which it is long, and sessions at least.

    `most_weeks` and `goes` are None where nothing is said of them.
    """

    least_weeks: float
    most_weeks: float | None
    goes: int | None


#: Common practice.
STAGE_NUMBERS: Mapping[StageKind, StageNumbers] = {
    "getting_used": StageNumbers(2, 3, None),
    "short_goes": StageNumbers(0, None, 12),
    "fetch": StageNumbers(4, 13, None),
    "own": StageNumbers(1, None, None),
}


@dataclass(frozen=True, slots=True)
class Dose:
    """Blocks of work in seconds with breaks between; `over_practice` is longer than usual."""

    blocks_s: tuple[float, ...]
    break_s: float
    over_practice: bool
    practice: str
    caution: str


@dataclass(frozen=True, slots=True)
class Stage:
    """One stage of a schedule: its days, first and last included, and its session days."""

    name: str
    first: dt.date
    last: dt.date
    sessions: tuple[dt.date, ...]


@dataclass(frozen=True, slots=True)
class Schedule:
    """Stages one after another on the calendar."""

    stages: tuple[Stage, ...]
    practice: str
    caution: str


def stage_numbers(stage: Mapping[str, Any]) -> StageNumbers:
    """The numbers of a plan's stage; those it leaves out are the common practice of its kind."""
    usual = STAGE_NUMBERS[stage.get("kind", "own")]
    return StageNumbers(
        stage.get("least_weeks", usual.least_weeks),
        stage.get("most_weeks", usual.most_weeks),
        stage.get("goes", usual.goes),
    )


def dose_plan(work_s: float, block_s: float = BLOCK_S, break_s: float = 120.0) -> Dose:
    """Cut a session's work into equal blocks no longer than `block_s`, with breaks between.

    Work over 5 min in all is said to be over the common practice, not refused. Raises
    ValueError for lengths that are not above 0 or work over four hours.
    """
    between("work_s", positive("work_s", work_s), 0, 4 * 3600)
    positive("block_s", block_s)
    between("break_s", break_s, 0, 3600)
    count = max(1, math.ceil(work_s / block_s - 1e-9))
    return Dose(
        tuple([work_s / count] * count),
        break_s if count > 1 else 0.0,
        work_s > LONGEST_SHAPING_S,
        DOSES,
        DOSES_CAUTION,
    )


def stage_schedule(
    names: tuple[str, ...],
    start: dt.date,
    weeks_a_stage: float = 2.0,
    sessions_a_week: int = 4,
    rest: frozenset[int] = frozenset(),
) -> Schedule:
    """Lay stages on the calendar from `start` on, sessions spread evenly over each week.

    `rest` are weekdays without a session (0 is Monday). Raises ValueError for no names,
    stages under a day or over half a year, and more sessions a week than days are left.
    """
    if not names or any(not name for name in names):
        raise ValueError("names must not be empty")
    between("weeks_a_stage", weeks_a_stage, 1 / 7, 26)
    if not rest <= set(range(7)):
        raise ValueError(f"rest must be weekdays from 0 to 6, not {sorted(rest)}")
    whole("sessions_a_week", sessions_a_week, 1, 7 - len(rest))
    days = max(1, round(weeks_a_stage * 7))
    stages: list[Stage] = []
    for place, name in enumerate(names):
        first = start + dt.timedelta(days=place * days)
        dates = [first + dt.timedelta(days=n) for n in range(days)]
        free = [d for d in dates if d.weekday() not in rest]
        wanted = min(len(free), max(1, round(days / 7 * sessions_a_week)))
        chosen = [free[n * len(free) // wanted] for n in range(wanted)] if free else []
        stages.append(Stage(name, first, dates[-1], tuple(chosen)))
    return Schedule(tuple(stages), STAGES, STAGES_CAUTION)
