"""A led session and its film meet: on the same clock, once, and neither loses anything."""

from __future__ import annotations

import datetime as dt
import shutil
import uuid

import pytest

from frequens.server.accounts.models import Workspace
from frequens.server.coding.edit_store import fold, session_record
from frequens.server.ingest import intake
from frequens.server.ingest.intake import take_in
from frequens.server.ingest.queueing import queue_film
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession

from .conftest import sent

#: The phone began here; the film, 8 s long, four seconds later.
BEGAN = dt.datetime(2026, 5, 4, 10, 0, tzinfo=dt.UTC)
SHOT = BEGAN + dt.timedelta(seconds=4)


@pytest.fixture
def film(wren, shot, stages_once, monkeypatch):
    """A film as it comes from a camera whose clock says when."""
    monkeypatch.setattr(intake, "run_stage", stages_once)

    def bring(at=SHOT, trainer="wren"):
        made = Film(workspace=Workspace.objects.get(), name="goat.mp4", trainer=trainer, zone="UTC")
        # The film's own word would be that of the day it was made for these tests.
        made.written_at = at + dt.timedelta(seconds=8) if at else None
        made.original.parent.mkdir(parents=True)
        shutil.copyfile(shot, made.original)
        queue_film(made)
        take_in(str(made.pk))
        made.refresh_from_db()
        return made

    return bring


def tap(key, kind, t, **fields):
    event = {"id": key, "kind": kind, "t": t, "width": 2, "source": "tap", "clock": "phone"}
    return {"client_id": f"c-{key}", "body": {"op": "put", "event": {**event, **fields}}}


def facts(key, **said):
    return {"client_id": key, "body": {"op": "facts", "set": said}}


@pytest.fixture
def change(wren):
    def send(session_id, *edits):
        status, answer = sent(wren, "POST", f"/api/sessions/{session_id}/edits", {"edits": edits})
        assert status == 200
        return answer["refused"]

    return send


#: A rep before the film, two on it, one after; all on the phone's clock.
TAPS = (
    tap("begin", "bout_start", 1),
    tap("step", "criterion", 1, approximation="look"),
    tap("early", "onset", 4, met=True),
    tap("one", "onset", 7, met=True),
    tap("pay", "reward", 7),
    tap("two", "onset", 10, met=False),
    tap("late", "onset", 16, met=True),
    tap("end", "bout_end", 17),
)
ENDS = facts("ends", end_s=16)


@pytest.fixture
def led(wren, bell, change):
    """A session a phone led; `clock` as earlier phones left it out."""

    def lead(began=BEGAN, taps=TAPS, end=ENDS):
        pk = str(uuid.uuid4())
        body = {"behaviour_id": bell["id"], "began_at": began.isoformat()}
        assert sent(wren, "PUT", f"/api/yard/sessions/{pk}", body)[0] == 201
        assert change(pk, *taps, *([end] if end else [])) == {}
        return TrainingSession.objects.get(pk=pk)

    return lead


def marks(session):
    """Marks by their ids, seconds of the film."""
    session = TrainingSession.objects.get(pk=session.pk)
    return {event.id: event.t_us / 1e6 for event in session_record(session).events}


#: The phone's clock stands at five seconds when the film begins.
ON_FILM = {"begin": 0.0, "step": 0.0, "one": 2.0, "pay": 2.0, "two": 5.0}


