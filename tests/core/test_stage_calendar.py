"""The calendar of stages: never before its weeks nor without the judgement, no catching up."""

from __future__ import annotations

import datetime as dt
from collections import Counter

import pytest
from dateutil.rrule import MO, SA, TH, WEEKLY, rrule
from hypothesis import given
from hypothesis import strategies as st

from frequens.core.programme.stage_calendar import StageCalendar, Trained, stage_calendar

MONDAY = dt.date(2026, 5, 4)


def on(n: int) -> dt.date:
    return MONDAY + dt.timedelta(days=n)


def plan(*stages, steps=("near", "on", "moving"), **calendar):
    made = {"approximations": [{"key": key} for key in steps], "calendar": calendar}
    return {**made, "stages": [{"name": f"stage {n}", **one} for n, one in enumerate(stages)]}


def held(*days, step="near", decision="hold"):
    return [Trained(f"s{day}", on(day), step, decision) for day in days]


def said(found: StageCalendar) -> list[str]:
    return [one.code for one in found.said]


def test_two_weeks_four_times_a_week():
    two = {"kind": "getting_used"}
    found = stage_calendar(plan(two, two, begins="2026-05-04"), [], MONDAY)
    one, other = found.stages
    assert (one.first, one.not_before, one.goes) == (MONDAY, on(13), 8)
    assert (other.first, other.not_before) == (on(14), on(27))
    days = [planned.day for planned in found.planned]
    # Evenly over the week; against another library's rule for such days.
    rule = rrule(WEEKLY, dtstart=dt.datetime(2026, 5, 4), byweekday=(0, 1, 3, 5), count=16)
    assert days == [day.date() for day in rule]
    assert [(p.go, p.of) for p in found.planned[:9:4]] == [(1, 8), (5, 8), (1, 8)]


def test_a_stage_may_end_on_the_last_day_of_its_weeks():
    made = plan({"kind": "getting_used"}, begins="2026-05-04")
    sessions = held(0, 1, 3, 5, 7, 8, 10, 12)
    assert stage_calendar(made, sessions, on(12)).stages[0].ended is None
    assert stage_calendar(made, sessions, on(13)).stages[0].ended == on(13)


def test_that_last_day_is_still_its_own():
    made = plan({"least_weeks": 1, "goes": 1}, {"goes": 1}, begins="2026-05-04", a_week=7)
    found = stage_calendar(made, [], MONDAY)
    assert [p.stage for p in found.planned[:8]] == [0] * 7 + [1]


def test_two_stages_do_not_share_a_day():
    short = {"least_weeks": 0}
    made = plan({"goes": 1, **short}, {"goes": 2, **short}, begins="2026-05-01", a_day=2, a_week=8)
    found = stage_calendar(made, [], MONDAY)
    by_stage = [[p.day for p in found.planned if p.stage == place] for place in (0, 1)]
    # Of the two of Monday one is the first stage's, the other nobody's.
    assert by_stage[0] == [MONDAY] == [found.stages[0].expected]
    assert len(by_stage[1]) == 2
    assert min(by_stage[1]) > MONDAY


def test_days_of_rest_are_kept_free():
    found = stage_calendar(
        plan({"least_weeks": 2}, begins="2026-05-04", a_week=3, rest=[1, 2, 4, 6]), [], MONDAY
    )
    rule = rrule(WEEKLY, dtstart=dt.datetime(2026, 5, 4), byweekday=(MO, TH, SA), count=6)
    assert [planned.day for planned in found.planned] == [day.date() for day in rule]


def test_a_missed_day_moves_what_comes_after_it():
    two = plan({"kind": "getting_used"}, {"least_weeks": 1}, begins="2026-05-04")
    kept = stage_calendar(two, held(0, 1, 3, 5, 7, 8, 10, 12), on(14))
    missed = stage_calendar(two, held(0, 5, 7, 12), on(14))
    assert (kept.stages[0].ended, kept.now) == (on(13), 1)
    assert (missed.stages[0].ended, missed.now) == (None, 0)
    # Four sessions of the first stage are to come, a week of them; the second moves with it.
    assert [p.stage for p in missed.planned[:5]] == [0, 0, 0, 0, 1]
    assert missed.stages[1].first > kept.stages[1].first
    assert "wait_for_goes" in said(missed)


def test_what_was_missed_in_this_week_is_taken_on_its_free_days_and_no_more():
    found = stage_calendar(plan({"goes": 30}, begins="2026-05-04"), held(0), on(4))
    week = [p.day for p in found.planned if p.day < on(7)]
    # Friday to Sunday are left for three more.
    assert week == [on(4), on(5), on(6)]
    after = [p.day for p in found.planned if on(7) <= p.day < on(14)]
    assert len(after) == 4


