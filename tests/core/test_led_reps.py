"""What was thought of each rep in the yard, beside what the film shows (statsmodels)."""

from __future__ import annotations

from dataclasses import replace

import pytest
from statsmodels.stats.proportion import proportion_confint

from frequens.core import measure

from .coded import Coding


def led_record(*, tapped, now):
    """A session whose reps were tapped, `now` as the reviewer left them: met, or None for gone."""
    coding = Coding(width=2.0)
    for n, met in enumerate(tapped):
        coding.onset(10.0 * n + 5, met=met, source="tap")
    as_tapped = coding.record().events
    seen = [
        replace(tap, met=now[n], width_us=33_333, source="video") if n in now else tap
        for n, tap in enumerate(as_tapped)
        if now.get(n, True) is not None
    ]
    return replace(coding.record(), events=tuple(seen), taps=as_tapped)


def test_what_was_thought_stands_beside_what_is_shown():
    record = led_record(
        tapped=[True, True, True, False, False, True, True],
        now={0: True, 1: False, 2: False, 3: True, 4: False, 5: None},
    )
    found = measure(record)
    low, high = proportion_confint(3, 5, method="wilson")
    assert found["led"] == {
        "tapped": 7,
        "open": 1,
        "unseen": 1,
        "untapped": 0,
        "differ": {
            "count": 3,
            "of": 5,
            "share": 0.6,
            "low": pytest.approx(low),
            "high": pytest.approx(high),
        },
        "only_tapped": 2,
        "only_filmed": 1,
    }
    assert [rep["tapped_met"] for rep in found["reps"]] == [True, True, True, False, False, True]


def test_a_rep_that_was_not_judged_is_no_difference():
    record = led_record(tapped=[True, False], now={0: True, 1: False})
    unjudged = tuple(replace(event, met=None) for event in record.events)
    found = measure(replace(record, events=unjudged))["led"]
    assert (found["differ"]["of"], found["open"], found["unseen"]) == (0, 0, 0)


def test_a_rep_nobody_tapped_is_told():
    record = led_record(tapped=[True], now={0: True})
    more = Coding().onset(40.0, met=True).record().events
    more = tuple(replace(event, id="found at the film") for event in more)
    found = measure(replace(record, events=record.events + more))
    assert found["led"]["untapped"] == 1
    assert found["reps"][1]["tapped_met"] is None


def test_a_session_without_taps_says_nothing_of_them():
    assert measure(Coding().onset(5.0, met=True).record())["led"] is None