class TestMeeting:
    def test_a_film_finds_the_session_that_was_led_then(self, led, film, wren):
        session = led()
        brought = film()
        assert brought.session_id == session.pk
        assert TrainingSession.objects.count() == 1
        assert marks(session) == ON_FILM
        # Nothing of what no camera saw is lost.
        assert {"early", "late", "end"} < set(fold(session).events)
        _, said = sent(wren, "GET", f"/api/sessions/{session.pk}/findings")
        assert said["findings"]["led"]["tapped"] == 2
        assert said["findings"]["training_time_s"] == pytest.approx(8, abs=0.1)

    def test_a_session_that_is_sent_later_finds_its_film(self, led, film):
        brought = film()
        alone = brought.session_id
        session = led()
        brought.refresh_from_db()
        assert brought.session_id == session.pk
        assert not TrainingSession.objects.filter(pk=alone).exists()
        assert marks(session) == ON_FILM

    def test_it_waits_for_the_end(self, led, film, change):
        brought = film()
        session = led(end=None)
        brought.refresh_from_db()
        assert brought.session_id != session.pk
        change(session.pk, ENDS)
        brought.refresh_from_db()
        assert brought.session_id == session.pk

    @pytest.mark.parametrize(
        ("began_s", "is_shown"), [(-12, True), (-12.5, False), (4, True), (4.5, False)]
    )
    def test_half_of_the_shorter_is_enough(self, led, film, began_s, is_shown):
        # Sixteen seconds led, eight filmed from `SHOT`: four in common are needed.
        session = led(began=SHOT + dt.timedelta(seconds=began_s))
        assert (film().session_id == session.pk) == is_shown

    def test_another_trainers_film_stays_by_itself(self, led, film, make_trainer):
        make_trainer("tansy")
        session = led()
        assert film(trainer="tansy").session_id != session.pk

    def test_of_two_sessions_nobody_knows_which(self, led, film):
        sessions = {led().pk, led().pk}
        assert film().session_id not in sessions

    def test_a_second_camera_is_no_second_clip(self, led, film):
        session = led()
        assert film().session_id == session.pk
        assert film(SHOT + dt.timedelta(seconds=2)).session_id != session.pk

    def test_a_film_that_is_coded_already_stays_as_it_is(self, led, film, change):
        brought = film()
        note = {"id": "n", "kind": "note", "t": 1, "text": "the gate"}
        change(brought.session_id, {"client_id": "n", "body": {"op": "put", "event": note}})
        session = led()
        brought.refresh_from_db()
        assert brought.session_id != session.pk

    def test_two_clips_show_each_its_own(self, led, film):
        session = led()
        assert film(BEGAN + dt.timedelta(seconds=12)).session_id == session.pk
        assert film(BEGAN - dt.timedelta(seconds=2)).session_id == session.pk
        # The first shows seconds -1 to 7 of the phone's clock, the other 13 to 21.
        found = marks(session)
        assert found == {
            "begin": 2.0,
            "step": 2.0,
            "early": 5.0,
            "one": 8.0,
            "pay": 8.0,
            "late": pytest.approx(12, abs=0.05),
            "end": pytest.approx(13, abs=0.05),
            **{key: found[key] for key in ("clip-1-end", "clip-2-start")},
        }

    def test_earlier_phones_did_not_say_whose_clock(self, led, film):
        taps = [
            {**one, "body": {**one["body"], "event": {**one["body"]["event"], "clock": None}}}
            for one in TAPS
        ]
        for one in taps:
            del one["body"]["event"]["clock"]
        session = led(taps=taps)
        film()
        assert marks(session) == ON_FILM


class TestByHand:
    """A film whose camera does not know the time is put into the session by the trainer."""

    @pytest.mark.parametrize("at", [None, SHOT + dt.timedelta(days=400)], ids=["none", "wrong"])
    def test_it_begins_with_the_session(self, led, film, wren, at):
        session, brought = led(), film(at)
        assert brought.session_id != session.pk
        [alone] = sent(wren, "GET", "/api/sessions?led_alone=true")[1]
        assert (alone["id"], alone["is_led"]) == (str(session.pk), True)
        join = f"/api/films/{brought.pk}/join"
        assert sent(wren, "POST", join, {"session_id": str(session.pk)})[0] == 200
        assert sent(wren, "GET", "/api/sessions?led_alone=true")[1] == []
        # All of the phone's first eight seconds.
        assert marks(session) == {"begin": 1.0, "step": 1.0, "early": 4.0, "one": 7.0, "pay": 7.0}

    def test_one_shared_instant_moves_all_along(self, led, film, change):
        session, brought = led(), film()
        on = fold(session).facts["taps_on"]
        assert on == {"clips": {str(brought.pk): 5.0}, "moved_s": None, "end_s": 16}
        assert change(session.pk, facts("moved", taps_on={**on, "moved_s": -0.5})) == {}
        assert marks(session) == {"begin": 0.0, "step": 0.0, "one": 1.5, "pay": 1.5, "two": 4.5}

    @pytest.mark.parametrize(
        ("said", "fault"),
        [
            ({"clips": {"a": "noon"}}, "set.taps_on.clips.a: not a number"),
            ({"clips": []}, "set.taps_on.clips: not an object"),
            ({"moved_s": 1}, "set.taps_on: clips: missing"),
            ({"clips": {}, "moved": 1}, "set.taps_on.moved: unknown key"),
        ],
    )
    def test_what_cannot_be_is_named(self, led, change, said, fault):
        assert change(led().pk, facts("x", taps_on=said)) == {"x": [fault]}


