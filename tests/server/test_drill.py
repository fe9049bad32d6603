"""Timing drills over HTTP: drawn, done, scored, kept; what they teach, and whose they are."""

from __future__ import annotations

import datetime as dt
import uuid

import numpy as np
import pytest
from django.test import Client
from django.utils import timezone

from frequens.core.drill import Shown, Window, score
from frequens.server.accounts.models import Membership, Role
from frequens.server.drill.models import DrillRun
from tests.media.other_yard import listen

from .conftest import put as put_mark


def post(browser, path, sent):
    return browser.post(path, sent, content_type="application/json")


def put(browser, path, sent):
    return browser.put(path, sent, content_type="application/json")


@pytest.fixture
def client_of():
    def client(user):
        browser = Client()
        browser.force_login(user)
        return browser

    return client


def begun(browser, **values):
    sent = {"instant": "begins", "level": "clear", "seconds": 60, **values}
    answer = post(browser, "/api/drills", sent)
    assert answer.status_code == 201, answer.content
    return answer.json()


def dues(drill):
    return {place: w["due_s"] for place, w in enumerate(drill["windows"]) if w["due_s"] is not None}


def pressed(browser, drill, lags=None, late_frames_s=0.008, by="key", extra=(), lag=0.25):
    """Do a drill: each instant shown a little after it was due, and pressed so much later."""
    places = dues(drill)
    given = iter(lags) if lags is not None else None
    shown = {place: [due + late_frames_s, 1 / 60] for place, due in places.items()}
    presses = [at + (lag if given is None else next(given)) for at, _ in shown.values()]
    sent = {"presses": [*presses, *extra], "shown": shown, "frame_s": 1 / 60, "by": by}
    sent["picture_s"] = 1 / 60
    return put(browser, f"/api/drills/{drill['id']}/pressed", sent)


def test_a_drill_is_drawn_done_and_scored_as_the_core_scores_it(wren):
    drill = begun(wren, seed=11)
    assert len(dues(drill)) >= 6
    lags = np.random.default_rng(3).normal(0.24, 0.03, len(dues(drill)))
    first_s = drill["windows"][0]["opens_s"]
    answer = pressed(wren, drill, lags, extra=[first_s - 0.5]).json()
    windows = [Window(**w) for w in drill["windows"]]
    shown = {p: Shown(due + 0.008, 1 / 60) for p, due in dues(drill).items()}
    presses = [s.at_s + lag for s, lag in zip(shown.values(), lags, strict=True)]
    by_core = score(windows, shown, [*presses, first_s - 0.5], 1 / 60)
    assert answer["score"]["timing"]["lag_s"]["median"] == by_core.timing.lag_s.median
    assert answer["score"]["timing"]["lag_s"]["median"] == pytest.approx(np.median(lags))
    assert answer["score"]["false_on"] == {"nothing": 1}
    assert answer["run"]["caught"]["count"] == answer["run"]["caught"]["of"] == len(lags)
    assert answer["run"]["wrong"] == 1
    (row,) = wren.get("/api/drills").json()["runs"]
    assert row == answer["run"]
    assert wren.get(f"/api/drills/{drill['id']}").json() == answer


def test_the_same_seed_draws_the_same_and_none_draws_another(wren):
    def acts(**values):
        return begun(wren, **values)["acts"]

    assert acts(seed=5) == acts(seed=5)
    assert acts() != acts()


def test_what_came_first_counts_when_a_drill_is_sent_twice(wren):
    drill = begun(wren, seed=2)
    one = pressed(wren, drill).json()
    assert pressed(wren, drill, lag=0.6).json() == one
    assert len(wren.get("/api/drills").json()["runs"]) == 1


def test_a_drill_that_was_not_done_counts_for_nothing(wren):
    drill = begun(wren)
    assert wren.get("/api/drills").json()["runs"] == []
    answer = wren.get(f"/api/drills/{drill['id']}")
    assert (answer.status_code, answer.json()["fault"]) == (
        409,
        "This drill was not done to its end.",
    )


@pytest.mark.parametrize(
    "wrong",
    [
        {"instant": "sometime"},
        {"level": "impossible"},
        {"seconds": 29},
        {"seconds": 91},
        {"asked": "look"},
    ],
)
def test_a_drill_that_cannot_be_is_refused(wren, wrong):
    sent = {"instant": "begins", "level": "clear", "seconds": 60, **wrong}
    assert post(wren, "/api/drills", sent).status_code == 422
    assert not DrillRun.objects.exists()


