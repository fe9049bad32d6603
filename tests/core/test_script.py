"""Scripts of sessions: what holds of each, and where the rules of practice show."""

from __future__ import annotations

import datetime as dt
from itertools import groupby

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from frequens.core.programme.chaining import Linked, chaining
from frequens.core.programme.grid import Tried, variation_grid
from frequens.core.programme.mixing import MOST_ALIKE, least_alike
from frequens.core.programme.script import (
    NEW_SHARE,
    PART_REPS,
    ScriptLine,
    ScriptOrder,
    Sides,
    session_script,
)
from frequens.core.programme.script_document import InvalidScript, read_script, write_script
from frequens.core.programme.script_order import script_order

MONDAY = dt.date(2026, 3, 2)
NEW, HOLDS = {"distance": "4 m"}, {"distance": "2 m"}

orders = st.builds(
    ScriptOrder,
    reps=st.integers(1, 60),
    criterion=st.just("ring"),
    warm_up=st.sampled_from(["pull", None]),
    levels=st.sampled_from([{}, HOLDS, NEW]),
    easier=st.sampled_from([{}, HOLDS]),
    sides=st.sampled_from([None, Sides("side", ("left", "right")), Sides("side", ("a", "b"), "b")]),
    cues=st.sampled_from([(), ("bell",), ("bell", "horn", "whistle")]),
    new_share=st.floats(0.1, 1),
    part=st.sampled_from([None, "peg"]),
    wait_share=st.floats(0, 0.9),
    placement=st.sampled_from([{}, {"off": 0.75, "on": 0.25}, {"in_place": 1.0}]),
    in_place=st.booleans(),
)


def work(script):
    return [one for one in script.lines if one.phase == "work" and one.sort != "break"]


def blocks(script):
    """The blocks of work, by the breaks between."""
    found = [
        [line for line in same if line.phase == "work"]
        for is_break, same in groupby(script.lines, lambda line: line.sort == "break")
        if not is_break
    ]
    return [block for block in found if block]


def longest_run(values):
    return max((len(list(same)) for _, same in groupby(values)), default=0)


@given(orders, st.integers(0, 2**32))
def test_what_holds_of_every_script(order, seed):
    script = session_script(order, seed)
    assert script == session_script(order, seed)
    done = [line for line in script.lines if line.sort != "break"]
    assert len(done) == order.reps
    # Breaks lie between reps, never two together.
    assert all(
        not (one.sort == "break" == two.sort)
        for one, two in zip(script.lines, script.lines[1:], strict=False)
    )
    assert script.lines[0].sort != "break" != script.lines[-1].sort
    waits = sum(line.sort == "wait" for line in done)
    worked = work(script)
    alone = [line for line in done if line.phase == "part"]
    assert len(alone) in (0, PART_REPS)
    assert all((line.step, line.sort, line.pays) == ("peg", "rep", 1) for line in alone)
    assert not alone or len(worked) >= PART_REPS
    assert waits == min(round(len(worked) * order.wait_share), max(0, len(worked) - 1))
    sorts = {"rep": len(worked) - waits, "wait": waits}
    assert longest_run(line.sort for line in worked) <= max(MOST_ALIKE, least_alike(sorts))
    if worked and 2 * waits <= len(worked):
        assert worked[0].sort == "rep"
    if order.warm_up is not None and order.reps > 1:
        # Easy first and easy last, and never asked to wait there.
        assert (done[-1].phase, done[-1].step, done[-1].sort) == ("end", "pull", "rep")
    assert {line.levels.get("distance") for line in done} <= {None, "2 m", "4 m"}


@given(orders, st.integers(0, 2**32))
def test_the_budget_of_places_is_kept(order, seed):
    assume(order.placement)
    script = session_script(order, seed)
    done = [line.placement for line in script.lines if line.sort != "break"]
    for place, share in order.placement.items():
        assert abs(done.count(place) - share * order.reps) < 1
    spread = {place: done.count(place) for place in order.placement}
    assert longest_run(done) <= max(MOST_ALIKE, least_alike(spread))
    assert all(line.placement is None for line in script.lines if line.sort == "break")


