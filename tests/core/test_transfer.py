"""What carried over to a new object or place; intervals against statsmodels."""

from __future__ import annotations

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

from frequens.core.programme.transfer import HELD_AGAINST, Seen, transfers

MONDAY = dt.date(2026, 5, 4)


def seen(level, pattern, day=0, step="carry", name="object"):
    """Judged reps with this object: + fits, - does not."""
    conditions = {} if level is None else {name: level}
    return [Seen(MONDAY + dt.timedelta(days=day), step, conditions, one == "+") for one in pattern]


def test_from_one_object_to_the_next_and_on():
    reps = seen("pole", "--+++++") + seen("keys", "+-+++++", 3) + seen("cloth", "-", 5)
    one, two = transfers(["object"], reps)
    assert (one.before.level, one.after.level, one.day) == ("pole", "keys", MONDAY.replace(day=7))
    # The rep nearest to the change, and the five nearest.
    assert (one.before.met, one.after.met) == (True, True)
    assert (one.before.success.count, one.before.success.of) == (5, 5)
    assert (one.after.success.count, one.after.success.of) == (4, 5)
    assert (two.before.level, two.after.level, two.after.met) == ("keys", "cloth", False)
    assert two.after.success.of == 1


def test_the_intervals_are_wilsons_and_newcombes():
    (found,) = transfers(["object"], seen("pole", "+-+++") + seen("keys", "--+-+", 1))
    low, high = proportion_confint(2, 5, method="wilson")
    assert (found.after.success.low, found.after.success.high) == pytest.approx((low, high))
    low, high = confint_proportions_2indep(2, 5, 4, 5, method="newcomb", compare="diff")
    assert (found.change.low, found.change.high) == pytest.approx((low, high))
    assert found.change.value == pytest.approx(-0.4)


@pytest.mark.parametrize(
    ("before", "after", "carried"),
    [
        # One miss after five that fit: the interval leaves 0 out, and one rep tells nothing.
        ("+++++", "-", None),
        ("+++++", "---", "less"),
        ("++++", "--", None),
        ("-----", "++++", "more"),
        ("+++++", "+++++", None),
    ],
)
def test_a_rep_or_two_tell_only_what_they_can(before, after, carried):
    """Against scipy's Fisher test."""
    (found,) = transfers(["object"], seen("pole", before) + seen("keys", after))
    table = [[one.count("+"), one.count("-")] for one in (after, before)]
    assert found.p == pytest.approx(stats.fisher_exact(table).pvalue)
    assert (found.p <= 0.05) == (carried is not None)
    assert found.carried == carried


@pytest.mark.parametrize(("before", "said"), [("++", 0), ("+++", 1)])
def test_with_too_few_before_it_nothing_is_said(before, said):
    assert len(transfers(["object"], seen("pole", before) + seen("keys", "+++++"))) == said


def test_coming_back_to_one_that_was_tried_is_no_transfer():
    reps = seen("pole", "+++") + seen("keys", "+++", 1) + seen("pole", "+++", 2)
    (found,) = transfers(["object"], reps)
    assert found.after.level == "keys"


def test_reps_that_name_none_lie_between_and_change_nothing():
    reps = seen("pole", "+++") + seen(None, "---") + seen("keys", "+")
    (found,) = transfers(["object"], reps)
    assert (found.before.level, found.before.success.count) == ("pole", 3)
    assert transfers(["gear"], reps) == ()


def test_the_step_at_either_end_is_named():
    (found,) = transfers(["object"], seen("pole", "+++") + seen("keys", "+", step="touch"))
    assert (found.before.step, found.after.step) == ("carry", "touch")


@given(st.lists(st.tuples(st.sampled_from(["a", "b", "c", None]), st.booleans()), max_size=40))
def test_each_level_is_new_once_and_no_end_is_longer_than_it_may_be(done):
    reps = [Seen(None, None, {} if level is None else {"o": level}, met) for level, met in done]
    found = transfers(["o"], reps)
    new = [one.after.level for one in found]
    assert len(new) == len(set(new)) <= 2
    for one in found:
        assert one.before.level != one.after.level
        assert 1 <= one.after.success.of <= HELD_AGAINST
        assert 3 <= one.before.success.of <= HELD_AGAINST
