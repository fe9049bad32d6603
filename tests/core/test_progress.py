"""Across sessions: growth per week against statsmodels, skill and steps by hand."""

import datetime as dt

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import stats

from frequens.core import measure
from frequens.core.history.progress import DayCount, growth, skill, steps
from frequens.core.statistics.summaries import summarise

from .coded import Coding

START = dt.date(2026, 5, 4)


def days(counts, minutes=None, gap=1):
    minutes = minutes or [10.0] * len(counts)
    return [
        DayCount(START + dt.timedelta(days=gap * n), c, m)
        for n, (c, m) in enumerate(zip(counts, minutes, strict=True))
    ]


def reference(found):
    """statsmodels: Poisson GLM with offset, Pearson's scale, Student's t on the days but two."""
    x = np.array([(d.date - found[0].date).days for d in found], float)
    model = sm.GLM(
        [d.count for d in found],
        sm.add_constant(x),
        family=sm.families.Poisson(),
        offset=np.log([d.minutes for d in found]),
    )
    # Its own first guess fails where most days are empty; the mean rate does not.
    start = [np.log(sum(d.count for d in found) / sum(d.minutes for d in found)), 0.0]
    plain = model.fit(start_params=start, tol=1e-12, maxiter=200)
    dispersion = plain.pearson_chi2 / plain.df_resid if plain.df_resid else None
    if dispersion is None or len(found) < 5:
        return np.exp(7 * plain.params[1]), None, None, dispersion
    error = plain.bse[1] * np.sqrt(max(0.05, dispersion))
    half = 7 * stats.t.ppf(0.975, len(found) - 2) * error
    week = 7 * plain.params[1]
    return np.exp(week), np.exp(week - half), np.exp(week + half), dispersion


def test_equal_counts_on_every_day_are_no_growth():
    found = growth(days([30, 30, 30, 30, 30]))
    assert found.per_week == pytest.approx(1.0)
    assert found.low < 1 < found.high


def test_twice_the_rate_a_week_later():
    found = growth(days([30, 60], gap=7))
    assert found.per_week == pytest.approx(2.0)
    # Two days leave no freedom to see the spread: nothing is claimed.
    assert found.dispersion is None
    assert (found.low, found.high) == (None, None)


@pytest.mark.parametrize(("n", "is_claimed"), [(4, False), (5, True)])
def test_below_five_days_nothing_is_claimed(n, is_claimed):
    found = growth(days([10, 21, 39, 82, 160][:n]))
    assert found.per_week > 1
    assert (found.low is not None) == is_claimed


@pytest.mark.parametrize("scatter", [0.13, 1.0, 4.0])
@pytest.mark.parametrize("n", [5, 8, 15])
def test_growth_is_claimed_falsely_at_most_once_in_twenty(n, scatter):
    """Simulated days without growth: counts more even than chance, as chance, and less."""
    chance = np.random.default_rng(int(100 * scatter) + n)
    claims = 0
    for _ in range(800):
        mean = chance.uniform(20, 40)
        counts = np.maximum(0, np.round(chance.normal(mean, np.sqrt(scatter * mean), n)))
        found = growth(days([int(c) for c in counts]))
        claims += found.low is not None and (found.low > 1 or found.high < 1)
    # 5 % of 800 are 40; two standard errors above are 52.
    assert claims <= 52


@given(
    st.lists(
        st.tuples(st.integers(0, 80), st.integers(10, 300).map(lambda n: n / 10)),
        min_size=3,
        max_size=15,
    ),
    st.integers(1, 5),
)
def test_growth_agrees_with_statsmodels(pairs, gap):
    counts, minutes = [c for c, _ in pairs], [m for _, m in pairs]
    # Counts on one day only: the slope runs away there, and ours says None (below).
    assume(sum(c > 0 for c in counts) >= 2)
    found = growth(days(counts, minutes, gap))
    week, low, high, dispersion = reference(days(counts, minutes, gap))
    assert found.per_week == pytest.approx(week, rel=1e-5)
    if low is None:
        assert (found.low, found.high) == (None, None)
    else:
        assert found.low == pytest.approx(low, rel=1e-4)
        assert found.high == pytest.approx(high, rel=1e-4)
    assert found.dispersion == pytest.approx(dispersion, rel=1e-4)


def test_days_of_zero_stay_in():
    with_zeros = growth(days([20, 0, 0, 20, 0, 0]))
    without = growth([d for d in days([20, 0, 0, 20, 0, 0]) if d.count])
    assert with_zeros.per_week < without.per_week == pytest.approx(1.0)
    assert with_zeros.dispersion > 1


@pytest.mark.parametrize(
    "found",
    [
        [],
        days([5]),
        days([0, 0, 0]),
        days([0, 0, 9]),
        [DayCount(START, 3, 5), DayCount(START, 4, 5)],
    ],
)
def test_days_that_cannot_tell_say_nothing(found):
    assert growth(found).per_week is None


def test_two_sessions_of_one_day_are_one_day():
    twice = [d for day in days([10, 20, 30]) for d in (day, day)]
    assert growth(twice).per_week == pytest.approx(growth(days([20, 40, 60])).per_week)
    assert growth(twice).days == 3


@pytest.mark.parametrize(("count", "minutes"), [(-1, 5), (3, -1), (3, float("nan"))])
def test_impossible_days_are_refused(count, minutes):
    with pytest.raises(ValueError, match="must not be negative"):
        growth([DayCount(START, count, minutes)])


def test_skill_is_the_middle_of_each_session_with_its_spread():
    latencies = summarise([0.2, 0.3, 0.4, 0.5, 0.6, 0.7])
    (found,) = skill([(START, latencies)])
    assert (found.n, found.median, found.median_low, found.median_high) == (6, 0.45, 0.2, 0.7)
    assert (found.q1, found.q3) == pytest.approx((0.325, 0.575))


def session(key, reps, length):
    coding = Coding().event("criterion", 0, approximation=key)
    for n in range(reps):
        coding.onset(1.0 + n, met=True)
    plan = {"approximations": [{"key": "look"}, {"key": "nose"}]}
    return measure(coding.record(session={"start_s": 0, "end_s": length}, plan=plan))


def test_the_staircase_over_days():
    day = [START, START + dt.timedelta(days=2), START + dt.timedelta(days=3)]
    sessions = [
        (day[1], session("look", 4, 120)),
        (day[0], session("look", 6, 60)),
        (day[2], session("nose", 3, 90)),
    ]
    found = steps(sessions, today=START + dt.timedelta(days=10))
    look, nose = found.steps
    assert (look.approximation, look.first_day, look.last_day) == ("look", day[0], day[1])
    assert (look.sessions, look.attempts, look.minutes) == (2, 10, 3.0)
    assert (nose.first_day, nose.minutes) == (day[2], 1.5)
    assert found.days_since_last == 7
    assert steps([]).steps == ()
