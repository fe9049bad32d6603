"""Shaping plans: what cannot be in one, what a session needs of it, and what is said of it.

The remarks and cautions are common practice and have no source but use.
"""

from __future__ import annotations

import copy

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core import read_session
from frequens.core.shaping import (
    STARTERS,
    InvalidPlan,
    Learner,
    read_shaping_plan,
    remarks,
    session_plan,
)
from frequens.core.shaping.remarks import WORDS_NOT_ON_FILM


def plan(**parts):
    return {"format": "frequens-plan", "version": 1, **parts}


def flight(*steps):
    """Steps that each fall back to the one before, complete enough to bring no remark."""
    made = []
    for n, step in enumerate(steps):
        key = f"s{n}"
        made.append(
            {"key": key, "title": f"Step {n}", "criterion": f"Hoof at mark {n}.", **step}
            | ({"fallback": f"s{n - 1}"} if n and "fallback" not in step else {})
        )
    return made


def sound_plan(**parts):
    """A plan there is nothing to mend in."""
    return plan(
        goal="Stands on the mat.",
        markers=[{"name": "click", "meaning": "event"}],
        rule={"kind": "run"},
        session_cap_s=120,
        rep_cap=12,
        approximations=flight({}, {"raises": ["precision"]}),
        **parts,
    )


def codes(document, learner=None, sort="check"):
    return [r.code for r in remarks(read_shaping_plan(document), learner) if r.sort == sort]


def faults(document):
    with pytest.raises(InvalidPlan) as caught:
        read_shaping_plan(document)
    return caught.value.faults


@pytest.mark.parametrize("key", STARTERS)
def test_every_starter_plan_is_whole_and_leaves_nothing_to_mend(key):
    read = read_shaping_plan(STARTERS[key])
    assert read == STARTERS[key]
    assert codes(read) == []


def test_the_starters_show_every_way_of_working():
    ways = {p["way"] for p in STARTERS.values()}
    assert ways == {"free_shaping", "capturing", "luring", "targeting"}


def test_a_sound_plan_brings_no_check():
    assert codes(sound_plan()) == []


@pytest.mark.parametrize(
    ("document", "fault"),
    [
        ({}, "format: missing"),
        ([], "not an object"),
        (plan(colour="red"), "colour: unknown key"),
        (plan(way="bribing"), "way: must be one of"),
        (plan(approximations=[{"title": "x"}]), "approximations[0].key: missing"),
        (plan(approximations=[{"key": "a"}, {"key": "a"}]), "approximations[1].key: used twice"),
        (plan(approximations=[{"key": "a", "fallback": "b"}]), "fallback: not in the plan"),
        (plan(approximations=[{"key": "a", "mark_at": "hold"}]), "hold_s: missing"),
        (plan(approximations=[{"key": "a", "raises": ["loudness"]}]), "raises[0]: must be one of"),
        (plan(approximations=[{"key": "a", "retired": "yes"}]), "must be true or false"),
        (plan(approximations=[{"key": str(n)} for n in range(61)]), "more than 60"),
        (plan(cue={"name": "ring", "from_step": "z"}), "cue.from_step: not in the plan"),
        (plan(placement={"on": 0.5}), "must add up to 1"),
        (plan(rule={"kind": "luck"}), "rule.kind: must be one of"),
        (plan(rule={"kind": "share", "raise": 0.4, "lower": 0.5}), "must not be above"),
        (plan(session_cap_s=float("inf")), "not a finite number"),
        (plan(markers=[{"name": "click"}]), "markers[0].meaning: missing"),
        (plan(hazards=["fire"]), "hazards[0]: must be one of"),
    ],
)
def test_what_cannot_be_is_named_by_its_path(document, fault):
    assert any(fault in line for line in faults(document)), faults(document)


def test_all_faults_are_named_at_once():
    assert len(faults(plan(way="x", rep_cap=0, cue={"name": ""}))) == 3


