"""Every remark on a plan: where it is shown, what it is called, what is offered, how it reads.

Common practice, with no source but use.
"""

from __future__ import annotations

import re

import pytest

from frequens.core.planning.calculators.schedules import FIRST_SESSION_S
from frequens.core.planning.shaping import Learner, read_shaping_plan, remarks
from frequens.words.english.remarks import DIMENSIONS

from .test_shaping import flight, plan, sound_plan

#: Code: what brings it on, then sort, place, title, what is offered, and what its text must name.
REMARKS = {
    "no_goal": ({"goal": ""}, "check", "goal", "No end picture yet.", None, ["on the film"]),
    "few_steps": (
        {"approximations": flight({})},
        *("check", "approximations", "Hardly a flight of steps.", None, ["already does"]),
    ),
    "no_criterion": (
        {"approximations": flight({}, {"criterion": " "})},
        *("check", "approximations[1]", "Nobody could judge this yet.", None, ["another person"]),
    ),
    "not_on_film": (
        {"approximations": flight({}, {"criterion": "Looks Happy about it."})},
        *("check", "approximations[1]", "Film cannot show this.", None, ["“Happy”"]),
    ),
    "two_dimensions": (
        {"approximations": flight({}, {"raises": ["topography", "speed"]})},
        *("check", "approximations[1]", "Two things at once.", "split_step"),
        ["raises form and speed."],
    ),
    "two_conditions": (
        {"approximations": flight({}, {"criterion": "Nose and hoof on it."})},
        *("check", "approximations[1]", "Perhaps two things at once.", "split_step"),
        ["“Nose and hoof on it.”"],
    ),
    "same_title": (
        {"approximations": flight({"title": "Mat"}, {"title": "mat"})},
        *("check", "approximations[1]", "Two steps have this name.", None, ["told apart"]),
    ),
    "no_fallback": (
        {"approximations": flight({}, {"fallback": None})},
        *("check", "approximations[1]", "No way back.", "add_fallback", ["easier step"]),
    ),
    "fallback_not_easier": (
        {"approximations": flight({}, {"fallback": "s1"})},
        *("check", "approximations[1]", "The way back leads up.", "add_fallback", ["later"]),
    ),
    "lure_kept": (
        {"way": "luring", "lure_reps": 6, "prompts": ["food_lure", "empty_hand"]},
        *("check", "lure_reps", "Food in the hand for too long.", "fewer_lures"),
        ["in the hand for 6 reps", "5 or fewer"],
    ),
    "lure_not_faded": (
        {"way": "luring", "lure_reps": 4, "prompts": ["food_lure"]},
        *("check", "prompts", "The lure has nowhere to fade to.", None, ["empty hand"]),
    ),
    "no_session_cap": (
        {"session_cap_s": None},
        *("check", "session_cap_s", "No end to a session.", "cap_session", ["1 to 2 minutes"]),
    ),
    "long_session": (
        {"session_cap_s": 390},
        *("check", "session_cap_s", "Longer than common practice.", "cap_session"),
        ["6.5 minutes of work", "; 5 are the most"],
    ),
    "no_rep_cap": (
        {"rep_cap": None},
        *("check", "rep_cap", "No limit to the reps.", "cap_reps", ["end on a success"]),
    ),
    "no_rule": ({"rule": None}, "check", "rule", "No rule for going on.", None, ["schools"]),
    "no_terminal_marker": (
        {"markers": []},
        *("check", "markers", "No marker that pays.", None, ["click or word"]),
    ),
    "no_keep_going": (
        {"after_marker": "stay"},
        *("check", "markers", "Nothing says “stay, more is coming”.", None, ["keep-going"]),
    ),
    "no_reward_marker_early": (
        {"after_miss": "no_reward_marker"},
        *("check", "after_miss", "Only for what is known.", None, ["say nothing"]),
    ),
    "cue_early": (
        {"cue": {"name": "mat", "from_step": "s0"}},
        *("check", "cue", "The cue comes before the behaviour is sure.", "cue_later"),
        ["“mat”", "“Step 1”"],
    ),
    "answers_no_cue": (
        {"approximations": flight({}, {"answers": True})},
        *("check", "approximations[1]", "Nothing is asked.", None, ["names none"]),
    ),
    "let_go_by_marker": (
        {"approximations": flight({}, {"until_release": True}), "after_marker": "release"},
        *("check", "approximations[1]", "The marker lets it go.", None, ["it stays"]),
    ),
    "part_of_one": (
        {"approximations": flight({}, {"parts": [{"key": "one"}]})},
        *("check", "approximations[1]", "A chain has at least two parts.", None, ["any other"]),
    ),
    "help_not_planned": (
        {"approximations": flight({}, {"help": "target"}), "prompts": ["gesture"]},
        *("check", "approximations[1]", "Help the plan does not name.", None, ["a target"]),
    ),
    "floor_impossible": (
        {
            "approximations": flight({}, {"mark_at": "hold", "hold_s": 40}),
            "rate_floor_per_min": 4,
        },
        *("check", "approximations[1]", "So often it cannot be paid.", None),
        ["4 rewards a minute", "hold of 40 s at most 1.2 ", "The judgement looks"],
    ),
    "nothing_measured": (
        {"rule": {"kind": "percentile"}},
        *("check", "rule", "Nothing to measure by.", None, ["never say raise"]),
    ),
    "ease_to_code": (
        {"rule": {"kind": "comfort"}},
        *("caution", "rule", "Ease has to be written down.", None, ["signs of strain"]),
    ),
    "chain_of_one": (
        {"chain": {"parts": ["walks in"]}},
        *("check", "chain", "A chain has at least two parts.", None, ["in the order"]),
    ),
    "food": (
        {"placement": {"on": 0.5, "off": 0.5}},
        "caution",
        "placement",
        "Food.",
        None,
        ["a tenth"],
    ),
    "short_sessions": (
        {"session_cap_s": FIRST_SESSION_S + 1},
        *("caution", "session_cap_s", "Short sessions.", None, ["shade"]),
    ),
}
HEALTH_PLACES = {
    "timid": "placement",
    "overweight": "placement",
    "food_allergy": "placement",
    "growing": "rep_cap",
    "old": "rep_cap",
    "pregnant": "session_cap_s",
    "injured": "learner",
    "ill": "learner",
    "bites_or_guards": "learner",
}


