"""Intervals and summaries of small samples."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from scipy import special

COVERAGE = 0.95
Z = float(special.ndtri(0.5 + COVERAGE / 2))
#: From this p down a difference is said to be more than chance.
BEYOND_CHANCE = 0.05


@dataclass(frozen=True, slots=True)
class Share:
    """`count` of `of`, with its 95 % interval. All of value, low, high are None for 0 of 0."""

    count: int
    of: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Rate:
    """Events per minute with the exact 95 % interval. None where no time has passed."""

    value: float | None
    low: float | None
    high: float | None
    count: int


@dataclass(frozen=True, slots=True)
class Difference:
    """A difference of two shares with its 95 % interval; all None where one is of nothing."""

    value: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Summary:
    """Spread of a sample in the unit of its values. None where the sample is too small."""

    n: int
    mean: float | None
    sd: float | None
    min: float | None
    q1: float | None
    median: float | None
    q3: float | None
    p90: float | None
    max: float | None
    median_low: float | None
    median_high: float | None


def wilson(count: int, of: int) -> Share:
    """A share with the score interval of Wilson (1927), JASA 22:209-212.

    Raises ValueError unless ``0 <= count <= of``.
    """
    if not 0 <= count <= of:
        raise ValueError(f"count must lie in 0..{of}, not {count}")
    if of == 0:
        return Share(0, 0, None, None, None)
    share = count / of
    scale = 1 + Z * Z / of
    centre = (share + Z * Z / (2 * of)) / scale
    half = Z * math.sqrt(share * (1 - share) / of + Z * Z / (4 * of * of)) / scale
    # The bounds touch 0 and 1 exactly at the ends; rounding must not leave a crumb.
    low = 0.0 if count == 0 else centre - half
    high = 1.0 if count == of else centre + half
    return Share(count, of, share, low, high)


def newcombe(one: Share, other: Share) -> Difference:
    """The difference of two independent shares, one minus other, with its 95 % interval.

    Newcombe (1998), Statistics in Medicine 17:873-890, method 10: the score intervals
    combined, without continuity correction.
    """
    if (
        one.share is None
        or one.low is None
        or one.high is None
        or other.share is None
        or other.low is None
        or other.high is None
    ):
        return Difference(None, None, None)
    value = one.share - other.share
    below = math.hypot(one.share - one.low, other.high - other.share)
    above = math.hypot(one.high - one.share, other.share - other.low)
    return Difference(value, value - below, value + above)


def fisher_p(one: Share, other: Share) -> float:
    """Two-sided p of Fisher's exact test that two shares are the same.

    Fisher (1935), The Design of Experiments, section 21.
    """
    # Takes longer to import than to use; most sessions do without it.
    from scipy import stats

    table = np.array([[one.count, one.of - one.count], [other.count, other.of - other.count]])
    return float(stats.fisher_exact(table).pvalue)


def poisson_rate(count: int, minutes: float) -> Rate:
    """A rate per minute with the exact interval of Garwood (1936), Biometrika 28:437-442.

    `count` events in `minutes` of time. Raises ValueError for a negative count or time.
    """
    if count < 0 or minutes < 0:
        raise ValueError("count and minutes must not be negative")
    if minutes == 0:
        return Rate(None, None, None, count)
    tail = (1 - COVERAGE) / 2
    low = float(special.gammaincinv(count, tail)) if count else 0.0
    high = float(special.gammaincinv(count + 1, 1 - tail))
    return Rate(count / minutes, low / minutes, high / minutes, count)


def median_interval_ranks(n: int) -> tuple[int, int] | None:
    """Ranks (1-based) of the order statistics that enclose the median with at least 95 %.

    The narrowest symmetric pair (j, n+1-j) whose binomial(n, 1/2) coverage is at
    least 0.95; None where there is no such pair (n < 6). See David & Nagaraja
    (2003), Order Statistics, 7.1.
    """
    below = special.bdtr(np.arange(n // 2), n, 0.5)
    rank = int(np.count_nonzero(1 - 2 * below >= COVERAGE))
    return (rank, n + 1 - rank) if rank else None


def summarise(values: Iterable[float]) -> Summary:
    """Summary of a sample; quantiles by linear interpolation.

    Hyndman & Fan (1996), The American Statistician 50:361-365, type 7; sd with n-1.
    """
    data = np.sort(np.asarray(list(values), dtype=float))
    n = len(data)
    if n == 0:
        return Summary(0, *[None] * 10)
    q1, median, q3, p90 = (float(q) for q in np.quantile(data, (0.25, 0.5, 0.75, 0.9)))
    ranks = median_interval_ranks(n)
    return Summary(
        n=n,
        mean=float(data.mean()),
        sd=float(data.std(ddof=1)) if n > 1 else None,
        min=float(data[0]),
        q1=q1,
        median=median,
        q3=q3,
        p90=p90,
        max=float(data[-1]),
        median_low=float(data[ranks[0] - 1]) if ranks else None,
        median_high=float(data[ranks[1] - 1]) if ranks else None,
    )
