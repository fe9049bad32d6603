"""How much, and when: doses within a session and how long a stage lasts."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from frequens.words.spoken import calculators as said

from .checks import between, positive

FIRST_SESSION_S, LONGEST_SHAPING_S = 90.0, 300.0
BLOCK_S = 150.0
#: What a stage is for: getting used to touch, noise or what follows; short goes before the real
#: equipment; a pick-up and hand-over; or one of the trainer's own.
StageKind = Literal["getting_used", "short_goes", "fetch", "own"]


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
        said.DOSES,
        said.DOSES_CAUTION,
    )
