"""Measures of a session: the clock, timing, rates, success; hand arithmetic beside each."""

import math

import pytest

from frequens.core import measure

from .coded import FRAME, Coding


def test_breaks_do_not_count_as_training_time():
    coding = Coding().event("bout_start", 0.0).onset(5.0).marker(5.2).reward(6.0)
    coding.event("bout_end", 30.0).event("bout_start", 90.0).event("bout_end", 120.0)
    findings = measure(coding.record())
    assert findings["training_time_s"] == 60.0
    assert findings["rates"]["reinforcement_per_min"]["value"] == 1.0
    # 5.2 to the end: 24.8 s before the break and 30 s after it.
    (spell,) = findings["dry_spells"]["spells"]
    assert spell["length_s"] == pytest.approx(54.8)
    assert (spell["start_s"], spell["end_s"]) == (5.2, 120.0)


def test_an_open_bout_ends_with_the_session_or_the_last_event():
    coding = Coding().event("bout_start", 10.0).onset(20.0)
    assert measure(coding.record())["training_time_s"] == 10.0
    assert measure(coding.record(session={"end_s": 50.0}))["training_time_s"] == 40.0


def test_without_bouts_a_missing_bound_is_the_first_or_last_event():
    coding = Coding().onset(10.0).offset(25.0)
    assert measure(coding.record())["training_time_s"] == 15.0
    assert measure(coding.record(session={"start_s": 0.0}))["training_time_s"] == 25.0
    assert measure(Coding().record())["training_time_s"] == 0.0


def test_rates_count_what_they_name():
    coding = Coding().onset(10.0).marker(10.2).marker(10.4).reward(11.0, pieces=3)
    findings = measure(coding.record(session={"start_s": 0, "end_s": 30}))
    values = {name: rate["count"] for name, rate in findings["rates"].items()}
    assert values == {
        "reinforcement_per_min": 1,
        "pieces_per_min": 3,
        "attempts_per_min": 1,
        "markers_per_min": 2,
    }
    assert findings["rates"]["pieces_per_min"]["value"] == 6.0


def test_no_time_no_rate_but_counts():
    rates = measure(Coding().onset(1.0).record())["rates"]
    assert rates["attempts_per_min"] == {"value": None, "low": None, "high": None, "count": 1}


def test_the_rate_curve_divides_by_what_has_passed_then_by_its_window():
    coding = Coding()
    for n in range(6):
        coding.onset(10.0 * n + 5).marker(10.0 * n + 5.5).reward(10.0 * n + 6)
    findings = measure(coding.record(session={"start_s": 0, "end_s": 60}))
    curve = {point["training_s"]: point["per_min"] for point in findings["rate_curve"]}
    assert min(curve) == 10.0
    assert curve[10.0] == pytest.approx(1 / (10 / 60))
    assert curve[20.0] == pytest.approx(2 / (20 / 60))
    assert curve[60.0] == pytest.approx(3 / (30 / 60))


def test_a_difference_takes_off_half_of_each_width():
    # A sound (width 0) against a picture mark: the half-frame bias is gone.
    coding = Coding().onset(10.0, width=0.04).marker(10.0, width=0.0)
    findings = measure(coding.record())
    assert findings["reps"][0]["marker_latency_s"] == pytest.approx(0.02)
    assert findings["reps"][0]["uncertainty_s"] == pytest.approx(0.04 / math.sqrt(12))


def test_the_sound_offset_is_taken_off_what_was_heard_only():
    coding = Coding().onset(10.0).marker(10.3, source="audio").reward(11.0)
    findings = measure(coding.record(recording={"av_offset_s": 0.1}))
    assert findings["reps"][0]["marker_latency_s"] == pytest.approx(0.2)
    assert findings["reps"][0]["reward_latency_s"] == pytest.approx(0.8)


def test_on_time_ends_exactly_at_its_limit():
    at_limit = measure(Coding().onset(5.0).marker(5.5).record())
    assert at_limit["timing"]["on_time"] == 1
    past = measure(Coding().onset(5.0).marker(5.500001).record())
    assert past["timing"]["late"] == 1
    strict = measure(Coding().onset(5.0).marker(5.5).record(settings={"on_time_s": 0.4}))
    assert strict["timing"]["late"] == 1


def test_early_needs_more_than_the_frames_can_explain():
    # One frame early is 33.3 ms, two uncertainties of a difference are 27.2 ms.
    early = Coding(width=FRAME).onset(5.0).marker(5.0 - FRAME)
    assert measure(early.record())["timing"]["early"] == 1
    same = Coding(width=FRAME).onset(5.0).marker(5.0)
    assert measure(same.record())["timing"]["on_time"] == 1


