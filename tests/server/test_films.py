"""Films in: received whole or not at all, taken in stage by stage, served in ranges."""

from __future__ import annotations

import errno
import hashlib
import json
import shutil
from pathlib import Path

import pytest
from django.conf import settings as live_settings
from django.utils import timezone

from frequens.media.decode.container import FilmFault
from frequens.server.ingest import api, intake, receive
from frequens.server.ingest.camera import filming
from frequens.server.ingest.intake import LEASE, take_in
from frequens.server.library.models import Film, Stage

from .conftest import put, sent


def states(film):
    return {stage.name: stage.state for stage in film.stages.all()}


def litter():
    root = Path(live_settings.MEDIA_ROOT)
    return [p for p in root.rglob("*") if p.is_file()] if root.exists() else []


def test_a_film_comes_in_whole(film, shot, wren):
    assert film.state == "ready"
    assert set(states(film).values()) == {"done"}
    assert film.sha256 == hashlib.sha256(shot.read_bytes()).hexdigest()
    assert film.original.read_bytes() == shot.read_bytes()
    _, said = sent(wren, "GET", f"/api/films/{film.pk}")
    assert said["usable"]
    assert said["review_ready"]
    assert said["sound_ready"]
    assert (said["frames"], said["duration_us"], said["width"]) == (240, 8_000_000, 320)
    _, frames = sent(wren, "GET", f"/api/films/{film.pk}/frames")
    assert frames["pts"] == list(film.index.pts)
    assert frames["times_us"] == list(film.index.times_us)
    _, short = sent(wren, "GET", f"/api/films/{film.pk}/frame-runs")
    # 30 frames a second from the camera's clock of 90 kHz: one run.
    assert short["runs"] == [[3000, 239]]
    assert short["first_pts"] == film.index.pts[0]
    assert film.index.pts == tuple(range(film.index.pts[0], film.index.pts[0] + 240 * 3000, 3000))


@pytest.mark.parametrize(
    ("body", "status", "word"),
    [(b"", 422, "empty"), (b"x" * 2000, 413, "larger")],
    ids=["empty", "too large"],
)
def test_what_cannot_be_received_leaves_no_litter(upload, settings, body, status, word):
    settings.FILM_MOST_BYTES = 1000
    answer = upload(body)
    assert answer.status_code == status
    assert word in answer.json()["fault"]
    assert not Film.objects.exists()
    assert litter() == []


def test_a_full_disk_is_said_before_and_during_an_upload(upload, shot, settings, monkeypatch):
    settings.DISK_RESERVE_BYTES = shutil.disk_usage("/").total * 2
    answer = upload(shot.read_bytes())
    assert answer.status_code == 507
    assert "disk is full" in answer.json()["fault"]
    settings.DISK_RESERVE_BYTES = 0

    def full(*args):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(receive.os, "fsync", full)
    assert upload(shot.read_bytes()).status_code == 507
    assert not Film.objects.exists()
    assert litter() == []


def test_a_film_whose_disk_fills_up_later_is_kept_and_goes_on(upload, shot, wren, monkeypatch):
    film_id = upload(shot.read_bytes()).json()["id"]
    run = intake.run_stage

    def full(name, *args, **more):
        if name == "index":
            raise intake.FilmFault("disk_full", "The disk is full.")
        return run(name, *args, **more)

    monkeypatch.setattr(intake, "run_stage", full)
    take_in(film_id)
    film = Film.objects.get(pk=film_id)
    assert (film.state, film.fault_code) == ("failed", "disk_full")
    assert [p.name for p in litter()] == ["original"]
    monkeypatch.setattr(intake, "run_stage", run)
    assert sent(wren, "POST", f"/api/films/{film_id}/resume")[0] == 200
    take_in(film_id)
    film.refresh_from_db()
    assert film.state == "ready"


def test_a_text_renamed_gets_a_sentence_on_its_row_and_is_kept(upload, wren):
    letter = b"Dear Wren, the film is on the other phone. " * 50
    film_id = upload(letter).json()["id"]
    take_in(film_id)
    _, said = sent(wren, "GET", f"/api/films/{film_id}")
    assert (said["state"], said["fault_code"]) == ("failed", "not_a_film")
    assert "not a film Frequens can read" in said["fault_text"]
    # Whoever uploaded it removes it, and nobody else.
    film = Film.objects.get(pk=film_id)
    assert litter() == [film.original]
    assert film.original.read_bytes() == letter
    status, _ = sent(wren, "POST", f"/api/films/{film_id}/resume")
    assert status == 200
    take_in(film_id)
    film.refresh_from_db()
    assert (film.state, film.fault_code) == ("failed", "not_a_film")
    assert sent(wren, "DELETE", f"/api/films/{film_id}")[0] == 204
    assert litter() == []