@pytest.mark.parametrize(
    ("sessions", "ended"),
    [
        # All three: sessions, weeks and the judgement.
        (held(0, 2, 4) + held(6, step="near", decision="raise"), on(6)),
        # Judged sooner than its week is over: the week stands.
        (held(0, 1) + held(2, 3, decision="raise"), on(6)),
        (held(0, 2, 4, 6), None),
        # Judged later than all else: on that day.
        (held(0, 2, 4, 6) + held(8, decision="raise"), on(8)),
        (held(0, 2, 4) + held(6, step="on", decision="raise"), on(6)),
        # A step below says nothing of this one.
        (held(0, 2, 4) + held(6, step="below", decision="raise"), None),
        (held(0, 2) + held(4, decision="raise"), None),
    ],
)
def test_a_stage_ends_by_the_judgement_and_not_by_the_date_alone(sessions, ended):
    steps = ("below", "near", "on")
    made = plan({"until": "near", "least_weeks": 1}, steps=steps, begins="2026-05-04")
    assert stage_calendar(made, sessions, on(8)).stages[0].ended == ended


def test_while_the_judgement_is_missing_one_more_session_is_planned():
    made = plan(
        {"until": "near", "least_weeks": 1}, {"goes": 3, "least_weeks": 0}, begins="2026-05-04"
    )
    found = stage_calendar(made, held(0, 2, 4, 6, 8), on(9))
    assert [(p.stage, p.of) for p in found.planned] == [(0, None), (1, 3), (1, 3), (1, 3)]
    assert found.stages[0].expected == found.planned[0].day
    assert "wait_for_judgement" in said(found)


