"""What is varied next, after whole sessions and their judgement: the animal's ease before all."""

from __future__ import annotations

import datetime as dt

import pytest

from frequens.core.programme.asking import asks_of, weak_of
from frequens.core.programme.variation import Held, variation_of

from .training_days import FIRST, Day, digest_of, judged, plan_of

PLAN = plan_of("touch", "pull", "ring", rule="run need=5")
CONDITIONS = [
    {"name": "distance", "levels": ["1 m", "2 m"]},
    {"name": "place", "levels": ["yard", "barn"]},
]
WHOLE = {**PLAN, "conditions": CONDITIONS}
NEAR, FAR = {"distance": "1 m", "place": "yard"}, {"distance": "2 m", "place": "yard"}
TODAY = FIRST + dt.timedelta(days=6)


def variation(*days, plan=WHOLE, **more):
    around = more.pop("around", {})
    ordered = [Held(digest_of(day), **around) for day in sorted(days, key=lambda day: day.n)]
    return variation_of(ordered, judged(*days), plan, TODAY, **more)


def day(n, step="pull"):
    return Day(PLAN, n).at(step)


def mixed(n=1):
    """A step that is being worked on, with conditions told."""
    return day(n).fits(4, conditions=NEAR).misses(1, conditions=NEAR).fits(3, conditions=NEAR)


@pytest.mark.parametrize(
    ("made", "decision", "asks"),
    [
        (day(1).fits(4), "hold", "steady"),
        (day(1).fits(6), "raise", "step"),
        (day(1, "ring").fits(6), "proof", "more"),
        (day(1).fits(2).misses(3), "lower", "step"),
        (day(1).fits(4).sign(3), "end", "ease"),
        (day(1).fits(6).sign(2, 3), None, "ease"),
    ],
)
def test_how_much_may_be_asked(made, decision, asks):
    found = judged(made)
    assert decision in (None, found.decision), found
    assert asks_of(found) == asks


def test_a_step_that_is_raised_begins_at_the_easiest_levels():
    made = day(1).fits(5, conditions=NEAR).fits(6, conditions=FAR)
    found = variation(made)
    # The rows say where the step that was worked holds.
    stands = {row.name: row.stands_at for row in found.rows}
    assert stands == {"distance": "2 m", "place": "yard"}
    assert (found.next.why, found.next.levels) == ("step", NEAR)


def test_the_last_step_goes_to_a_new_level():
    found = variation(day(1, "ring").fits(6, conditions=NEAR)).next
    assert (found.why, found.condition, found.level) == ("next", "distance", "2 m")


def test_a_step_under_work_takes_no_new_level():
    assert variation(mixed()).next.why == "steady"


def test_where_it_lags_is_where_to_work():
    made = day(1).fits(8, conditions=NEAR)
    made.misses(2, conditions=FAR).fits(1, conditions=FAR).misses(2, conditions=FAR)
    made.fits(5, conditions=NEAR)
    said = judged(made)
    assert (said.why.code, weak_of(said)) == ("uneven", ("distance", "2 m"))
    found = variation(made).next
    assert (found.why, found.level, found.raised) == ("weak", "2 m", "distance")


def test_what_an_easier_step_did_says_nothing_of_this_one():
    easier = day(1, "touch").fits(6, conditions=FAR)
    found = variation(easier, day(2).fits(4, conditions=NEAR))
    cells = {one.level: one.cell.judged for one in found.rows[0].levels}
    assert cells == {"1 m": 4, "2 m": 0}


def test_an_easy_end_is_not_what_was_worked_on():
    worked = mixed()
    worked.at("touch").fits(1, conditions=NEAR)
    found = variation(worked)
    assert {one.level: one.cell.judged for one in found.rows[0].levels} == {"1 m": 8, "2 m": 0}
    assert found.next.why == "steady"


def test_what_a_harder_step_did_counts_for_this_one():
    harder = day(1, "ring").fits(5, conditions=FAR)
    found = variation(harder, day(2).fits(4, conditions=NEAR))
    assert {one.level: one.cell.judged for one in found.rows[0].levels} == {"1 m": 4, "2 m": 5}


def test_the_trainer_may_choose_another_step():
    made = day(1).fits(5, conditions=NEAR).fits(6, conditions=FAR)
    assert variation(made, next_step="pull").next.levels == {"distance": "2 m", "place": "yard"}


def test_the_sessions_own_place_and_person_stand_where_no_rep_names_one():
    people = {"name": "handler", "levels": ["wren", "tansy"]}
    whole = {**WHOLE, "conditions": [*CONDITIONS, people]}
    made = day(1).fits(3).fits(1, conditions={"place": "barn"})
    found = variation(made, plan=whole, around={"place": "yard", "handler": "tansy"})
    cells = {
        (row.name, one.level): one.cell.judged
        for row in found.rows
        for one in row.levels
        if one.cell.judged
    }
    assert cells == {("place", "yard"): 3, ("place", "barn"): 1, ("handler", "tansy"): 4}
    # Where a session was says nothing of what lay on the ground there.
    ground = {"name": "surface", "levels": ["yard", "straw"]}
    on_ground = variation(made, plan={**WHOLE, "conditions": [ground]}, around={"place": "yard"})
    (row,) = [row for row in on_ground.rows if row.name == "surface"]
    assert [one.cell.judged for one in row.levels] == [0, 0]
    # What the plan does not vary is no row of it.
    assert [row.name for row in variation(made, around={"handler": "tansy"}).rows] == [
        "distance",
        "place",
    ]


@pytest.mark.parametrize(("fades", "why"), [(6, "due"), (7, "steady")])
def test_after_how_long_a_level_is_due_is_the_plans(fades, why):
    whole = {**WHOLE, "programme": {"fades_days": fades}}
    made = day(1).fits(8, conditions=NEAR).misses(1).fits(2)
    assert variation(made, plan=whole).next.why == why


def test_nothing_filmed_yet_begins_at_the_first_levels():
    found = variation_of([], None, WHOLE, TODAY).next
    assert (found.why, found.levels) == ("next", NEAR)