class TestAtTheFilm:
    def on_frame(self, session, brought, key, frame, **fields):
        pts = brought.index.pts[frame]
        event = {**fold(session).events[key], "frame": frame, "pts": pts, **fields}
        for gone in ("t", "width", "source", "clock"):
            event.pop(gone, None)
        return {"client_id": f"at-{key}", "body": {"op": "put", "event": event}}

    def test_what_the_trainer_thought_is_kept(self, led, film, change, wren):
        session, brought = led(), film()
        change(session.pk, self.on_frame(session, brought, "one", 60, met=False))
        _, said = sent(wren, "GET", f"/api/sessions/{session.pk}/findings")
        first, second = said["findings"]["reps"]
        assert (first["tapped_met"], first["met"]) == (True, False)
        assert (second["tapped_met"], second["met"]) == (False, False)
        led_reps = said["findings"]["led"]
        assert (led_reps["open"], led_reps["only_tapped"], led_reps["differ"]["of"]) == (1, 1, 1)

    def test_judged_where_it_lies_it_was_tapped_as_before(self, led, film, change, wren):
        session = led()
        film()
        change(session.pk, tap("one", "onset", 7, met=False) | {"client_id": "judged"})
        assert fold(session).taps["one"]["met"] is True
        change(session.pk, {"client_id": "d", "body": {"op": "drop", "id": "two"}})
        _, said = sent(wren, "GET", f"/api/sessions/{session.pk}/findings")
        assert (said["findings"]["led"]["only_tapped"], said["findings"]["led"]["unseen"]) == (1, 1)

    def test_taken_back_on_the_phone_it_never_was(self, led, film, change):
        taken_back = {"client_id": "d", "body": {"op": "drop", "id": "two"}}
        session = led(taps=(*TAPS, taken_back))
        film()
        assert "two" not in fold(session).taps

    def test_a_phone_that_goes_on_is_heard(self, led, film, change, wren):
        session = led()
        film()
        again = (facts("again", end_s=None), tap("three", "onset", 11, met=True))
        assert change(session.pk, *again, facts("ends again", end_s=700)) == {}
        assert marks(session) == {**ON_FILM, "three": 6.0}
        _, said = sent(wren, "GET", f"/api/sessions/{session.pk}/findings")
        assert said["findings"]["training_time_s"] == pytest.approx(8, abs=0.1)

    @pytest.mark.parametrize("event", [{"clock": "wall", "t": 1}, {"clock": "phone", "frame": 1}])
    def test_there_is_one_other_clock(self, led, change, event):
        body = {"op": "put", "event": {"id": "x", "kind": "note", "text": "a", **event}}
        refused = change(led().pk, {"client_id": "x", "body": body})
        assert refused == {"x": ["event.clock: must be phone, for a time without a frame"]}

    def test_without_its_film_it_is_the_led_session_again(self, led, film, change, wren):
        session = led()
        before = marks(session)
        brought = film()
        change(session.pk, self.on_frame(session, brought, "one", 60))
        shown_s = marks(session)["one"]
        assert sent(wren, "DELETE", f"/api/films/{brought.pk}")[0] == 204
        after = marks(session)
        assert after.pop("one") == pytest.approx(5 + shown_s, abs=1e-5)
        assert after == {key: t for key, t in before.items() if key != "one"}
        assert fold(session).facts["end_s"] == 16
        # And its next film lies where the first did.
        again = film()
        assert again.session_id == session.pk
        assert marks(session) == {**ON_FILM, "one": pytest.approx(shown_s, abs=1e-5)}

    def test_one_of_two_clips_goes_and_the_other_stays(self, led, film, wren):
        session = led()
        first, second = (film(BEGAN + dt.timedelta(seconds=at)) for at in (-2, 12))
        assert sent(wren, "DELETE", f"/api/films/{first.pk}")[0] == 204
        assert set(fold(session).facts["taps_on"]["clips"]) == {str(second.pk)}
        assert marks(session) == {"begin": 0.0, "step": 0.0, "late": 3.0, "end": 4.0}
