"""The simulated camera: its films show and sound what their truth says."""

from __future__ import annotations

import json

import av
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from frequens.core import measure, read_session
from frequens.media.decode.samples import RATE
from frequens.simulator.camera import FilmOptions, script_session, shoot
from frequens.simulator.camera.scene import pose_at
from frequens.simulator.camera.soundtrack import soundtrack
from frequens.simulator.camera.strip import paint_number, read_number

from .conftest import KINDS


def test_the_truth_beside_the_film_is_a_session_that_can_be_measured(film_of, script):
    truth = film_of("60").with_suffix(".frequens.json")
    record = read_session(json.loads(truth.read_text(encoding="utf-8")))
    findings = measure(record)
    marked = [rep for rep in script.reps if rep.marker is not None]
    assert len(findings["reps"]) == len(script.reps) > 0
    assert [rep["marker_latency_s"] for rep in findings["reps"] if rep["marker_s"]] == (
        pytest.approx([rep.marker - rep.onset for rep in marked], abs=1e-6)
    )
    assert record.session.learner == "Thistle"


@settings(max_examples=30)
@given(st.floats(4, 600), st.integers(0, 2**31))
def test_a_script_is_in_order_and_the_same_for_the_same_seed(length_s, seed):
    script = script_session(length_s, seed)
    assert script == script_session(length_s, seed)
    for rep in script.reps:
        assert 0 < rep.onset < rep.offset < length_s
        if rep.reward is not None:
            assert rep.marker < rep.reward < length_s
    onsets = [rep.onset for rep in script.reps]
    assert onsets == sorted(onsets)


def test_lateness_moves_markers_only_later():
    quick, slow = script_session(60, 4), script_session(60, 4, 0.5)

    def latency(script):
        marked = [rep.marker - rep.onset for rep in script.reps if rep.marker]
        return sum(marked) / len(marked)

    assert latency(slow) - latency(quick) == pytest.approx(0.5, abs=0.2)


@pytest.mark.parametrize("length_s", [3.9, 601, -1])
def test_lengths_out_of_range_are_refused(length_s):
    with pytest.raises(ValueError, match="length must lie from 4 to 600"):
        script_session(length_s)


@pytest.mark.parametrize(
    "wrong",
    [{"fps": 0}, {"rotation": 45}, {"width": 10}, {"start_offset_s": -1}, {"noise": 2}],
)
def test_options_out_of_range_are_refused(wrong):
    with pytest.raises(ValueError, match="must"):
        FilmOptions(**wrong)


@given(st.integers(0, 2**20 - 1), st.sampled_from([(180, 320), (720, 1280), (65, 71)]))
def test_a_painted_number_reads_back(number, size):
    picture = np.full((*size, 3), 90, np.uint8)
    paint_number(picture, number)
    assert read_number(picture) == number


@pytest.mark.parametrize("kind", ["29.97", "turned", "upside down", "hevc", "vp9"])
def test_frames_stand_in_the_film_in_order_and_upright(kind, film_of):
    turns = KINDS[kind][1].rotation // 90
    with av.open(str(film_of(kind))) as container:
        numbers = [
            read_number(np.rot90(frame.to_ndarray(format="bgr24"), -turns))
            for frame in container.decode(video=0)
        ]
    assert numbers == list(range(len(numbers)))


def test_clicks_sound_at_their_markers_sample():
    script = script_session(30, 2)
    silent = soundtrack(script, noise=0.0)
    for rep in script.reps:
        if rep.marker is None:
            continue
        at = round(rep.marker * RATE)
        # The bell of the rep may ring on; a click is the first loud sample after near silence.
        rise = np.abs(silent[at : at + 96]).max() - np.abs(silent[at - 96 : at]).max()
        assert rise > 0.3


def test_the_onset_is_a_visible_jerk_and_the_press_the_markers_own():
    script = script_session(60, 2)
    for rep in script.reps:
        before, at = pose_at(script, rep.onset - 1e-6), pose_at(script, rep.onset)
        assert at.lift - before.lift > 0.1
        assert at.touch == (rep.step != "look")
        if rep.marker is not None:
            assert not pose_at(script, rep.marker - 1e-6).press
            assert pose_at(script, rep.marker).press


def test_a_failed_film_leaves_nothing_behind(tmp_path, script):
    def stop(share: float) -> None:
        raise KeyboardInterrupt

    with pytest.raises(KeyboardInterrupt):
        shoot(script, tmp_path / "film.mp4", FilmOptions(width=128, height=72), stop)
    assert list(tmp_path.iterdir()) == []
