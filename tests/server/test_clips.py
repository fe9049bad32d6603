"""Sessions of several clips: one time, no rep across a gap, and marks that stay where they are."""

from __future__ import annotations

import pytest

from frequens.core import read_session
from frequens.media.decode.frames import FrameIndex
from frequens.server.coding.timeline import GAP_US
from frequens.server.ingest import intake
from frequens.server.ingest.intake import take_in
from frequens.server.library.models import Film

from .conftest import put, sent


@pytest.fixture
def second(upload, shot, stages_once):
    """The same film once more, as another film."""
    answer = upload(shot.read_bytes(), name="second.mp4")
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(intake, "run_stage", stages_once)
        take_in(answer.json()["id"])
    return Film.objects.get(pk=answer.json()["id"])


@pytest.fixture
def session_id(film):
    return str(film.session_id)


def join(client, film, session_id):
    return sent(client, "POST", f"/api/films/{film.pk}/join", {"session_id": session_id})


def edits(client, session_id, *made):
    return sent(client, "POST", f"/api/sessions/{session_id}/edits", {"edits": list(made)})[1]


def on(clip, edit):
    """The edit's mark on this clip."""
    edit["body"]["event"]["clip"] = str(clip.pk)
    return edit


def findings(client, session_id):
    return sent(client, "GET", f"/api/sessions/{session_id}/findings")[1]["findings"]


def test_a_film_joins_as_the_next_clip_and_its_empty_session_goes(wren, film, second, session_id):
    own = str(second.session_id)
    status, joined = join(wren, second, session_id)
    assert (status, joined["session_id"]) == (200, session_id)
    assert sent(wren, "GET", f"/api/sessions/{own}")[0] == 404
    session = sent(wren, "GET", f"/api/sessions/{session_id}")[1]
    assert [f["id"] for f in session["films"]] == [str(film.pk), str(second.pk)]


def test_a_coded_film_does_not_join(wren, film, second, session_id):
    edits(wren, str(second.session_id), put("b", "onset", 5, second))
    status, answer = join(wren, second, session_id)
    assert status == 409
    assert "coded already" in answer["fault"]


def test_findings_follow_the_clips_without_any_edit(wren, film, second, session_id):
    edits(wren, session_id, put("b", "onset", 30, film))
    alone = findings(wren, session_id)["training_time_s"]
    assert alone == pytest.approx(8, abs=0.1)
    join(wren, second, session_id)
    assert findings(wren, session_id)["training_time_s"] == pytest.approx(2 * alone, abs=0.1)


def test_marks_of_the_second_clip_lie_after_the_first(wren, film, second, session_id):
    join(wren, second, session_id)
    edits(
        wren, session_id, put("b1", "onset", 30, film), on(second, put("b2", "onset", 30, second))
    )
    found = findings(wren, session_id)
    length_s = (film.index.duration_us + GAP_US) / 1e6
    first, later = found["reps"]
    assert later["onset_s"] - first["onset_s"] == pytest.approx(length_s)
    assert found["training_time_s"] == pytest.approx(2 * film.index.duration_us / 1e6, abs=0.05)


def test_no_rep_reaches_over_the_gap_between_clips(wren, film, second, session_id):
    join(wren, second, session_id)
    last = len(film.index) - 3
    edits(
        wren,
        session_id,
        put("b", "onset", last, film),
        on(second, put("m", "marker", 6, second, marker="event")),
        on(second, put("r", "reward", 20, second)),
    )
    found = findings(wren, session_id)
    assert found["reps"][0]["marker_s"] is None
    assert found["counts"]["orphan_markers"] == 1


def test_without_the_gap_the_same_marks_would_be_a_rep(wren, film, session_id):
    """The counter-check: in one clip, marks that far apart belong together."""
    edits(
        wren,
        session_id,
        put("b", "onset", 100, film),
        put("m", "marker", 100 + 9, film, marker="event"),
    )
    assert findings(wren, session_id)["reps"][0]["marker_s"] is not None


def test_a_pause_the_reviewer_marked_stays_a_pause(wren, film, second, session_id):
    join(wren, second, session_id)
    edits(
        wren,
        session_id,
        put("w1", "bout_start", 0, film),
        put("w2", "bout_end", 60, film),
        on(second, put("w3", "bout_start", 60, second)),
    )
    found = findings(wren, session_id)
    worked_us = film.index.times_us[60] + second.index.duration_us - second.index.times_us[60]
    assert found["training_time_s"] == pytest.approx(worked_us / 1e6, abs=0.05)


def test_a_mark_on_a_film_of_another_session_is_refused(wren, film, second, session_id):
    answer = edits(wren, session_id, on(second, put("b", "onset", 5, second)))
    assert answer["taken"] == []
    assert "not a film of this session" in str(answer["refused"])


