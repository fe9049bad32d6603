"""Rungs beside what was measured, and the next one by the plan's school."""

from __future__ import annotations

import datetime as dt
from statistics import median

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core.planning.shaping import Learner
from frequens.core.programme.quantity_ladder import LOOKED_AT, quantity_ladders

from .training_days import FIRST, Day, digest_of, judged, plan_of

HEIGHT = {"name": "height", "unit": "cm", "better": "more"}
RUNGS = [10.0, 20.0, 30.0, 40.0]
TODAY = FIRST + dt.timedelta(days=60)


def plan(rule="run need=3 miss=2", quantity=HEIGHT, rungs=RUNGS, **whole):
    made = plan_of({"key": "over", "quantity": dict(quantity)}, rule=rule)
    own = {"name": quantity["name"], "rungs": rungs, **whole.pop("ladder", {})}
    return {**made, "ladders": [own], **whole}


def day(n, *values):
    made = Day(plan_of({"key": "over", "quantity": HEIGHT}), n).at("over")
    for value in values:
        made.fits(1, value=value)
    return digest_of(made)


def ladder(digests, judgement=None, learner=None, today=TODAY, **how):
    (found,) = quantity_ladders(plan(**how), digests, judgement, today, learner)
    return found


def test_it_begins_where_the_first_value_stands():
    assert ladder([day(1, 22)]).at == 1
    # A rung that is just reached is reached.
    assert [ladder([day(1, value)]).at for value in (19.9, 20)] == [0, 1]
    assert ladder([day(1, 3)]).at == 0
    assert ladder([day(1, 55)]).at == 3
    found = ladder([])
    assert (found.at, found.why, found.best, found.middle) == (0, "few", None, None)


@pytest.mark.parametrize(
    ("values", "at", "why"),
    [
        ([12, 12], 0, "stay"),
        ([12, 12, 12], 1, "up"),
        ([12, 12, 12, 12], 1, "stay"),
        # Two misses in a row at the new rung, and it is one back.
        ([12, 12, 12, 12, 12], 0, "down"),
        ([12, 12, 12, 25, 25, 25], 2, "up"),
        ([45, 45, 45], 3, "top"),
        ([45, 45], 3, "stay"),
    ],
)
def test_a_run_goes_up_and_misses_go_down(values, at, why):
    found = ladder([day(1, *values)])
    assert (found.at, found.next, found.why) == (at, at, why)


@pytest.mark.parametrize(("hits", "at"), [(7, 0), (8, 1)])
def test_the_share_school_asks_for_eight_of_ten(hits, at):
    found = ladder([day(1, 15, *[5] * (10 - hits), *[15] * (hits - 1))], rule="share")
    assert found.at == at


def test_the_percentile_school_goes_by_the_kth_smallest_of_the_last():
    """Its criterion against numpy's order statistic (k = floor((9 + 1) (1 - 0.5)) = 5)."""
    values = [12, 9, 14, 11, 8, 13, 10, 9, 12]
    found = ladder([day(1, *values)], rule="percentile window=9 w=0.5")
    assert found.criterion == np.sort(values)[4] == 11
    assert (found.at, found.why) == (1, "up")
    found = ladder([day(1, *values[:8])], rule="percentile window=9 w=0.5")
    assert (found.criterion, found.at) == (None, 0)


def test_less_is_better_the_other_way_round():
    pressure = {"name": "pressure", "unit": "N", "better": "less"}
    found = ladder([day(1, 25, 25, 25)], quantity=pressure)
    assert [rung.value for rung in found.rungs] == [40, 30, 20, 10]
    assert (found.at, found.best) == (2, 25)
    assert found.rungs[1].reached.count == 3
    assert found.rungs[2].reached.count == 0
    just = [ladder([day(1, value)], quantity=pressure).at for value in (20, 20.1)]
    assert just == [2, 1]


def test_the_comfort_school_asks_for_ease_and_for_the_rung():
    clean = [day(n, 12, 12, 12) for n in (1, 2, 3)]
    assert ladder(clean[:2], rule="comfort clean_sessions=3").at == 0
    assert ladder(clean, rule="comfort clean_sessions=3").at == 1
    low = [day(1, 12), day(2, 3, 3, 3), day(3, 3, 3, 3)]
    assert ladder(low, rule="comfort clean_sessions=3").at == 0
    tiring = plan_of({"key": "over", "quantity": HEIGHT})
    slower = Day(tiring, 3).at("over")
    for n in range(14):
        slower.fits(1, value=12, slower=n)
    tired = [*clean[:2], digest_of(slower)]
    assert ladder(tired, rule="comfort clean_sessions=3").at == 0
    # What counts as slower is the plan's to say.
    patient = {"pause_rise_s": 60.0}
    assert ladder(tired, rule="comfort clean_sessions=3", judging=patient).at == 1
    worried = Day(plan_of({"key": "over", "quantity": HEIGHT}), 3).at("over").fits(3, value=12)
    assert ladder([*clean[:2], digest_of(worried.sign(2))], rule="comfort clean_sessions=3").at == 0
    # One slight sign is a session at ease all the same.
    calm = Day(plan_of({"key": "over", "quantity": HEIGHT}), 3).at("over").fits(3, value=12)
    assert ladder([*clean[:2], digest_of(calm.sign(1))], rule="comfort clean_sessions=3").at == 1


