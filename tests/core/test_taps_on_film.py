"""Taps of a led session on its films: each where it happened, and none where no camera ran."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from statsmodels.stats.proportion import proportion_confint

from frequens.core import measure
from frequens.core.linking.taps_on_film import FilmedStretch, lay_taps

from .coded import Coding

#: A film of 60 s that begins 100 s after the phone's clock, and another of 30 s after 40 s without.
FIRST = FilmedStretch(0.0, 100.0, 60.0)
SECOND = FilmedStretch(61.0, 200.0, 30.0)


def tap(kind, t, key=None, width=2.0):
    return {"id": key or f"{kind}-{t}", "kind": kind, "t": t, "width": width}


def places(taps, films=(FIRST, SECOND)):
    return {key: (at.t_s, at.width_s) for key, at in lay_taps(taps, films).items()}


def test_a_tap_lies_where_the_film_shows_it():
    taps = [tap("onset", 131.0), tap("reward", 131.5), tap("sign", 216.0)]
    assert places(taps) == {
        "onset-131.0": (31.0, 2.0),
        "reward-131.5": (31.5, 2.0),
        "sign-216.0": (77.0, 2.0),
    }


@pytest.mark.parametrize(
    ("best_s", "is_on"),
    [(99.9, False), (100.0, True), (160.0, True), (160.1, False), (199.9, False), (230.0, True)],
)
def test_what_no_camera_saw_is_on_no_film(best_s, is_on):
    assert (len(places([tap("onset", best_s + 1)])) == 1) == is_on


@pytest.mark.parametrize(("best_s", "laid"), [(159.0, (60.0, 2.0)), (159.4, (60.0, 1.2))])
def test_what_is_on_the_film_did_not_happen_after_it(best_s, laid):
    assert places([tap("onset", best_s + 1, "a")]) == {"a": laid}


def test_the_step_in_force_is_still_in_force_when_the_film_begins():
    taps = [tap("criterion", 1.0, "one"), tap("criterion", 50.0, "two"), tap("onset", 131.0, "rep")]
    assert places(taps) == {"two": (0.0, 0.0), "rep": (31.0, 2.0)}
    again = [*taps, tap("criterion", 180.0, "three")]
    assert places(again)["three"] == (61.0, 0.0)


@pytest.mark.parametrize(
    ("off_camera", "laid"),
    [
        # Nothing has changed once the next film begins.
        (["bout_end", "bout_start"], {}),
        # It was still resting: work ended with the first film.
        (["bout_end"], {"bout_end": (60.0, 0.0)}),
        (["bout_end", "bout_start", "bout_end"], {"bout_end": (60.0, 0.0)}),
    ],
)
def test_work_that_paused_while_no_camera_ran(off_camera, laid):
    taps = [tap("bout_start", 5.0, "begin")]
    taps += [tap(kind, 170.0 + n, f"{kind}-{n}") for n, kind in enumerate(off_camera)]
    found = places(taps)
    assert found.pop("begin") == (0.0, 0.0)
    assert {key.split("-")[0]: at for key, at in found.items()} == laid


def test_a_rest_before_the_film_is_no_work_of_its_own():
    taps = [tap("bout_start", 1.0), tap("bout_end", 90.0), tap("bout_start", 121.0, "again")]
    assert places(taps) == {"again": (21.0, 2.0)}


@st.composite
def led(draw):
    """Work and breaks by turns, reps at any time."""
    t, taps = 1.0, []
    for n in range(draw(st.integers(0, 14))):
        kind = "bout_end" if n % 2 else "bout_start"
        taps.append(tap(kind, t, f"bout{n}"))
        t += draw(st.floats(2.1, 60))
    for n, at in enumerate(draw(st.lists(st.floats(1, 400), max_size=20))):
        taps.append(tap("onset", at, f"onset{n}"))
    return draw(st.permutations(taps))


@given(led(), st.floats(-50, 250))
def test_whatever_was_led_can_be_measured(taps, begins_s):
    films = [
        FilmedStretch(0.0, begins_s, 60.0),
        FilmedStretch(61.0, begins_s + 90, 30.0),
    ]
    laid = lay_taps(taps, films)
    kinds = {one["id"]: one for one in taps}
    for at in laid.values():
        best_s = at.t_s - at.width_s / 2
        assert 0 <= at.width_s <= 2
        assert -1e-5 <= best_s <= 60 + 1e-5 or 61 - 1e-5 <= best_s <= 91 + 1e-5
    # Work begins and ends by turns, or the session could not be measured at all.
    events = Coding()
    for key, at in laid.items():
        events.event(kinds[key]["kind"], at.t_s, width=at.width_s, id=key)
    if events.events:
        measure(events.record(session={"start_s": 0, "end_s": 91}))


@given(led(), st.floats(-50, 250))
def test_a_film_shows_every_rep_of_its_time_and_no_other(taps, begins_s):
    laid = lay_taps(taps, [FilmedStretch(0.0, begins_s, 60.0)])
    for one in taps:
        if one["kind"] == "onset":
            is_on = begins_s <= one["t"] - 1 <= begins_s + 60
            assert (one["id"] in laid) == is_on
            if is_on:
                at = laid[one["id"]]
                assert at.t_s - at.width_s / 2 == pytest.approx(one["t"] - 1 - begins_s, abs=1e-5)


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