def test_a_few_reps_before_the_first_break_and_more_before_the_next():
    script = session_script(ScriptOrder(20, "ring", "pull"), 7)
    assert [len(block) for block in blocks(script)][:2] == [2, 4]
    assert all(2 <= len(block) <= 6 for block in blocks(script))
    assert [line.step for line in script.lines[:4]] == ["pull", "pull", "pull", None]


def test_the_easy_side_first_and_more_on_the_weak_one():
    sides = Sides("side", ("left", "right"), weak="right")
    script = session_script(ScriptOrder(20, "ring", "pull", sides=sides), 1)
    by_side = [[line.levels["side"] for line in block] for block in blocks(script)]
    assert by_side[:2] == [["left"] * 3, ["right"] * 5]
    assert sum(side == "right" for block in by_side for side in block) > 8


def test_a_new_level_is_entered_from_one_that_holds():
    script = session_script(ScriptOrder(24, "ring", "pull", levels=NEW, easier=HOLDS), 3)
    levels = [line.levels for line in work(script)]
    assert levels[0] == HOLDS
    assert levels.count(NEW) == round(len(levels) * NEW_SHARE)
    assert script.lines[0].levels == script.lines[-1].levels == HOLDS


@pytest.mark.parametrize(("share", "new"), [(1, 20), (0.95, 19), (0.5, 10), (0.1, 2)])
def test_the_share_at_a_new_level_is_the_plans(share, new):
    order = ScriptOrder(24, "ring", "pull", levels=NEW, easier=HOLDS, new_share=share)
    levels = [line.levels for line in work(session_script(order, 3))]
    assert (len(levels), levels.count(NEW)) == (20, new)


@pytest.mark.parametrize(("reps", "alone"), [(10, 3), (8, 0)])
def test_a_part_of_a_chain_alone_comes_before_the_chain(reps, alone):
    script = session_script(ScriptOrder(reps, "all", "pull", part="peg"), 3)
    phases = [line.phase for line in script.lines if line.sort != "break"]
    assert phases.count("part") == alone
    assert phases == sorted(phases, key=["warm_up", "part", "work", "end"].index)


def test_cues_are_asked_as_often_as_one_another():
    order = ScriptOrder(26, "tell", None, cues=("bell", "horn", "whistle"), wait_share=0.3)
    asked = [line.cue for line in work(session_script(order, 5)) if line.sort == "rep"]
    assert {asked.count(cue) for cue in order.cues} == {6}
    assert longest_run(asked) <= MOST_ALIKE


def test_rewards_in_place_grow_block_by_block_and_a_wait_is_paid_once():
    order = ScriptOrder(30, "stand", "pull", in_place=True, wait_share=0.3)
    found = blocks(session_script(order, 2))
    assert [{line.pays for line in block if line.sort == "rep"} for block in found[:3]] == [
        {3},
        {4},
        {5},
    ]
    assert {line.pays for block in found for line in block if line.sort == "wait"} == {1}


@pytest.mark.parametrize("reps", [0, 61])
def test_a_script_of_no_or_too_many_reps_is_refused(reps):
    with pytest.raises(ValueError, match="reps"):
        session_script(ScriptOrder(reps, "ring"), 0)


@pytest.mark.parametrize("reps", [1, 60])
def test_one_rep_or_sixty_make_a_script(reps):
    assert (
        sum(line.sort != "break" for line in session_script(ScriptOrder(reps, "r"), 0).lines)
        == reps
    )


def test_nothing_but_waiting_is_refused():
    for share in (0, 1.1):
        with pytest.raises(ValueError, match="new_share"):
            session_script(ScriptOrder(5, "ring", new_share=share), 0)
    with pytest.raises(ValueError, match="wait_share"):
        session_script(ScriptOrder(5, "ring", wait_share=1.0), 0)


# -- what the order is made of -------------------------------------------------------------

PLAN = {
    "approximations": [
        {"key": "look"},
        {"key": "touch"},
        {"key": "pull", "raises": ["duration"]},
        {"key": "ring", "hold_s": 2},
    ],
    "conditions": [
        {"name": "side", "levels": ["left", "right"]},
        {"name": "handler", "levels": ["wren", "tansy"]},
    ],
    "cue": {"name": "bell", "from_step": "pull"},
    "after_marker": "stay",
    "placement": {"off": 0.75, "on": 0.25},
}
DISTANCE = {"name": "distance", "levels": ["1 m", "2 m"]}
CARD = {
    "criterion": "ring",
    "warm_up": "pull",
    "warm_up_reps": 3,
    "reps": None,
    "expected_reps": 18,
}