def said_of(parts, learner=None):
    return {r.code: r for r in remarks(read_shaping_plan(sound_plan() | parts), learner)}


@pytest.mark.parametrize("code", REMARKS)
def test_a_remark_stands_at_its_place_under_its_name_with_its_offer(code):
    parts, sort, place, title, mend, names = REMARKS[code]
    remark = said_of(parts)[code]
    assert (remark.sort, remark.place, remark.title, remark.mend) == (sort, place, title, mend)
    for name in names:
        assert name in remark.text
    assert code not in said_of({"session_cap_s": FIRST_SESSION_S})


@pytest.mark.parametrize("health", HEALTH_PLACES)
def test_a_caution_about_the_learner_stands_where_the_risk_arises(health):
    for name, called in (("Bramble", "Bramble "), ("", "This learner ")):
        caution = said_of({}, Learner(name, health=frozenset({health})))[health]
        assert (caution.sort, caution.place) == ("caution", HEALTH_PLACES[health])
        assert caution.title.startswith(called)


def everything_said():
    hazards = [
        *("speed_height_turning", "jumping", "raised_platform", "worn_or_following", "ropes"),
        *("hoof_or_claw", "objects_in_mouth", "large_animal", "children"),
    ]
    learner = Learner("Bramble", health=frozenset(HEALTH_PLACES))
    said = list(remarks(read_shaping_plan(sound_plan(hazards=hazards)), learner))
    assert {"large_animal", "children", *hazards, *HEALTH_PLACES} <= {r.code for r in said}
    return [*said, *(said_of(parts)[code] for code, (parts, *_) in REMARKS.items())]


def test_what_is_said_is_said_in_sentences():
    for remark in everything_said():
        for words in (remark.title, remark.text):
            assert re.match(r"[A-Z“0-9]", words)
            assert words.endswith(".")
            # Each sentence begins with a capital, and nothing is shouted or runs together.
            assert re.findall(r"[.!?] +[a-z]", words) == []
            assert "  " not in words
            assert re.findall(r"[A-Z]{2}|[a-z][A-Z]", words) == []
        if remark.sort == "caution" and remark.place == "hazards":
            assert len(remark.text) > len(remark.title)


def test_a_step_that_does_not_say_its_criterion_cannot_be_judged():
    step = {"key": "s0", "title": "Mat", "mark_at": "onset"}
    assert "no_criterion" in {r.code for r in remarks({"approximations": [step]})}


def test_a_floor_of_the_steps_own_is_to_be_lowered():
    step = {"mark_at": "hold", "hold_s": 40, "rate_floor_per_min": 2}
    assert said_of({"approximations": flight({}, step)})["floor_impossible"].text.endswith(
        "Ask for less."
    )


def test_a_plans_own_cycle_says_how_often_one_could_pay():
    step = {"mark_at": "hold", "hold_s": 40}
    parts = {"approximations": flight({}, step), "rate_floor_per_min": 1.4}
    assert "floor_impossible" in said_of(parts)
    # With 2 s a cycle 1.43 a minute are possible.
    assert "floor_impossible" not in said_of(parts | {"judging": {"cycle_s": 2}})


def test_a_number_with_an_aim_is_something_to_measure_by():
    quantity = {"name": "height", "unit": "cm", "better": "more"}
    for target, is_said in ((None, True), (20, False)):
        aimed = quantity if target is None else {**quantity, "target": target}
        parts = {
            "rule": {"kind": "percentile"},
            "approximations": flight({}, {"quantity": aimed}),
        }
        assert ("nothing_measured" in said_of(parts)) == is_said


def test_one_cue_is_enough_to_answer():
    parts = {"approximations": flight({}, {"answers": True})}
    assert "answers_no_cue" not in said_of(parts | {"cue": {"name": "mat"}})


def test_steps_that_raise_nothing_come_after_the_cue():
    assert "cue_early" not in said_of(
        {"approximations": flight({}, {}), "cue": {"name": "mat", "from_step": "s0"}}
    )


def test_every_dimension_has_its_word_in_the_remark():
    for dimension, word in DIMENSIONS.items():
        other = "topography" if dimension != "topography" else "speed"
        parts = {"approximations": flight({}, {"raises": [dimension, other]})}
        assert f"raises {word} and " in said_of(parts)["two_dimensions"].text


def test_an_empty_plan_is_told_all_it_lacks():
    said = [r.code for r in remarks(read_shaping_plan(plan()))]
    assert said == [
        *("no_goal", "few_steps", "no_session_cap", "no_rep_cap", "no_rule"),
        "no_terminal_marker",
    ]
