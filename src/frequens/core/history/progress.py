"""Across sessions: does the rate grow, does the trainer get surer, how far up the stairs?"""

from __future__ import annotations

import datetime as dt
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy import special

from ..statistics.summaries import Summary

WEEK_DAYS = 7
#: Days from which on growth is claimed, and the least scatter that is believed.
LEAST_DAYS, LEAST_SCATTER = 5, 0.05


@dataclass(frozen=True, slots=True)
class DayCount:
    """What one calendar day brought: `count` events in `minutes` of training."""

    date: dt.date
    count: int
    minutes: float


@dataclass(frozen=True, slots=True)
class Growth:
    """Rate of growth a week with its 95 % interval; 1.0 is no change.

    `first_per_min` and `last_per_min` are the fitted rates on the first and last day.
    `dispersion` is Pearson's chi-square over its degrees of freedom. None where the days do not
    tell (one day, no event, no degrees of freedom).
    """

    days: int
    per_week: float | None
    low: float | None
    high: float | None
    dispersion: float | None
    first_per_min: float | None
    last_per_min: float | None


@dataclass(frozen=True, slots=True)
class SessionSkill:
    """The trainer's timing in one session: middle, its interval, and the middle half."""

    date: dt.date | None
    n: int
    median: float | None
    median_low: float | None
    median_high: float | None
    q1: float | None
    q3: float | None


@dataclass(frozen=True, slots=True)
class StepHistory:
    """One approximation over the days it was worked on."""

    approximation: str
    first_day: dt.date
    last_day: dt.date
    sessions: int
    attempts: int
    minutes: float


@dataclass(frozen=True, slots=True)
class Steps:
    """The staircase over the days, in the order the steps were first met."""

    steps: tuple[StepHistory, ...]
    days_since_last: int | None


def growth(days: Iterable[DayCount]) -> Growth:
    """Growth of a rate per week, from counts a day.

    Poisson regression of counts on days with log minutes as offset (Nelder & Wedderburn
    1972, JRSS A 135:370-384), growth e^(7 beta). The interval rests on how much the days scatter
    (Pearson's chi-square over its degrees of freedom) with Student's t on n - 2 of them; below
    `LEAST_DAYS` days there is none. Days with zero count stay in; days without minutes cannot, and
    days of one date are added up. Raises ValueError for a negative count or time.
    """
    totals: dict[dt.date, tuple[int, float]] = {}
    for day in days:
        if day.count < 0 or not (math.isfinite(day.minutes) and day.minutes >= 0):
            raise ValueError(f"count and minutes must not be negative: {day}")
        count, minutes = totals.get(day.date, (0, 0.0))
        totals[day.date] = (count + day.count, minutes + day.minutes)
    kept = sorted((date, *total) for date, total in totals.items() if total[1] > 0)
    if len(kept) < 2 or not any(count for _, count, _ in kept):
        return Growth(len(kept), *[None] * 6)
    x = np.array([(date - kept[0][0]).days for date, _, _ in kept], float)
    y = np.array([count for _, count, _ in kept], float)
    offset = np.log([minutes for _, _, minutes in kept])
    beta, covariance, mean = _poisson_regression(x, y, offset)
    if beta is None or covariance is None:
        return Growth(len(kept), *[None] * 6)
    free = len(kept) - 2
    dispersion = float(((y - mean) ** 2 / mean).sum() / free) if free else None
    week = WEEK_DAYS * beta
    # Nothing is claimed of a few days: their scatter says too little.
    half = math.inf
    if dispersion is not None and len(kept) >= LEAST_DAYS:
        error = math.sqrt(covariance * max(LEAST_SCATTER, dispersion))
        half = WEEK_DAYS * float(special.stdtrit(free, 0.975)) * error
    fitted = mean / np.exp(offset)
    return Growth(
        days=len(kept),
        per_week=math.exp(week),
        low=None if math.isinf(half) else _exp(week - half),
        high=None if math.isinf(half) else _exp(week + half),
        dispersion=dispersion,
        first_per_min=float(fitted[0]),
        last_per_min=float(fitted[-1]),
    )


def _exp(value: float) -> float:
    """e to the value; beyond what a number holds, the largest it holds."""
    return math.exp(min(value, 700.0))


def _poisson_regression(
    x: np.ndarray, y: np.ndarray, offset: np.ndarray
) -> tuple[float | None, float | None, np.ndarray]:
    """Slope, its variance and the fitted means, by iteratively reweighted least squares."""
    centre = x.mean()
    design = np.column_stack([np.ones_like(x), x - centre])
    coefficients = np.array([math.log(y.sum() / np.exp(offset).sum()), 0.0])
    mean = np.exp(design @ coefficients + offset)
    for _ in range(100):
        information = design.T @ (design * mean[:, None])
        try:
            step = np.linalg.solve(information, design.T @ (y - mean))
        except np.linalg.LinAlgError:
            return None, None, mean
        # A long step overshoots where most days are empty; half of it does not.
        while np.abs(step).max() > 5:
            step /= 2
        coefficients = coefficients + step
        mean = np.exp(np.clip(design @ coefficients + offset, -700, 700))
        if np.abs(step).max() < 1e-11:
            information = design.T @ (design * mean[:, None])
            return float(coefficients[1]), float(np.linalg.inv(information)[1, 1]), mean
    # All events on the first or last day: the slope runs away and says nothing.
    return None, None, mean


def skill(sessions: Iterable[tuple[dt.date | None, Summary]]) -> tuple[SessionSkill, ...]:
    """The trainer's timing per session, from summaries of marker or reward latency."""
    return tuple(
        SessionSkill(date, s.n, s.median, s.median_low, s.median_high, s.q1, s.q3)
        for date, s in sessions
    )


def steps(
    sessions: Sequence[tuple[dt.date, Mapping[str, Any]]], today: dt.date | None = None
) -> Steps:
    """The staircase, from each session's date and its findings (as `measure` gives them).

    `today` tells how many days have passed since the last session; None leaves that out.
    """
    found: dict[str, StepHistory] = {}
    for date, findings in sorted(sessions, key=lambda pair: pair[0]):
        for split in findings["splits"]["approximations"]:
            key = split["approximation"]
            if key is None:
                continue
            before = found.get(key) or StepHistory(key, date, date, 0, 0, 0.0)
            found[key] = StepHistory(
                key,
                before.first_day,
                date,
                before.sessions + 1,
                before.attempts + split["attempts"],
                before.minutes + split["training_time_s"] / 60,
            )
    last = max((date for date, _ in sessions), default=None)
    since = (today - last).days if today is not None and last is not None else None
    return Steps(tuple(found.values()), since)
