"""Criterion splits: stretches, what was met in them, and the trainer's change against the rule."""

import pytest

from frequens.core import measure

from .coded import Coding

PLAN = {
    "rule": {"kind": "run", "need": 3, "miss": 3},
    "approximations": [{"key": "look"}, {"key": "nose"}, {"key": "mouth"}],
}


def coded(*stretches, gap=4.0):
    """Stretches of ``("look", "++-")``: a criterion, then a rep every `gap` seconds."""
    coding, now = Coding(), 0.0
    for key, pattern in stretches:
        coding.event("criterion", now, approximation=key)
        for sign in pattern:
            now += gap
            coding.onset(now, met={"+": True, "-": False, "?": None}[sign])
            if sign == "+":
                coding.marker(now + 0.3).reward(now + 1.3)
        now += gap
    return coding, now


def split(*stretches, plan=PLAN, **parts):
    coding, end = coded(*stretches)
    session = {"start_s": 0, "end_s": end}
    return measure(coding.record(session=session, plan=plan, **parts))["splits"]


def test_a_stretch_runs_from_its_criterion_to_the_next():
    first, second = split(("look", "++-+"), ("nose", "-+"))["segments"]
    assert (first["start_s"], first["end_s"], first["training_time_s"]) == (0.0, 20.0, 20.0)
    assert (second["start_s"], second["end_s"]) == (20.0, 32.0)
    assert (first["attempts"], first["judged"], first["met"], first["longest_run"]) == (4, 4, 3, 2)
    # Wilson for 3 of 4, by the formula's own arithmetic: 0.3006 to 0.9544.
    assert (first["low"], first["high"]) == pytest.approx((0.3006, 0.9544), abs=1e-4)
    assert first["reinforcement_per_min"]["count"] == 3
    assert first["reinforcement_per_min"]["value"] == pytest.approx(9.0)
    assert first["marker_latency_s"] == pytest.approx(0.3)
    assert first["reward_latency_s"] == pytest.approx(1.0)


def test_the_first_met_and_the_rules_word_are_timed_from_the_criterion():
    (only,) = split(("look", "--+++"))["segments"]
    assert (only["attempts_to_first_met"], only["time_to_first_met_s"]) == (3, 12.0)
    assert (only["attempts_to_rule"], only["time_to_rule_s"]) == (5, 20.0)
    (never,) = split(("look", "-?-"))["segments"]
    assert never["attempts_to_first_met"] is None
    assert never["time_to_rule_s"] is None
    assert never["judged"] == 2


@pytest.mark.parametrize(
    ("pattern", "change"),
    [
        ("+++", {"kind": "with_rule", "attempts": 0}),
        ("-+++", {"kind": "with_rule", "attempts": 0}),
        ("++", {"kind": "early", "attempts": 1}),
        ("+-", {"kind": "early", "attempts": 3}),
        ("", {"kind": "early", "attempts": 3}),
        ("+++--", {"kind": "late", "attempts": 2}),
    ],
)
def test_the_trainers_raise_against_the_rule(pattern, change):
    first, last = split(("look", pattern), ("nose", "+"))["segments"]
    assert first["change"] == change
    assert last["change"] == {"kind": "none", "attempts": None}


@pytest.mark.parametrize(
    ("pattern", "change"),
    [
        ("---", {"kind": "with_rule", "attempts": 0}),
        ("----", {"kind": "late", "attempts": 1}),
        ("--", {"kind": "early", "attempts": 1}),
        ("-+", {"kind": "early", "attempts": 3}),
    ],
)
def test_the_trainers_step_back_is_held_against_the_rules_lower(pattern, change):
    first, _ = split(("nose", pattern), ("look", "+"))["segments"]
    assert first["change"] == change


def test_without_criterion_marks_the_attempts_own_steps_make_the_stretches():
    coding = Coding()
    for second, key in ((5, "look"), (10, "look"), (20, "nose"), (30, "look")):
        coding.onset(float(second), approximation=key, met=True)
    found = measure(coding.record(session={"start_s": 0, "end_s": 40}, plan=PLAN))["splits"]
    assert [(s["approximation"], s["start_s"], s["end_s"]) for s in found["segments"]] == [
        ("look", 0.0, 20.0),
        ("nose", 20.0, 30.0),
        ("look", 30.0, 40.0),
    ]


def test_pooled_approximations_stand_in_plan_order_and_add_up():
    found = split(("nose", "+-"), ("look", "++"), ("nose", "+"))
    nose, look = (
        next(s for s in found["approximations"] if s["approximation"] == key)
        for key in ("nose", "look")
    )
    assert [s["approximation"] for s in found["approximations"]] == ["look", "nose"]
    assert (nose["attempts"], nose["met"], look["attempts"]) == (3, 2, 2)
    for key in ("attempts", "met", "training_time_s"):
        total = sum(s[key] for s in found["segments"])
        assert sum(s[key] for s in found["approximations"]) == pytest.approx(total)


def test_naming_the_same_criterion_again_does_not_cut_the_stretch():
    assert len(split(("look", "+"), ("look", "+"))["segments"]) == 1


def test_breaks_do_not_count_as_time_under_a_criterion():
    coding = Coding().event("bout_start", 0.0).event("criterion", 0.0, approximation="look")
    coding.onset(5.0, met=False).event("bout_end", 10.0)
    coding.event("bout_start", 100.0).onset(104.0, met=True).event("bout_end", 110.0)
    (only,) = measure(coding.record(plan=PLAN))["splits"]["segments"]
    assert (only["training_time_s"], only["time_to_first_met_s"]) == (20.0, 14.0)


def test_an_attempt_that_names_another_step_counts_there():
    coding = Coding().event("criterion", 0.0, approximation="nose")
    coding.onset(5.0, met=True).onset(10.0, met=True, approximation="look")
    found = measure(coding.record(session={"start_s": 0, "end_s": 20}, plan=PLAN))["splits"]
    assert [(s["approximation"], s["attempts"]) for s in found["approximations"]] == [
        ("look", 1),
        ("nose", 1),
    ]
    assert found["approximations"][0]["reinforcement_per_min"]["value"] is None


def test_without_a_rule_nothing_is_said_about_it():
    (only, _) = split(("look", "+++"), ("nose", "+"), plan={})["segments"]
    assert only["decision"] is None
    assert only["attempts_to_rule"] is None
    assert only["change"] == {"kind": "none", "attempts": None}


def test_the_decision_at_the_end_of_a_stretch_is_the_rules():
    first, second = split(("look", "+++"), ("nose", "---"))["segments"]
    assert first["decision"]["decision"] == "raise"
    assert second["decision"]["decision"] == "lower"
