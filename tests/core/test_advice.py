"""What to do next: one situation a test, the reasoning in its name (docs/measures.md, 5)."""

import pytest

from frequens.core import measure

from .coded import Coding

STEPS = [{"key": "look"}, {"key": "nose", "fallback": "look"}]
RULE = {"kind": "run", "need": 3, "miss": 3}


def reps(pattern, key="look", gap=5.0, pause=None, reward=True, hand_first=False):
    """A rep every `gap` seconds under one criterion; met ones are marked and paid."""
    coding, now = Coding().event("criterion", 0.0, approximation=key), 2.0
    for number, sign in enumerate(pattern):
        coding.onset(now, met=sign == "+")
        if sign == "+":
            coding.marker(now + 0.3)
            if hand_first:
                coding.reach(now + 0.1)
            if reward:
                coding.reward(now + 1.3)
        now += gap + (pause(number) if pause else 0)
    return coding, now


def advised(coding, end, **plan):
    plan = {"rule": RULE, "approximations": STEPS, **plan}
    return measure(coding.record(session={"start_s": 0, "end_s": end}, plan=plan))["advice"]


def codes(found):
    return [reason["code"] for reason in found["reasons"]]


def test_three_in_a_row_and_nothing_against_it_means_raise():
    found = advised(*reps("-+++"))
    assert found["decision"] == "raise"
    assert codes(found) == ["rule_raise", "small_sample"]


def test_two_of_three_means_hold_and_says_how_little_that_proves():
    found = advised(*reps("+-+"))
    assert found["decision"] == "hold"
    sample = found["reasons"][-1]
    assert sample["code"] == "small_sample"
    assert "2 of 3 is compatible with a true share of 21 % to 94 %" in sample["text"]


def test_three_failures_mean_one_step_back():
    assert advised(*reps("+---", key="nose"), rate_floor_per_min=0)["decision"] == "lower"


def test_a_marker_that_brought_nothing_comes_before_any_change_of_criterion():
    found = advised(*reps("+++", reward=False), rate_floor_per_min=0)
    assert found["decision"] == "hold"
    assert codes(found)[0] == "unrewarded_markers"
    assert "every marker is a promise" in found["reasons"][0]["text"]


def test_a_hand_that_moves_first_comes_before_any_change_of_criterion():
    found = advised(*reps("+++", hand_first=True))
    assert found["decision"] == "hold"
    assert codes(found)[0] == "hand_first"
    assert found["reasons"][0]["numbers"] == {"before_marker": 3, "n": 3}


def test_too_rare_pay_over_a_whole_minute_means_back_to_the_step_below():
    found = advised(*reps("+-+-+-+-+", key="nose", gap=8.0))
    assert found["decision"] == "lower"
    assert codes(found)[0] == "rate_floor"


def test_too_rare_pay_at_the_first_step_means_a_smaller_one():
    found = advised(*reps("+-+-+-+-+", gap=8.0))
    assert found["decision"] == "split"


def test_a_session_shorter_than_a_minute_is_not_held_to_the_floor():
    assert "rate_floor" not in codes(advised(*reps("+--", gap=8.0)))


@pytest.mark.parametrize(("floor", "is_under"), [(6, False), (7, True)])
def test_exactly_the_floor_is_enough(floor, is_under):
    # A rep every 10 s, all paid: the last whole minute holds six.
    coding, _ = reps("+" * 8, gap=10.0)
    found = advised(coding, 80.0, rate_floor_per_min=floor)
    assert ("rate_floor" in codes(found)) == is_under


def test_a_long_dry_spell_keeps_the_step_from_rising():
    coding, end = reps("+++")
    found = advised(coding, end + 40, rate_floor_per_min=0)
    assert found["decision"] == "hold"
    assert "dry_spell" in codes(found)


def test_slower_and_slower_returns_mean_shorter_not_harder():
    found = advised(*reps("+" * 12, pause=lambda n: n * 0.7), rate_floor_per_min=0)
    assert found["decision"] == "hold"
    assert codes(found)[0] == "rising_pause"
    assert found["reasons"][0]["numbers"]["slope_per_min"] > 0


def test_more_signs_in_the_last_third_mean_shorter_not_harder():
    coding, end = reps("+" * 6)
    coding.event("sign", end - 2, label="yawn", severity=1)
    found = advised(coding, end)
    assert found["decision"] == "hold"
    assert codes(found)[0] == "more_signs"


def test_a_severe_sign_ends_the_session_whatever_the_numbers_say():
    coding, end = reps("+" * 6)
    coding.event("sign", 4.0, label="trembling", severity=3)
    found = advised(coding, end)
    assert found["decision"] == "end"
    assert codes(found)[0] == "distress"
    assert "veterinarian" in found["reasons"][0]["text"]


def test_the_plans_time_limit_means_end_on_a_success():
    coding, end = reps("+" * 6)
    found = advised(coding, end, session_cap_s=20)
    assert (found["decision"], codes(found)[0]) == ("end", "session_cap")


def test_the_plans_rep_limit_means_end_on_a_success():
    coding, end = reps("+" * 6)
    assert codes(advised(coding, end, rep_cap=6))[0] == "rep_cap"
    assert "rep_cap" not in codes(advised(*reps("+" * 6), rep_cap=7))


def test_mechanics_do_not_keep_a_session_from_ending():
    coding, end = reps("+" * 6, reward=False)
    assert advised(coding, end, rep_cap=6)["decision"] == "end"


def test_only_the_last_stretch_is_judged():
    coding, end = reps("+++")
    coding.event("criterion", end, approximation="nose")
    for n in range(3):
        coding.onset(end + 3 + 4 * n, met=False)
    found = advised(coding, end + 14, rate_floor_per_min=0)
    assert found["decision"] == "lower"


def test_the_other_schools_answer_beside_the_plans_own():
    found = advised(*reps("+++++"))
    assert set(found["other_rules"]) == {"share", "block", "percentile", "comfort"}
    assert found["other_rules"]["block"]["decision"] == "raise"
    assert found["other_rules"]["share"]["decision"] == "hold"
    assert found["rule"]["kind"] == "run"


def test_no_rep_judged_yet_is_said():
    coding = Coding().onset(2.0).marker(2.2).reward(3.0)
    found = advised(coding, 10)
    assert found["decision"] == "hold"
    assert "not_judged" in codes(found)


def test_a_session_without_anything_has_no_advice():
    assert measure(Coding().record())["advice"] is None


@pytest.mark.parametrize("kind", ["run", "share", "block", "percentile", "comfort"])
def test_every_school_explains_itself_in_words(kind):
    coding, end = reps("+-+-+++++++")
    found = advised(coding, end, rule={"kind": kind})
    texts = [reason["text"] for reason in found["reasons"]]
    assert all(text.endswith(".") and "{" not in text for text in texts)
    # Never a correction, pressure or pain (job.md).
    words = " ".join(texts).lower()
    assert not any(word in words for word in ("correct", "punish", "pressure", "force"))