def test_neither_level_nor_film_is_said_to_be_missing(wren):
    answer = post(wren, "/api/drills", {"instant": "begins"})
    assert answer.status_code == 422
    assert answer.json()["fault"] == "level: say how hard, or which session's film"


def test_an_instant_where_nothing_is_asked_for_is_refused(wren):
    drill = begun(wren, level="fakes", seed=1)
    place = next(n for n, w in enumerate(drill["windows"]) if w["due_s"] is None)
    for wrong in (place, len(drill["windows"])):
        sent = {"presses": [], "shown": {wrong: [1.0, 0.01]}, "frame_s": 0.016, "by": "key"}
        sent["picture_s"] = 0.016
        answer = put(wren, f"/api/drills/{drill['id']}/pressed", sent)
        assert (answer.status_code, f"shown.{wrong}" in answer.json()["fault"]) == (422, True)
    assert wren.get("/api/drills").json()["runs"] == []


def test_what_is_learned_feeds_the_usual_lag(wren):
    pressed(wren, begun(wren, seed=1), lag=0.31)
    preferences = wren.get("/api/me").json()["preferences"]
    assert preferences["lag_by"] == "drill"
    assert preferences["lag_s"] == pytest.approx(0.31)
    assert preferences["lag_sd_s"] == pytest.approx(0.01)
    assert wren.get("/api/drills").json()["learned"]["lag_s"] == pytest.approx(0.31)


def test_a_lag_set_by_hand_stays(wren):
    put(wren, "/api/me/preferences", {"lag_s": 0.4, "lag_sd_s": 0.1, "lag_by": "hand"})
    pressed(wren, begun(wren, seed=1), lag=0.31)
    preferences = wren.get("/api/me").json()["preferences"]
    assert (preferences["lag_s"], preferences["lag_by"]) == (0.4, "hand")
    # What the drills would say is there to be taken over.
    assert wren.get("/api/drills").json()["learned"]["lag_s"] == pytest.approx(0.31)


@pytest.mark.parametrize(
    "other", [{"instant": "hold"}, {"by": "clicker"}], ids=["a counted hold", "a clicker"]
)
def test_what_tells_nothing_about_taps_feeds_nothing(wren, other):
    by = other.pop("by", "key")
    pressed(wren, begun(wren, seed=1, seconds=90, **other), lag=0.31, by=by)
    assert wren.get("/api/drills").json()["learned"] is None
    assert wren.get("/api/me").json()["preferences"]["lag_s"] is None


def test_the_last_five_drills_of_four_weeks_count(wren):
    for lag in (0.9, 0.3, 0.3, 0.3, 0.3, 0.3):
        pressed(wren, begun(wren, seed=4), lag=lag)
    assert wren.get("/api/drills").json()["learned"]["lag_s"] == pytest.approx(0.3)
    since = timezone.now() - dt.timedelta(days=28)
    DrillRun.objects.update(created_at=since + dt.timedelta(minutes=1))
    assert wren.get("/api/drills").json()["learned"] is not None
    DrillRun.objects.update(created_at=since - dt.timedelta(minutes=1))
    assert wren.get("/api/drills").json()["learned"] is None


def test_a_drill_left_out_counts_for_nothing_until_it_is_taken_in_again(wren):
    for lag in (0.2, 0.8):
        last = begun(wren, seed=4)
        pressed(wren, last, lag=lag)
    path = f"/api/drills/{last['id']}/left-out"
    assert post(wren, path, {"left_out": True}).json()["left_out"]
    found = wren.get("/api/drills").json()
    assert found["learned"]["lag_s"] == pytest.approx(0.2)
    assert wren.get("/api/me").json()["preferences"]["lag_s"] == pytest.approx(0.2)
    assert [row["left_out"] for row in found["runs"]] == [True, False]
    assert found["curves"][0]["lag"]["first_s"] is None
    post(wren, path, {"left_out": False})
    assert wren.get("/api/drills").json()["learned"]["lag_s"] == pytest.approx(0.5)


