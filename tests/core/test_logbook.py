"""The logbook: sessions of film and of counts over the weeks, by hand and by their sums."""

import datetime as dt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core import measure
from frequens.core.findings import as_plain_values
from frequens.core.history.hand_counts import findings_by_hand, read_hand_counts
from frequens.core.history.logbook import (
    Logged,
    logbook,
    middle_of_markers,
)
from frequens.core.reading.document_values import InvalidDocument
from frequens.core.statistics.summaries import wilson

from .coded import Coding

MONDAY = dt.date(2026, 5, 4)


def day(n):
    return MONDAY + dt.timedelta(days=n)


def filmed(latencies=(0.3, 0.4, 0.2), key="nose", met=True, minutes=1.0):
    """Findings of a session with a rep every five seconds."""
    coding = Coding().event("criterion", 0.0, approximation=key)
    for n, latency in enumerate(latencies):
        at = 2.0 + 5 * n
        coding.onset(at, met=met).marker(at + latency).reward(at + latency + 1)
    return measure(coding.record(session={"start_s": 0, "end_s": 60 * minutes}))


def by_hand(**counts):
    return findings_by_hand(read_hand_counts({"minutes": 2.0, **counts}))


def test_the_rate_of_a_session_is_its_reinforcements_a_minute_with_or_without_film():
    book = logbook(
        [
            Logged("film", day(0), filmed(minutes=1.5)),
            Logged("hand", day(1), by_hand(reps=12, reinforcements=9), by_hand=True),
        ]
    )
    assert [(r.id, r.rate.count, r.minutes) for r in book.rates] == [
        ("film", 3, 1.5),
        ("hand", 9, 2.0),
    ]
    assert book.rates[0].rate.value == pytest.approx(2.0)
    assert book.rates[1].rate.value == pytest.approx(4.5)


def test_counts_by_hand_say_nothing_of_the_marker():
    book = logbook([Logged("hand", day(0), by_hand(reps=5, met=4), by_hand=True)])
    assert book.marker_latency_s == book.reward_latency_s == book.timing_error_s == ()


def test_the_trainers_timing_is_each_sessions_middle_and_middle_half():
    sessions = {"a": (0.1, 0.2, 0.3, 0.4, 0.5), "b": (0.2, 0.2, 0.6)}
    book = logbook([Logged(k, day(n), filmed(v)) for n, (k, v) in enumerate(sessions.items())])
    for timing, values in zip(book.marker_latency_s, sessions.values(), strict=True):
        q1, median, q3 = np.quantile(values, [0.25, 0.5, 0.75])
        assert timing.skill.median == pytest.approx(median)
        assert (timing.skill.q1, timing.skill.q3) == (pytest.approx(q1), pytest.approx(q3))
        assert timing.skill.n == len(values)


def test_a_session_lands_on_the_step_it_worked_last_with_all_its_reps_there():
    coding = Coding().event("criterion", 0.0, approximation="nose").onset(2.0, met=True)
    coding.event("criterion", 4.0, approximation="mouth").onset(5.0, met=False)
    coding.onset(8.0, met=True)
    found = measure(coding.record(session={"start_s": 0, "end_s": 12}))
    (landing,) = logbook([Logged("a", day(0), found)]).landings
    assert (landing.approximation, landing.met, landing.judged) == ("mouth", 1, 2)


def test_a_session_that_names_no_step_lands_nowhere():
    found = measure(Coding().onset(2.0).record(session={"start_s": 0, "end_s": 9}))
    assert logbook([Logged("a", day(0), found)]).landings == ()


def test_success_of_a_step_is_that_of_all_its_sessions_together():
    book = logbook(
        [
            Logged("a", day(0), filmed(met=True)),
            Logged("b", day(1), filmed(met=False)),
            Logged("c", day(2), by_hand(reps=10, met=7, approximation="nose"), by_hand=True),
        ]
    )
    (step,) = book.success
    share = wilson(10, 16)
    assert (step.met, step.judged, step.low, step.high) == (10, 16, share.low, share.high)


def test_weeks_begin_on_monday_and_an_idle_week_stands_between():
    book = logbook(
        [
            Logged("a", day(6), by_hand(reps=4), by_hand=True),
            Logged("b", day(14), by_hand(reps=6), by_hand=True),
            Logged("c", day(16), by_hand(reps=6), by_hand=True),
        ],
        session_cap_s=90,
        rep_cap=5,
    )
    assert [(w.monday, w.sessions, w.minutes, w.reps) for w in book.weeks] == [
        (day(0), 1, 2.0, 4),
        (day(7), 0, 0.0, 0),
        (day(14), 2, 4.0, 12),
    ]
    assert [(w.minutes_cap, w.reps_cap, w.over_cap) for w in book.weeks] == [
        (1.5, 5, 1),
        (0.0, 0, 0),
        (3.0, 10, 2),
    ]


def test_without_a_cap_in_the_plan_the_dose_is_five_minutes_a_session():
    # Common practice.
    (week,) = logbook([Logged("a", day(0), by_hand(), by_hand=True)]).weeks
    assert (week.minutes_cap, week.reps_cap) == (5.0, None)


