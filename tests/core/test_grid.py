"""The variation grid: states at their limits, one condition at a time, and nothing forgotten.

The rules are common practice without a source; Wilson's interval is held to statsmodels.
"""

from __future__ import annotations

import datetime as dt
import random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.proportion import proportion_confint

from frequens.core.programme.grid import FADES_DAYS, Tried, variation_grid

MONDAY = dt.date(2026, 5, 4)
PLAN = [
    ("side", ["right", "left"]),
    ("distance", ["1 m", "2 m", "4 m"]),
    ("place", ["yard", "barn"]),
]


def reps(met, of, days_ago=0, **conditions):
    """So many judged reps with these conditions, those that fit first."""
    day = MONDAY - dt.timedelta(days=days_ago)
    return [Tried(day, conditions, n < met) for n in range(of)]


def cell(tried, name="distance", level="1 m", **more):
    rows = {row.name: row for row in variation_grid(PLAN, tried, MONDAY, **more).rows}
    return next(one.cell for one in rows[name].levels if one.level == level)


@pytest.mark.parametrize(
    ("met", "of", "state"),
    [
        *((0, 0, "untried"), (1, 1, "few"), (4, 4, "few"), (4, 5, "holds"), (3, 5, "building")),
        *((2, 5, "weak"), (5, 10, "building"), (4, 10, "weak"), (8, 10, "holds")),
        (7, 10, "building"),
    ],
)
def test_how_a_level_stands(met, of, state):
    assert cell(reps(met, of, distance="1 m")).state == state


def test_only_the_last_ten_say_how_it_stands_and_all_are_counted():
    found = cell(reps(0, 10, 3, distance="1 m") + reps(10, 10, 1, distance="1 m"))
    assert (found.state, found.judged, found.success.of, found.success.count) == (
        "holds",
        20,
        10,
        10,
    )
    low, high = proportion_confint(10, 10, method="wilson")
    assert (found.success.low, found.success.high) == (pytest.approx(low), pytest.approx(high))


@pytest.mark.parametrize(
    ("days", "is_due"), [(FADES_DAYS - 1, False), (FADES_DAYS, True), (FADES_DAYS + 30, True)]
)
def test_what_was_not_tried_for_two_weeks_is_due_again(days, is_due):
    found = cell(reps(9, 10, days, distance="1 m"))
    assert (found.days_since, found.is_due) == (days, is_due)
    assert cell(reps(9, 10, days, distance="1 m"), fades_days=days + 1).is_due is False
    # What never held cannot be lost, and what has no day does not grow old.
    assert not cell(reps(1, 10, days, distance="1 m")).is_due
    assert not cell([Tried(None, {"distance": "1 m"}, True)] * 10).is_due


def test_what_was_coded_and_not_planned_stands_behind_and_is_never_asked_for():
    tried = reps(1, 6, distance="9 m", weather="rain")
    grid = variation_grid(PLAN, tried, MONDAY)
    distance = next(row for row in grid.rows if row.name == "distance")
    assert [(one.level, one.in_plan) for one in distance.levels][-1] == ("9 m", False)
    assert [row.name for row in grid.rows][-1] == "weather"
    assert grid.next.condition != "weather"
    assert "weather" not in grid.next.levels


def test_two_conditions_meet_in_a_cell():
    tried = reps(5, 6, side="left", distance="2 m") + reps(1, 6, side="left", distance="1 m")
    crossing = variation_grid(PLAN, tried, MONDAY).crossings[0]
    assert (crossing.first, crossing.second) == ("side", "distance")
    right, left = crossing.cells
    assert [one.judged for one in right] == [0, 0, 0]
    assert [(one.judged, one.success.count) for one in left] == [(6, 1), (6, 5), (0, 0)]


def held(*levels, days_ago=1):
    """Reps that make these levels hold."""
    return [one for name, level in levels for one in reps(9, 10, days_ago, **{name: level})]


FIRSTS = [("side", "right"), ("distance", "1 m"), ("place", "yard")]


@pytest.mark.parametrize(
    ("tried", "why", "condition", "level"),
    [
        ([], "next", "side", "right"),
        (held(*FIRSTS), "next", "side", "left"),
        (held(*FIRSTS) + reps(1, 6, 1, distance="2 m"), "weak", "distance", "2 m"),
        (held(*FIRSTS[:2]) + held(FIRSTS[2], days_ago=20), "due", "place", "yard"),
        (held(*FIRSTS) + reps(2, 3, 1, place="barn"), "building", "place", "barn"),
        (held(*FIRSTS, ("side", "left")), "next", "distance", "2 m"),
    ],
)
def test_what_is_next(tried, why, condition, level):
    found = variation_grid(PLAN, tried, MONDAY).next
    assert (found.why, found.condition, found.level) == (why, condition, level)
    assert found.levels[condition] == level