def test_what_was_learned_of_a_drill_left_out_is_forgotten_with_it(wren):
    only = begun(wren, seed=4)
    pressed(wren, only, lag=0.8)
    put(
        wren,
        "/api/me/preferences",
        {**wren.get("/api/me").json()["preferences"], "marks_by": "word"},
    )
    post(wren, f"/api/drills/{only['id']}/left-out", {"left_out": True})
    kept = wren.get("/api/me").json()["preferences"]
    assert (kept["lag_s"], kept["lag_by"], kept["marks_by"]) == (None, None, "word")


def test_what_was_learned_stays_when_later_drills_say_nothing_of_it(wren):
    pressed(wren, begun(wren, seed=4), lag=0.3)
    DrillRun.objects.update(created_at=timezone.now() - dt.timedelta(days=40))
    pressed(wren, begun(wren, seed=4, instant="hold"), lag=0.1)
    assert wren.get("/api/me").json()["preferences"]["lag_s"] == pytest.approx(0.3)


def test_a_drill_never_done_goes_after_a_day_and_no_other_with_it(wren, make_trainer, client_of):
    done, given_up, late, others = (
        begun(wren, seed=1),
        begun(wren, seed=2),
        begun(wren, seed=3),
        begun(client_of(make_trainer("teasel")), seed=4),
    )
    pressed(wren, done)
    old, minute = timezone.now() - dt.timedelta(days=1), dt.timedelta(minutes=1)
    DrillRun.objects.update(created_at=old - minute)
    DrillRun.objects.filter(pk=late["id"]).update(created_at=old + minute)
    begun(wren)
    kept = {str(pk) for pk in DrillRun.objects.values_list("pk", flat=True)}
    assert given_up["id"] not in kept
    assert kept >= {done["id"], late["id"], others["id"]}


def test_curves_are_of_like_with_like(wren):
    began = timezone.now() - dt.timedelta(days=35)
    for week in range(6):
        for level, lag in (("clear", 0.30 - 0.01 * week), ("fakes", 0.4)):
            drill = begun(wren, seed=week, level=level)
            pressed(wren, drill, lag=lag)
            when = began + dt.timedelta(weeks=week)
            DrillRun.objects.filter(pk=drill["id"]).update(finished_at=when)
    curves = {c["level"]: c for c in wren.get("/api/drills").json()["curves"]}
    assert curves["clear"]["lag"]["per_week_s"] == pytest.approx(-0.01)
    assert curves["clear"]["lag"]["days"] == 6
    assert curves["fakes"]["lag"]["per_week_s"] == pytest.approx(0, abs=1e-12)


def test_the_next_level_is_advised_by_instant(wren):
    for _ in range(2):
        pressed(wren, begun(wren, seed=4))
    advice = wren.get("/api/drills").json()["advice"]
    assert advice["begins"] == {"level": "fakes", "why": "raise"}
    assert advice["ends"] == {"level": "clear", "why": "first"}


def test_nobody_sees_another_ones_drills(wren, make_trainer, client_of):
    drill = begun(wren)
    pressed(wren, drill)
    other = client_of(make_trainer("teasel"))
    assert other.get("/api/drills").json()["runs"] == []
    assert other.get(f"/api/drills/{drill['id']}").status_code == 404
    assert pressed(other, drill).status_code == 404
    assert post(other, f"/api/drills/{drill['id']}/left-out", {"left_out": True}).status_code == 404


def test_a_reviewer_practises_and_a_reader_does_not(make_trainer, client_of):
    make_trainer("owner")
    user = make_trainer("rook")
    Membership.objects.filter(user=user).update(role=Role.REVIEWER)
    begun(client_of(user))
    Membership.objects.filter(user=user).update(role=Role.READER)
    assert post(client_of(user), "/api/drills", {"instant": "begins"}).status_code == 403


@pytest.fixture
def filmed(wren, film):
    """A session with six reps of a fifth of a second on its film."""
    edits = []
    for n in range(6):
        frame = film.index.first_after(round((0.7 + 1.2 * n) * 1e6))
        edits.append(put_mark(f"b{n}", "onset", frame, film))
        edits.append(put_mark(f"e{n}", "offset", frame + 6, film))
    path = f"/api/sessions/{film.session_id}/edits"
    assert post(wren, path, {"edits": edits}).status_code == 200
    return film


