"""What the drawn animal does in a drill, by lot: nobody can know what comes next, or when.

All times are seconds from the drill's beginning.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from .levels import HOLD_S, Difficulty, Instant
from .scoring import LATE_S

#: What moves: the head to the trainer, the nose to the mark, the hoof to the stand.
Moved = Literal["look", "touch", "lift"]
#: What has to hold beside what is asked for, where two things have to. Nobody looks round with
#: the nose on the mark.
SECOND: Mapping[Moved, Moved] = {"lift": "look", "touch": "lift"}

#: The animal stands still at first, and for so long between two acts. What comes on top of the
#: least is drawn from an exponential: however long one has waited, the next is no likelier
#: (a non-ageing foreperiod; Luce 1986, Response Times, 2.4; from memory).
FIRST_S, LEAST_REST_S, MEAN_REST_S, MOST_REST_S = 1.2, 0.8, 0.5, 4.0
#: A stay that is too short for a hold: so large a share of them, and of the hold at most.
TOO_SHORT, SHORT_OF_HOLD = 0.25, 0.85
#: A stay that is long enough goes on for this share of what the level's behaviours last.
LONGER_THAN_HOLD = 0.4
#: A fake hangs before what it seems to become.
FAKE_S = (0.15, 0.5)


@dataclass(frozen=True, slots=True)
class Act:
    """One thing the animal does.

    It moves from `approach_s`, is there from `begins_s` to `ends_s`, and back at rest at
    `rests_s`. A fake is not `whole`: it stops short of where it seems to go.
    """

    moved: Moved
    approach_s: float
    begins_s: float
    ends_s: float
    rests_s: float
    whole: bool = True


def draw_acts(
    level: Difficulty, instant: Instant, asked: Moved, seconds: float, seed: int
) -> list[Act]:
    """All acts of a drill of so many seconds, in the order they begin; the seed names the draw.

    Raises ValueError unless `asked` is "touch" or "lift".
    """
    if asked == "look":
        raise ValueError("asked for is a touch or a lift")
    lot = np.random.default_rng(seed)
    acts: list[Act] = []
    at = FIRST_S + _rest(lot)
    while True:
        made = _next(lot, level, instant, asked, at)
        over = max(act.rests_s for act in made)
        # The last one can be answered in time.
        if over + LATE_S > seconds:
            return acts
        acts += made
        at = over + _rest(lot)


def _rest(lot: np.random.Generator) -> float:
    return LEAST_REST_S + min(MOST_REST_S, float(lot.exponential(MEAN_REST_S)))


def _next(
    lot: np.random.Generator, level: Difficulty, instant: Instant, asked: Moved, at: float
) -> list[Act]:
    """What it does next: the behaviour asked for, a fake of it, or something else."""
    drawn = float(lot.random())
    if drawn < level.fakes:
        return [_act(lot, level, asked, at, float(lot.uniform(*FAKE_S)), whole=False)]
    lasts = _lasts(lot, level, instant)
    if drawn < level.fakes + level.others:
        return [_act(lot, level, _other(lot, level, asked), at, lasts)]
    act = _act(lot, level, asked, at, lasts)
    return [act, _second(lot, level, act)] if level.both else [act]


def _other(lot: np.random.Generator, level: Difficulty, asked: Moved) -> Moved:
    if level.both:
        # One of the two criteria alone.
        return asked if lot.random() < 0.5 else SECOND[asked]
    return "look" if lot.random() < 0.6 else ("touch" if asked == "lift" else "lift")


def _lasts(lot: np.random.Generator, level: Difficulty, instant: Instant) -> float:
    if instant != "hold":
        return float(lot.uniform(*level.lasts_s))
    if lot.random() < TOO_SHORT:
        return float(lot.uniform(0.3, SHORT_OF_HOLD)) * HOLD_S
    return HOLD_S + LONGER_THAN_HOLD * float(lot.uniform(*level.lasts_s))


def _act(
    lot: np.random.Generator,
    level: Difficulty,
    moved: Moved,
    at: float,
    lasts: float,
    whole: bool = True,
) -> Act:
    begins = at + float(lot.uniform(*level.approach_s))
    ends = begins + lasts
    return Act(moved, at, begins, ends, ends + float(lot.uniform(0.2, 0.4)), whole)


def _second(lot: np.random.Generator, level: Difficulty, act: Act) -> Act:
    """What holds for part of the act: it comes before or after it, and ends likewise."""
    lasts = act.ends_s - act.begins_s
    sooner = min(0.5, act.begins_s - act.approach_s - 0.1)
    begins = act.begins_s + float(lot.uniform(-sooner, 0.3 * lasts))
    ends = act.ends_s + float(lot.uniform(-0.3 * lasts, 0.5))
    approach = max(act.approach_s, begins - float(lot.uniform(*level.approach_s)))
    return Act(SECOND[act.moved], min(approach, begins - 0.1), begins, ends, ends + 0.3)