def held(met, n, **conditions):
    return [Tried(MONDAY, conditions, place < met) for place in range(n)]


def order_after(tried, plan=PLAN, card=CARD, asks="more"):
    planned = [(one["name"], one["levels"]) for one in plan["conditions"]]
    return script_order(card, variation_grid(planned, tried, MONDAY, asks=asks), plan)


BOTH_SIDES = held(9, 10, side="right") + held(8, 10, side="left")


def test_another_person_begins_two_steps_below_and_the_cue_waits_for_its_step():
    order = order_after(BOTH_SIDES + held(10, 10, handler="wren"))
    assert (order.criterion, order.warm_up) == ("touch", "look")
    # Nobody hands the animal over between two reps.
    assert order.levels["handler"] == order.easier["handler"] == "tansy"
    assert order.wait_share == 0
    assert order.in_place is False


def test_at_a_cued_step_asking_and_waiting_take_turns():
    assert order_after(BOTH_SIDES, asks="step").wait_share == 0.5
    plan = {**PLAN, "programme": {"wait_share": 0.2}}
    assert order_after(BOTH_SIDES, plan, asks="step").wait_share == 0.2
    below = {**CARD, "criterion": "touch"}
    assert order_after(BOTH_SIDES, card=below, asks="step").wait_share == 0


def test_a_step_that_answers_is_asked_by_every_cue_of_the_plan():
    cues = [{"label": "bell", "behaviour": "ring"}, {"label": "mat", "behaviour": "lie"}]
    steps = [*PLAN["approximations"][:-1], {"key": "ring", "answers": True}]
    plan = {**PLAN, "cues": cues, "approximations": steps}
    assert order_after(BOTH_SIDES, plan, asks="step").cues == ("bell", "mat")
    assert order_after(BOTH_SIDES, {**PLAN, "cues": cues}, asks="step").cues == ()


CHAIN = {
    "approximations": [
        {"key": "peg", "title": "takes it"},
        {"key": "all", "parts": [{"key": "t", "title": "takes it"}, {"key": "d"}, {"key": "b"}]},
    ],
    "conditions": [],
}


def test_the_part_that_breaks_is_done_alone_where_the_plan_has_a_step_for_it():
    counts = [(10, 10), (10, 10), (5, 10)]
    parts = [
        {"key": key, "reached": {"count": count, "of": of}}
        for key, (count, of) in zip("tdb", counts, strict=True)
    ]
    links = [Linked(MONDAY, {"all": {"attempts": 10, "parts": parts}})]
    broken = {**CARD, "criterion": "all", "warm_up": "peg", "chain": chaining(CHAIN, links, [])}
    assert broken["chain"].next.beside == ("b",)
    # The last part breaks, and no step trains it alone.
    assert order_after([], CHAIN, broken).part is None
    plan = {**CHAIN, "approximations": [*CHAIN["approximations"], {"key": "b"}]}
    broken["chain"] = chaining(plan, links, [])
    assert order_after([], plan, broken).part == "b"
    assert order_after([], plan, {**broken, "criterion": "b"}).part is None


def test_a_part_not_sure_yet_is_the_work_or_beside_it():
    plan = {"approximations": [{"key": key, "title": key} for key in "td"], "conditions": []}
    plan["approximations"].append({"key": "all", "parts": [{"key": k, "title": k} for k in "tdb"]})
    whole = {**CARD, "criterion": "all", "warm_up": "t"}
    # Nothing is joined: the part to make sure first is trained alone.
    chain = chaining(plan, [], [])
    assert (chain.next.why, chain.next.parts, chain.next.beside) == ("part", ("d",), ())
    assert order_after([], plan, {**whole, "chain": chain}).part == "d"
    # Two are joined and hold: before the next is joined, it too is made sure alone.
    parts = [{"key": key, "reached": {"count": 10, "of": 10}} for key in "db"]
    chain = chaining(plan, [Linked(MONDAY, {"all": {"attempts": 10, "parts": parts}})], [])
    assert (chain.next.why, chain.next.beside) == ("part", ())
    assert order_after([], plan, {**whole, "chain": chain}).part == "t"
    # A link that breaks is the work itself; what is trained beside it has no step in this plan.
    mended = [{"key": key, "reached": {"count": n, "of": 10}} for key, n in (("d", 10), ("b", 4))]
    chain = chaining(plan, [Linked(MONDAY, {"all": {"attempts": 10, "parts": mended}})], [])
    assert (chain.next.why, chain.next.parts, chain.next.beside) == ("mend", ("d", "b"), ("b",))
    assert order_after([], plan, {**whole, "chain": chain}).part is None


