"""How far a chain is joined and which link is next; intervals against statsmodels."""

from __future__ import annotations

import datetime as dt

import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.proportion import proportion_confint

from frequens.core.programme.chaining import Alone, Linked, chaining, parts_of

from .training_days import Day, judged, plan_of

MONDAY = dt.date(2026, 5, 4)
TITLES = {"take": "takes it", "carry": "carries it", "drop": "drops it in", "back": "comes back"}
PARTS = [{"key": key, "title": title} for key, title in TITLES.items()]


def plan(direction="backward", alone=(), joins=(("take", "back"),)):
    """Steps of one part each where they are named, and of several in a row."""
    singles = [{"key": f"only-{key}", "title": TITLES[key].upper()} for key in alone]
    keys = list(TITLES)
    runs = [
        {"key": f"{a}-{b}", "parts": PARTS[keys.index(a) : keys.index(b) + 1]} for a, b in joins
    ]
    return {
        "chain": {"direction": direction, "parts": list(TITLES.values())},
        "approximations": [*singles, *runs],
    }


def session(first, last, *reached, day=0, step="run"):
    """A session's chain from the one part to the other; how many came to each part."""
    keys = list(TITLES)
    own = keys[keys.index(first) : keys.index(last) + 1]
    tried = [reached[0], *reached[:-1]]
    parts = [
        {"key": key, "reached": {"count": count, "of": of}}
        for key, count, of in zip(own, reached, tried, strict=True)
    ]
    chains = {step: {"attempts": reached[0], "parts": parts}}
    return Linked(MONDAY + dt.timedelta(days=day), chains)


def reps(step, pattern):
    return [Alone(step, one == "+") for one in pattern]


@pytest.mark.parametrize(
    ("direction", "parts", "part"),
    [("backward", ("drop", "back"), "drop"), ("forward", ("take", "carry"), "carry")],
)
def test_it_begins_with_two_from_the_end_or_from_the_start(direction, parts, part):
    found = chaining(plan(direction), [], [])
    assert (found.next.why, found.next.parts, found.next.part) == ("begin", parts, part)
    assert (found.joined, found.next.step) == ((), None)


def test_a_part_that_is_trained_alone_is_sure_before_it_is_joined():
    taught = plan(alone=["drop", "back"], joins=[("drop", "back"), ("take", "back")])
    found = chaining(taught, [], reps("only-back", "++++-"))
    # Four of five: sure. The inner one of a chain from the end is its last.
    assert found.parts[3].is_sure
    assert (found.next.why, found.next.parts) == ("part", ("drop",))
    assert found.next.step == "only-drop"
    sure = reps("only-back", "++++-") + reps("only-drop", "+++++")
    found = chaining(taught, [], sure)
    assert (found.next.why, found.next.step) == ("begin", "drop-back")


@pytest.mark.parametrize(
    ("pattern", "is_sure"), [("++++", False), ("++++-", True), ("+++--", False)]
)
def test_sure_is_four_of_five(pattern, is_sure):
    found = chaining(plan(alone=["take"]), [], reps("only-take", pattern))
    assert found.parts[0].is_sure == is_sure


@pytest.mark.parametrize(
    ("came", "why"),
    [((4, 4), "keep"), ((5, 5), "join"), ((10, 9), "join"), ((10, 8), "mend"), ((5, 4), "mend")],
)
def test_one_more_part_once_the_join_holds(came, why):
    found = chaining(plan(), [session("drop", "back", *came)], [])
    assert found.next.why == why
    if why == "join":
        assert (found.next.parts, found.next.part) == (("carry", "drop", "back"), "carry")
    if why == "mend":
        assert (found.next.parts, found.next.part) == (("drop", "back"), "back")
        assert found.next.beside == ("back",)


def test_the_weakest_link_comes_before_all_others_and_the_earlier_of_two():
    found = chaining(plan(), [session("take", "back", 20, 16, 12, 6)], [])
    assert [j.is_weak for j in found.joins] == [True, True, True]
    assert found.next.parts == ("drop", "back")
    found = chaining(plan(), [session("take", "back", 20, 10, 10, 5)], [])
    assert found.next.parts == ("take", "carry")