def test_the_animals_ease_comes_before_every_rung():
    made = Day(plan_of({"key": "over", "quantity": HEIGHT}, rule="run need=3"), 1).at("over")
    made.fits(3, value=22).sign(3)
    found = ladder([digest_of(made)], judged(made))
    # By its values it would go up.
    assert (found.at, found.why, found.next) == (2, "ease", 1)


def test_a_step_that_is_lowered_takes_the_rung_with_it():
    made = Day(plan_of({"key": "near"}, {"key": "over", "quantity": HEIGHT}), 1)
    made.at("over").fits(2, value=22).misses(3, value=22)
    assert judged(made).decision == "lower"
    found = ladder([digest_of(made)], judged(made))
    assert (found.why, found.next) == ("down", found.at - 1)


@pytest.mark.parametrize(("days", "at", "why"), [(6, 0, "wait"), (7, 1, "up")])
def test_a_bar_stays_a_week_where_there_is_jumping(days, at, why):
    digests = [day(1, 12), day(1 + days, 12, 12)]
    today = FIRST + dt.timedelta(days=days)
    found = ladder(digests, hazards=["jumping"], today=today)
    assert (found.at, found.why) == (at, why)
    # The week is over by itself: then it may go up without another session.
    found = ladder(digests, hazards=["jumping"], today=FIRST + dt.timedelta(days=20))
    assert (found.next, found.why) == (1, "up")


def test_rungs_to_come_have_a_first_day():
    found = ladder([day(1, 12)], ladder={"least_days": 10}, today=FIRST + dt.timedelta(days=4))
    first = [rung.not_before for rung in found.rungs]
    assert first[0] is None
    assert [(d - dt.date(2026, 5, 1)).days for d in first[1:]] == [10, 20, 30]
    assert found.rungs[0].since == dt.date(2026, 5, 1)


@pytest.mark.parametrize(
    ("learner", "hazards", "cautions"),
    [
        (Learner(), [], [(), (), (), ()]),
        (Learner(), ["jumping"], [(), ("surface",), ("surface",), ("surface",)]),
        (
            Learner(health=frozenset({"growing"})),
            ["jumping"],
            [(), ("surface",), ("growing", "surface"), ("growing", "surface")],
        ),
        (
            Learner(withers_cm=30),
            ["jumping"],
            [(), ("surface",), ("surface",), ("withers", "surface")],
        ),
        (Learner(withers_cm=5, health=frozenset({"growing"})), [], [(), (), (), ()]),
    ],
)
def test_cautions_stand_where_a_rung_passes_a_limit(learner, hazards, cautions):
    found = ladder([day(1, 12)], learner=learner, hazards=hazards)
    assert [rung.cautions for rung in found.rungs] == cautions


def test_withers_are_held_against_inches_too():
    inches = {**HEIGHT, "unit": "in"}
    found = ladder([], quantity=inches, learner=Learner(withers_cm=60), hazards=["jumping"])
    # 60 cm are 23.6 in.
    assert ["withers" in rung.cautions for rung in found.rungs] == [False, False, True, True]


def test_withers_are_held_against_feet_too():
    feet = {**HEIGHT, "unit": "ft"}
    found = ladder(
        [], quantity=feet, rungs=[1, 2, 3], learner=Learner(withers_cm=60.97), hazards=["jumping"]
    )
    # Two feet are 60.96 cm.
    assert ["withers" in rung.cautions for rung in found.rungs] == [False, False, True]


def test_a_limit_of_ones_own():
    found = ladder([], ladder={"limit": 30})
    assert [rung.cautions for rung in found.rungs] == [(), (), (), ("limit",)]


def test_the_aims_of_the_steps_are_the_rungs_where_none_are_listed():
    steps = [{"key": f"at{aim}", "quantity": {**HEIGHT, "target": aim}} for aim in (20, 40, 60)]
    (found,) = quantity_ladders(plan_of(*steps), [], None, TODAY)
    assert [(rung.value, rung.step) for rung in found.rungs] == [
        (20, "at20"), (40, "at40"), (60, "at60"),
    ]  # fmt: skip
    assert quantity_ladders(plan_of(steps[0]), [], None, TODAY) == ()


@given(st.lists(st.lists(st.integers(0, 60), min_size=1, max_size=14), max_size=5),
       st.sampled_from(["run", "share", "block", "percentile", "comfort"]))  # fmt: skip
def test_no_rung_is_left_out_and_none_passed(sessions, rule):
    digests = [day(n, *values) for n, values in enumerate(sessions, 1)]
    before = None
    for upto in range(1, len(digests) + 1):
        found = ladder(digests[:upto], rule=rule)
        assert 0 <= found.at < len(RUNGS)
        seen = [rung for rung in found.rungs if rung.since is not None]
        assert seen == list(found.rungs[: len(seen)])
        values = [value for one in sessions[:upto] for value in one]
        assert found.best == max(values)
        assert found.middle == median(values[-LOOKED_AT:])
        if before is not None:
            assert abs(found.at - before) <= len(sessions[upto - 1])
        before = found.at
