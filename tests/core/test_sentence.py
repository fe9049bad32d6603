"""The sentence and the next session: one situation a test, the reasoning in its name.

Situations and answers are common practice, as docs/measures.md section 5 orders them.
"""

from __future__ import annotations

import pytest

from frequens.core import measure
from frequens.core.next_session import next_session
from frequens.core.sentence import sentence
from frequens.core.shaping import STARTERS, Learner, read_shaping_plan

from .coded import Coding

BELL = read_shaping_plan(STARTERS["bell"])
TITLES = {s["key"]: s["title"] for s in BELL["approximations"]}


class Situation:
    """A session told rep by rep: a rep every `gap` seconds, met ones marked and paid."""

    def __init__(self, pattern, key="nose", gap=5.0, latency=0.3, held=None, reward=1.0, **odd):
        self.coding, self.now = Coding().event("criterion", 0.0, approximation=key), 2.0
        for n, sign in enumerate(pattern):
            self.coding.onset(self.now, met={"+": True, "-": False, "?": None}[sign])
            if held:
                self.coding.offset(self.now + held)
            if sign != "-":
                late = latency[n % len(latency)] if isinstance(latency, list) else latency
                if odd.get("hand_first"):
                    self.coding.reach(self.now + late - 0.3)
                self.coding.marker(self.now + late)
                if reward is not None:
                    self.coding.reward(self.now + late + reward)
            self.now += gap + (odd["slower"] * n if "slower" in odd else 0)

    def sign(self, severity, at=None):
        self.coding.event("sign", at or self.now - 1, label="freezes", severity=severity)
        return self

    def findings(self, **plan):
        steps = [
            {k: s[k] for k in ("key", "title", "mark_at", "fallback") if k in s}
            for s in BELL["approximations"]
        ]
        plan = {"rule": {"kind": "run", "need": 5, "miss": 3}, "approximations": steps, **plan}
        return measure(self.coding.record(session={"start_s": 0, "end_s": self.now}, plan=plan))

    def said(self, **plan):
        return sentence(self.findings(**plan), lambda key: TITLES.get(key or "", key or "?"))

    def card(self, learner=None, plan=BELL, **more):
        return next_session(self.findings(**more), plan, learner)


EASY = {"rate_floor_per_min": 0}


def test_nothing_coded_says_where_to_begin():
    assert Situation("").said().verdict == "nothing_coded"


def test_unjudged_reps_ask_for_a_judgement_before_any_advice_and_still_tell_the_timing():
    said = Situation("????").said()
    assert said.verdict == "not_judged"
    assert "0.30 s after" in said.text


def test_unjudged_and_unmarked_reps_say_that_none_is_marked():
    situation = Situation("")
    situation.coding.onset(3.0)
    situation.now = 10
    assert "1 rep, none of them marked" in situation.said().text


def test_five_in_a_row_with_a_good_hand_mean_raise_and_a_warm_up_at_the_step_below():
    situation = Situation("-+++++")
    said, card = situation.said(), situation.card()
    assert said.text == "Raise from “Nose on the rope”: 5 in a row fit, 5 of 6 fit in all."
    assert (card.warm_up, card.criterion) == ("nose", "mouth")


def test_a_raise_at_the_last_step_has_nowhere_higher_to_go_and_varies_conditions_instead():
    card = Situation("+++++", key="asked").card()
    assert card.criterion == "asked"
    assert card.vary == ("location",)


def test_what_is_raised_today_is_not_varied_as_well():
    assert Situation("+++++").card().vary == ()


def test_a_premature_raise_with_misses_at_the_new_step_means_one_step_back():
    situation = Situation("+---", key="mouth")
    said, card = situation.said(**EASY), situation.card(**EASY)
    assert said.text.startswith(
        "Go a step back from “Mouth on the rope”: 3 misses in a row, 1 of 4"
    )
    assert (card.warm_up, card.criterion) == ("look", "nose")


def test_a_step_back_from_the_first_step_stays_there():
    card = Situation("+---", key="look").card(**EASY)
    assert (card.warm_up, card.criterion) == ("look", "look")


def test_a_plateau_of_hits_and_misses_means_hold_with_the_numbers():
    situation = Situation("+-+-+-+-+-")
    said, card = situation.said(**EASY), situation.card(**EASY)
    assert said.text == "Hold at “Nose on the rope”: 5 of 10 fit."
    assert (card.warm_up, card.criterion) == ("look", "nose")


