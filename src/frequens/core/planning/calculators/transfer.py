"""From help to cue, and from parts to a chain: plans rep by rep."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from frequens.words.spoken import calculators as said

from .checks import between, whole

#: Common practice: food in the hand for a handful of reps at most.
MOST_LURES = 5
Level = Literal["food_lure", "empty_hand", "gesture", "none"]


@dataclass(frozen=True, slots=True)
class CueRep:
    """One rep of a transfer: the old signal follows after `pause_s`; None: left out."""

    rep: int
    pause_s: float | None
    old_signal: Literal["full", "smaller", "none"]


@dataclass(frozen=True, slots=True)
class CueTransfer:
    """Reps in order, from old signal in full to the new cue alone."""

    reps: tuple[CueRep, ...]
    practice: str
    caution: str


@dataclass(frozen=True, slots=True)
class LureFading:
    """The help of each rep in order."""

    levels: tuple[Level, ...]
    over_practice: bool
    practice: str
    caution: str


@dataclass(frozen=True, slots=True)
class ChainPlan:
    """Stages of a chain, each with the parts done in it, in the order they are done."""

    stages: tuple[tuple[str, ...], ...]
    practice: str
    caution: str


def cue_transfer(reps: int = 12, pause_s: float = 0.5, longest_pause_s: float = 2.0) -> CueTransfer:
    """New cue, pause, old signal; the pause grows, the old signal shrinks and goes.

    A third of the reps with the old signal in full, a third smaller, a third without.
    `reps` 3 to 200; pauses in seconds, `pause_s` at least 0.5. Raises ValueError otherwise.
    """
    whole("reps", reps, 3, 200)
    between("pause_s", pause_s, 0.5, 10)
    between("longest_pause_s", longest_pause_s, pause_s, 30)
    full = reps // 3 + (reps % 3 > 0)
    smaller = (reps - full) // 2 + (reps - full) % 2
    helped = full + smaller
    plan: list[CueRep] = []
    for rep in range(reps):
        if rep >= helped:
            plan.append(CueRep(rep + 1, None, "none"))
            continue
        share = rep / max(1, helped - 1)
        pause = round(pause_s + share * (longest_pause_s - pause_s), 2)
        plan.append(CueRep(rep + 1, pause, "full" if rep < full else "smaller"))
    return CueTransfer(tuple(plan), said.CUE, said.CUE_CAUTION)


def lure_fading(
    lures: int = 3, empty_hand: int = 5, gesture: int = 5, alone: int = 5
) -> LureFading:
    """Reps with food in the hand, an empty hand, a smaller gesture, and without help.

    More than five with food are said to be over the common practice, not refused. Raises
    ValueError for counts out of 0 to 100 or none at all.
    """
    counts: dict[Level, int] = {
        "food_lure": whole("lures", lures, 0, 100),
        "empty_hand": whole("empty_hand", empty_hand, 0, 100),
        "gesture": whole("gesture", gesture, 0, 100),
        "none": whole("alone", alone, 0, 100),
    }
    levels = tuple(level for level, count in counts.items() for _ in range(count))
    if not levels:
        raise ValueError("at least one rep is needed")
    return LureFading(levels, lures > MOST_LURES, said.LURE, said.LURE_CAUTION)


def chain_plan(
    parts: Sequence[str], direction: Literal["forward", "backward"] = "backward"
) -> ChainPlan:
    """First every part alone, then joined one by one from the first or from the last.

    Raises ValueError for fewer than two parts, parts named twice, or another direction.
    """
    if len(parts) < 2:
        raise ValueError("a chain has at least two parts")
    if len(set(parts)) < len(parts):
        raise ValueError("parts must have different names")
    if direction not in ("forward", "backward"):
        raise ValueError(f"direction must be forward or backward, not {direction!r}")
    alone = [(part,) for part in parts]
    if direction == "forward":
        joined = [tuple(parts[:n]) for n in range(2, len(parts) + 1)]
    else:
        joined = [tuple(parts[-n:]) for n in range(2, len(parts) + 1)]
    return ChainPlan((*alone, *joined), said.CHAIN, said.CHAIN_CAUTION)
