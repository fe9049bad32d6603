"""The worked example of docs/measures.md, number by number (hand arithmetic)."""

import math

import pytest

from frequens.core import measure, read_session

from .coded import FRAME

ROWS = [  # onset, offset, marker, reward, met
    (5.0, 5.6, 5.3, 6.7, True),
    (14.0, 14.4, 14.6, 18.0, True),
    (24.0, 25.0, 23.9, 25.9, True),
    (35.0, 35.5, None, None, False),
    (48.0, 49.0, 48.2, None, True),
]


@pytest.fixture(scope="module")
def findings():
    events = []
    for number, (onset, offset, marker, reward, met) in enumerate(ROWS, 1):
        marks = [("onset", onset), ("offset", offset), ("marker", marker), ("reward", reward)]
        for kind, t in marks:
            if t is None:
                continue
            event = {"id": f"{kind}{number}", "kind": kind, "t": t, "width": FRAME}
            if kind == "onset":
                event |= {"approximation": "look", "met": met}
            if kind == "marker":
                event["marker"] = "event"
            events.append(event)
    return measure(
        read_session(
            {
                "format": "frequens-session",
                "version": 1,
                "session": {"start_s": 0, "end_s": 60},
                "plan": {"approximations": [{"key": "look", "mark_at": "onset"}]},
                "events": events,
            }
        )
    )


def test_marker_latency(findings):
    summary = findings["marker_latency_s"]
    assert summary["n"] == 4
    assert summary["median"] == pytest.approx(0.250, abs=1e-9)
    assert summary["mean"] == pytest.approx(0.250, abs=1e-9)
    assert summary["q1"] == pytest.approx(0.125, abs=1e-9)
    assert summary["q3"] == pytest.approx(0.375, abs=1e-9)
    latencies = sorted(r["marker_latency_s"] for r in findings["reps"] if r["marker_s"] is not None)
    assert latencies == pytest.approx([-0.1, 0.2, 0.3, 0.6], abs=1e-9)
    # Four values are too few for an interval of the median.
    assert summary["median_low"] is None


def test_reward_latency(findings):
    summary = findings["reward_latency_s"]
    assert summary["median"] == pytest.approx(2.0, abs=1e-9)
    assert (summary["n"], summary["over_limit"], summary["before_marker"]) == (3, 1, 0)


def test_timing_classes(findings):
    assert findings["timing"] == {"early": 1, "on_time": 2, "late": 1, "behaviour_over": 1}
    assert [r["timing"] for r in findings["reps"]] == ["on_time", "late", "early", None, "on_time"]


def test_caught(findings):
    assert findings["caught"] == {
        "target": 2,
        "before_onset": 1,
        "after_offset": 1,
        "nothing_coded": 0,
    }


def test_rate_with_its_exact_interval(findings):
    rate = findings["rates"]["reinforcement_per_min"]
    assert findings["training_time_s"] == 60.0
    assert (rate["value"], rate["count"]) == (3.0, 3)
    assert rate["low"] == pytest.approx(0.62, abs=0.005)
    assert rate["high"] == pytest.approx(8.77, abs=0.005)


def test_success_and_fidelity(findings):
    success = findings["success"]
    assert (success["met"], success["judged"], success["share"]) == (4, 5, 0.8)
    assert success["low"] == pytest.approx(0.376, abs=0.0005)
    assert success["high"] == pytest.approx(0.964, abs=0.0005)
    assert success["longest_run"] == 3
    fidelity = findings["fidelity"]
    assert [fidelity[k] for k in ("met_marked", "met_unmarked")] == [4, 0]
    assert [fidelity[k] for k in ("unmet_marked", "unmet_unmarked")] == [0, 1]
    assert fidelity["share"] == 1.0


def test_the_unrewarded_marker_makes_a_dry_spell(findings):
    assert findings["counts"]["unrewarded_markers"] == 1
    assert findings["loose"]["unrewarded_markers"] == ["marker5"]
    (spell,) = findings["dry_spells"]["spells"]
    assert spell["length_s"] == pytest.approx(36.1, abs=0.05)
    assert findings["dry_spells"]["longest_s"] == spell["length_s"]


def test_uncertainty_of_a_latency(findings):
    expected = math.sqrt(2) * FRAME / math.sqrt(12)
    assert findings["sources"]["marker_latency_s"] == pytest.approx(expected, abs=1e-6)
    assert findings["sources"]["marker_latency_s"] == pytest.approx(0.0136, abs=0.00005)


def test_rows_carry_the_marks_own_times_and_null_for_what_is_not_there(findings):
    first, fourth = findings["reps"][0], findings["reps"][3]
    assert (first["onset_s"], first["offset_s"], first["target_s"]) == (5.0, 5.6, 5.0)
    assert (first["marker_s"], first["reward_s"], first["pieces"]) == (5.3, 6.7, 1)
    for key in ("marker_s", "reward_s", "marker_latency_s", "timing", "pieces", "uncertainty_s"):
        assert fourth[key] is None
