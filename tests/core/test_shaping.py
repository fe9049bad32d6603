"""Shaping plans: what cannot be in one, what a session needs of it, and what is said of it.

The remarks and cautions are common practice and have no source but use.
"""

from __future__ import annotations

import copy
import dataclasses

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core import read_session
from frequens.core.model.events import Settings
from frequens.core.planning.shaping import (
    LIMITS,
    STARTERS,
    InvalidPlan,
    Learner,
    read_shaping_plan,
    remarks,
    session_plan,
    steps_in_use,
)
from frequens.core.planning.shaping.manner import manner
from frequens.core.planning.shaping.remarks import WORDS_NOT_ON_FILM


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


@pytest.mark.parametrize(
    ("limited", "fault"),
    [
        (lambda n: {"cues": [{"label": str(i), "behaviour": "b"} for i in range(n)]}, "at most 30"),
        (
            lambda n: {
                "approximations": [{"key": "a", "parts": [{"key": str(i)} for i in range(n)]}]
            },
            "at most 30",
        ),
        (
            lambda n: {"conditions": [{"name": str(i), "levels": []} for i in range(n)]},
            "conditions",
        ),
    ],
)
def test_thirty_parts_cues_and_conditions_and_no_more(limited, fault):
    read_shaping_plan(plan(**limited(30)))
    assert any(fault in said for said in faults(plan(**limited(31))))


@pytest.mark.parametrize(
    ("limited", "inside", "outside"),
    [
        (lambda n: {"calendar": {"rest": [n]}}, 6, 7),
        (lambda n: {"calendar": {"rest": list(range(n))}}, 6, 7),
        (lambda n: {"calendar": {"a_day": n}}, 10, 11),
        (lambda n: {"calendar": {"a_week": n}}, 70, 71),
        (lambda n: {"stages": [{"name": "s", "goes": n}]}, 200, 201),
        (lambda n: {"stages": [{"name": "s", "least_weeks": n}]}, 52, 53),
        (lambda n: {"stages": [{"name": "s", "most_weeks": n}]}, 104, 105),
        (lambda n: {"ladders": [{"name": "height", "least_days": n}]}, 0, -1),
        (lambda n: {"ladders": [{"name": "height", "least_days": n}]}, 365, 366),
        (lambda n: {"ladders": [{"name": "height", "rungs": [n]}]}, 1e9, 1e9 + 1),
        (lambda n: {"ladders": [{"name": "height", "rungs": [n]}]}, -1e9, -1e9 - 1),
        (lambda n: {"ladders": [{"name": "height", "limit": n}]}, 1e9, 1e9 + 1),
        (lambda n: {"ladders": [{"name": "height", "limit": n}]}, -1e9, -1e9 - 1),
        (lambda n: {"ladders": [{"name": "height", "rungs": list(range(n))}]}, 100, 101),
        (lambda n: {"programme": {"fades_days": n}}, 1, 0),
        (lambda n: {"programme": {"fades_days": n}}, 365, 366),
    ],
)
def test_the_calendar_its_stages_and_ladders_have_limits(limited, inside, outside):
    kept = limited(inside)
    read = read_shaping_plan(plan(**kept))
    assert {key: read[key] for key in kept} == kept
    assert faults(plan(**limited(outside)))


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
    document = {"format": "frequens-session", "version": 1, "plan": made, "events": []}
    record = read_session(document)
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


@pytest.mark.parametrize(("name", "is_measured"), [("height", True), ("depth", False)])
def test_a_ladder_is_of_something_that_a_step_measures(name, is_measured):
    step = {"quantity": {"name": "height", "unit": "cm", "better": "more"}}
    said = remarks(
        read_shaping_plan(plan(approximations=flight({}, step), ladders=[{"name": name}]))
    )
    found = [(one.place, one.text) for one in said if one.code == "ladder_unmeasured"]
    assert [place for place, _ in found] == ([] if is_measured else ["ladders[0]"])
    assert all("“depth”" in text for _, text in found)


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


def texts(longest):
    """What people can write: control characters and what is no character are refused."""
    return st.text(st.characters(exclude_categories=["Cs", "Cc", "Cn"]), max_size=longest)


