"""Simulate, upload, code on the truth's frames with the keys, and read the findings back."""

from __future__ import annotations

from playwright.sync_api import expect

from frequens.core import measure
from frequens.media.decode.frames import index_frames

from .conftest import frames_of_truth, shot_film, truth_of

KEYS = {"onset": "b", "offset": "e", "marker": "m", "reward": "r", "reach": "h"}


def test_findings_agree_with_the_truth_to_one_frame(page, house, trainer, tmp_path, bench_of):
    path = shot_film(tmp_path, "truth.mp4", 24, seed=21, variable=True)
    page.goto(f"{house.url}/films")
    page.get_by_label("Films to upload").set_input_files(path)
    # By its name: others' films stand in this house too, and one of them is first for a moment.
    row = page.locator("[data-film]").filter(has_text="truth.mp4")
    expect(row.get_by_role("link", name="Code it")).to_be_visible()
    film = trainer.settled(row.get_attribute("data-film"))

    index, truth = index_frames(path), truth_of(path)
    bench = bench_of(film)
    for event, frame in frames_of_truth(truth, index):
        if event.kind not in KEYS:
            continue
        bench.go(frame)
        page.keyboard.press(KEYS[event.kind])
        if event.kind == "onset":
            page.keyboard.press("f")
            if not event.met:
                page.keyboard.press("f")
    bench.wait_saved()

    said = trainer.ask("GET", f"/api/sessions/{film['session_id']}/findings").json()["findings"]
    true = measure(truth)
    assert len(said["reps"]) == len(true["reps"]) >= 3
    widest = max(index.width_us(f) for f in range(len(index))) / 1e6
    for found, real in zip(said["reps"], true["reps"], strict=True):
        assert found["met"] == real["met"]
        for key in ("marker_latency_s", "reward_latency_s"):
            assert (found[key] is None) == (real[key] is None)
            if real[key] is not None:
                assert abs(found[key] - real[key]) <= widest
    assert said["counts"]["reinforcements"] == true["counts"]["reinforcements"]
    assert said["counts"]["unrewarded_markers"] == 0
    # Half-frame biases are taken off: over all marks the errors centre on zero.
    errors = [
        found["marker_latency_s"] - real["marker_latency_s"]
        for found, real in zip(said["reps"], true["reps"], strict=True)
        if real["marker_latency_s"] is not None
    ]
    assert abs(sum(errors) / len(errors)) < widest / 2