def test_too_few_reps_mean_hold_and_say_that_they_are_few():
    situation = Situation("++")
    said = situation.said(rule={"kind": "share"}, **EASY)
    assert said.text == "Hold at “Nose on the rope”: 2 of 2 fit, too few to say more."


def test_late_markers_on_a_third_come_before_any_change_of_criterion():
    situation = Situation("++++++", latency=[0.3, 0.9])
    said = situation.said(**EASY)
    assert said.verdict == "timing"
    assert said.text.startswith(
        "First mend the marker's timing: it came late on 3 of 6. Until then hold"
    )
    assert situation.card(**EASY).criterion == "nose"


def test_two_late_markers_of_ten_are_told_but_do_not_come_first():
    situation = Situation("++++++++++", latency=[0.3, 0.3, 0.3, 0.3, 0.9])
    said = situation.said(**EASY)
    assert said.verdict == "raise"
    assert said.text.endswith("; your marker came late on 2 of 10.")


def test_markers_before_the_behaviour_are_called_early():
    said = Situation("++++++", latency=-0.2).said(**EASY)
    assert (said.verdict, "early on 6 of 6" in said.text) == ("timing", True)


def test_markers_after_the_behaviour_was_over_miss_it_though_they_are_not_late():
    situation = Situation("++++++", latency=0.45, held=0.2)
    said = situation.said(**EASY)
    assert "after the behaviour was over on 6 of 6" in said.text
    assert any("on the behaviour, not after it" in w for w in situation.card(**EASY).watch)


def test_a_hand_that_moves_first_holds_the_step_until_it_is_still():
    situation = Situation("+++++", hand_first=True)
    said = situation.said()
    assert said.verdict == "hold"
    assert "first keep the hand still until the marker; it moved before it on 5 of 5" in said.text
    assert "Hand still until after the marker." in situation.card().watch


def test_markers_that_paid_nothing_are_mended_before_the_hand_and_the_step():
    said = Situation("+++++", reward=None, hand_first=True).said(**EASY)
    assert "first pay every marker; 5 markers brought no reward" in said.text


def test_a_dry_spell_holds_what_the_run_would_have_raised():
    situation = Situation("+++++")
    situation.coding.onset(situation.now, met=False)
    situation.now += 45
    said = situation.said(rule={"kind": "run", "need": 5, "miss": 3}, **EASY)
    assert said.verdict == "hold"
    assert "went by without a reward" in said.text


def test_too_few_rewards_in_a_whole_minute_mean_a_step_back_or_a_split():
    situation = Situation("+-+-", gap=22, key="mouth")
    assert situation.said().text.startswith("Go a step back from “Mouth on the rope”: only ")
    first = Situation("+-+-", gap=22, key="look")
    assert first.said().verdict == "split"
    assert first.card().criterion == "look"


def test_slower_returns_shorten_the_next_session_and_hold_the_step():
    situation = Situation("+" * 12, slower=1.0)
    findings = situation.findings(**EASY)
    assert "rising_pause" in [r["code"] for r in findings["advice"]["reasons"]]
    said, card = situation.said(**EASY), situation.card(**EASY)
    assert "more and more slowly" in said.text
    assert card.minutes == pytest.approx(min(180, situation.now) * 2 / 3 / 60, abs=0.06)
    assert card.reps == 10


def test_signs_that_grow_hold_the_step_and_shorten_too():
    situation = Situation("+++++").sign(1)
    said = situation.said()
    assert "signs of strain grew" in said.text
    assert situation.card().minutes < 3


def test_a_frightened_learner_ends_the_session_and_comes_back_lower_and_shorter():
    situation = Situation("+++++").sign(3)
    said, card = situation.said(), situation.card()
    assert said.verdict == "end"
    assert "veterinarian" in said.text
    assert card.criterion == "look"
    assert card.minutes <= 0.5
    assert "ease comes first" in card.watch[0]


def test_the_rep_limit_ends_on_a_success_and_next_time_goes_where_the_rule_points():
    situation = Situation("+++++")
    said, card = situation.said(rep_cap=5), situation.card(rep_cap=5)
    assert said.text.startswith("End on a success: 5 reps, 5 are the plan's limit")
    assert (said.then, "Next time raise from “Nose on the rope”" in said.text) == ("raise", True)
    assert card.criterion == "mouth"