STEP = st.fixed_dictionaries(
    {},
    optional={
        "title": texts(30),
        "criterion": texts(60),
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


def test_every_limit_has_its_words_its_default_and_its_reason():
    names = {field.name for field in dataclasses.fields(Settings)}
    assert {limit.name for limit in LIMITS} == names
    assert all(limit.default == getattr(Settings(), limit.name) for limit in LIMITS)
    assert all(limit.words and limit.why.endswith(".") for limit in LIMITS)


def step_with(**fields):
    plan = sound_plan()
    plan["approximations"][-1] |= fields
    return plan, plan["approximations"][-1]["key"]


def lines(plan, key):
    read = read_shaping_plan(plan)
    return " ".join(manner(read, steps_in_use(read), key))


@pytest.mark.parametrize(
    ("step", "whole", "said"),
    [
        ({"until_release": True}, {}, "It is finished when you let it go"),
        ({"parts": [{"key": "a", "title": "takes it"}, {"key": "b"}]}, {}, "takes it, then b"),
        ({"help": "gesture"}, {}, "Help: a gesture at most"),
        ({"help": "none"}, {}, "No help"),
        ({"answers": True}, {}, "waiting while nothing was asked is paid"),
        (
            {"quantity": {"name": "height", "unit": "cm", "better": "less", "target": 3}},
            {},
            "height of each rep: less is better, the aim is 3 cm",
        ),
        ({}, {"reset": "toss"}, "Toss the reward away"),
        ({}, {"reset": "in_position"}, "from where it stands"),
        ({}, {"after_marker": "stay"}, "bring the reward to where it is"),
        ({}, {"after_marker": "release"}, "The marker ends the rep"),
        ({}, {"after_miss": "wait"}, "wait for the next"),
        ({}, {"after_miss": "no_reward_marker"}, "only where it knows the step"),
    ],
)
def test_how_one_works_at_a_step_is_said_from_the_plan(step, whole, said):
    plan, key = step_with(**step)
    for name in ("reset", "after_marker", "after_miss"):
        plan.pop(name, None)
    if whole:
        assert said not in lines(plan, key)
    assert said in lines({**plan, **whole}, key)


def test_the_cue_is_said_from_its_step_on_and_not_before():
    plan = sound_plan()
    keys = [step["key"] for step in plan["approximations"]]
    plan["cue"] = {"name": "bell", "from_step": keys[1]}
    assert "No cue yet" in lines(plan, keys[0])
    assert "Cue: “bell”, once" in lines(plan, keys[1])


@pytest.mark.parametrize(
    ("step", "whole", "code"),
    [
        ({"answers": True}, {}, "answers_no_cue"),
        ({"until_release": True}, {"after_marker": "release"}, "let_go_by_marker"),
        ({"parts": [{"key": "one"}]}, {}, "part_of_one"),
        ({"help": "target"}, {"prompts": ["gesture"]}, "help_not_planned"),
    ],
)
def test_what_a_step_asks_is_held_against_the_plan(step, whole, code):
    plan, _ = step_with(**step)
    plan = {**plan, **whole}
    assert code in codes(plan)
    mended = {
        "answers_no_cue": {"cues": [{"label": "bell", "behaviour": "nose"}]},
        "let_go_by_marker": {"after_marker": "stay"},
        "help_not_planned": {"prompts": ["target", "gesture"]},
    }.get(code)
    if mended:
        assert code not in codes({**plan, **mended})


def test_a_large_animal_brings_its_caution_by_itself():
    for size in ("large", "medium", ""):
        said = codes(sound_plan(), Learner("Bramble", size=size), sort="caution")
        assert ("large_animal" in said) == (size == "large")


def test_a_plan_names_each_level_of_help_once():
    with pytest.raises(InvalidPlan, match=r"prompts\[1\]: named twice"):
        read_shaping_plan({**sound_plan(), "prompts": ["gesture", "gesture"]})


@pytest.mark.parametrize("value", [0, 3600])
def test_limits_go_from_nothing_to_an_hour(value):
    plan = read_shaping_plan({**sound_plan(), "settings": {"on_time_s": value}})
    assert plan["settings"] == {"on_time_s": value}


@pytest.mark.parametrize("settings", [{"on_time_s": -0.1}, {"on_time_s": 3600.1}, {"x_s": 1}])
def test_limits_that_cannot_be_are_refused(settings):
    with pytest.raises(InvalidPlan, match="settings"):
        read_shaping_plan({**sound_plan(), "settings": settings})


@pytest.mark.parametrize(
    ("floor", "own", "is_said"),
    [(1.2, None, False), (1.21, None, True), (None, 1.2, False), (None, 1.21, True)],
)
def test_a_floor_that_the_hold_makes_impossible_is_said(floor, own, is_said):
    # Ten seconds a cycle and forty of holding: 1.2 a minute.
    fields = {"mark_at": "hold", "hold_s": 40} | ({"rate_floor_per_min": own} if own else {})
    document, _ = step_with(**fields)
    if floor is not None:
        document["rate_floor_per_min"] = floor
    assert ("floor_impossible" in codes(document)) == is_said


def test_a_rep_that_takes_no_time_can_be_paid_as_often_as_one_likes():
    document = {**sound_plan(), "judging": {"cycle_s": 0}}
    document["approximations"][0]["rate_floor_per_min"] = 100
    assert "floor_impossible" not in codes(document)
    document["judging"] = {"cycle_s": 1}
    assert "floor_impossible" in codes(document)


def test_a_floor_is_no_matter_for_quick_steps():
    assert "floor_impossible" not in codes({**sound_plan(), "rate_floor_per_min": 10})


@pytest.mark.parametrize(
    ("rule", "code"),
    [
        ({"kind": "percentile"}, "nothing_measured"),
        ({"kind": "comfort"}, "ease_to_code"),
    ],
)
def test_what_a_school_could_never_do_is_said_while_one_writes(rule, code):
    def said(document):
        return [*codes(document), *codes(document, sort="caution")]

    assert code in said({**sound_plan(), "rule": rule})
    assert code not in said(sound_plan())


def test_a_cap_below_what_the_rule_needs_is_no_fault_because_the_record_goes_on():
    document = {**sound_plan(), "rule": {"kind": "share"}, "rep_cap": 8}
    assert codes(document) == []
