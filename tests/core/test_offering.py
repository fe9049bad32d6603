"""Other behaviours, signs, placement, prompts and conditions; hand arithmetic beside each."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.proportion import confint_proportions_2indep

from frequens.core import measure
from frequens.core.statistics.summaries import fisher_p, newcombe, wilson

from .coded import Coding

MINUTE = {"session": {"start_s": 0, "end_s": 60}}


def test_other_behaviours_are_counted_by_name_and_by_dry_spell():
    coding = Coding().onset(5).marker(5.2).reward(6)
    coding.event("other_behaviour", 3, label="bleats").event("other_behaviour", 30, label="paws")
    coding.event("other_behaviour", 40, label="paws")
    found = measure(coding.record(**MINUTE))["offered"]
    assert {label: rate["count"] for label, rate in found["labels"].items()} == {
        "bleats": 1,
        "paws": 2,
    }
    assert found["labels"]["paws"]["value"] == 2.0
    # The dry spell runs from 5.2 to 60; both times it pawed lie in it.
    assert (found["in_dry_spells"]["count"], found["in_dry_spells"]["of"]) == (2, 3)


def test_signs_in_the_first_and_last_third():
    coding = Coding().event("sign", 10, label="yawns", severity=1)
    coding.event("sign", 25, label="yawns", severity=1).event("sign", 45, label="yawns", severity=2)
    coding.event("sign", 60, label="lies down", severity=3)
    found = measure(coding.record(**MINUTE))["signs"]
    assert (found["first_third"], found["last_third"]) == (1, 2)
    yawns = found["labels"]["yawns"]
    assert (yawns["count"], yawns["worst"], yawns["first_third"], yawns["last_third"]) == (
        3,
        2,
        1,
        1,
    )


def test_thirds_are_thirds_of_the_training_time_not_of_the_film():
    coding = Coding().event("bout_start", 0).event("sign", 15, label="yawns", severity=1)
    coding.event("bout_end", 20).event("bout_start", 100)
    coding.event("sign", 105, label="yawns", severity=1).event("bout_end", 110)
    found = measure(coding.record())["signs"]
    # 15 of 30 s is in the middle third, 25 of 30 in the last.
    assert (found["first_third"], found["last_third"]) == (0, 1)


def test_placement_counts_pieces_against_the_plans_mix():
    coding = Coding().onset(5).marker(5.2).reward(6, placement="away", pieces=3)
    coding.onset(15).marker(15.2).reward(16, placement="on").onset(25).marker(25.2).reward(26)
    plan = {"placement": {"away": 0.75, "on": 0.25}}
    found = measure(coding.record(plan=plan))["placement"]
    assert (found["away"]["count"], found["away"]["of"], found["away"]["share"]) == (3, 4, 0.75)
    assert (found["away"]["target"], found["on"]["target"]) == (0.75, 0.25)
    assert (found["on"]["low"], found["on"]["high"]) == pytest.approx(
        (wilson(1, 4).low, wilson(1, 4).high)
    )


def test_a_placement_the_plan_wanted_and_nobody_used_is_shown_as_none():
    coding = Coding().onset(5).marker(5.2).reward(6, placement="on")
    found = measure(coding.record(plan={"placement": {"away": 0.75, "on": 0.25}}))["placement"]
    assert found["away"]["count"] == 0
    assert measure(Coding().onset(5).marker(5.1).reward(6).record())["placement"] == {}


def test_the_strongest_help_since_the_marker_before_counts():
    coding = Coding().event("prompt", 4, level="gesture").event("prompt", 4.5, level="food_lure")
    coding.onset(5).marker(5.2).reward(6)
    coding.event("prompt", 14, level="empty_hand").onset(15).marker(15.2).reward(16)
    coding.onset(25).marker(25.2).reward(26)
    found = measure(coding.record())["prompts"]
    assert found["attempts"] == {"food_lure": 1, "empty_hand": 1, "none": 1}
    assert found["last_food_lure"] == 1


def test_without_any_prompt_nothing_is_said_of_help():
    found = measure(Coding().onset(5).marker(5.2).record())["prompts"]
    assert found["attempts"] == {}
    assert found["last_food_lure"] is None


def test_a_new_cue_comes_first_by_half_a_second():
    coding = Coding().event("cue", 10).event("prompt", 11, level="gesture").onset(12).marker(12.3)
    coding.event("cue", 20).event("prompt", 20.2, level="gesture").onset(21).marker(21.3)
    coding.event("prompt", 30, level="gesture").event("cue", 30.5).onset(31)
    lead = measure(coding.record())["prompts"]["cue_lead_s"]
    assert (lead["n"], lead["max"], lead["min"], lead["overlapped"]) == (3, 1.0, -0.5, 2)


def sided(left, right, left_of, right_of):
    coding, now = Coding(), 5.0
    for side, met, of in (("left", left, left_of), ("right", right, right_of)):
        for n in range(of):
            coding.onset(now, met=n < met, conditions={"side": side, "distance": 2})
            coding.marker(now + 0.25)
            now += 5
    return measure(coding.record())["conditions"]


def test_conditions_by_level_with_success_and_timing():
    found = sided(4, 1, 5, 5)
    left = found["side"]["levels"]["left"]
    assert (left["attempts"], left["success"]["count"], left["marker_latency_s"]) == (
        5,
        4,
        pytest.approx(0.25),
    )
    assert found["distance"]["levels"]["2"]["attempts"] == 10
    assert found["distance"]["difference"] is None


def test_levels_stand_in_their_natural_order():
    coding = Coding()
    for n, clock in enumerate((9, 3, 10, 6)):
        coding.onset(5.0 + n, conditions={"clock": clock})
    assert list(measure(coding.record())["conditions"]["clock"]["levels"]) == ["3", "6", "9", "10"]


# Newcombe (1998), table II, method 10, 95 %; the values are from memory.
TABLE_II = [
    (56, 70, 48, 80, 0.0524, 0.3339),
    (9, 10, 3, 10, 0.1705, 0.8090),
    (6, 7, 2, 7, 0.0582, 0.8062),
    (5, 56, 0, 29, -0.0381, 0.1926),
    (0, 10, 0, 20, -0.1611, 0.2775),
    (0, 10, 0, 10, -0.2775, 0.2775),
    (10, 10, 0, 20, 0.6791, 1.0000),
    (10, 10, 0, 10, 0.6075, 1.0000),
]


@pytest.mark.parametrize(("a", "m", "b", "n", "low", "high"), TABLE_II)
def test_newcombes_own_table(a, m, b, n, low, high):
    found = newcombe(wilson(a, m), wilson(b, n))
    assert (found.low, found.high) == pytest.approx((low, high), abs=6e-5)


counts = st.integers(1, 60).flatmap(lambda n: st.tuples(st.integers(0, n), st.just(n)))


@given(counts, counts)
def test_the_difference_of_sides_agrees_with_statsmodels_and_scipy(one, other):
    found = newcombe(wilson(*one), wilson(*other))
    low, high = confint_proportions_2indep(*one, *other, method="newcomb")
    assert (found.low, found.high) == pytest.approx((low, high), abs=1e-9)
    table = [[one[0], one[1] - one[0]], [other[0], other[1] - other[0]]]
    assert fisher_p(wilson(*one), wilson(*other)) == pytest.approx(stats.fisher_exact(table).pvalue)


def test_fishers_tea():
    """Fisher (1935): three of four cups right on each side, p = 0.4857 (from memory)."""
    assert fisher_p(wilson(3, 4), wilson(1, 4)) == pytest.approx(0.4857, abs=1e-4)


def test_sides_are_compared_only_where_there_are_two():
    gap = sided(4, 1, 5, 5)["side"]["difference"]
    assert (gap["first"], gap["second"], gap["value"]) == ("left", "right", pytest.approx(0.6))
    coding = Coding().onset(5, met=True, conditions={"side": "left"})
    assert measure(coding.record())["conditions"]["side"]["difference"] is None
