"""Where around the animal, and on which side: orders that change one thing at a time."""

from __future__ import annotations

from dataclasses import dataclass

from frequens.words.spoken import calculators as said

from .checks import whole

#: Positions on an imaginary clock face around the animal, 12 ahead of it, easiest first.
STAGES: tuple[tuple[int, ...], ...] = ((3, 9), (8, 4), (7, 5), (6,))


@dataclass(frozen=True, slots=True)
class ClockStage:
    """One stage: the positions of its reps in order."""

    positions: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class ClockPlan:
    """Stages from the easiest to the hardest positions."""

    stages: tuple[ClockStage, ...]
    practice: str
    caution: str


@dataclass(frozen=True, slots=True)
class SideBlock:
    """Reps worked on one side before the next."""

    side: str
    reps: int


@dataclass(frozen=True, slots=True)
class SidePlan:
    """Blocks in order; `totals` are reps by side."""

    blocks: tuple[SideBlock, ...]
    totals: dict[str, int]
    practice: str
    caution: str


def clock_orders(reps_per_stage: int = 4, easy_side: str = "right") -> ClockPlan:
    """Positions on the clock face, stage by stage, both halves in turn, the easy one first.

    `reps_per_stage` 1 to 50; `easy_side` ``right`` (3, 4, 5 o'clock) or ``left``. Raises
    ValueError for anything else.
    """
    whole("reps_per_stage", reps_per_stage, 1, 50)
    if easy_side not in ("left", "right"):
        raise ValueError(f"easy_side must be left or right, not {easy_side!r}")
    stages = []
    for positions in STAGES:
        is_right = {p: p < 6 for p in positions}
        ordered = sorted(positions, key=lambda p: is_right[p] != (easy_side == "right"))
        turns = tuple(ordered[n % len(ordered)] for n in range(reps_per_stage))
        stages.append(ClockStage(turns))
    return ClockPlan(tuple(stages), said.CLOCK, said.CLOCK_CAUTION)


def side_allotment(
    reps: int, easy: str = "left", weak: str = "right", weak_share: float = 0.6, block: int = 4
) -> SidePlan:
    """Split a session's reps between two sides in blocks, the easy side first.

    `reps` 2 to 200; `weak_share` 0.5 to 0.9 of them go to the weak side; a block has at most
    `block` reps (3 to 5 is common practice, 1 to 20 allowed). Raises ValueError otherwise.
    """
    whole("reps", reps, 2, 200)
    whole("block", block, 1, 20)
    if easy == weak:
        raise ValueError("easy and weak must be two sides")
    if not 0.5 <= weak_share <= 0.9:
        raise ValueError(f"weak_share must lie from 0.5 to 0.9, not {weak_share!r}")
    left = {weak: min(reps - 1, round(reps * weak_share))}
    left[easy] = reps - left[weak]
    totals = {easy: left[easy], weak: left[weak]}
    blocks: list[SideBlock] = []
    side = easy
    while left[easy] or left[weak]:
        if left[side]:
            size = min(block, left[side])
            blocks.append(SideBlock(side, size))
            left[side] -= size
        side = weak if side == easy else easy
    return SidePlan(tuple(blocks), totals, said.SIDES, said.SIDES_CAUTION)
