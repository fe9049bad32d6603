"""Two reviewers: matching, interval agreement, kappa and limits, against outside references."""

import itertools
import random

import mir_eval
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats
from sklearn.metrics import cohen_kappa_score, f1_score
from statsmodels.stats.inter_rater import cohens_kappa
from statsmodels.stats.proportion import proportion_confint

from frequens.core import Event, SessionFacts, SessionRecord
from frequens.core.measures.agreement import (
    Agreed,
    Bias,
    agree,
    agreed,
    cohen_kappa,
    limits_of_agreement,
    match_events,
)

from .coded import Coding


def events(times, who="a"):
    return [Event(f"{who}{n}", "reward", round(t * 1_000_000)) for n, t in enumerate(sorted(times))]


times = st.lists(st.integers(0, 300).map(lambda n: n / 20), max_size=14)


@given(times, times, st.sampled_from([0.0, 0.05, 0.2, 1.0]))
def test_as_many_pairs_as_mir_eval_finds(a, b, tolerance):
    """mir_eval's matching is one of maximum cardinality (Raffel et al. 2014)."""
    pairs = list(match_events(events(a), events(b, "b"), tolerance))
    reference = mir_eval.util.match_events(
        np.sort(np.array(a, float)), np.sort(np.array(b, float)), tolerance + 1e-9
    )
    assert len(pairs) == len(reference)
    assert len({x.id for x, _ in pairs}) == len({y.id for _, y in pairs}) == len(pairs)
    assert all(abs(x.best - y.best) <= tolerance * 2_000_000 for x, y in pairs)


@settings(max_examples=40)
@given(
    st.lists(st.integers(0, 40), max_size=5, unique=True),
    st.lists(st.integers(0, 40), max_size=5, unique=True),
)
def test_among_most_pairs_the_total_distance_is_least(a, b):
    """Against trying every assignment."""
    one, other = events([n / 20 for n in a]), events([n / 20 for n in b], "b")
    pairs = list(match_events(one, other, 0.2))
    found = sum(abs(x.best - y.best) for x, y in pairs)
    best = []
    small, large = sorted((one, other), key=len)
    for choice in itertools.permutations(large, len(small)):
        gaps = [abs(x.best - y.best) for x, y in zip(small, choice, strict=True)]
        allowed = [g for g in gaps if g <= 400_000]
        best.append((-len(allowed), sum(allowed)))
    assert (-len(pairs), found) == min(best)


def test_a_greedy_match_would_be_one_short():
    pairs = list(match_events(events([1.0, 1.15]), events([1.1, 1.3], "b"), 0.16))
    assert [(x.id, y.id) for x, y in pairs] == [("a0", "b0"), ("a1", "b1")]


def coded(*marks):
    coding = Coding()
    for t in marks:
        coding.event("other_behaviour", t, label="paws")
    return coding.record(session={"start_s": 0, "end_s": 40})


def test_interval_agreement_by_hand():
    """Four intervals of 10 s. a counts 2 1 0 0, b counts 1 1 1 0.

    Definitions as in Cooper, Heron & Heward's handbook (from memory): ratios 1/2 1 0 1 give
    a mean of 0.625; exact in 2 of 4; both or neither in 3 of 4; both in 2 of the 3 scored;
    neither in 1 of the 2 not scored by both.
    """
    found = agree(coded(1, 4, 12), coded(2, 15, 25)).kinds["other_behaviour"]
    assert found.total_count == 1.0
    assert found.mean_count_per_interval == pytest.approx(0.625)
    assert found.exact_count_per_interval == 0.5
    assert found.interval_by_interval == 0.75
    assert found.scored_interval == pytest.approx(2 / 3)
    assert found.unscored_interval == pytest.approx(1 / 2)


def test_the_last_interval_may_be_short_and_keeps_its_events():
    one = Coding().event("note", 44, text="x").record(session={"start_s": 0, "end_s": 45})
    assert agree(one, one).kinds["note"].exact_count_per_interval == 1.0


def test_each_mark_counts_once_in_its_interval():
    """Three and two notes in the same ten seconds: two thirds of the counts agree."""
    one, other = (
        Coding().event("note", 1, text="x").event("note", 2, text="x"),
        Coding().event("note", 1, text="x").event("note", 2, text="x").event("note", 3, text="x"),
    )
    bounds = {"session": {"start_s": 0, "end_s": 10}}
    found = agree(one.record(**bounds), other.record(**bounds)).kinds["note"]
    assert found.mean_count_per_interval == pytest.approx(2 / 3)


def test_no_difference_at_all_is_none_counted():
    assert limits_of_agreement([]) == Bias(0, None, None, None, None, None, None)
    assert limits_of_agreement([0.1]) == Bias(1, 0.1, None, None, None, None, None)


@given(st.lists(st.floats(-0.2, 0.2), min_size=2, max_size=30))
def test_the_interval_of_the_mean_is_students(differences):
    """Against scipy's one-sample t-test."""
    found = limits_of_agreement(differences)
    if found.sd > 1e-9:
        reference = stats.ttest_1samp(differences, 0).confidence_interval(0.95)
        assert (found.mean_low, found.mean_high) == pytest.approx(reference, rel=1e-9, abs=1e-12)


