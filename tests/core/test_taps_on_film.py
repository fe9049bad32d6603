"""Taps of a led session on its films: each where it happened, and none where no camera ran."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

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