@pytest.mark.parametrize(("goes", "is_over"), [(11, False), (12, True)])
def test_twelve_short_goes_before_the_real_gear(goes, is_over):
    made = plan({"kind": "short_goes"}, begins="2026-05-04", a_day=2, a_week=8)
    days = [n // 2 for n in range(goes)]
    found = stage_calendar(made, held(*days), on(6))
    assert (found.stages[0].ended is not None) == is_over


@pytest.mark.parametrize(
    ("days", "today", "codes"),
    [
        # Four a week lie up to two days apart; more than twice the usual gap is long.
        ([0], 4, []),
        ([0], 5, ["too_long_ago"]),
        ([0], 13, ["too_long_ago"]),
        ([0], 14, ["faded"]),
        ([0], 0, ["enough_today"]),
        ([0, 1, 2, 3], 4, ["enough_week"]),
        ([0, 1, 2], 4, []),
        ([0, 0], 1, ["too_often"]),
        ([0, 0], 6, ["too_often", "too_long_ago"]),
        ([0, 0], 7, ["too_long_ago"]),
        ([6], 7, ["rest_day"]),
        ([6], 12, ["rest_day", "too_long_ago"]),
        ([6], 13, ["too_long_ago"]),
    ],
)
def test_too_soon_and_too_long_ago(days, today, codes):
    found = stage_calendar(plan(begins="2026-05-04", rest=[6]), held(*days), on(today))
    assert said(found) == codes


def test_what_is_said_of_days_names_the_day_and_how_many():
    made = plan(begins="2026-05-04", rest=[6])

    def told(days, today):
        return [
            (one.code, one.day, one.days)
            for one in stage_calendar(made, held(*days), on(today)).said
        ]

    assert told([0], 5) == [("too_long_ago", MONDAY, 5)]
    assert told([0], 14) == [("faded", MONDAY, 14)]
    assert told([0, 0], 1) == [("too_often", MONDAY, 2)]
    assert told([6], 7)[0][:2] == ("rest_day", on(6))
    assert told([0, 1, 2, 3], 4)[0][:2] == ("enough_week", on(7))


def test_where_the_plan_names_no_day_the_stages_began_with_the_first_session():
    found = stage_calendar(plan({"least_weeks": 2}), held(1, 3), on(5))
    assert found.stages[0].first == on(1)
    assert stage_calendar(plan({"least_weeks": 2}), [], on(5)).stages[0].first == on(5)


@pytest.mark.parametrize(("today", "codes"), [(0, []), (13, []), (14, ["faded"])])
def test_a_plan_without_days_is_only_told_what_fades(today, codes):
    assert said(stage_calendar({}, held(0, 0), on(today))) == codes


def test_a_step_of_the_next_stage_too_soon():
    made = plan({"until": "near", "kind": "getting_used"}, begins="2026-05-04")
    early = held(0, 2) + held(4, step="on")
    found = stage_calendar(made, early, on(5))
    (one,) = [one for one in found.said if one.code == "too_soon"]
    assert (one.stage, one.day, one.days) == (0, on(4), 8)
    assert "too_soon" not in said(stage_calendar(made, held(0, 2, 4), on(5)))
    assert "too_soon" not in said(stage_calendar(made, early, on(11)))


@pytest.mark.parametrize(("today", "is_long"), [(21, False), (22, True)])
def test_a_stage_that_takes_longer_than_is_common(today, is_long):
    made = plan({"kind": "getting_used", "until": "near"}, begins="2026-05-04")
    found = stage_calendar(made, held(0, today - 1), on(today))
    assert ("stage_long" in said(found)) == is_long


def test_the_trainers_own_day_comes_first():
    made = plan({"goes": 4}, begins="2026-05-04")
    found = stage_calendar(made, held(0), on(1), fixed=on(5))
    assert found.planned[0].day == on(5)
    # One of this week's four is done and one set; nothing lies before the set one.
    assert [p.day for p in found.planned[1:]] == [on(6), on(7)]


def test_the_trainers_own_day_is_one_of_the_weeks_sessions():
    found = stage_calendar(plan({"goes": 9}, a_week=3), held(0), on(1), fixed=on(1))
    assert [p.day < on(7) for p in found.planned[:3]] == [True, True, False]


def test_without_stages_four_weeks_or_only_the_day_that_is_set():
    found = stage_calendar(plan(a_week=2), [], MONDAY)
    assert len(found.planned) == 2 * 4 + 1
    assert stage_calendar({}, [], MONDAY).planned == ()
    (one,) = stage_calendar({}, [], MONDAY, fixed=on(2)).planned
    assert one.day == on(2)


STAGES = st.lists(
    st.fixed_dictionaries(
        {"kind": st.sampled_from(["getting_used", "short_goes", "own"])},
        optional={
            "until": st.sampled_from(["near", "on"]),
            "least_weeks": st.floats(0, 5),
            "goes": st.integers(1, 20),
        },
    ),
    max_size=4,
)
SESSIONS = st.lists(
    st.tuples(st.integers(0, 60), st.sampled_from(["near", "on", "moving"]),
              st.sampled_from(["raise", "hold", "lower"])), max_size=40,
)  # fmt: skip


@given(STAGES, SESSIONS, st.integers(0, 80), st.integers(1, 3), st.integers(1, 14),
       st.sets(st.integers(0, 6), max_size=5))  # fmt: skip
def test_whatever_was_done(stages, sessions, today, a_day, a_week, rest):
    made = plan(*stages, begins="2026-05-04", a_day=a_day, a_week=a_week, rest=sorted(rest))
    trained = [Trained(f"{n}", on(d), step, says) for n, (d, step, says) in enumerate(sessions)]
    trained = [one for one in trained if one.day <= on(today)]
    found = stage_calendar(made, trained, on(today))
    counts = Counter(p.day for p in found.planned) + Counter(one.day for one in trained)
    for one in found.planned:
        assert one.day >= on(today)
        assert one.day.weekday() not in rest
        assert counts[one.day] <= max(a_day, sum(t.day == one.day for t in trained))
    weeks = Counter(p.day.isocalendar()[:2] for p in found.planned)
    before = Counter(t.day.isocalendar()[:2] for t in trained)
    for week, number in weeks.items():
        assert number + before[week] <= max(found.a_week, before[week])
    assert [p.day for p in found.planned] == sorted(p.day for p in found.planned)
    for span, after in zip(found.stages, found.stages[1:], strict=False):
        # Never before the stage's least weeks.
        assert (after.first - span.first).days >= (span.not_before - span.first).days + 1
        assert after.first > (span.ended or span.expected)
    for span in found.stages:
        if span.ended is not None:
            assert span.is_judged
            assert span.done >= span.goes
            assert on(today) >= span.ended >= span.not_before
    open_ones = [n for n, span in enumerate(found.stages) if span.ended is None]
    assert found.now == (open_ones[0] if open_ones else None)
    # Each stage to come has all the sessions it asks for, as far as anybody plans.
    if len(found.planned) < 150:
        for place in open_ones:
            span = found.stages[place]
            own = sum(p.stage == place for p in found.planned)
            assert span.done + own >= span.goes


def test_a_stage_that_only_waits_for_its_weeks_to_end_asks_for_no_session_after_them():
    stages = {"goes": 1, "least_weeks": 1}, {"goes": 1, "least_weeks": 0}
    made = plan(*stages, begins="2026-05-04", rest=[5, 6])
    found = stage_calendar(made, held(0), on(5))
    # Its last two days are days of rest.
    assert [p.stage for p in found.planned] == [1]