def test_a_drill_from_ones_own_film_takes_the_coded_instants_for_true(wren, filmed):
    (session,) = wren.get("/api/drills/sessions").json()
    assert session["id"] == str(filmed.session_id)
    for instant, frame in (("begins", 0), ("ends", 6)):
        drill = begun(wren, level=None, session_id=session["id"], instant=instant)
        assert (drill["source"], drill["level"], drill["acts"]) == ("film", "film", [])
        on_film = set()
        for window in drill["windows"]:
            if window["due_s"] is None:
                continue
            piece = [p for p in drill["pieces"] if p["at_s"] <= window["opens_s"] + 1e-9][-1]
            assert piece["clip"] == str(filmed.pk)
            on_film.add(round(window["due_s"] - piece["at_s"] + piece["from_s"], 6))
        coded = [filmed.index.first_after(round((0.7 + 1.2 * n) * 1e6)) + frame for n in range(6)]
        assert on_film <= {filmed.index.times_us[n] / 1e6 for n in coded}
        assert len(on_film) >= 3
        assert pressed(wren, drill).json()["run"]["lag_s"] == pytest.approx(0.25)


def test_a_film_with_too_little_coded_says_how_much_it_takes(wren, filmed):
    drop = {"client_id": "drop-b5", "body": {"op": "drop", "id": "b5"}}
    assert wren.get("/api/drills/sessions").json()[0]["reps"] == 6
    post(wren, f"/api/sessions/{filmed.session_id}/edits", {"edits": [drop]})
    assert wren.get("/api/drills/sessions").json() == []
    sent = {"instant": "begins", "session_id": str(filmed.session_id)}
    answer = post(wren, "/api/drills", sent)
    assert answer.status_code == 422
    assert answer.json()["fault"] == "5 of this session's reps can be asked for; a drill takes 6"


def test_a_film_of_somebody_else_is_not_there(stranger, filmed):
    assert stranger.get("/api/drills/sessions").json() == []
    sent = {"instant": "begins", "session_id": str(filmed.session_id)}
    assert post(stranger, "/api/drills", sent).status_code == 404


def test_who_codes_a_film_a_second_time_is_not_drilled_on_its_first_marks(
    wren, make_trainer, client_of, filmed
):
    rook = make_trainer("rook")
    member = Membership.objects.get(user=rook).pk
    path = f"/api/sessions/{filmed.session_id}/second-looks"
    assert post(wren, path, {"member_id": member}).status_code == 201
    blind = client_of(rook)
    assert blind.get("/api/drills/sessions").json() == []
    sent = {"instant": "begins", "session_id": str(filmed.session_id)}
    assert post(blind, "/api/drills", sent).status_code == 403
    assert len(wren.get("/api/drills/sessions").json()) == 1


def test_a_drill_stays_when_its_session_goes(wren, filmed):
    drill = begun(wren, level=None, session_id=str(filmed.session_id))
    pressed(wren, drill)
    assert wren.delete(f"/api/sessions/{filmed.session_id}").status_code == 204
    found = wren.get(f"/api/drills/{drill['id']}").json()
    assert (found["drill"]["session_id"], found["run"]["lag_s"]) == (None, pytest.approx(0.25))


def test_a_clicker_is_heard_where_it_was_pressed(wren):
    yard = listen("quiet", 1, clicks=15, length_s=40)
    body = (np.clip(yard.samples, -1, 1) * 32767).astype("<i2").tobytes()
    path = f"/api/drills/{begun(wren)['id']}/heard"
    answer = wren.post(path, body, content_type="application/octet-stream")
    assert answer.json()["clicks_s"] == pytest.approx(yard.presses_s, abs=0.005)


@pytest.mark.parametrize("body", [b"", b"x", b"\0" * 96_001], ids=["none", "half a sample", "odd"])
def test_silence_holds_no_click(wren, body):
    path = f"/api/drills/{begun(wren)['id']}/heard"
    answer = wren.post(path, body, content_type="application/octet-stream")
    assert (answer.status_code, answer.json()) == (200, {"clicks_s": []})


@pytest.mark.parametrize(("more", "status"), [(0, 200), (1, 413)])
def test_so_much_sound_is_listened_to_and_no_more(wren, more, status):
    path = f"/api/drills/{begun(wren)['id']}/heard"
    body = bytes(87 * 48_000 * 2 + more)
    answer = wren.post(path, body, content_type="application/octet-stream")
    assert answer.status_code == status


def test_a_drill_there_is_not(wren):
    path = f"/api/drills/{uuid.uuid4()}"
    assert wren.get(path).status_code == 404
