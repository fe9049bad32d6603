"""How surely people place marks: against statsmodels, and two scripted reviewers recovered."""

from __future__ import annotations

import math
import random
from dataclasses import replace

import pandas as pd
import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.formula.api import ols
from statsmodels.stats.anova import anova_lm

from frequens.core import measure
from frequens.core.measures.agreement import agree
from frequens.core.measures.reviewer_spread import (
    LEAST_MARKS,
    dahlberg,
    differences_of,
    placed_u_s,
    placing,
)

from .coded import FRAME, Coding


@given(st.lists(st.tuples(st.floats(0, 60), st.floats(-0.2, 0.2)), min_size=2, max_size=15))
def test_it_is_the_spread_within_marks_of_an_analysis_of_variance(marks):
    """Two placings of each mark: the residual mean square of a one-way model by statsmodels."""
    rows = [(str(n), t + half * d) for n, (t, d) in enumerate(marks) for half in (-0.5, 0.5)]
    frame = pd.DataFrame(rows, columns=["mark", "t"])
    table = anova_lm(ols("t ~ C(mark)", frame).fit())
    assert dahlberg([d for _, d in marks]) == pytest.approx(
        math.sqrt(table.loc["Residual", "mean_sq"]), abs=1e-6
    )


def test_of_nothing_nothing_is_said():
    with pytest.raises(ValueError, match="no differences"):
        dahlberg([])


def test_from_five_marks_on_something_is_said():
    assert LEAST_MARKS == 5
    assert placing("onset", [0.1] * 4).u_s is None
    assert placing("onset", [0.1] * 5).u_s == pytest.approx(0.1 / math.sqrt(2))
    assert placed_u_s({"onset": [0.1] * 5, "marker": [0.1] * 4}).keys() == {"onset"}


def reviewed(rng, truth, bias, spread):
    """A reviewer's marks of these instants: late by `bias`, give or take `spread`, to a frame."""
    coding = Coding()
    for t in truth:
        coding.event("reset", round((t + rng.gauss(bias, spread)) / FRAME) * FRAME)
    return coding.record(session={"start_s": 0, "end_s": truth[-1] + 5})


def test_two_reviewers_with_a_known_bias_are_recovered():
    """Drawn outside of what is tested: bias 40 ms between them, each 20 ms wide."""
    rng = random.Random(4)
    truth = [3.0 * n for n in range(1, 301)]
    found = agree(reviewed(rng, truth, 0.0, 0.02), reviewed(rng, truth, 0.04, 0.02))
    kind = found.kinds["reset"]
    assert kind.matched == 300
    assert kind.bias_s.mean_low < 0.04 < kind.bias_s.mean_high
    # Each is placed to a frame: a twelfth of its square beside the reviewer's own spread.
    own = math.hypot(0.02, FRAME / math.sqrt(12))
    assert kind.bias_s.sd == pytest.approx(own * math.sqrt(2), rel=0.1)
    expected = math.sqrt(own**2 + 0.04**2 / 2)
    assert placed_u_s(differences_of(found))["reset"] == pytest.approx(expected, rel=0.1)


def session():
    coding = Coding(width=FRAME)
    for n in range(8):
        coding.onset(5.0 * n + 1, met=True).marker(5.0 * n + 1.4).reward(5.0 * n + 2.5)
    return coding.record(session={"start_s": 0, "end_s": 45})


def test_people_count_where_they_are_less_sure_than_the_frame():
    """The law of propagation of uncertainty (JCGM 100:2008, 5.1.2), each mark by itself."""
    of_frame = FRAME / math.sqrt(12)
    plain = measure(session())["sources"]
    assert plain["marker_latency_s"] == pytest.approx(math.hypot(of_frame, of_frame), rel=1e-4)
    wide = replace(session(), placed_u_s={"onset": 0.03})
    found = measure(wide)["sources"]
    assert found["marker_latency_s"] == pytest.approx(math.hypot(0.03, of_frame), rel=1e-4)
    # No onset in it.
    assert found["reward_latency_s"] == plain["reward_latency_s"]


@pytest.mark.parametrize(("u_s", "counts"), [(0.99, False), (1.01, True)])
def test_a_person_surer_than_the_frame_changes_nothing(u_s, counts):
    of_frame = FRAME / math.sqrt(12)
    found = measure(replace(session(), placed_u_s={"marker": u_s * of_frame}))["sources"]
    assert (found != measure(session())["sources"]) is counts


def test_nothing_but_the_sources_changes():
    wide = replace(session(), placed_u_s={"onset": 0.2, "marker": 0.2, "reward": 0.2})
    before, after = measure(session()), measure(wide)
    assert {k for k in before if before[k] != after[k]} == {"sources"}
