"""No surer than it is: how often each claim would be made by chance, by simulation."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from frequens.core import measure
from frequens.core.measures.certainty import Apart, apart, dry_by_chance, fits, more_signs_p, pay
from frequens.core.measures.rates import DrySpells
from frequens.core.measures.responding import StimulusControl
from frequens.core.statistics.summaries import poisson_rate, wilson

from .coded import Coding


def gaps_of(kind, chance, n=400):
    """Gaps between rewards with a mean of six seconds."""
    if kind == "planned":
        return np.clip(chance.normal(6, 2, n), 0.5, None)
    if kind == "chance":
        return chance.exponential(6, n)
    # Handfuls: three close together, then a long wait.
    return np.where(np.arange(n) % 4 == 3, chance.exponential(18, n), chance.exponential(2, n))


@pytest.mark.parametrize(
    ("kind", "least"), [("planned", 0.93), ("chance", 0.9), ("handfuls", 0.85)]
)
def test_the_true_rate_lies_in_its_interval(kind, least):
    chance = np.random.default_rng(3)
    hits = widths = plain = 0.0
    for _ in range(400):
        instants = np.cumsum(gaps_of(kind, chance)) - chance.uniform(0, 300)
        inside = [float(t) for t in instants if 0 <= t <= 180]
        found = pay(inside, 3.0)
        assert found.way == "gaps"
        hits += found.low <= 10 <= found.high
        garwood = poisson_rate(len(inside), 3.0)
        widths += found.high - found.low
        plain += garwood.high - garwood.low
    assert hits / 400 >= least
    # Planned pay is surer than chance would have it, handfuls are less sure.
    assert (widths < 0.7 * plain) == (kind == "planned")


@pytest.mark.parametrize(("count", "way"), [(11, "gaps"), (10, "chance")])
def test_few_gaps_tell_nothing_of_evenness(count, way):
    found = pay([6.0 * n for n in range(count)], 2.0)
    assert found.way == way
    if way == "chance":
        assert found.high == poisson_rate(count, 2.0).high


@given(st.lists(st.booleans(), min_size=1, max_size=60))
def test_fits_are_never_surer_than_wilson_and_as_sure_without_clusters(met):
    found, plain = fits(met), wilson(sum(met), len(met))
    assert found.effective <= len(met)
    assert found.low <= plain.low + 1e-9
    assert found.high >= plain.high - 1e-9
    if found.lag1 is None or found.lag1 <= 0:
        assert (found.low, found.high) == pytest.approx((plain.low, plain.high), abs=1e-9)


@pytest.mark.parametrize(("n", "is_asked"), [(19, False), (20, True)])
def test_clusters_are_looked_for_from_twenty_reps_on(n, is_asked):
    met = ([True] * 5 + [False] * 5) * 2
    assert (fits(met[:n]).lag1 is not None) == is_asked
    assert (fits(met[:n]).effective < n) == is_asked


def test_where_fits_cluster_the_true_share_lies_in_the_wider_interval():
    chance = np.random.default_rng(5)
    wide = narrow = 0
    for _ in range(600):
        state, met = chance.random() < 0.5, []
        for _ in range(60):
            state = state if chance.random() < 0.6 else chance.random() < 0.5
            met.append(bool(state))
        found, plain = fits(met), wilson(sum(met), 60)
        wide += found.low <= 0.5 <= found.high
        narrow += plain.low <= 0.5 <= plain.high
    assert wide / 600 >= 0.9 > 0.85 > narrow / 600


def control(hit, miss, alarm, rejection):
    asked, waits = hit + miss, alarm + rejection
    h, f = (hit + 0.5) / (asked + 1), (alarm + 0.5) / (waits + 1)
    d = float(stats.norm.ppf(h) - stats.norm.ppf(f))
    return StimulusControl(hit, 0, miss, alarm, rejection, d, 0.0)


def test_three_cues_and_two_waits_tell_little_apart():
    found = apart(control(3, 0, 0, 2))
    assert found.low < 0 < found.high
    many = apart(control(28, 2, 2, 28))
    assert 1 < many.low < control(28, 2, 2, 28).d_prime < many.high


def test_without_waits_there_is_nothing_to_tell_apart():
    assert apart(StimulusControl(3, 0, 0, 0, 0, None, None)) == Apart(None, None)


def test_the_interval_of_d_prime_covers_as_it_says():
    chance = np.random.default_rng(7)
    true = stats.norm.ppf(0.85) - stats.norm.ppf(0.2)
    hits = 0
    for _ in range(500):
        hit, alarm = chance.binomial(25, 0.85), chance.binomial(25, 0.2)
        found = apart(control(int(hit), int(25 - hit), int(alarm), int(25 - alarm)))
        hits += found.low <= true <= found.high
    assert hits / 500 >= 0.93


@pytest.mark.parametrize(("first", "last"), [(0, 1), (1, 3), (0, 5), (2, 9)])
def test_more_signs_by_chance_is_the_binomials_tail(first, last):
    wanted = stats.binomtest(last, first + last, 0.5, alternative="greater").pvalue
    assert more_signs_p(first, last) == pytest.approx(wanted)


def test_one_sign_is_no_growth():
    assert more_signs_p(0, 1) == 0.5
    assert more_signs_p(0, 5) < 0.05
    assert more_signs_p(3, 0) is None


def test_a_long_wait_by_chance_is_as_often_as_simulated():
    chance = np.random.default_rng(11)
    longest = [
        np.diff([0, *np.sort(chance.uniform(0, 180, 20)), 180]).max() >= 30 for _ in range(4000)
    ]
    found = dry_by_chance(DrySpells(30.0, ()), 20 / 3, 20)
    assert found == pytest.approx(np.mean(longest), abs=0.12)


def test_the_pay_of_a_session_is_by_its_minutes_at_work():
    coding = Coding()
    for n in range(4):
        coding.onset(5.0 + 30 * n).marker(5.3 + 30 * n).reward(6.0 + 30 * n)
    found = measure(coding.record(session={"start_s": 0, "end_s": 120}))["certainty"]["pay"]
    # Too few gaps: Garwood's interval of four in two minutes.
    assert found["per_min"] == pytest.approx(2.0)
    garwood = poisson_rate(4, 2.0)
    assert (found["low"], found["high"]) == pytest.approx((garwood.low, garwood.high))


@pytest.mark.parametrize(("per_min", "longest_s", "count"), [(6.0, 20.0, 2), (10.0, 30.0, 12)])
def test_the_longest_of_gaps_that_come_at_random(per_min, longest_s, count):
    """So many rewards leave one gap more; the largest of independent exponential ones (scipy)."""
    none_as_long = stats.expon.cdf(longest_s, scale=60 / per_min) ** (count + 1)
    found = dry_by_chance(DrySpells(longest_s, ()), per_min, count)
    assert found == pytest.approx(1 - none_as_long)


def test_a_sessions_longest_gap_is_held_against_its_own_pay():
    coding = Coding()
    for at in (5.0, 15.0, 60.0):
        coding.onset(at).marker(at + 0.3).reward(at + 1)
    found = measure(coding.record(session={"start_s": 0, "end_s": 90}))
    # Three in a minute and a half; the longest wait is from 16 to 61 s.
    assert found["dry_spells"]["longest_s"] == pytest.approx(45.0)
    by_chance = 1 - stats.expon.cdf(45.0, scale=60 / 2.0) ** 4
    assert found["certainty"]["dry_by_chance"] == pytest.approx(by_chance)
