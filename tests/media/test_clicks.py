"""Heard clicks against the truth of simulated sound, scored by mir_eval beside librosa.

mir_eval's onset F-measure at ±20 ms is the judge; librosa's general-purpose onset detector
works on the same sound in the same run. All of it is simulated: nothing here proves how
well real clickers in real yards are heard.
"""

from __future__ import annotations

from itertools import pairwise

import librosa
import mir_eval
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from frequens.media import clicks
from frequens.media.camera import script_session
from frequens.media.camera.noisy_yard import heard_session
from frequens.media.camera.soundtrack import soundtrack
from frequens.media.frames import index_frames
from frequens.media.samples import RATE
from frequens.media.sound import read_sound

#: None of these seeds served to fit the weights.
SEEDS = range(700, 706)
LEVELS_DB = (20.0, 15.0, 10.0)
WINDOW_S = 0.02


@pytest.fixture(scope="module")
def sessions():
    """Each session with its candidates, by level."""
    heard = {db: [heard_session(s, 16, 45.0, db) for s in SEEDS] for db in LEVELS_DB}
    return {db: [(h, clicks.find_candidates(h.samples)) for h in hs] for db, hs in heard.items()}


def usual(candidates, example=None):
    return np.sort([s.t_s for s in clicks.suggest(candidates, example) if s.score > 0])


def f_measure(pairs):
    """mir_eval's F over several sessions taken as one, laid end to end."""
    true, found = [], []
    for n, (reference, estimate) in enumerate(pairs):
        true.append(np.asarray(reference) + 1000 * n)
        found.append(np.asarray(estimate) + 1000 * n)
    f, _, _ = mir_eval.onset.f_measure(np.concatenate(true), np.concatenate(found), window=WINDOW_S)
    return f


@pytest.mark.parametrize("level", LEVELS_DB)
def test_without_an_example_f1_is_at_least_0_90(sessions, level):
    assert f_measure((h.presses_s, usual(c)) for h, c in sessions[level]) >= 0.90


@pytest.mark.parametrize("level", LEVELS_DB)
def test_with_one_confirmed_click_f1_is_at_least_0_93(sessions, level):
    pairs = [
        (h.presses_s, usual(c, clicks.example_of(c, h.presses_s[:1]))) for h, c in sessions[level]
    ]
    assert f_measure(pairs) >= 0.93


@pytest.mark.parametrize("level", LEVELS_DB)
def test_a_general_onset_detector_does_far_worse_on_the_same_sound(sessions, level):
    """librosa.onset.onset_detect, with its defaults and limited to the click band."""
    plain, narrow = [], []
    for heard, _ in sessions[level]:
        found = librosa.onset.onset_detect(y=heard.samples, sr=RATE, units="time")
        strength = librosa.onset.onset_strength(
            y=heard.samples, sr=RATE, hop_length=128, fmin=2500, fmax=12000
        )
        near = librosa.onset.onset_detect(
            onset_envelope=strength, sr=RATE, hop_length=128, units="time"
        )
        plain.append((heard.presses_s, found))
        narrow.append((heard.presses_s, near))
    ours = f_measure((h.presses_s, usual(c)) for h, c in sessions[level])
    assert ours > f_measure(narrow) + 0.2
    assert ours > f_measure(plain) + 0.2


def test_presses_are_placed_within_a_millisecond(sessions):
    off = []
    for heard, candidates in sessions[15.0]:
        true, found = np.array(heard.presses_s), usual(candidates)
        matched = mir_eval.util.match_events(true, found, WINDOW_S)
        off += [found[j] - true[i] for i, j in matched]
    assert abs(np.median(off)) < 0.0005
    assert np.percentile(np.abs(off), 95) < 0.001


def test_a_yard_without_clicks_gives_almost_no_suggestions():
    found = [
        len(usual(clicks.find_candidates(heard_session(seed, 0, 60.0, 15.0).samples)))
        for seed in range(720, 726)
    ]
    assert np.mean(found) < 2


def test_silence_and_a_blink_of_sound_give_none():
    assert clicks.find_candidates(np.zeros(RATE * 2, np.float32)) == []
    assert clicks.find_candidates(np.zeros(100, np.float32)) == []
    assert clicks.suggest([]) == []
    assert clicks.example_of([], [1.0]) is None


def test_press_and_release_are_one_suggestion(sessions):
    for _, candidates in sessions[20.0]:
        times = np.sort([s.t_s for s in clicks.suggest(candidates)])
        assert all(b - a > clicks.MERGE_S for a, b in pairwise(times))


def test_the_likeliest_comes_first(sessions):
    heard, candidates = sessions[15.0][0]
    found = clicks.suggest(candidates)
    assert [s.score for s in found] == sorted((s.score for s in found), reverse=True)
    true = np.array(heard.presses_s)
    assert all(np.min(np.abs(true - s.t_s)) < WINDOW_S for s in found[:10])


def test_an_instant_at_which_nothing_was_heard_is_no_example(sessions):
    _, candidates = sessions[15.0][0]
    between = candidates[0].t_s + 0.5 * 0.025 + 0.025
    far = [at for at in (between, 44.999) if all(abs(c.t_s - at) > 0.02 for c in candidates)]
    assert far
    assert clicks.example_of(candidates, far) is None


def test_pieces_hear_what_the_whole_hears():
    """45 s come in blocks of 1024; a candidate near a piece's end is neither lost nor doubled."""
    heard = heard_session(731, 24, 65.0, 15.0)
    listener = clicks.Listener()
    for start in range(0, len(heard.samples), 1024):
        listener.add(start - 4800, heard.samples[start : start + 1024])
    found = usual(listener.finish()) + 0.1
    assert f_measure([(heard.presses_s, found)]) >= 0.93
    times = [c.t_s for c in listener.candidates]
    assert times == sorted(set(times))


def test_candidates_survive_being_written_down(sessions):
    _, candidates = sessions[10.0][0]
    assert clicks.from_plain(clicks.to_plain(candidates)) == candidates


@settings(max_examples=25)
@given(st.integers(0, 2**31), st.floats(0, 1), st.integers(2000, 60_000))
def test_any_sound_gives_times_within_it(seed, level, length):
    noise = np.random.default_rng(seed).standard_normal(length).astype(np.float32) * level
    for candidate in clicks.find_candidates(noise, begin_s=5.0):
        assert 5.0 <= candidate.t_s <= 5.0 + length / RATE
        assert np.isfinite(candidate.spectrum).all()


def test_the_simulated_cameras_markers_are_heard_through_clutter():
    script = script_session(60, seed=4)
    markers = [rep.marker for rep in script.reps if rep.marker is not None]
    found = usual(clicks.find_candidates(soundtrack(script, clutter=0.5)))
    assert f_measure([(markers, found)]) >= 0.9


def test_they_are_heard_through_the_film_too(film_of, script):
    """Once encoded, muxed and decoded again, at the picture's own zero."""
    path = film_of("start offset")
    heard = read_sound(path, index_frames(path))
    markers = [rep.marker for rep in script.reps if rep.marker is not None]
    assert f_measure([(markers, usual(heard.clicks))]) >= 0.9
