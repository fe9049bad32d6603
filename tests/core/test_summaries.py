"""Intervals and quantiles against published tables and reference libraries."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.proportion import proportion_confint
from statsmodels.stats.rates import confint_poisson

from frequens.core.statistics.summaries import (
    median_interval_ranks,
    poisson_rate,
    summarise,
    wilson,
)


# Newcombe (1998), Statistics in Medicine 17:857-872, table I, method 3; values from memory.
@pytest.mark.parametrize(
    ("count", "of", "low", "high"),
    [
        (81, 263, 0.2553, 0.3662),
        (15, 148, 0.0624, 0.1605),
        (0, 20, 0.0000, 0.1611),
        (1, 29, 0.0061, 0.1718),
    ],
)
def test_wilson_against_a_published_table(count, of, low, high):
    share = wilson(count, of)
    assert share.low == pytest.approx(low, abs=5e-5)
    assert share.high == pytest.approx(high, abs=5e-5)


@given(st.integers(1, 5000).flatmap(lambda of: st.tuples(st.integers(0, of), st.just(of))))
def test_wilson_against_statsmodels(pair):
    count, of = pair
    low, high = proportion_confint(count, of, method="wilson")
    share = wilson(count, of)
    assert share.low == pytest.approx(low, abs=1e-12)
    assert share.high == pytest.approx(high, abs=1e-12)
    assert 0 <= share.low <= share.share <= share.high <= 1


def test_wilson_of_nothing_is_nothing():
    assert wilson(0, 0).share is None
    assert wilson(0, 0).low is None
    with pytest.raises(ValueError, match="count must lie"):
        wilson(3, 2)


# The exact limits of Garwood (1936) as handbooks tabulate them (Pearson & Hartley,
# Biometrika Tables, table 40); values from memory.
@pytest.mark.parametrize(
    ("count", "low", "high"),
    [
        (0, 0.0, 3.689),
        (1, 0.0253, 5.572),
        (2, 0.2422, 7.225),
        (3, 0.6187, 8.767),
        (5, 1.6235, 11.668),
        (10, 4.795, 18.390),
        (20, 12.217, 30.888),
    ],
)
def test_poisson_against_a_handbook_table(count, low, high):
    rate = poisson_rate(count, 1.0)
    assert rate.low == pytest.approx(low, abs=6e-4)
    assert rate.high == pytest.approx(high, abs=6e-4)


@given(st.integers(0, 20_000), st.floats(0.05, 600))
def test_poisson_against_scipy_and_statsmodels(count, minutes):
    rate = poisson_rate(count, minutes)
    low = stats.chi2.ppf(0.025, 2 * count) / 2 / minutes if count else 0.0
    high = stats.chi2.ppf(0.975, 2 * count + 2) / 2 / minutes
    assert rate.low == pytest.approx(low, rel=1e-9)
    assert rate.high == pytest.approx(high, rel=1e-9)
    assert rate.low <= rate.value <= rate.high
    reference = confint_poisson(count, minutes, method="exact-c")
    assert (rate.low, rate.high) == pytest.approx(np.nan_to_num(reference), rel=1e-9)


def test_a_rate_without_time_is_null_but_counts():
    rate = poisson_rate(4, 0)
    assert (rate.value, rate.low, rate.high, rate.count) == (None, None, None, 4)


def test_quantiles_are_type_seven():
    # Hyndman & Fan (1996), type 7: the p-quantile of 1..n is 1 + (n - 1) p.
    summary = summarise(range(1, 11))
    assert (summary.q1, summary.median, summary.q3) == (3.25, 5.5, 7.75)
    assert summary.p90 == pytest.approx(9.1)
    assert summary.sd == pytest.approx(math.sqrt(55 / 6))


# Ranks of the 95 % interval of a median as textbooks table them (Conover, Practical
# Nonparametric Statistics; values from memory).
@pytest.mark.parametrize(
    ("n", "ranks"),
    [(5, None), (6, (1, 6)), (8, (1, 8)), (9, (2, 8)), (10, (2, 9)), (20, (6, 15)), (50, (18, 33))],
)
def test_median_interval_against_a_textbook(n, ranks):
    assert median_interval_ranks(n) == ranks


@given(st.integers(6, 400))
def test_median_interval_is_the_narrowest_that_covers(n):
    low, high = median_interval_ranks(n)

    def coverage(j: int) -> float:
        return stats.binom.cdf(n - j, n, 0.5) - stats.binom.cdf(j - 1, n, 0.5)

    assert high == n + 1 - low
    assert coverage(low) >= 0.95
    assert low + 1 > n - low or coverage(low + 1) < 0.95


@given(st.lists(st.floats(-1e3, 1e3), min_size=1, max_size=60))
def test_summary_against_numpy(values):
    summary = summarise(values)
    assert summary.n == len(values)
    assert summary.mean == pytest.approx(np.mean(values), abs=1e-9)
    assert (summary.min, summary.max) == (min(values), max(values))
    expected = np.quantile(values, [0.25, 0.5, 0.75, 0.9])
    assert (summary.q1, summary.median, summary.q3, summary.p90) == pytest.approx(expected)
    assert (summary.sd is None) == (len(values) < 2)
    if summary.median_low is not None:
        assert summary.median_low <= summary.median <= summary.median_high


def test_nothing_summarised_is_null():
    summary = summarise([])
    assert summary.n == 0
    assert summary.median is None
    assert summary.sd is None