def test_of_a_film_that_fails_nothing_is_left_but_itself(film, monkeypatch):
    """Whatever was made of it before, also the pieces of a copy that was not finished."""
    film.stages.filter(name="index").update(state=Stage.State.WAITING)
    Film.objects.filter(pk=film.pk).update(state=Film.State.WAITING)
    film.pieces_path.mkdir()
    (film.pieces_path / "piece-00000000-0720.mp4").write_bytes(b"a piece")

    def fails(name, *args, **more):
        raise FilmFault("no_frames", "There are no frames in it.")

    monkeypatch.setattr(intake, "run_stage", fails)
    take_in(str(film.pk))
    film.refresh_from_db()
    assert (film.state, film.fault_code) == ("failed", "no_frames")
    assert list(film.folder.iterdir()) == [film.original]


def test_a_failed_film_whose_file_is_gone_cannot_go_on(upload, wren):
    film_id = upload(b"Dear Wren, the film is on the other phone. " * 50).json()["id"]
    take_in(film_id)
    Film.objects.get(pk=film_id).original.unlink()
    status, again = sent(wren, "POST", f"/api/films/{film_id}/resume")
    assert status == 409
    assert "Upload it again" in again["fault"]


class Killing:
    """Runs stages, but for the first `times` of `name`: then the process was killed."""

    def __init__(self, name, times):
        self.name, self.left, self.run = name, times, intake.run_stage

    def __call__(self, name, *args, **more):
        if name == self.name and self.left:
            self.left -= 1
            raise intake.Interrupted("killed")
        return self.run(name, *args, **more)


@pytest.mark.parametrize("name", ["check", "index", "review", "sound"])
def test_a_stage_whose_process_was_killed_is_run_again(upload, shot, monkeypatch, name):
    monkeypatch.setattr(intake, "WAITS_S", (0, 0))
    monkeypatch.setattr(intake, "run_stage", Killing(name, 2))
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    assert set(states(Film.objects.get(pk=film_id)).values()) == {"done"}


@pytest.mark.parametrize(
    ("name", "state"), [("check", "failed"), ("index", "failed"), ("review", "ready")]
)
def test_a_stage_that_is_killed_each_time_keeps_the_film_and_can_be_tried_again(
    upload, shot, wren, monkeypatch, name, state
):
    run = intake.run_stage
    monkeypatch.setattr(intake, "WAITS_S", (0, 0))
    monkeypatch.setattr(intake, "run_stage", Killing(name, 3))
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    film = Film.objects.get(pk=film_id)
    assert (film.state, states(film)[name]) == (state, "failed")
    said = film.stages.get(name=name).fault_text
    assert "try again" in said
    assert "damage" not in said
    assert film.original.read_bytes() == shot.read_bytes()
    monkeypatch.setattr(intake, "run_stage", run)
    _, again = sent(wren, "POST", f"/api/films/{film_id}/resume")
    assert again["state"] == "waiting"
    take_in(film_id)
    film.refresh_from_db()
    assert film.state == "ready"
    assert set(states(film).values()) == {"done"}


def test_the_session_is_on_the_day_the_film_says(upload, shot, wren, monkeypatch):
    """On the clock where it was filmed: there it was the sixth already."""
    run = intake.run_stage

    def saying(name, *args, **more):
        told = {"recorded_at": "2025-07-06T00:12:33+02:00", "device": "Heron 4"}
        return run(name, *args, **more) | (told if name == "check" else {})

    monkeypatch.setattr(intake, "run_stage", saying)
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    _, said = sent(wren, "GET", f"/api/films/{film_id}")
    assert (said["recorded_at"], said["device"]) == ("2025-07-06T00:12:33+02:00", "Heron 4")
    _, session = sent(wren, "GET", f"/api/sessions/{said['session_id']}")
    assert session["date"] == "2025-07-06"
    # Its time of day too, as the clock on the wall had it.
    assert Film.objects.get(pk=film_id).session.summary["time"] == "00:12"
    # The film's own word is nobody's work: with the film its session goes.
    assert sent(wren, "DELETE", f"/api/films/{film_id}")[0] == 204
    assert sent(wren, "GET", f"/api/sessions/{said['session_id']}")[0] == 404