@given(st.integers(0, 40), st.integers(0, 20), st.integers(0, 20))
def test_what_both_have_is_sklearns_f1_and_its_interval_statsmodels(matched, only_a, only_b):
    """2M/(nA+nB) is the F1 score of one against the other; the interval is bent from Wilson's."""
    found = agreed(matched, matched + only_a, matched + only_b)
    everything = matched + only_a + only_b
    if everything == 0:
        assert found == Agreed(None, None, None)
        return
    one = [1] * (matched + only_a) + [0] * only_b
    other = [1] * matched + [0] * only_a + [1] * only_b
    assert found.value == pytest.approx(f1_score(one, other, zero_division=0))
    low, high = proportion_confint(matched, everything, method="wilson")
    assert (found.low, found.high) == pytest.approx((2 * low / (1 + low), 2 * high / (1 + high)))
    assert found.low <= found.value <= found.high


def test_no_more_can_be_matched_than_either_has():
    assert agreed(3, 3, 4).value == pytest.approx(6 / 7)
    with pytest.raises(ValueError, match="matched"):
        agreed(4, 3, 4)


@given(st.lists(st.tuples(st.booleans(), st.booleans()), min_size=4, max_size=60))
def test_the_interval_of_kappa_is_statsmodels(judged):
    """Fleiss, Cohen & Everitt (1969), as statsmodels has it."""
    found = cohen_kappa(judged)
    if found.value is None:
        assert (found.low, found.high) == (None, None)
        return
    table = np.zeros((2, 2))
    for one, other in judged:
        table[int(one), int(other)] += 1
    reference = cohens_kappa(table)
    if found.observed == 1:
        # A few that all agree are not sure: the share by statsmodels, chance taken off.
        low, _ = proportion_confint(found.n, found.n, method="wilson")
        assert found.low == pytest.approx((low - found.expected) / (1 - found.expected))
        assert found.high == 1
    elif reference.var_kappa > 1e-12:
        assert found.low == pytest.approx(max(-1, reference.kappa_low), abs=1e-9)
        assert found.high == pytest.approx(min(1, reference.kappa_upp), abs=1e-9)


def test_what_only_one_of_them_coded():
    found = agree(coded(1.0, 5.0), coded(1.1, 9.0)).kinds["other_behaviour"]
    assert (found.only_a, found.only_b) == (("other_behaviour1",), ("other_behaviour1",))
    assert found.agreement == pytest.approx(2 / 4)
    assert found.matches[0].difference_s == pytest.approx(0.1)
    assert found.bias_s.mean == pytest.approx(0.1)


def test_bland_and_altmans_peak_flow_meters():
    """Bland & Altman (1986), first measurements of 17 people, l/min (from memory).

    Mean difference -2.1, sd 38.8; with 1.96 sd the limits are -78.1 and 73.9.
    """
    wright = [494, 395, 516, 434, 476, 557, 413, 442, 650, 433, 417, 656, 267, 478, 178, 423, 427]
    mini = [512, 430, 520, 428, 500, 600, 364, 380, 658, 445, 432, 626, 260, 477, 259, 350, 451]
    found = limits_of_agreement([w - m for w, m in zip(wright, mini, strict=True)])
    assert found.mean == pytest.approx(-2.1, abs=0.05)
    assert found.sd == pytest.approx(38.8, abs=0.05)
    assert (found.low, found.high) == pytest.approx((-78.1, 73.9), abs=0.1)


def test_a_textbook_kappa():
    # 20 both yes, 15 both no, 5 and 10 split: 0.70 observed, 0.50 expected, kappa 0.40.
    judged = [(True, True)] * 20 + [(True, False)] * 5 + [(False, True)] * 10
    found = cohen_kappa(judged + [(False, False)] * 15)
    assert (found.observed, found.expected) == pytest.approx((0.7, 0.5))
    assert found.value == pytest.approx(0.4)


@given(st.lists(st.tuples(st.booleans(), st.booleans()), min_size=1, max_size=40))
def test_kappa_agrees_with_scikit_learn_and_statsmodels(judged):
    found = cohen_kappa(judged)
    a, b = zip(*judged, strict=True)
    if found.value is None:
        assert len(set(a)) == len(set(b)) == 1
        assert a == b
        return
    assert found.value == pytest.approx(cohen_kappa_score(a, b), abs=1e-12)
    table = [[judged.count((x, y)) for y in (True, False)] for x in (True, False)]
    assert found.value == pytest.approx(cohens_kappa(table).kappa, abs=1e-12)


@given(times)
def test_everyone_agrees_with_themselves(marks):
    record = SessionRecord(session=SessionFacts(start_s=0, end_s=20), events=tuple(events(marks)))
    for found in agree(record, record).kinds.values():
        assert found.agreement == found.exact_count_per_interval == 1.0
        assert found.only_a == found.only_b == ()
        assert found.bias_s.mean == 0


@given(times, times)
def test_turning_the_two_round_turns_only_the_signs(a, b):
    facts = SessionFacts(start_s=0, end_s=20)
    one = SessionRecord(session=facts, events=tuple(events(a)))
    other = SessionRecord(session=facts, events=tuple(events(b)))
    there, back = agree(one, other).kinds, agree(other, one).kinds
    for kind, found in there.items():
        assert found.matched == back[kind].matched
        assert found.scored_interval == back[kind].scored_interval
        assert found.mean_count_per_interval == back[kind].mean_count_per_interval


def test_thousands_of_events_are_matched_in_clusters():
    chance = random.Random(2)
    one = events([n + chance.uniform(0, 0.2) for n in range(5000)])
    other = events([n + chance.uniform(0, 0.2) for n in range(5000)], "b")
    assert len(list(match_events(one, other, 0.2))) == 5000


@pytest.mark.parametrize("tolerance", [-0.1, float("nan"), float("inf")])
def test_a_tolerance_that_is_no_length_is_refused(tolerance):
    with pytest.raises(ValueError, match="tolerance_s"):
        agree(coded(1), coded(1), tolerance)
