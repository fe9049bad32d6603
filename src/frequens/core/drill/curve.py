"""One's own lag over the weeks: does it change, and by how much a week?"""

from __future__ import annotations

import datetime as dt
import math
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from scipy import special

from ..statistics.summaries import COVERAGE

WEEK_DAYS = 7
#: On fewer days nothing is claimed: their scatter says too little.
LEAST_DAYS = 5


@dataclass(frozen=True, slots=True)
class WeeklyChange:
    """A change a week in seconds, with its 95 % interval (None where the days do not tell).

    `first_s` and `last_s` are the line's values on the first and the last day.
    """

    days: int
    per_week_s: float | None
    low_s: float | None
    high_s: float | None
    first_s: float | None
    last_s: float | None


def change(values: Iterable[tuple[dt.date, float]]) -> WeeklyChange:
    """The line through what each day brought; several drills of one day count as their mean.

    Ordinary least squares on days with Student's t on n - 2 degrees of freedom (Draper & Smith
    1998, Applied Regression Analysis, 1.4); days scatter by themselves, so each counts the same.
    """
    by_day: dict[dt.date, list[float]] = defaultdict(list)
    for date, value in values:
        by_day[date].append(value)
    days = sorted(by_day)
    n = len(days)
    if n < 2:
        return WeeklyChange(n, *[None] * 5)
    x = np.array([(day - days[0]).days for day in days], float) / WEEK_DAYS
    y = np.array([np.mean(by_day[day]) for day in days])
    centred = x - x.mean()
    within = float(centred @ centred)
    slope = float(centred @ y) / within
    fitted = y.mean() + slope * centred
    low = high = None
    if n >= LEAST_DAYS:
        error = math.sqrt(float((y - fitted) @ (y - fitted)) / (n - 2) / within)
        half = float(special.stdtrit(n - 2, 0.5 + COVERAGE / 2)) * error
        low, high = slope - half, slope + half
    return WeeklyChange(n, slope, low, high, float(fitted[0]), float(fitted[-1]))