def test_a_new_place_takes_everything_else_a_level_back():
    tried = held(*FIRSTS, ("side", "left"), ("distance", "2 m"), ("distance", "4 m"))
    found = variation_grid(PLAN, tried, MONDAY).next
    assert (found.condition, found.level, found.raised) == ("place", "barn", "place")
    assert found.levels == {"side": "right", "distance": "2 m", "place": "barn"}


def test_while_it_is_not_at_ease_only_what_holds_is_asked_for():
    tried = held(*FIRSTS) + reps(1, 6, 1, distance="2 m") + held(("side", "left"), days_ago=30)
    found = variation_grid(PLAN, tried, MONDAY, asks="ease").next
    assert (found.why, found.condition, found.raised) == ("ease", None, None)
    assert found.levels == {"side": "right", "distance": "1 m", "place": "yard"}


def test_while_the_step_itself_changes_its_conditions_stay_where_they_hold():
    tried = held(*FIRSTS) + reps(1, 6, 1, distance="2 m")
    found = variation_grid(PLAN, tried, MONDAY, asks="step").next
    assert (found.why, found.condition, found.raised) == ("step", None, None)
    assert found.levels == found.stands == {"side": "right", "distance": "1 m", "place": "yard"}


def test_a_step_that_is_worked_on_takes_no_new_level_but_mends_what_lags():
    assert variation_grid(PLAN, held(*FIRSTS), MONDAY, asks="steady").next.why == "steady"
    weak = held(*FIRSTS) + reps(1, 6, 1, distance="2 m")
    found = variation_grid(PLAN, weak, MONDAY, asks="steady").next
    assert (found.why, found.condition, found.level) == ("weak", "distance", "2 m")
    assert found.stands["distance"] == "1 m"


def test_where_the_judgement_found_it_to_lag_comes_first():
    tried = held(*FIRSTS) + reps(1, 6, 1, distance="2 m") + reps(2, 6, 1, place="barn")
    found = variation_grid(PLAN, tried, MONDAY, weak=("place", "barn")).next
    assert (found.why, found.condition, found.level) == ("weak", "place", "barn")
    # What is not in the plan cannot be worked on by it.
    found = variation_grid(PLAN, tried, MONDAY, weak=("weather", "rain")).next
    assert (found.condition, found.level) == ("distance", "2 m")


def test_another_person_begins_two_steps_below_and_the_first_does_not():
    plan = [("handler", ["wren", "tansy"]), ("distance", ["1 m"])]
    assert variation_grid(plan, [], MONDAY).next.steps_back == 0
    tried = reps(9, 10, 1, handler="wren") + reps(9, 10, 1, distance="1 m")
    found = variation_grid(plan, tried, MONDAY).next
    assert (found.why, found.level, found.steps_back) == ("next", "tansy", 2)
    once = variation_grid(plan, tried + reps(1, 2, 0, handler="tansy"), MONDAY).next
    assert (once.why, once.steps_back) == ("building", 0)


def test_what_to_keep_in_mind_at_a_second_place_and_with_another_person():
    plan = [("place", ["yard", "barn", "field"])]
    tried = []
    minds = {}
    for level in plan[0][1]:
        found = variation_grid(plan, tried, MONDAY).next
        assert found.level == level
        minds[level] = found.minds
        tried += reps(9, 10, 1, place=level)
    # The first is where it begins; the third has two to be told from already.
    assert minds == {"yard": (), "barn": ("apart",), "field": ()}
    plan = [("handler", ["wren", "tansy"])]
    with_wren = reps(9, 10, 1, handler="wren")
    assert variation_grid(plan, with_wren, MONDAY).next.minds == ("child",)
    assert variation_grid(plan, [], MONDAY).next.minds == ()


def test_a_new_place_goes_a_step_back_where_no_level_can():
    plan = [("place", ["yard", "barn"])]
    found = variation_grid(plan, reps(9, 10, 1, place="yard"), MONDAY).next
    assert (found.level, found.steps_back) == ("barn", 1)
    assert variation_grid(plan, [], MONDAY).next.steps_back == 0
    both = [*plan, ("distance", ["1 m", "2 m"])]
    tried = reps(9, 10, 1, place="yard")
    for level in ("1 m", "2 m"):
        tried += reps(9, 10, 1, distance=level)
    found = variation_grid(both, tried, MONDAY).next
    assert (found.levels, found.steps_back) == ({"place": "barn", "distance": "1 m"}, 0)