@pytest.mark.parametrize(
    ("pattern", "latency", "then", "words"),
    [
        ("+-+-+", 0.3, "hold", "Next time “Nose on the rope” again: 3 of 5 fit"),
        ("++---", 0.3, "lower", "Next time a step back from “Nose on the rope”: 2 of 5 fit"),
        ("+++++", 0.9, "timing", "and the marker's timing first: 5 of 5 fit"),
    ],
)
def test_a_limit_ends_the_session_and_the_sentence_still_says_where_it_goes_on(
    pattern, latency, then, words
):
    said = Situation(pattern, latency=latency).said(rep_cap=5, **EASY)
    assert (said.verdict, said.then) == ("end", then)
    assert words in said.text


@pytest.mark.parametrize(
    ("odd", "why"),
    [
        ({"hand_first": True}, "the hand moved first"),
        ({"reward": None}, "no marker was paid"),
        ({"slower": 2.5}, "the animal came back ever more slowly"),
    ],
)
def test_a_limit_does_not_raise_what_the_guards_would_have_held(odd, why):
    situation = Situation("++++++++", **odd)
    said, card = situation.said(rep_cap=8, **EASY), situation.card(rep_cap=8, **EASY)
    assert (said.verdict, said.then) == ("end", "hold"), why
    assert card.criterion == "nose", why


def test_a_limit_after_a_whole_minute_of_too_little_pay_goes_a_step_back_next_time():
    situation = Situation("+----+----+----", gap=8)
    said, card = situation.said(rep_cap=15), situation.card(rep_cap=15)
    assert (said.verdict, said.then) == ("end", "lower")
    assert card.criterion == "look"


def test_distress_ends_it_without_a_word_of_going_on():
    said = Situation("+++++").sign(3).said(rep_cap=5)
    assert said.then is None
    assert "Next time" not in said.text


def test_the_time_limit_ends_on_a_success():
    said = Situation("+-+-+", gap=20).said(session_cap_s=60, **EASY)
    assert (said.verdict, "are the plan's limit" in said.text) == ("end", True)


def test_rewards_are_prepared_for_the_rate_there_was_with_a_fifth_to_spare():
    situation = Situation("+" * 10, gap=6, latency=0.3)
    per_min = 10 / (situation.now / 60)
    card = situation.card(**EASY)
    assert card.minutes == 3.0
    assert card.pieces == pytest.approx(per_min * 3 * 1.2, abs=1)
    assert sum(card.placement.values()) == card.pieces


def test_the_share_of_the_days_energy_is_told_where_it_is_known():
    findings = Situation("+++++").findings()
    card = next_session(findings, BELL, None, piece_kj=10, day_kj=8000)
    assert card.energy_share == pytest.approx(card.pieces * 10 / 8000)
    assert next_session(findings, BELL).energy_share is None


def test_the_cautions_of_plan_and_learner_are_on_the_card_and_are_few():
    card = Situation("+++++").card(Learner("Thistle", "goat", frozenset({"pregnant"})))
    assert card.cautions[0].startswith("Thistle is pregnant.")
    assert len(card.cautions) <= 4


def test_every_card_has_rules_to_stop_by():
    card = Situation("+++++").card()
    assert card.stop_rules[0] == "After 3.0 min or 15 reps, on a success."
    assert any("3 misses in a row" in rule for rule in card.stop_rules)
    assert any("at once" in rule for rule in card.stop_rules)


def test_a_plan_without_steps_still_gives_a_card():
    card = Situation("+++").card(plan={"format": "frequens-plan", "version": 1})
    assert (card.criterion, card.warm_up, card.reps) == (None, None, None)
    assert card.minutes == 2.5


def test_a_first_session_is_no_longer_than_a_minute_and_a_half():
    assert Situation("").card().minutes == 1.5


def test_no_answer_ever_proposes_pressure_or_pain():
    for pattern in ("+++++", "---", "+-+-", ""):
        situation = Situation(pattern)
        card = situation.card(**EASY)
        said = " ".join([situation.said(**EASY).text, *card.watch, *card.stop_rules]).lower()
        assert not any(word in said for word in ("correct ", "punish", "force", "scold", "pull on"))