def test_a_session_takes_the_plan_as_the_core_reads_it():
    made = session_plan(read_shaping_plan(STARTERS["stand"]))
    record = read_session({"format": "frequens-session", "version": 1, "plan": made})
    assert [a.key for a in record.plan.approximations] == [
        *("step", "lift", "touch", "rest", "hold3", "hold5")
    ]
    assert record.plan.approximation("hold3").hold_s == 3.0
    assert record.plan.approximation("lift").fallback == "step"
    assert record.plan.placement == {"over the stand": 0.75, "stepping back": 0.25}
    assert (record.plan.session_cap_s, record.plan.rep_cap) == (150, 12)


def test_a_retired_step_is_in_no_session_and_nobodys_way_back():
    document = copy.deepcopy(dict(STARTERS["bell"]))
    document["approximations"][1]["retired"] = True
    made = session_plan(read_shaping_plan(document))
    assert "nose" not in [a["key"] for a in made["approximations"]]
    assert "fallback" not in next(a for a in made["approximations"] if a["key"] == "mouth")


@pytest.mark.parametrize(
    ("step", "code"),
    [
        ({"raises": ["precision", "duration"]}, "two_dimensions"),
        ({"criterion": ""}, "no_criterion"),
        ({"criterion": "He is interested in the stand."}, "not_on_film"),
        ({"criterion": "Hoof on the stand and held."}, "two_conditions"),
        ({"title": "Step 0"}, "same_title"),
        ({"fallback": "s1"}, "fallback_not_easier"),
    ],
)
def test_a_step_is_read_as_another_person_would(step, code):
    document = sound_plan() | {"approximations": flight({}, step)}
    (remark,) = [r for r in remarks(read_shaping_plan(document)) if r.sort == "check"]
    assert (remark.code, remark.place) == (code, "approximations[1]")


def test_every_word_film_cannot_show_is_found_also_with_a_capital():
    for word in WORDS_NOT_ON_FILM:
        criterion = f"It {word.title()} there."
        assert "not_on_film" in codes(
            sound_plan() | {"approximations": flight({"criterion": criterion}, {})}
        )


def test_a_word_inside_another_is_not_that_word():
    document = sound_plan() | {
        "approximations": flight({"criterion": "Nose at the well-head."}, {})
    }
    assert "not_on_film" in codes(document)
    document = sound_plan() | {"approximations": flight({"criterion": "Beak taps the shell."}, {})}
    assert codes(document) == []


def test_a_step_without_a_way_back_says_so_and_the_first_needs_none():
    steps = [{"key": "a", "title": "A", "criterion": "Stands."}, {"key": "b", "criterion": "Sits."}]
    found = remarks(read_shaping_plan(sound_plan() | {"approximations": steps}))
    assert [(r.code, r.place, r.mend) for r in found if r.code == "no_fallback"] == [
        ("no_fallback", "approximations[1]", "add_fallback")
    ]


@pytest.mark.parametrize(
    ("parts", "code"),
    [
        ({"goal": " "}, "no_goal"),
        ({"approximations": []}, "few_steps"),
        ({"way": "luring", "lure_reps": 6, "prompts": ["food_lure", "empty_hand"]}, "lure_kept"),
        ({"way": "luring", "prompts": ["food_lure", "empty_hand"]}, "lure_kept"),
        ({"way": "luring", "lure_reps": 4}, "lure_not_faded"),
        ({"session_cap_s": None}, "no_session_cap"),
        ({"session_cap_s": 301}, "long_session"),
        ({"rep_cap": None}, "no_rep_cap"),
        ({"rule": None}, "no_rule"),
        ({"markers": []}, "no_terminal_marker"),
        ({"after_marker": "stay"}, "no_keep_going"),
        ({"after_miss": "no_reward_marker"}, "no_reward_marker_early"),
        ({"chain": {"parts": ["walks in"]}}, "chain_of_one"),
    ],
)
def test_the_whole_plan_is_checked_at_the_place_it_concerns(parts, code):
    assert codes(sound_plan() | parts) == [code]


