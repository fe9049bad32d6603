"""Review copies: their turn, what they take, dropping them and making them again."""

from __future__ import annotations

import datetime as dt

import pytest
from django.utils import timezone

from frequens.media.decode.frames import FrameIndex
from frequens.media.ingest.pieces import FRAMES, Piece
from frequens.media.ingest.review import ReviewOptions, expected, make_review_copy
from frequens.server.coding.models import Edit
from frequens.server.ingest import intake, tasks
from frequens.server.ingest.copies import drop_old_copies
from frequens.server.ingest.intake import take_in
from frequens.server.library.models import Film, Stage

from .conftest import put, sent


def states(film):
    return {stage.name: stage.state for stage in film.stages.all()}


@pytest.fixture
def quick(upload, shot, stages_once, monkeypatch):
    """A film whose frames are known and whose copy waits its turn."""
    monkeypatch.setattr(intake, "run_stage", stages_once)
    film = Film.objects.get(pk=upload(shot.read_bytes()).json()["id"])
    tasks.take_in_film.call_local(str(film.pk))
    film.refresh_from_db()
    return film


def test_frames_can_be_looked_at_before_anything_heavy_is_begun(quick, wren):
    assert states(quick) == {
        "check": "done",
        "index": "done",
        "review": "waiting",
        "sound": "waiting",
    }
    _, said = sent(wren, "GET", f"/api/films/{quick.pk}")
    assert (said["usable"], said["review_ready"]) == (True, False)
    assert wren.get(f"/api/films/{quick.pk}/frames/3.jpg").status_code == 200
    # Nobody holds it, so that whoever has room can go on.
    assert quick.lease_until is None


def test_heavy_work_waits_while_all_places_are_taken_and_goes_on_after(quick):
    taken = 0
    while tasks._heavy.acquire(blocking=False):
        taken += 1
    # One worker stays free for what is quick.
    assert taken == tasks.settings.WORKERS - 1
    tasks.finish_film.call_local(str(quick.pk))
    assert states(quick)["review"] == "waiting"
    for _ in range(taken):
        tasks._heavy.release()
    tasks.finish_film.call_local(str(quick.pk))
    quick.refresh_from_db()
    assert quick.state == "ready"
    assert set(states(quick).values()) == {"done"}


def test_what_a_copy_takes_is_said_before_and_after(quick, wren):
    _, before = sent(wren, "GET", f"/api/films/{quick.pk}")
    assert before["copy_bytes"] > 0
    assert before["copy_s"] > 0
    take_in(str(quick.pk))
    _, after = sent(wren, "GET", f"/api/films/{quick.pk}")
    assert after["copy_bytes"] == quick.review_path.stat().st_size
    assert after["copy_s"] is None


def test_estimates_follow_size_length_and_bounds():
    options = ReviewOptions(lines=720, mb_per_min=60)
    small = expected(1280, 720, 1800, 60.0, options)
    large = expected(3840, 2160, 1800, 60.0, options)
    # The copy is as large; reading the film costs more.
    assert small.bytes == large.bytes
    assert large.cpu_s > 2 * small.cpu_s
    twice = expected(1280, 720, 3600, 120.0, options)
    assert twice.bytes == pytest.approx(2 * small.bytes, rel=0.01)
    bound = expected(1280, 720, 3600, 60.0, ReviewOptions(mb_per_min=3)).bytes
    assert bound == pytest.approx(3e6 + 60 * 16_000, rel=0.01)


def test_a_setting_bounds_what_a_minute_takes(tmp_path, shot):
    index = FrameIndex((1, 90_000), tuple(range(0, 240 * 3000, 3000)))
    sizes = []
    for mb_per_min in (60, 1):
        copy = tmp_path / f"{mb_per_min}.mp4"
        make_review_copy(shot, copy, index, 0, ReviewOptions(crf=10, mb_per_min=mb_per_min))
        sizes.append(copy.stat().st_size)
    assert sizes[1] < 0.6 * sizes[0]


