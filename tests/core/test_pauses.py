"""Pauses after the reward and their trend, against scipy."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from frequens.core import measure
from frequens.core.linking.attempts import link_reps
from frequens.core.measures.pauses import SLOPE_MOST, pauses_of, trend

from .coded import Coding


def paused(lengths):
    """Reps of two seconds each, with these pauses after their rewards."""
    coding, now = Coding(), 5.0
    coding.onset(now).marker(now + 0.5).reward(now + 2)
    for length in lengths:
        now += 2 + length
        coding.onset(now).marker(now + 0.5).reward(now + 2)
    return measure(coding.record(session={"start_s": 0, "end_s": now + 5}))["pause_s"]


def test_a_pause_runs_from_the_reward_to_the_next_onset():
    found = paused([1.0, 3.0])
    assert (found["n"], found["min"], found["max"]) == (2, 1.0, 3.0)


def test_the_last_of_several_rewards_begins_the_pause():
    coding = Coding().onset(5).marker(5.3).reward(6).reward(8).onset(11)
    assert measure(coding.record())["pause_s"]["max"] == 3.0


def test_a_reward_that_comes_after_the_next_onset_waits_for_the_one_after_it():
    coding = Coding().onset(5).marker(5.3).onset(6).reward(7).onset(9)
    found = measure(coding.record())["pause_s"]
    assert (found["n"], found["max"]) == (1, 2.0)


def test_a_break_is_not_a_pause():
    coding = Coding().event("bout_start", 0).onset(5).marker(5.2).reward(6).event("bout_end", 10)
    coding.event("bout_start", 60).onset(62).event("bout_end", 70)
    assert measure(coding.record())["pause_s"]["n"] == 0


@settings(max_examples=60)
@given(st.lists(st.integers(1, 90).map(lambda n: n / 10), min_size=3, max_size=25))
def test_slope_tau_and_p_are_scipys(lengths):
    found = paused(lengths)["trend"]
    minutes = (5.0 + np.cumsum([2 + x for x in lengths])) / 60
    assert found["slope_per_min"] == pytest.approx(
        float(stats.theilslopes(lengths, minutes).slope), abs=1e-6
    )
    tau, p = stats.kendalltau(minutes, lengths)
    if np.isnan(tau):
        assert found["tau"] is None
        assert found["p"] is None
    else:
        assert (found["tau"], found["p"]) == (pytest.approx(tau), pytest.approx(p))


def test_tau_by_counting_pairs():
    # 1 2 4 3 5: of ten pairs one is out of order: tau = (9 - 1) / 10.
    assert trend([1, 2, 3, 4, 5], [1.0, 2.0, 4.0, 3.0, 5.0]).tau == pytest.approx(0.8)


def test_two_pauses_have_no_trend():
    assert paused([1.0, 2.0])["trend"] == {"slope_per_min": None, "tau": None, "p": None}


def test_of_many_pauses_the_first_and_the_last_are_among_those_looked_at():
    """All at one instant but the last: every slope there is leads to that one."""
    n = SLOPE_MOST + 1
    minutes = list(np.r_[np.zeros(n - 1), 1.0])
    values = list(np.r_[np.ones(n - 1), 3.0])
    assert trend(minutes, values).slope_per_min == pytest.approx(2.0)


def test_many_pauses_keep_their_slope():
    """Past the limit the slope is taken on evenly spread pauses: close to that of all."""
    chance = np.random.default_rng(3)
    minutes = np.sort(chance.uniform(0, 60, 3 * SLOPE_MOST))
    values = 2 + 0.05 * minutes + chance.normal(0, 0.5, len(minutes))
    whole = float(stats.theilslopes(values, minutes).slope)
    assert trend(list(minutes), list(values)).slope_per_min == pytest.approx(whole, abs=0.006)


def test_a_pause_is_never_to_the_rep_it_comes_after():
    """Marked and paid before it had begun: the pause goes on to the next one."""
    coding = Coding().onset(5.0).marker(4.8).reward(4.9)
    coding.onset(8.0).marker(8.2).reward(9.0)
    (pause,) = pauses_of(link_reps(coding.record()))
    assert pause.length_s == pytest.approx(3.1)