def test_a_time_in_utc_is_not_written_down_as_the_clock_on_the_wall(upload, shot, monkeypatch):
    run = intake.run_stage

    def saying(name, *args, **more):
        told = {"recorded_at": "2025-07-06T22:12:33+00:00"} if name == "check" else {}
        return run(name, *args, **more) | told

    monkeypatch.setattr(intake, "run_stage", saying)
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    session = Film.objects.get(pk=film_id).session
    assert str(session.date) == "2025-07-06"
    assert not session.edits.exists()


def test_a_film_has_a_picture_for_lists_from_its_intake_on(film, wren, monkeypatch):
    assert film.poster_path.exists()
    monkeypatch.setattr(api, "still_from_child", None)
    answer = wren.get(f"/api/films/{film.pk}/poster.jpg")
    assert answer.status_code == 200
    assert b"".join(answer)[:2] == b"\xff\xd8"


def test_a_film_of_an_earlier_version_gets_its_picture_when_it_is_asked_for(film, wren):
    film.poster_path.unlink()
    answer = wren.get(f"/api/films/{film.pk}/poster.jpg")
    assert answer.content[:2] == b"\xff\xd8"


def test_a_film_longer_than_the_limit(upload, shot, settings):
    settings.FILM_LONGEST_S = 5.0
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    film = Film.objects.get(pk=film_id)
    assert film.fault_code == "too_long"
    assert litter() == [film.original]


def test_without_a_review_copy_the_film_can_still_be_looked_at(upload, shot, wren, monkeypatch):
    run = intake.run_stage

    def differing(name, *args, **more):
        if name == "review":
            raise intake.FilmFault("copy_differs", "The copy differs.")
        return run(name, *args, **more)

    monkeypatch.setattr(intake, "run_stage", differing)
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    _, said = sent(wren, "GET", f"/api/films/{film_id}")
    assert (said["state"], said["usable"], said["review_ready"]) == ("ready", True, False)
    assert wren.get(f"/api/films/{film_id}/review.mp4").status_code == 404
    assert wren.get(f"/api/films/{film_id}/frames/9.jpg").content[:2] == b"\xff\xd8"


def test_a_cancelled_film_stops_and_goes_on_where_it_was(upload, shot, wren, monkeypatch):
    film_id = upload(shot.read_bytes()).json()["id"]
    run = intake.run_stage

    def cancelling(name, *args, **more):
        if name == "review":
            sent(wren, "POST", f"/api/films/{film_id}/cancel")
        return run(name, *args, **more)

    monkeypatch.setattr(intake, "run_stage", cancelling)
    take_in(film_id)
    film = Film.objects.get(pk=film_id)
    assert film.state == "cancelled"
    assert states(film) == {
        "check": "done",
        "index": "done",
        "review": "waiting",
        "sound": "waiting",
    }
    assert not [p for p in litter() if "part" in p.name]
    begun = []
    monkeypatch.setattr(
        intake, "run_stage", lambda name, *a, **m: (begun.append(name), run(name, *a, **m))[1]
    )
    sent(wren, "POST", f"/api/films/{film_id}/resume")
    take_in(film_id)
    film.refresh_from_db()
    assert film.state == "ready"
    assert begun == ["review", "sound"]


def test_a_film_another_worker_holds_is_left_to_it_until_its_lease_is_over(upload, shot):
    film_id = upload(shot.read_bytes()).json()["id"]
    Film.objects.filter(pk=film_id).update(
        state=Film.State.WORKING, lease_until=timezone.now() + LEASE
    )
    assert take_in(film_id) == LEASE
    Film.objects.filter(pk=film_id).update(lease_until=timezone.now() - LEASE)
    assert take_in(film_id) is None
    assert Film.objects.get(pk=film_id).state == "ready"


@pytest.mark.long
def test_progress_is_written_down_while_a_stage_works(wren, monkeypatch, django_db_blocker):
    status, said = sent(wren, "POST", "/api/films/simulate", {"length_s": 6, "seed": 3})
    assert status == 201
    shares = []
    monkeypatch.setattr(intake, "REPORT_EVERY_S", 0.0)
    update = Stage.objects.filter(film_id=said["id"], name="film")
    run = intake.run_stage

    def watched(name, *args, report, **more):
        def told(share):
            report(share)
            if name == filming():
                shares.append(update.get().share)

        return run(name, *args, report=told, **more)

    monkeypatch.setattr(intake, "run_stage", watched)
    take_in(said["id"])
    film = Film.objects.get(pk=said["id"])
    assert film.state == "ready"
    assert shares == sorted(shares)
    assert len(set(shares)) > 5
    assert film.session.learner == "Thistle"
    assert json.loads(film.truth_path.read_text())["format"] == "frequens-session"


