"""Orders nobody can foresee: against all arrangements listed one by one."""

from __future__ import annotations

from itertools import groupby, permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from frequens.core.programme.mixing import least_alike, mixed_order


def longest_run(order):
    return max((len(list(same)) for _, same in groupby(order)), default=0)


counts = st.dictionaries(st.sampled_from("abcd"), st.integers(0, 12), max_size=4)


@given(counts, st.integers(0, 2**32), st.integers(1, 5))
def test_every_kind_as_often_as_asked_and_few_alike_in_a_row(counts, seed, most):
    order = mixed_order(counts, seed, most)
    assert {kind: order.count(kind) for kind in counts} == counts
    assert len(order) == sum(counts.values())
    assert longest_run(order) <= max(most, least_alike(counts))


@given(counts, st.integers(0, 2**32))
def test_the_same_seed_gives_the_same_order(counts, seed):
    assert mixed_order(counts, seed) == mixed_order(counts, seed)


@pytest.mark.parametrize(
    ("counts", "most"),
    [
        ({"a": 4, "b": 2}, 3),
        ({"a": 3, "b": 3}, 1),
        ({"a": 5, "b": 1}, 3),
        ({"a": 3, "b": 2, "c": 1}, 2),
        ({"a": 6, "b": 1}, 1),
        ({"a": 2, "b": 2, "c": 2}, 1),
    ],
)
def test_each_order_that_keeps_to_it_can_come_and_no_other(counts, most):
    """Against every arrangement of the kinds, listed by itertools."""
    kinds = [kind for kind, count in counts.items() for _ in range(count)]
    every = set(permutations(kinds))
    least = min(longest_run(order) for order in every)
    assert least_alike(counts) == least
    wanted = {order for order in every if longest_run(order) <= max(most, least)}
    assert {mixed_order(counts, seed, most) for seed in range(60 * len(wanted))} == wanted


@given(counts, st.integers(0, 2**32), st.sampled_from("abcd"))
def test_it_begins_with_the_kind_asked_for_where_that_leaves_the_rest_its_place(
    counts, seed, first
):
    order = mixed_order(counts, seed, first=first)
    assert {kind: order.count(kind) for kind in counts} == counts
    assert longest_run(order) <= max(3, least_alike(counts))
    most = max(counts.values(), default=0)
    if counts.get(first) == most > 0:
        # The most frequent kind can always come first.
        assert order[0] == first


def test_no_place_favours_a_kind():
    """Two kinds as often as each other: at each place either, against scipy's binomial test."""
    orders = [mixed_order({"asked": 5, "wait": 5}, seed) for seed in range(2000)]
    for place in range(10):
        asked = sum(order[place] == "asked" for order in orders)
        assert stats.binomtest(asked, len(orders), 0.5).pvalue > 1e-4


@pytest.mark.parametrize(
    ("n", "m", "least"), [(3, 0, 3), (3, 1, 2), (4, 1, 2), (5, 1, 3), (0, 0, 0)]
)
def test_the_run_that_cannot_be_avoided(n, m, least):
    assert least_alike({"a": n, "b": m}) == least


def test_what_cannot_be_is_refused():
    with pytest.raises(ValueError, match="negative"):
        mixed_order({"a": -1}, 0)
    with pytest.raises(ValueError, match="most_alike"):
        mixed_order({"a": 1}, 0, 0)