def test_clips_go_out_and_come_back_as_one_time(wren, film, second, session_id):
    join(wren, second, session_id)
    edits(
        wren, session_id, put("b1", "onset", 30, film), on(second, put("b2", "onset", 31, second))
    )
    before = findings(wren, session_id)
    document = wren.get(f"/api/sessions/{session_id}/export.csv").content
    answer = wren.post(
        f"/api/sessions/{session_id}/import", document, content_type="application/octet-stream"
    )
    assert answer.status_code == 200, answer.content
    assert findings(wren, session_id)["reps"] == before["reps"]
    state = sent(wren, "GET", f"/api/sessions/{session_id}/edits")[1]["edits"]
    assert state[-1]["body"]["events"][-1]["clip"] == str(second.pk)


def test_removing_the_only_film_keeps_its_marks_at_their_times(wren, film, session_id):
    edits(
        wren,
        session_id,
        put("b", "onset", 30, film),
        put("m", "marker", 39, film, marker="event"),
    )
    before = findings(wren, session_id)
    assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 204
    after = findings(wren, session_id)
    assert after["reps"] == before["reps"]
    assert after["training_time_s"] == pytest.approx(before["training_time_s"], abs=0.05)


def test_removing_one_clip_takes_its_marks_and_moves_the_later_ones_up(
    wren, film, second, session_id
):
    join(wren, second, session_id)
    edits(
        wren, session_id, put("b1", "onset", 30, film), on(second, put("b2", "onset", 40, second))
    )
    heard_s = (film.index.duration_us + GAP_US) / 1e6 + 2.0
    heard = {"id": "m", "kind": "marker", "marker": "event", "t": heard_s, "source": "audio"}
    edits(wren, session_id, {"client_id": "heard", "body": {"op": "put", "event": heard}})
    index: FrameIndex = second.index
    assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 204
    (rep,) = findings(wren, session_id)["reps"]
    assert rep["onset_s"] == pytest.approx(index.times_us[40] / 1e6)
    assert rep["marker_s"] == pytest.approx(2.0)


def test_heard_clicks_are_ranked_and_learn_from_a_confirmed_one(wren, film):
    plain = sent(wren, "GET", f"/api/films/{film.pk}/clicks")[1]
    assert plain["usual"] > 0
    assert not plain["learned"]
    scores = [c["score"] for c in plain["clicks"]]
    assert scores == sorted(scores, reverse=True)
    at = plain["clicks"][0]["t_s"]
    taught = sent(wren, "GET", f"/api/films/{film.pk}/clicks?confirmed={at}")[1]
    assert taught["learned"]
    nowhere = sent(wren, "GET", f"/api/films/{film.pk}/clicks?confirmed=-5")[1]
    assert nowhere == plain


def test_of_the_heard_clicks_only_the_best_are_told(wren, film, monkeypatch):
    plain = sent(wren, "GET", f"/api/films/{film.pk}/clicks")[1]
    assert len(plain["clicks"]) > 2
    monkeypatch.setattr("frequens.server.ingest.api.SPARE_CLICKS", 2 - 2 * plain["usual"])
    best = sent(wren, "GET", f"/api/films/{film.pk}/clicks")[1]
    assert best == plain | {"clicks": plain["clicks"][:2]}


def test_heard_clicks_are_no_marks(wren, film, session_id):
    sent(wren, "GET", f"/api/films/{film.pk}/clicks")
    assert sent(wren, "GET", f"/api/sessions/{session_id}")[1]["marks"] == 0


def test_ends_of_touches_and_waits_move_up_with_their_beginnings(wren, film, second, session_id):
    join(wren, second, session_id)
    start_s = (film.index.duration_us + GAP_US) / 1e6
    touch = on(second, put("x", "exposure", 30, second, label="brush"))
    begins_s = start_s + second.index.times_us[30] / 1e6
    touch["body"]["event"]["end_s"] = begins_s + 1.5
    # One that began before the clip that goes, and is said to end in it.
    wait = put("w", "no_cue_window", 20, film, end_s=start_s + 2)
    edits(wren, session_id, touch, wait)
    sent(wren, "DELETE", f"/api/films/{film.pk}")
    marks = {
        e["id"]: e for e in wren.get(f"/api/sessions/{session_id}/export.json").json()["events"]
    }
    assert "w" not in marks
    assert marks["x"]["end_s"] - marks["x"]["t"] == pytest.approx(1.5)
    assert marks["x"]["t"] == pytest.approx(second.index.times_us[30] / 1e6)


def test_what_ended_in_a_clip_that_goes_ends_with_the_clip_before(wren, film, second, session_id):
    join(wren, second, session_id)
    length_s = film.index.duration_us / 1e6
    ends_s = length_s + GAP_US / 1e6 + 2
    edits(wren, session_id, put("w", "no_cue_window", 20, film, end_s=ends_s))
    sent(wren, "DELETE", f"/api/films/{second.pk}")
    document = wren.get(f"/api/sessions/{session_id}/export.json").json()
    (mark,) = document["events"]
    assert mark["end_s"] == pytest.approx(length_s)
    # What the film cannot hold would be refused when the file is read again.
    assert read_session(document).events[0].end_us == film.index.duration_us
