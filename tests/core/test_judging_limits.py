"""Every line of the judgement on both sides of each of its limits."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

import pytest

from frequens.core.decisions.judging import Digest, digest_by_hand, judge
from frequens.core.decisions.judging.digest import Rise, Trial, Worked
from frequens.core.formats.session_document import read_plan
from frequens.core.model.events import ByHand, SessionRecord
from frequens.core.rules.judgement_numbers import Judging

from .training_days import codes, plan_of

EASY = plan_of("below", "step", "above")
_BLANK = digest_by_hand(SessionRecord(), ByHand())


def trials(pattern: str, step: str = "step", stretch: int = 0, **more: Any) -> tuple[Trial, ...]:
    values: dict[str, Any] = {"value": None, "help": "none", "conditions": {}, "id": None, **more}
    return tuple(Trial(step, stretch, one == "+", **values) for one in pattern)


def session(pattern: str = "+++++", date: str = "2026-05-04", **more: Any) -> Digest:
    """A filmed session at ease, well paid, with nothing wrong in it."""
    own = more.pop("trials", None) or trials(pattern)
    at_work = more.pop("at_work", dict.fromkeys({t.step or "" for t in own}, 1))
    values: dict[str, Any] = {
        "date": date, "by_hand": False, "trials": own, "at_work": at_work, "in_force": "step",
        "attempts": max(len(own), 1), "minutes": 2.0, "rewards": 20, **more,
    }  # fmt: skip
    return replace(_BLANK, **values)


def said(*days: Digest, plan: dict[str, Any] | None = None) -> Any:
    return judge(list(days), read_plan(plan or EASY))


def works(per_min: float, minutes: float = 2.0) -> Worked:
    """So many rewards a minute, evenly, all at the step."""
    end = 60 * minutes
    paid = tuple(60 / per_min * (n + 1) for n in range(int(end * per_min / 60)))
    return Worked((("step", 0.0, end),), paid, end)


ASKS = plan_of("below", {"key": "step", "answers": True}, "above")
STAYS = plan_of("below", {"key": "step", "until_release": True}, "above")
SHARE = plan_of("below", "step", "above", rule="share")
NOT_GOOD = "++-++-++-+"


@pytest.mark.parametrize(
    ("code", "yes", "no", "plan"),
    [
        ("distress", {"signs": (0, 0, 1)}, {"signs": (0, 3, 0)}, EASY),
        ("unease", {"signs": (0, 3, 0)}, {"signs": (9, 2, 0)}, EASY),
        (
            "unease",
            {"opt_outs": 2, "attempts": 10, "minutes": 9},
            {"opt_outs": 2, "attempts": 11, "minutes": 9},
            EASY,
        ),
        ("unease", {"signs": (0, 1, 0), "opt_outs": 1}, {"signs": (1, 0, 0), "opt_outs": 1}, EASY),
        ("rule_lower", {"pattern": "+---"}, {"pattern": "+--"}, EASY),
        (
            "five_misses",
            {"pattern": "+-----"},
            {"pattern": "+----"},
            plan_of("below", "step", "above", rule="run miss=9"),
        ),
        (
            "mostly_missed",
            {"pattern": "--+--+--+-"},
            {"pattern": "--+--+-++-"},
            plan_of("below", "step", "above", rule="run miss=9"),
        ),
        ("mostly_missed", {"pattern": "--+--+--+-"}, {"pattern": "-+--+--+-"}, EASY),
        (
            "rate_floor",
            {"pattern": NOT_GOOD, "worked": works(5.0)},
            {"pattern": NOT_GOOD, "worked": works(6.0)},
            SHARE,
        ),
        (
            "rate_floor",
            {"pattern": NOT_GOOD, "worked": works(3.0)},
            {"pattern": "++-+++++-+", "worked": works(3.0)},
            SHARE,
        ),
        (
            "rate_floor",
            {"pattern": NOT_GOOD, "worked": works(3.0, 1.0)},
            {"pattern": NOT_GOOD, "worked": works(3.0, 0.99)},
            SHARE,
        ),
        (
            "slow_pay",
            {"pattern": "++++++-++-", "worked": works(5.0)},
            {"pattern": NOT_GOOD, "worked": works(5.0)},
            plan_of("below", "step", "above", rule="run need=9"),
        ),
        (
            "rate_floor",
            {"pattern": NOT_GOOD, "worked": works(5.0)},
            {"pattern": "++++++-++-", "worked": works(5.0)},
            plan_of("below", "step", "above", rule="run need=9"),
        ),
        (
            "slow_pay",
            {"pattern": "++++++++++", "worked": works(5.0)},
            {"pattern": "++++++++++", "worked": works(6.0)},
            SHARE,
        ),
        ("ease_first", {"opt_outs": 1, "attempts": 9}, {"opt_outs": 0}, EASY),
        ("ease_first", {"signs": (0, 2, 0)}, {"signs": (0, 1, 0)}, EASY),
        (
            "ease_first",
            {"signs": (4, 0, 0), "minutes": 4},
            {"signs": (3, 0, 0), "minutes": 1},
            EASY,
        ),
        (
            "ease_first",
            {"signs": (4, 0, 0), "minutes": 4.0},
            {"signs": (4, 0, 0), "minutes": 4.01},
            EASY,
        ),
        ("mend_timing", {"missed": (3, 9)}, {"missed": (2, 5)}, EASY),
        ("mend_timing", {"missed": (3, 9)}, {"missed": (3, 10)}, EASY),
        ("mend_pay", {"unpaid": (2, 10)}, {"unpaid": (1, 3)}, EASY),
        ("mend_pay", {"unpaid": (2, 10)}, {"unpaid": (2, 11)}, EASY),
        ("mend_hand", {"hand_first": (3, 9)}, {"hand_first": (2, 3)}, EASY),
        ("mend_hand", {"hand_first": (3, 9)}, {"hand_first": (3, 10)}, EASY),
        ("cue_overlap", {"overlapped": 3, "cued": 9}, {"overlapped": 2, "cued": 6}, EASY),
        ("cue_overlap", {"overlapped": 3, "cued": 9}, {"overlapped": 3, "cued": 10}, EASY),
        (
            "cue_repeated",
            {"repeated": 3, "presentations": 9},
            {"repeated": 3, "presentations": 10},
            EASY,
        ),
        ("not_waiting", {"alarms": 2, "windows": 9}, {"alarms": 2, "windows": 10}, ASKS),
        ("not_waiting", {"alarms": 2, "windows": 9}, {"alarms": 1, "windows": 4}, ASKS),
        ("not_waiting", {"alarms": 2, "windows": 9}, {"alarms": 0, "windows": 9}, ASKS),
        ("not_tested", {"windows": 4}, {"windows": 5}, ASKS),
        (
            "wrong_answers",
            {"windows": 5, "wrong": 2, "presentations": 9},
            {"windows": 5, "wrong": 2, "presentations": 10},
            ASKS,
        ),
        (
            "rising_pause",
            {"pauses": Rise(8, 0.049, 2.0, 3.0)},
            {"pauses": Rise(7, 0.049, 2.0, 3.0)},
            EASY,
        ),
        (
            "rising_pause",
            {"pauses": Rise(8, 0.049, 2.0, 3.0)},
            {"pauses": Rise(8, 0.05, 2.0, 3.0)},
            EASY,
        ),
        (
            "rising_pause",
            {"returns": Rise(9, 0.01, 4.0, 6.0)},
            {"returns": Rise(9, 0.01, 4.0, 5.9)},
            EASY,
        ),
        (
            "more_signs",
            {"signs_first": 1, "signs_last": 3},
            {"signs_first": 1, "signs_last": 2},
            EASY,
        ),
        (
            "dry_spell",
            {"worked": Worked((("step", 0.0, 90.0),), (29.0, 59.9), 90.0), "limit_s": 30},
            {"worked": Worked((("step", 0.0, 90.0),), (30.0, 60.0), 90.0), "limit_s": 30},
            EASY,
        ),
        (
            "dry_spell",
            {"worked": Worked((("step", 0.0, 90.0),), (20.0, 61.0, 80.0), 90.0), "limit_s": 30},
            {"worked": Worked((("step", 0.0, 90.0),), (20.0, 60.0, 80.0), 90.0), "limit_s": 30},
            EASY,
        ),
        (
            "left_early",
            {"stays": {"step": (True, True, False, True, False)}},
            {"stays": {"step": (False, True, True, False, True, True)}},
            STAYS,
        ),
        ("food_first", {"exposures": 9, "food_first": 3}, {"exposures": 10, "food_first": 3}, EASY),
        (
            "at_limit",
            {"minutes": 2.0},
            {"minutes": 1.99},
            {**EASY, "session_cap_s": 120},
        ),
        (
            "over_limit",
            {"attempts": 12},
            {"attempts": 11},
            {**EASY, "rep_cap": 10},
        ),
    ],
)
def test_a_line_is_true_from_its_limit_on_and_not_before(code, yes, no, plan):
    yes.setdefault("windows", 5)
    no.setdefault("windows", 5)
    assert code in codes(said(session(**yes), plan=plan))
    assert code not in codes(said(session(**no), plan=plan))


@pytest.mark.parametrize(("last", "is_easy_end"), [("++", True), ("+++", False), ("+-", False)])
@pytest.mark.parametrize(("before", "is_half"), [("+-", True), ("--+", False)])
def test_an_easy_end_is_short_all_met_and_after_something_that_went_well(
    last, is_easy_end, before, is_half
):
    own = (*trials(before, stretch=0), *trials(last, "below", stretch=1))
    assert said(session(trials=own)).step == ("step" if is_easy_end and is_half else "below")


def test_an_easy_end_lies_below():
    own = (*trials("++", stretch=0), *trials("++", "above", stretch=1))
    assert said(session(trials=own)).step == "above"


@pytest.mark.parametrize(("days", "judged"), [(14, 10), (15, 5)])
def test_a_session_is_remembered_for_fourteen_days(days, judged):
    before = session(date=f"2026-05-{20 - days:02d}")
    assert said(before, session(date="2026-05-20")).record.judged == judged


@pytest.mark.parametrize(
    ("tries", "code"),
    [
        (["-+-", "-+-"], "failed_above"),
        (["-+-", "-+"], None),
        (["-+-", "-+-+"], None),
        (["-+-", "++++-", "-+-"], None),
        (["-+-", "+++--", "-+-"], "failed_above"),
        (["-+-", "++++", "-+-"], "failed_above"),
    ],
)
def test_tries_above_count_since_it_was_done_there_last(tries, code):
    days = [
        session(date=f"2026-05-{n + 1:02d}", trials=trials(pattern, "above"))
        for n, pattern in enumerate(tries)
    ]
    found = codes(said(*days, session(date="2026-05-12")))
    assert ("failed_above" in found) == (code is not None)


def test_ease_keeps_a_raise_back_before_what_failed_above():
    tried = [session(date=f"2026-05-0{n}", trials=trials("-+-", "above")) for n in (1, 2)]
    at_ease = session(date="2026-05-12")
    uneasy = session(date="2026-05-12", opt_outs=1, attempts=9)
    assert said(*tried, at_ease).why.code == "failed_above"
    assert said(*tried, uneasy).why.code == "ease_first"


@pytest.mark.parametrize(
    ("levels", "allowed", "wanted"),
    [
        # Of five, more than half with a gesture or less.
        (["empty_hand", "empty_hand", "gesture", "gesture", "none"], "gesture", None),
        (["empty_hand", "empty_hand", "empty_hand", "none", "none"], "gesture", "gesture"),
        (["physical"] * 5, "none", "empty_hand"),
        (["gesture"] * 3 + ["none"] * 2, "none", "none"),
        (["gesture"] * 2 + ["none"] * 3, "none", None),
        ([None] * 5, "none", None),
    ],
)
def test_help_is_left_where_most_needed_more_than_the_step_allows(levels, allowed, wanted):
    own = tuple(trials("+", help=level)[0] for level in levels)
    plan = plan_of(
        "below", {"key": "step", "help": allowed}, "above", prompts=["empty_hand", "gesture"]
    )
    found = said(session(trials=own), plan=plan)
    assert ((found.why.code == "help_left"), found.help) == (wanted is not None, wanted)


@pytest.mark.parametrize(
    ("lured", "after", "is_long"), [(6, 4, True), (5, 4, False), (6, 5, False)]
)
def test_a_lure_is_long_beyond_five_and_while_it_goes_on(lured, after, is_long):
    own = (*trials("+" * lured, help="food_lure"), *trials("+" * after))
    fading = ["food_lure", "empty_hand"]
    plan = plan_of("below", {"key": "step", "help": "food_lure"}, "above", prompts=fading)
    found = said(session(trials=own), plan=plan)
    assert ("lure_long" in codes(found)) == is_long
    # What the plan names after it is the help to go to.
    assert (found.help == "empty_hand") == is_long


def test_help_is_not_taken_from_an_animal_that_fails():
    share = plan_of(
        "below", {"key": "step", "help": "food_lure"}, "above", rule="share lower=0.1",
        prompts=["food_lure"],
    )  # fmt: skip
    half = said(session(trials=trials("+-+-+-+-+-", help="food_lure")), plan=share)
    less = said(session(trials=trials("+-+-+-+--", help="food_lure")), plan=share)
    assert (half.decision, half.why.code) == ("fade", "lure_long")
    assert less.decision == "hold"
    assert "lure_long" in codes(less)


@pytest.mark.parametrize(
    ("left", "is_uneven"),
    [
        ("--+-+", True),
        ("--++", False),
        ("-+-+", False),
        ("-+-+-+", False),
        ("+" * 9 + "-" * 6, True),
    ],
)
def test_a_level_is_weak_below_half_of_its_last_ten_from_five_on(left, is_uneven):
    own = (
        *trials(left, conditions={"side": "left"}),
        *trials("+++++", conditions={"side": "right"}),
    )
    found = said(session(trials=own))
    assert ("uneven" in codes(found)) == is_uneven
    if is_uneven:
        assert (found.why.numbers["condition"], found.why.numbers["level"]) == ("side", "left")


@pytest.mark.parametrize(
    ("patterns", "is_plateau"),
    [
        (["++-++-++-+"] * 3, True),
        (["++-++-++-+"] * 2 + ["++-++-++-"], False),
        (["++-++-++-+" * 2, "++-++-++-+"], False),
        (["+-+-+-+-+-"] * 3, True),
        (["+-+-+-+-+-"] * 2 + ["+-+-+-+---"], False),
        (["+-+-+-+-+-", "+-+-+-++-+", "+-+-++-++-"], True),
        (["+-+-+-+-+-", "+-+-+-++-+", "+-+++-++-+"], False),
        # From ten of twenty to twelve, and to thirteen, which is just the gain that is progress.
        (["+-" * 10, "+-" * 10, "+-" * 8 + "++++"], True),
        (["+-" * 10, "+-" * 10, "+-" * 7 + "++++++"], False),
    ],
)
def test_a_plateau_is_thirty_reps_over_three_sessions_that_do_not_grow(patterns, is_plateau):
    plan = plan_of("below", "step", "above", rule="share lower=0.1 raise=1.0")
    days = [session(p, f"2026-05-{n + 1:02d}") for n, p in enumerate(patterns)]
    found = said(*days, plan=plan)
    assert (found.why.code == "plateau") == is_plateau
    if is_plateau:
        assert (found.decision, found.split_between) == ("split", ("below", "step"))


@pytest.mark.parametrize(
    ("step", "plan_floor", "back", "floor"),
    [
        ({}, None, (), 6.0),
        ({}, 4.0, (), 4.0),
        ({"hold_s": 40}, 6.0, (), 1.2),
        ({"hold_s": 40, "rate_floor_per_min": 3.0}, 6.0, (), 3.0),
        ({}, 8.0, (5.0, 9.0, 5.0), 4.0),
    ],
)
def test_the_floor_is_what_a_cycle_allows(step, plan_floor, back, floor):
    whole = {"rate_floor_per_min": plan_floor} if plan_floor is not None else {}
    plan = plan_of("below", {"key": "step", **step}, "above", rule="share", **whole)
    own = session(NOT_GOOD, back_s={"step": back}, worked=works(0.5, 8))
    (found,) = [
        one
        for one in (said(own, plan=plan).why, *said(own, plan=plan).beside)
        if one.code == "rate_floor"
    ]
    assert found.numbers["rate_floor_per_min"] == pytest.approx(floor)


@pytest.mark.parametrize(
    ("minutes", "rewards", "is_asked"), [(1.0, 3, True), (0.9, 3, False), (1.0, 6, False)]
)
def test_by_hand_pay_is_rewards_a_minute_from_one_minute_on(minutes, rewards, is_asked):
    own = session(NOT_GOOD, by_hand=True, minutes=minutes, rewards=rewards)
    assert ("rate_floor" in codes(said(own, plan=SHARE))) == is_asked
    unsaid = replace(own, rewards=None)
    assert "rate_floor" not in codes(said(unsaid, plan=SHARE))


@pytest.mark.parametrize(
    ("pattern", "decision", "reason"),
    [
        ("+++++", "raise", "met"),
        ("++++++", "raise", "met"),
        ("+++++-", "hold", "mid_block"),
        ("++-++", "hold", "between"),
        ("+-+-", "hold", "too_few"),
        ("+---+", "lower", "failed"),
        ("+---+--+", "lower", "failed"),
        ("+---+-+", "hold", "mid_block"),
        ("+---++", "hold", "mid_block"),
    ],
)
def test_between_block_ends_the_last_answer_stands_while_the_open_block_agrees(
    pattern, decision, reason
):
    school = said(session(pattern), plan=plan_of("below", "step", "above", rule="block")).school
    assert (school.decision, school.reason) == (decision, reason)


def test_a_block_that_is_not_full_says_how_far_it_is():
    school = said(session("+-+-"), plan=plan_of("below", "step", "above", rule="block")).school
    assert school.numbers == {"into": 4, "size": 5, "met": 0, "raise_at": 5, "lower_at": 2}


def test_a_run_counts_sessions_by_hand_only_whole():
    by_hand = {"by_hand": True, "minutes": 1.0, "rewards": 9}
    whole = [session("+++", "2026-05-01", **by_hand), session("++", "2026-05-02")]
    assert said(*whole).decision == "raise"
    part = [session("-+++", "2026-05-01", **by_hand), session("++", "2026-05-02")]
    assert said(*part).decision == "hold"
    missed = [session("--", "2026-05-01", **by_hand), session("-", "2026-05-02")]
    assert said(*missed).why.code == "rule_lower"


@pytest.mark.parametrize(
    ("pattern", "more"),
    # Eight of ten are asked for: six more after four, two after eight; a miss costs one of two.
    [("++++", 6), ("++++++++", 2), ("+++++++-", 2), ("++++++--", 2), ("---", 8)],
)
def test_how_many_more_would_do_for_a_share(pattern, more):
    found = said(session(pattern), plan=SHARE)
    assert (found.why.code, found.why.numbers["more"]) == ("too_few", more)


def test_what_nobody_counted_is_not_there():
    counted = {
        "presentations", "repeated", "wrong", "windows", "alarms", "cued", "overlapped",
        "exposures", "food_first", "signs_first", "signs_last",
    }  # fmt: skip
    assert {name: getattr(_BLANK, name) for name in counted} == dict.fromkeys(counted, 0)


def test_the_numbers_are_those_of_the_contract():
    """Each as judging.md lists it, under its name."""
    days_and_tries = {
        "memory_days": 14, "try_reps": 3, "try_share": 0.5, "sure_reps": 5, "sure_share": 0.8,
    }  # fmt: skip
    ease = {
        "unease_signs": 3, "unease_opt_outs": 2, "opt_out_share": 0.2, "two_signs": 2,
        "mild_signs": 4, "mild_per_min": 1, "pauses": 8, "pause_p": 0.05, "pause_rise_s": 1,
        "more_signs": 2,
    }  # fmt: skip
    failing = {
        "misses": 5, "low_reps": 10, "low_share": 0.4, "good_share": 0.8, "last_reps": 10,
        "cycle_s": 10,
    }  # fmt: skip
    hands = {
        "missed": 3, "missed_share": 1 / 3, "unpaid": 2, "unpaid_share": 0.2, "hand": 3,
        "hand_share": 1 / 3, "lure_reps": 5, "lure_recent": 5, "cue": 3, "cue_share": 1 / 3,
    }  # fmt: skip
    asking = {
        "windows": 5, "alarms": 2, "alarm_share": 0.2, "wrong": 2, "wrong_share": 0.2,
        "level_reps": 5, "level_last": 10, "level_share": 0.5, "stays": 5, "kept_share": 0.8,
    }  # fmt: skip
    over_sessions = {
        "plateau_reps": 30, "plateau_sessions": 3, "plateau_low": 0.5, "plateau_high": 0.8,
        "plateau_gain": 0.15, "over": 1.2, "easy_end": 3,
    }  # fmt: skip
    listed = days_and_tries | ease | failing | hands | asking | over_sessions
    assert asdict(Judging()) == listed


def test_numbers_of_the_plan_are_the_numbers_of_the_rules():
    plan = {**EASY, "judging": {"missed": 2, "missed_share": 0.1, "memory_days": 1}}
    found = said(session(date="2026-05-01"), session("+++++", missed=(2, 20)), plan=plan)
    assert found.why.code == "mend_timing"
    assert found.record.judged == 5
