"""From where it starts to where it should end: heights, spans and durations step by step."""

from __future__ import annotations

import random
from dataclasses import dataclass
from typing import Literal

from frequens.words.spoken import calculators as said

from .checks import between, positive, whole

MOST_STEPS = 500
Unit = Literal["cm", "in"]
Size = Literal["small", "medium", "large"]
#: Common practice: strides of a first distance, by the size of the animal.
FIRST_STRIDES: dict[Size, int] = {"small": 2, "medium": 3, "large": 5}
#: Common practice: a bar goes up by 10 cm or 4 in at a time.
BAR_STEP: dict[Unit, float] = {"cm": 10.0, "in": 4.0}
CM_AN_INCH = 2.54


@dataclass(frozen=True, slots=True)
class Ladder:
    """Values from the first step to the goal, in the unit of the arguments."""

    values: tuple[float, ...]
    practice: str
    caution: str


@dataclass(frozen=True, slots=True)
class JumpSpan:
    """A long jump: its height and the span that goes with it, same unit."""

    height: float
    span: float
    practice: str
    caution: str


def numeric_ladder(
    start: float, goal: float, step: float | None = None, factor: float | None = None
) -> Ladder:
    """Steps from start to goal, by a difference or by a factor; the goal is always the last.

    Exactly one of `step` (> 0, same unit) and `factor` (> 1) is given; a goal below the start
    is stepped down to. Raises ValueError for anything else, and for more than 500 steps.
    """
    if (step is None) == (factor is None):
        raise ValueError("give either step or factor")
    between("start", start, -1e9, 1e9)
    between("goal", goal, -1e9, 1e9)
    if step is not None:
        positive("step", step)
    if factor is not None:
        positive("start", start)
        positive("goal", goal)
        if between("factor", factor, 1.0, 100.0) == 1:
            raise ValueError("factor must be above 1")
    values = [float(start)]
    up = goal > start
    # A rung that misses the goal by rounding only is the goal.
    crumb = (step if step is not None else abs(goal)) * 1e-6
    while abs(goal - values[-1]) > crumb:
        last = values[-1]
        if step is not None:
            following = last + step if up else last - step
        else:
            assert factor is not None
            following = last * factor if up else last / factor
        beyond = following >= goal - crumb if up else following <= goal + crumb
        values.append(float(goal) if beyond else round(following, 9))
        if len(values) > MOST_STEPS:
            raise ValueError(f"more than {MOST_STEPS} steps: take a larger one")
    values[-1] = float(goal)
    return Ladder(tuple(values), said.ONE_AT_A_TIME, "")


def height_ladder(final: float, unit: Unit = "cm") -> Ladder:
    """Bar heights from half the final height up, 10 cm or 4 in at a time.

    The first is the lowest that lies whole steps below the final height and not under half
    of it. Raises ValueError for an unknown unit or a height that is not above 0.
    """
    if unit not in BAR_STEP:
        raise ValueError(f"unit must be cm or in, not {unit!r}")
    step = BAR_STEP[unit]
    positive("final", final)
    steps = int((final / 2) / step + 1e-9)
    start = final - step * steps
    found = numeric_ladder(start, final, step=step)
    return Ladder(found.values, said.BARS, said.GROWING)


def height_from_withers(withers_cm: float, share: float = 1.0, unit: Unit = "cm") -> Ladder:
    """Bar heights up to a share of the animal's height at its withers, in whole cm or inches.

    How high an animal may go at last is for its veterinarian and the rules of the sport's body;
    `share` (0.1 to 2) is theirs to say. Raises ValueError for values out of range.
    """
    positive("withers_cm", withers_cm)
    between("share", share, 0.1, 2)
    if unit not in BAR_STEP:
        raise ValueError(f"unit must be cm or in, not {unit!r}")
    final = withers_cm * share / (1.0 if unit == "cm" else CM_AN_INCH)
    return height_ladder(max(1.0, float(int(final + 1e-9))), unit)


def distance_ladder(size: Size, goal: float) -> Ladder:
    """Strides from a first distance for an animal of this size, one more at a time.

    A goal nearer than that is the only step. Raises ValueError for an unknown size or a goal
    that is not above 0.
    """
    if size not in FIRST_STRIDES:
        raise ValueError(f"size must be small, medium or large, not {size!r}")
    first = min(FIRST_STRIDES[size], positive("goal", goal))
    if first == goal:
        return Ladder((float(goal),), said.DISTANCES, said.ONE_AT_A_TIME)
    return Ladder(numeric_ladder(first, goal, step=1).values, said.DISTANCES, said.ONE_AT_A_TIME)


def jump_span(height: float) -> JumpSpan:
    """Twice the height. Raises ValueError for a height that is not above 0."""
    return JumpSpan(height, 2 * positive("height", height), said.JUMPS, said.GROWING)


def duration_plan(mean_s: float, reps: int, seed: int, spread: float = 0.5) -> Ladder:
    """Seconds to hold in each rep, bouncing around a mean: the same for the same seed.

    Values lie within `spread` (0 to 0.9) of the mean as a share of it, and their mean is
    `mean_s` to the millisecond-rounding. Never three rising in a row, so that it does not
    only get harder. Raises ValueError for values out of range.
    """
    positive("mean_s", mean_s)
    whole("reps", reps, 1, MOST_STEPS)
    between("spread", spread, 0, 0.9)
    chance = random.Random(seed)
    # Mirrored pairs keep the mean exactly where it was asked for.
    halves = [chance.uniform(0, spread) for _ in range(reps // 2)]
    offsets = [sign * h for h in halves for sign in (1, -1)] + [0.0] * (reps % 2)
    chance.shuffle(offsets)
    offsets = _without_climbs(offsets)
    values = tuple(round(mean_s * (1 + offset), 3) for offset in offsets)
    return Ladder(values, said.BEFORE_IT_LEAVES, "")


def _without_climbs(offsets: list[float]) -> list[float]:
    """The same values in an order in which no three in a row rise."""
    ordered = list(offsets)
    for place in range(2, len(ordered)):
        if ordered[place - 2] < ordered[place - 1] < ordered[place]:
            ordered[place - 1], ordered[place] = ordered[place], ordered[place - 1]
    return ordered