def test_when_all_holds_nothing_is_raised():
    tried = held(*((name, level) for name, levels in PLAN for level in levels))
    found = variation_grid(PLAN, tried, MONDAY).next
    assert (found.why, found.condition, found.raised) == ("all_hold", None, None)
    assert found.levels == {"side": "left", "distance": "4 m", "place": "barn"}


def test_without_conditions_there_is_nothing_to_vary():
    assert variation_grid([], reps(3, 6, weather="rain"), MONDAY).next.why == "no_conditions"


def test_a_name_or_level_written_down_twice_stands_there_once():
    (row,) = variation_grid([("side", ["a", "a"]), ("side", ["b", "a"])], [], MONDAY).rows
    assert [one.level for one in row.levels] == ["a", "b"]
    assert all(one.in_plan for one in row.levels)


tries = st.lists(
    st.builds(
        lambda side, distance, place, met, ago: Tried(
            MONDAY - dt.timedelta(days=ago),
            {"side": side, "distance": distance, "place": place},
            met,
        ),
        st.sampled_from(PLAN[0][1]),
        st.sampled_from(PLAN[1][1]),
        st.sampled_from(PLAN[2][1]),
        st.booleans(),
        st.integers(0, 40),
    ),
    max_size=60,
)


@given(tries)
def test_two_conditions_are_never_raised_in_one_session(tried):
    grid = variation_grid(PLAN, tried, MONDAY)
    above = []
    for row in grid.rows:
        order = [one.level for one in row.levels]
        stands = order.index(row.stands_at) if row.stands_at else 0
        if order.index(grid.next.levels[row.name]) > stands:
            above.append(row.name)
    assert len(above) <= 1
    if above:
        assert grid.next.raised == above[0]


@given(tries)
def test_what_is_due_or_weak_comes_up_within_as_many_sessions_as_there_are_levels(tried):
    """Each session works at what is next, and it goes well; nothing waits for ever."""
    tried = list(tried)
    for _ in range(sum(len(levels) for _, levels in PLAN)):
        found = variation_grid(PLAN, tried, MONDAY, asks="steady").next
        if found.why == "steady":
            break
        tried += reps(10, 10, 0, **found.levels)
    states = [
        (one.cell.is_due, one.cell.state == "weak")
        for row in variation_grid(PLAN, tried, MONDAY).rows
        for one in row.levels
    ]
    assert not any(due or weak for due, weak in states)


@given(tries)
def test_every_planned_condition_gets_a_level_of_its_own(tried):
    found = variation_grid(PLAN, tried, MONDAY).next
    assert found.levels.keys() == {name for name, _ in PLAN}
    assert all(found.levels[name] in levels for name, levels in PLAN)


@pytest.mark.parametrize("seed", range(5))
def test_forty_weeks_of_a_learner_end_with_every_level_tried(seed):
    """It learns a level by practice and forgets one it is not asked for (a made-up learner)."""
    chance = random.Random(seed)
    skill = {(name, level): 0.35 for name, levels in PLAN for level in levels}
    tried, day, dues = [], MONDAY, 0
    for _ in range(3 * 40):
        day += dt.timedelta(days=chance.choice([2, 2, 3]))
        found = variation_grid(PLAN, tried, day)
        dues += found.next.why == "due"
        for _ in range(8):
            worked = found.next.levels.items()
            met = chance.random() < min(skill[item] for item in worked)
            tried.append(Tried(day, dict(worked), met))
        for item in skill:
            practised = item in found.next.levels.items()
            skill[item] = (
                min(0.97, skill[item] + 0.12) if practised else max(0.3, skill[item] - 0.01)
            )
    rows = variation_grid(PLAN, tried, day).rows
    assert all(one.cell.judged >= 5 for row in rows for one in row.levels)
    assert dues > 0


def test_every_due_level_comes_up_again_within_as_many_sessions_as_there_are_levels():
    tried = held(*((name, level) for name, levels in PLAN for level in levels), days_ago=30)
    due = {(name, level) for name, levels in PLAN for level in levels}
    day = MONDAY
    for _ in range(len(due)):
        found = variation_grid(PLAN, tried, day).next
        assert found.why == "due"
        tried += [Tried(day, dict(found.levels), True)] * 6
        due -= set(found.levels.items())
        if not due:
            break
        day += dt.timedelta(days=1)
    assert not due