def test_behaviour_over_is_null_where_it_cannot_be_asked():
    assert measure(Coding().onset(5.0).marker(5.2).record())["timing"]["behaviour_over"] is None
    plan = {"approximations": [{"key": "off", "mark_at": "offset"}]}
    coding = Coding().onset(5.0, approximation="off").offset(6.0).marker(6.2)
    findings = measure(coding.record(plan=plan))
    assert findings["timing"]["behaviour_over"] is None
    assert findings["timing_error_s"]["median"] == pytest.approx(0.2)
    assert findings["marker_latency_s"]["median"] == pytest.approx(1.2)


def test_what_an_orphan_marker_fell_on():
    coding = Coding().event("other_behaviour", 9.5, label="pawing").marker(10.4)
    coding.event("other_behaviour", 19.0, label="pawing").marker(20.1)
    findings = measure(coding.record())
    assert findings["caught"]["other:pawing"] == 1
    assert findings["caught"]["nothing_coded"] == 1
    assert findings["counts"]["orphan_markers"] == 2


def test_the_hand_that_moved_first():
    coding = Coding(width=FRAME).onset(10.0).reach(10.1).marker(10.3).reward(11.0)
    coding.onset(20.0).marker(20.3).reach(20.6).reward(21.0)
    reach = measure(coding.record())["reach_lead_s"]
    assert (reach["n"], reach["before_marker"]) == (2, 1)
    assert reach["max"] == pytest.approx(0.2)
    assert reach["min"] == pytest.approx(-0.3)


def test_a_hand_that_moves_before_a_marker_of_nothing_counts_too():
    coding = Coding(width=FRAME).reach(2.0).marker(2.4).reward(3.0)
    coding.onset(10.0).reach(10.1).marker(10.3).reward(11.0)
    findings = measure(coding.record())
    assert findings["counts"]["orphan_markers"] == 1
    assert findings["hand_first"]["count"] == 1
    assert findings["reach_lead_s"]["before_marker"] == 2


def test_a_reward_after_a_new_onset_is_not_for_the_exposure_before_it():
    def paid(onset_s):
        coding = Coding().event("exposure", 5.0, label="halter")
        if onset_s is not None:
            coding.onset(onset_s)
        counts = measure(coding.reward(7.0).record())["counts"]
        return counts["exposure_rewards"], counts["direct_rewards"]

    assert paid(None) == (1, 0)
    assert paid(6.0) == (0, 1)
    # Begun before it was touched, the reward is for the touch.
    assert paid(4.0) == (1, 0)


def test_reward_before_its_marker_is_negative():
    findings = measure(Coding().onset(9.9).reward(9.95).marker(10.0).record())
    assert findings["reward_latency_s"]["before_marker"] == 1
    assert findings["reward_latency_s"]["median"] == pytest.approx(-0.05)


def test_the_longest_run_skips_what_was_not_judged():
    coding = Coding()
    for second, met in enumerate([True, None, True, False, True], 1):
        coding.onset(float(second), met=met)
    success = measure(coding.record())["success"]
    assert (success["met"], success["judged"], success["longest_run"]) == (3, 4, 2)


def test_fidelity_counts_both_mistakes():
    coding = Coding().onset(10.0, met=True).onset(20.0, met=False).marker(20.1)
    fidelity = measure(coding.record())["fidelity"]
    assert (fidelity["met_unmarked"], fidelity["unmet_marked"]) == (1, 1)
    assert fidelity["share"] == 0.0


def test_held_durations_by_approximation():
    coding = Coding().onset(1.0, approximation="a").offset(2.5)
    coding.onset(5.0, approximation="a").offset(5.5).onset(9.0, approximation="b")
    held = measure(coding.record())["held_s"]
    assert set(held) == {"a"}
    assert (held["a"]["n"], held["a"]["mean"], held["a"]["rewards_per_attempt"]) == (2, 1.0, 0.0)


def test_every_measure_of_time_says_how_sure_the_film_lets_it_be():
    coding = Coding(width=FRAME).event("cue", 4.0).event("prompt", 4.6, level="gesture")
    coding.onset(5.0).offset(5.8).reach(5.1).marker(5.3, width=0.0).reward(6.0).onset(9.0)
    found = measure(coding.record())["sources"]
    pair, alone = math.sqrt(2) * FRAME / math.sqrt(12), FRAME / math.sqrt(12)
    # The marker was heard: only the other mark of its differences is a frame wide.
    expected = {
        **dict.fromkeys(("marker_latency_s", "timing_error_s", "reward_latency_s"), alone),
        "reach_lead_s": alone,
        **dict.fromkeys(("response_latency_s", "pause_s", "cue_lead_s", "held_s"), pair),
    }
    assert found == {key: pytest.approx(value, abs=1e-6) for key, value in expected.items()}


def test_an_empty_session_has_nulls_and_zeros_where_they_belong():
    findings = measure(Coding().record())
    assert findings["counts"]["attempts"] == 0
    assert findings["marker_latency_s"]["median"] is None
    assert findings["success"]["share"] is None
    assert findings["dry_spells"]["longest_s"] is None
    assert findings["sources"]["marker_latency_s"] is None
    assert findings["reps"] == []