def test_a_dropped_copy_saves_room_and_is_made_again(film, wren, monkeypatch, stages_once):
    path = f"/api/films/{film.pk}"
    made = sent(wren, "GET", path)[1]
    status, said = sent(wren, "POST", f"{path}/drop_copy")
    assert status == 200
    assert (said["state"], said["usable"], said["review_ready"]) == ("ready", True, False)
    assert {s["name"]: s["state"] for s in said["stages"]}["review"] == "dropped"
    assert not film.review_path.exists()
    assert film.original.exists()
    assert wren.get(f"{path}/frames/9.jpg").content[:2] == b"\xff\xd8"
    # Nothing makes it again unasked.
    begun = []

    def noted(name, *args, **more):
        begun.append(name)
        return stages_once(name, *args, **more)

    monkeypatch.setattr(intake, "run_stage", noted)
    take_in(str(film.pk))
    assert begun == []
    sent(wren, "POST", f"{path}/resume")
    take_in(str(film.pk))
    assert begun == ["review"]
    assert film.review_path.exists()
    assert set(states(film).values()) == {"done"}
    # Browsers keep what they had of the other under its own name.
    assert sent(wren, "GET", path)[1]["copy_key"] not in ("", said["copy_key"], made["copy_key"])


def test_a_copy_whose_film_is_gone_is_not_dropped(film, wren):
    film.original.unlink()
    status, said = sent(wren, "POST", f"/api/films/{film.pk}/drop_copy")
    assert status == 409
    assert "could not be made again" in said["fault"]
    assert film.review_path.exists()


def test_another_workspaces_copy_cannot_be_dropped(film, stranger):
    assert sent(stranger, "POST", f"/api/films/{film.pk}/drop_copy")[0] == 404
    assert stranger.get(f"/api/films/{film.pk}/pieces").status_code == 404
    assert stranger.get(f"/api/films/{film.pk}/words?marked=1").status_code == 404
    assert film.review_path.exists()


@pytest.mark.parametrize(("days", "changed_ago", "dropped"), [(30, 31, 1), (30, 29, 0), (0, 99, 0)])
def test_copies_of_sessions_nobody_has_changed_for_long_are_dropped(
    film, wren, settings, days, changed_ago, dropped
):
    settings.COPIES_DAYS = days
    Film.objects.update(created_at=timezone.now() - dt.timedelta(days=200))
    # One that is still to be coded keeps its copy, however old it is.
    assert drop_old_copies() == 0
    edits = {"edits": [put("b", "onset", 20, film)]}
    assert not sent(wren, "POST", f"/api/sessions/{film.session_id}/edits", edits)[1]["refused"]
    at = timezone.now() - dt.timedelta(days=changed_ago)
    Edit.objects.update(created_at=at)
    assert drop_old_copies() == dropped
    assert film.review_path.exists() == (not dropped)
    assert drop_old_copies() == 0


def test_pieces_are_listed_and_served_while_the_copy_is_made(quick, wren):
    path = f"/api/films/{quick.pk}/pieces"
    assert sent(wren, "GET", path) == (200, [])
    copy = quick.folder / "part-x.mp4"
    make_review_copy(quick.original, copy, quick.index, 0, pieces=quick.pieces_path)
    count = quick.frames
    assert count < FRAMES
    assert sent(wren, "GET", path) == (200, [{"first": 0, "count": count}])
    answer = wren.get(f"{path}/0.mp4")
    assert b"".join(answer) == (quick.pieces_path / Piece(0, count).name).read_bytes()
    assert wren.get(f"{path}/12.mp4").status_code == 404
    # Once the copy is whole they go.
    take_in(str(quick.pk))
    assert not quick.pieces_path.exists()
    assert sent(wren, "GET", path) == (200, [])


def test_the_review_stage_leaves_no_pieces_behind(upload, shot):
    film_id = upload(shot.read_bytes()).json()["id"]
    take_in(film_id)
    film = Film.objects.get(pk=film_id)
    assert states(film)["review"] == Stage.State.DONE
    assert not film.pieces_path.exists()
