"""Where values lie close together: a sum of bells, for drawing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

#: Width of a bell (its standard deviation) in seconds; wide ranges have wider ones.
BELL_S = 0.12
#: The curve has so many points, and reaches three bells beyond the values on either side.
POINTS, REACH = 121, 3
#: A range has at least so many bells; beyond that they grow with it.
MOST_BELLS = 60
PIECE = 4096


@dataclass(frozen=True, slots=True)
class Density:
    """A kernel density of seconds: pairs of seconds and height, the highest 1; empty without any.

    Gaussian kernels of one width (Silverman 1986, eq. 2.2a, scaled to its top).
    """

    bell_s: float
    points: tuple[tuple[float, float], ...]


def density(values: Sequence[float]) -> Density:
    """The density of some seconds in any order."""
    if not values:
        return Density(BELL_S, ())
    low, high = min(values), max(values)
    bell = max(BELL_S, (high - low) / MOST_BELLS)
    at = np.linspace(low - REACH * bell, high + REACH * bell, POINTS)
    heights = np.zeros(POINTS)
    # In pieces, so that a session of any length needs little room.
    for start in range(0, len(values), PIECE):
        some = np.asarray(values[start : start + PIECE])
        heights += np.exp(-(((at[:, None] - some) / bell) ** 2) / 2).sum(axis=1)
    heights /= heights.max()
    return Density(bell, tuple(zip(at.tolist(), heights.tolist(), strict=True)))