def test_five_lures_and_five_minutes_are_within_common_practice():
    document = sound_plan() | {
        "way": "luring",
        "lure_reps": 5,
        "prompts": ["food_lure", "empty_hand"],
        "session_cap_s": 300,
    }
    assert codes(document) == []


def test_one_luring_step_is_enough_to_ask_for_an_end_of_the_lure():
    document = sound_plan() | {"approximations": flight({}, {"way": "luring"})}
    assert codes(document) == ["lure_kept", "lure_not_faded"]


@pytest.mark.parametrize(("from_step", "is_early"), [("s0", True), ("s1", False), ("s2", False)])
def test_a_cue_comes_once_the_form_is_sure(from_step, is_early):
    document = sound_plan() | {
        "approximations": flight({}, {"raises": ["precision"]}, {"raises": ["distraction"]}),
        "cue": {"name": "mat", "from_step": from_step},
    }
    assert ("cue_early" in codes(document)) == is_early


@pytest.mark.parametrize(
    "health",
    [
        *("growing", "old", "pregnant", "overweight", "injured", "ill", "timid"),
        *("bites_or_guards", "food_allergy"),
    ],
)
def test_what_there_is_to_mind_of_a_learner_is_said_with_its_name(health):
    found = remarks(
        read_shaping_plan(sound_plan()), Learner("Bramble", "pony", frozenset({health}))
    )
    (caution,) = [r for r in found if r.code == health]
    assert caution.sort == "caution"
    assert "Bramble" in caution.title


def test_a_learner_who_bites_is_not_trained_alone():
    found = remarks(
        read_shaping_plan(sound_plan()), Learner("Bramble", "pony", frozenset({"bites_or_guards"}))
    )
    assert any("veterinarian" in r.text and "professional" in r.text for r in found)


@pytest.mark.parametrize(
    "hazard", ["jumping", "ropes", "raised_platform", "worn_or_following", "children"]
)
def test_a_risk_brings_its_caution_only_where_it_is_part_of_the_work(hazard):
    assert hazard in codes(sound_plan(hazards=[hazard]), sort="caution")
    assert hazard not in codes(sound_plan(), sort="caution")


def test_cautions_come_after_checks_and_are_never_a_wall():
    learner = Learner("Bramble", "pony", frozenset({"old"}))
    found = remarks(read_shaping_plan(plan(hazards=["ropes"])), learner)
    sorts = [r.sort for r in found]
    assert sorts == sorted(sorts, key=["check", "caution"].index)
    assert all(len(r.text) < 260 for r in found)


def test_no_remark_proposes_a_correction_pressure_or_pain():
    learner = Learner("Bramble", "pony", frozenset({"bites_or_guards", "timid"}))
    documents = [plan(), sound_plan(), *STARTERS.values()]
    said = " ".join(
        r.title + r.text for d in documents for r in remarks(read_shaping_plan(d), learner)
    ).lower()
    for word in ("correct it", "punish", "scold", "pressure", "force", "jerk", "dominan"):
        assert word not in said


STEP = st.fixed_dictionaries(
    {},
    optional={
        "title": st.text(max_size=30),
        "criterion": st.text(max_size=60),
        "raises": st.lists(st.sampled_from(["precision", "duration", "speed"]), max_size=3),
        "mark_at": st.sampled_from(["onset", "offset"]),
        "retired": st.booleans(),
    },
)


@given(st.lists(STEP, max_size=8), st.randoms())
def test_any_flight_of_steps_can_be_read_said_something_of_and_filmed(steps, chance):
    keys = [f"k{n}" for n in range(len(steps))]
    document = plan(
        approximations=[
            {"key": key, **step, "fallback": chance.choice(keys)}
            for key, step in zip(keys, steps, strict=True)
        ]
    )
    read = read_shaping_plan(document)
    for remark in remarks(read):
        assert remark.title
        assert remark.text
        if remark.place.startswith("approximations["):
            assert not steps[int(remark.place[15:-1])].get("retired", False)
    made = session_plan(read)
    assert [a["key"] for a in made["approximations"]] == [
        key for key, step in zip(keys, steps, strict=True) if not step.get("retired")
    ]