def test_removing_a_film_removes_its_files_and_an_empty_session(film, wren):
    session = film.session
    assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 204
    assert litter() == []
    assert not type(session).objects.filter(pk=session.pk).exists()


# RFC 9110, 14.2: what a range request must be answered with.
@pytest.mark.parametrize(
    ("asked", "status", "slice_"),
    [
        # More from the end than there is: all of it (RFC 9110, 14.1.2).
        ("bytes=-99999999", 206, slice(None)),
        (None, 200, slice(None)),
        ("bytes=0-99", 206, slice(0, 100)),
        ("bytes=100-", 206, slice(100, None)),
        ("bytes=-50", 206, slice(-50, None)),
        ("bytes=5-5", 206, slice(5, 6)),
        ("bytes=0-99999999", 206, slice(None)),
        ("frames=1-2", 200, slice(None)),
        ("bytes=-", 200, slice(None)),
    ],
)
def test_ranges(film, wren, asked, status, slice_):
    headers = {} if asked is None else {"Range": asked}
    answer = wren.get(f"/api/films/{film.pk}/review.mp4", headers=headers)
    body = b"".join(answer.streaming_content)
    whole = film.review_path.read_bytes()
    assert answer.status_code == status
    assert body == whole[slice_]
    if status == 206:
        start, stop, _ = slice_.indices(len(whole))
        assert answer["Content-Range"] == f"bytes {start}-{stop - 1}/{len(whole)}"


def test_a_range_beyond_the_end_cannot_be_served(film, wren):
    answer = wren.get(f"/api/films/{film.pk}/review.mp4", headers={"Range": "bytes=99999999-"})
    assert answer.status_code == 416
    assert answer["Content-Range"] == f"bytes */{film.review_path.stat().st_size}"


def test_the_original_can_be_had_back_under_a_harmless_name(film, wren, shot):
    Film.objects.filter(pk=film.pk).update(name='a"b\r\nSet-Cookie: x.mp4')
    answer = wren.get(f"/api/films/{film.pk}/original")
    assert b"".join(answer.streaming_content) == shot.read_bytes()
    assert "\n" not in answer["Content-Disposition"]
    assert answer["Content-Disposition"].count('"') == 2


def slowed_by(wren, film, times):
    return sent(wren, "POST", f"/api/films/{film.pk}/slowed", {"slowed": times})


def test_slow_motion_can_be_said_before_anything_is_marked_and_taken_back(film, wren):
    status, said = slowed_by(wren, film, 4)
    assert (status, said["slowed"], said["state"]) == (200, 4, "waiting")
    assert slowed_by(wren, film, 2)[0] == 409
    take_in(str(film.pk))
    _, said = sent(wren, "GET", f"/api/films/{film.pk}")
    assert (said["state"], said["slowed"], said["duration_us"]) == ("ready", 4, 2_000_000)
    # What is heard is not of this time.
    assert (said["has_sound"], said["sound_ready"], said["review_ready"]) == (False, False, True)
    film.refresh_from_db()
    assert film.index.times_us[40] == pytest.approx(1e6 / 3, abs=1)
    slowed_by(wren, film, 1)
    take_in(str(film.pk))
    _, said = sent(wren, "GET", f"/api/films/{film.pk}")
    assert (said["slowed"], said["duration_us"], said["sound_ready"]) == (1, 8_000_000, True)
    film.refresh_from_db()
    assert film.index.times_us[40] == pytest.approx(4e6 / 3, abs=1)


def test_slow_motion_cannot_be_said_once_marks_stand_on_the_frames(film, wren):
    edits = {"edits": [put("b", "onset", 20, film)]}
    sent(wren, "POST", f"/api/sessions/{film.session_id}/edits", edits)
    status, said = slowed_by(wren, film, 8)
    assert status == 409
    assert "Marks stand on its frames" in said["fault"]
    film.refresh_from_db()
    assert (film.slowed, film.duration_us) == (1, 8_000_000)
