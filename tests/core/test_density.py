"""Where markers lie close together, against scipy's kernel density."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import gaussian_kde

from frequens.core.statistics.density import BELL_S, POINTS, density

SECONDS = st.lists(st.floats(-20, 60), min_size=1, max_size=60)


@pytest.mark.parametrize("values", [[0.2, 0.3, 0.31, 1.4], [0.1, 40.0, 40.5]])
def test_it_is_scipys_density_scaled_to_its_top(values):
    # scipy.stats.gaussian_kde takes its width as a factor of the sample's standard deviation.
    found = density(values)
    kernel = gaussian_kde(values, bw_method=found.bell_s / np.std(values, ddof=1))
    at = np.array([x for x, _ in found.points])
    wanted = kernel(at) / kernel(at).max()
    assert [y for _, y in found.points] == pytest.approx(wanted, abs=1e-9)


def test_one_value_is_one_bell_and_none_is_no_curve():
    one = density([0.5])
    assert one.bell_s == BELL_S
    assert one.points[POINTS // 2] == pytest.approx((0.5, 1.0))
    assert density([]).points == ()


@given(SECONDS)
def test_it_reaches_past_every_value_and_is_highest_at_one(values):
    found = density(values)
    assert len(found.points) == POINTS
    assert max(y for _, y in found.points) == 1.0
    assert found.points[0][0] < min(values) <= max(values) < found.points[-1][0]
    assert list(found.points) == sorted(found.points)


def test_more_values_than_one_piece_holds_are_one_curve():
    chance = np.random.default_rng(1)
    values = chance.normal(0.4, 0.2, 9000).tolist()
    found = density(values)
    kernel = gaussian_kde(values, bw_method=found.bell_s / np.std(values, ddof=1))
    at = np.array([x for x, _ in found.points])
    assert [y for _, y in found.points] == pytest.approx(kernel(at) / kernel(at).max(), abs=1e-9)
