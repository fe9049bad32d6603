"""What to have ready: rewards, their energy, and where they go."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from frequens.words.spoken import calculators as said

from .checks import between, positive, whole

#: Common practice: at most a tenth of the day's energy in treats.
MOST_ENERGY_SHARE = 0.1


@dataclass(frozen=True, slots=True)
class PlacementBudget:
    """Rewards by placement; they add up to what was to be shared out."""

    rewards: Mapping[str, int]
    practice: str
    caution: str


@dataclass(frozen=True, slots=True)
class Preparation:
    """Pieces to prepare and their energy as a share of the day's; `over` it is too much."""

    pieces: int
    energy_kj: float | None
    energy_share: float | None
    over: bool | None
    practice: str
    caution: str


def placement_budget(rewards: int, mix: Mapping[str, float] | None = None) -> PlacementBudget:
    """Share out a number of rewards by a mix, to whole ones (largest remainders).

    `mix` are shares that add up to 1; by default 75 % off and 25 % on. Raises ValueError
    for shares that do not, and for rewards out of 1 to 10 000.
    """
    mix = {"off": 0.75, "on": 0.25} if mix is None else mix
    whole("rewards", rewards, 1, 10_000)
    for place, share in mix.items():
        between(f"mix[{place!r}]", share, 0, 1)
    if not mix or abs(sum(mix.values()) - 1) > 1e-6:
        raise ValueError(f"mix must add up to 1, not {sum(mix.values()):g}")
    exact = {place: rewards * share for place, share in mix.items()}
    shared = {place: math.floor(value + 1e-9) for place, value in exact.items()}
    rest = rewards - sum(shared.values())
    for place in sorted(exact, key=lambda p: shared[p] - exact[p])[:rest]:
        shared[place] += 1
    return PlacementBudget(shared, said.MIX, said.MIX_CAUTION)


def prepare_rewards(
    minutes: float,
    per_min: float,
    pieces_per_reward: float = 1.0,
    spare: float = 0.2,
    piece_kj: float | None = None,
    day_kj: float | None = None,
) -> Preparation:
    """Pieces for a session of `minutes` at `per_min` rewards, with a spare share on top.

    With the energy of a piece and of the day (both kJ) also its share of the day's. Raises
    ValueError for values that are not above 0 (`spare` from 0 to 2).
    """
    positive("minutes", minutes)
    positive("per_min", per_min)
    positive("pieces_per_reward", pieces_per_reward)
    between("spare", spare, 0, 2)
    pieces = math.ceil(minutes * per_min * pieces_per_reward * (1 + spare) - 1e-9)
    energy = None if piece_kj is None else pieces * positive("piece_kj", piece_kj)
    share = None
    if energy is not None and day_kj is not None:
        share = energy / positive("day_kj", day_kj)
    over = None if share is None else share > MOST_ENERGY_SHARE
    return Preparation(pieces, energy, share, over, said.COUNT, said.COUNT_CAUTION)