def test_a_chain_that_holds_throughout_is_worked_as_a_whole():
    found = chaining(plan(), [session("take", "back", 12, 12, 11, 11)], [])
    assert (found.next.why, found.next.step) == ("whole", "take-back")
    assert found.joined == tuple(TITLES)


def test_a_join_is_told_from_the_latest_sessions_that_make_up_ten():
    sessions = [
        session("drop", "back", 30, 0),
        session("drop", "back", 6, 6, day=2),
        session("carry", "back", 6, 6, 5, day=4),
    ]
    join = chaining(plan(), sessions, []).joins[2]
    assert (join.reached.count, join.reached.of) == (11, 12)
    assert join.last_day == MONDAY + dt.timedelta(days=4)
    assert (join.reached.low, join.reached.high) == pytest.approx(
        proportion_confint(11, 12, method="wilson")
    )


def test_parts_that_are_not_joined_yet_are_trained_beside_one_at_a_time():
    taught = plan(alone=["take", "carry"])
    sessions = [session("drop", "back", 10, 10)]
    assert chaining(taught, sessions, []).next.parts == ("carry",)
    sure = reps("only-carry", "+++++")
    found = chaining(taught, sessions, sure).next
    assert (found.parts, found.beside) == (("carry", "drop", "back"), ("take",))


def made(*steps):
    """A judged session of a plan that is a chain."""
    return Day(plan_of(*steps, rule="run need=5"))


def test_the_judgement_decides_whether_anything_is_joined():
    links = [session("drop", "back", 10, 10)]
    on = judged(made("touch", "pull").at("touch").fits(6))
    held = judged(made("touch", "pull").at("touch").fits(3))
    assert (on.decision, held.decision) == ("raise", "hold")
    assert chaining(plan(), links, [], on).next.why == "join"
    assert chaining(plan(), links, [], held).next.why == "keep"
    # Also what does not hold is mended in a session that holds.
    weak = [session("drop", "back", 10, 5)]
    assert chaining(plan(), weak, [], held).next.why == "mend"


def test_after_unease_only_what_goes_best():
    tired = judged(made("touch", "pull").at("touch").fits(6).sign(3))
    links = [session("drop", "back", 10, 10)]
    found = chaining(plan(), links, [], tired).next
    assert (found.why, found.parts, found.beside) == ("ease", ("drop", "back"), ())
    sure = reps("only-take", "+++++")
    found = chaining(plan(alone=["take"]), links, sure, tired).next
    assert (found.why, found.parts) == ("ease", ("take",))
    # Of two joins that hold the surer one, of two sure parts likewise.
    both = [session("take", "back", 20, 18, 18, 17)]
    assert chaining(plan(), both, [], tired).next.parts == ("carry", "drop")
    two = reps("only-take", "++++-") + reps("only-drop", "+++++")
    assert chaining(plan(alone=["take", "drop"]), both, two, tired).next.parts == ("drop",)


def test_the_parts_are_those_of_the_longest_step_or_the_names_of_the_chain():
    assert parts_of(plan(joins=[("drop", "back")])) == {
        "takes_it": "takes it",
        "carries_it": "carries it",
        "drop": "drops it in",
        "back": "comes back",
    }
    assert parts_of({"approximations": [{"key": "a", "parts": PARTS}]}) == TITLES
    assert parts_of({"approximations": [{"key": "a", "parts": PARTS[:1]}]}) == {}
    assert chaining({"chain": {"parts": ["one"]}}, [], []) is None


@given(
    st.sampled_from(["forward", "backward"]),
    st.lists(st.tuples(st.integers(0, 3), st.lists(st.integers(0, 12), min_size=4, max_size=4))),
)
def test_never_more_than_one_part_is_added(direction, sessions):
    keys, linked = list(TITLES), []
    for size, counts in sessions:
        own = keys[: size + 1] if direction == "forward" else keys[-size - 1 :]
        came = [min(counts[: n + 1]) for n in range(len(own))]
        linked.append(session(own[0], own[-1], *came))
    found = chaining(plan(direction), linked, [])
    new = set(found.next.parts) - set(found.joined)
    assert len(new) <= (1 if found.joined else 2)
    # What is worked is always a stretch of the chain as it is done.
    places = [keys.index(key) for key in found.next.parts]
    assert places == list(range(places[0], places[0] + len(places)))