def test_the_fitted_line_runs_through_equal_growth():
    # Doubling every week, 10 minutes each: 1, 2 and 4 a minute.
    book = logbook(
        [
            Logged(str(n), day(7 * n), by_hand(minutes=10, reinforcements=10 * 2**n), by_hand=True)
            for n in range(3)
        ]
    )
    assert book.growth.per_week == pytest.approx(2.0)
    assert book.growth.first_per_min == pytest.approx(1.0)
    assert book.growth.last_per_min == pytest.approx(4.0)


@pytest.mark.parametrize(
    ("counts", "fault"),
    [
        ({}, "by_hand.minutes: missing"),
        ({"minutes": 0}, "by_hand.minutes: must lie from 0.1 to 240"),
        ({"minutes": 2, "reps": 3, "met": 4}, "by_hand.met: more than the 3 reps"),
        ({"minutes": 2, "reps": 2.5}, "by_hand.reps: not a whole number"),
        ({"minutes": 2, "clicks": 3}, "by_hand.clicks: unknown key"),
        ([], "by_hand: not an object"),
    ],
)
def test_counts_that_cannot_be_are_refused_by_name(counts, fault):
    with pytest.raises(InvalidDocument) as refused:
        read_hand_counts(counts)
    assert any(fault in line for line in refused.value.faults)


hand_counts = st.fixed_dictionaries(
    {"minutes": st.floats(0.1, 60), "reps": st.integers(0, 60)},
    optional={"reinforcements": st.integers(0, 90)},
)


@given(st.lists(st.tuples(st.integers(0, 80), hand_counts), max_size=12), st.randoms())
def test_the_order_of_the_sessions_changes_nothing_and_all_is_counted_once(found, chance):
    sessions = [
        Logged(str(n), day(at), findings_by_hand(counts), by_hand=True)
        for n, (at, counts) in enumerate(found)
    ]
    book = logbook(sessions)
    assert sum(w.sessions for w in book.weeks) == len(sessions)
    assert sum(w.reps for w in book.weeks) == sum(c["reps"] for _, c in found)
    assert sum(w.minutes for w in book.weeks) == pytest.approx(sum(c["minutes"] for _, c in found))
    mixed = list(sessions)
    chance.shuffle(mixed)
    again = logbook(mixed)
    assert [w.reps for w in again.weeks] == [w.reps for w in book.weeks]
    assert as_plain_values(again.growth) == pytest.approx(as_plain_values(book.growth), nan_ok=True)


def test_the_document_is_plain_with_days_as_text():
    book = as_plain_values(logbook([Logged("a", day(0), filmed())], today=day(3)))
    assert book["rates"][0]["date"] == "2026-05-04"
    assert book["steps"]["days_since_last"] == 3


def test_a_count_nobody_kept_says_nothing_of_the_rate():
    days = [filmed(minutes=1.0), by_hand(reps=10, met=8), by_hand(reps=10, reinforcements=0)]
    book = logbook([Logged(str(n), day(n), f, n > 0) for n, f in enumerate(days)])
    # A blank is left out, a nought is a nought.
    assert [(r.id, r.rate.count) for r in book.rates] == [("0", 3), ("2", 0)]
    assert book.growth.days == 2
    assert book.weeks[0].sessions == 3


@pytest.mark.parametrize(
    ("step", "at", "instant"),
    [
        ({"mark_at": "onset"}, 2.27, "onset"),
        # 5.27 s after it began, where it is due after 5 s, is 0.27 s late.
        ({"mark_at": "hold", "hold_s": 5.0}, 7.27, "plan"),
        ({"mark_at": "offset"}, 8.27, "plan"),
    ],
)
def test_markers_are_told_from_where_the_plan_wants_them(step, at, instant):
    coding = Coding().onset(2.0, approximation="still").offset(8.0).marker(at)
    found = measure(coding.record(plan={"approximations": [{"key": "still", **step}]}))
    book = logbook([Logged("a", day(0), found)])
    assert book.instant == instant
    assert middle_of_markers(found) == pytest.approx(0.27)
    assert book.in_short.marker_s == middle_of_markers(found)


def test_a_logbook_in_short_adds_up():
    sessions = [
        Logged("a", day(0), filmed(key="look")),
        Logged("b", day(0), filmed(key="nose", met=False)),
        Logged("c", day(3), filmed(key="nose")),
        Logged("d", day(4), by_hand(reps=4, met=3, reinforcements=5, approximation="nose"), True),
    ]
    short = logbook(sessions, session_cap_s=100).in_short
    assert (short.sessions, short.filmed, short.days, short.reps) == (4, 3, 3, 13)
    assert short.minutes == pytest.approx(5.0)
    assert short.per_min.value == pytest.approx(14 / 5)
    assert (short.step, short.judged, short.met) == ("nose", 10, 6)
    assert short.share == pytest.approx(0.6)
    assert (short.low, short.high) == pytest.approx((wilson(6, 10).low, wilson(6, 10).high))
    book = logbook(sessions, session_cap_s=100)
    # By hand it was two minutes; a tenth more than the dose is allowed.
    assert book.over_cap == sum(week.over_cap for week in book.weeks) == 1