def test_the_side_that_went_best_comes_first():
    order = order_after(BOTH_SIDES, asks="step")
    assert order.sides == Sides("side", ("right", "left"), None)
    lagging = held(9, 10, side="right") + held(3, 10, side="left")
    assert order_after(lagging, asks="step").sides == Sides("side", ("right", "left"), "left")


def test_a_session_in_a_new_place_is_there_from_first_to_last():
    plan = {**PLAN, "conditions": [{"name": "place", "levels": ["yard", "barn"]}, DISTANCE]}
    tried = held(9, 10, place="yard") + held(9, 10, distance="1 m") + held(9, 10, distance="2 m")
    order = order_after(tried, plan)
    lines = [one for one in session_script(order, 4).lines if one.sort == "rep"]
    # And everything else a level back, at no rep harder than that.
    assert {(one.levels["place"], one.levels["distance"]) for one in lines} == {("barn", "1 m")}


def test_it_begins_and_ends_on_the_easy_side():
    order = order_after(BOTH_SIDES, asks="step")
    lines = session_script(order, 3).lines
    assert lines[0].levels["side"] == lines[-1].levels["side"] == "right"


def test_a_side_never_tried_is_worked_on_as_any_new_level():
    order = order_after(held(10, 10, side="left"))
    assert order.sides is None
    assert (order.levels["side"], order.easier["side"]) == ("right", "left")


def test_a_step_held_is_paid_in_place_where_the_plan_says_stay():
    assert order_after(BOTH_SIDES, asks="step").in_place
    assert not order_after(BOTH_SIDES, {**PLAN, "after_marker": "release"}, asks="step").in_place


@pytest.mark.parametrize(("said", "reps"), [(None, 18), (7, 7), (500, 60)])
def test_as_many_reps_as_the_card_says_or_expects(said, reps):
    assert order_after([], card={**CARD, "reps": said}).reps == reps


# -- as a document -------------------------------------------------------------------------


@given(orders, st.integers(0, 2**32))
def test_a_script_reads_back_as_it_was_written(order, seed):
    script = session_script(order, seed)
    assert read_script(write_script(script)) == script


@pytest.mark.parametrize(
    ("change", "fault"),
    [
        ({"format": "frequens-plan"}, "format: must be one of frequens-script"),
        ({"version": 2}, "version: must lie from 1 to 1, not 2"),
        ({"seed": None}, "seed: missing"),
        ({"seed": 2**53 + 1}, "seed: must lie from 0 to"),
        ({"seed": -1}, "seed: must lie from 0 to"),
        ({"lines": [{"sort": "rep"}]}, "lines[0].phase: missing"),
        ({"lines": [{"sort": "nap", "phase": "work"}]}, "lines[0].sort: must be one of rep"),
        ({"lines": [{"sort": "rep", "phase": "work", "levels": {"side": 3}}]}, "levels.side"),
        ({"lines": [{"sort": "rep", "phase": "work", "pays": 101}]}, "lines[0].pays: must lie"),
        ({"lines": [{"sort": "rep", "phase": "work"}] * 121}, "lines: more than 120"),
        ({"more": 1}, "more: unknown key"),
    ],
)
def test_each_fault_of_a_script_is_named(change, fault):
    document = write_script(session_script(ScriptOrder(5, "ring"), 1)) | change
    with pytest.raises(InvalidScript) as refused:
        read_script(document)
    assert any(fault in said for said in refused.value.faults), refused.value.faults


def test_as_many_lines_as_may_be_are_read():
    document = write_script(session_script(ScriptOrder(5, "ring"), 1))
    line = {"sort": "rep", "phase": "work", "pays": 100}
    assert len(read_script({**document, "lines": [line] * 120}).lines) == 120
    assert read_script({**document, "lines": [line]}).lines == (
        ScriptLine("rep", "work", None, {}, None, None, 100),
    )
