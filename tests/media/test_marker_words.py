"""Marker words on voices that are no part of Frequens, scored by mir_eval.

Fitted on `frequens.simulator.camera.voices`; judged on Debian's `espeak-ng` and `flite`, with other
words of the same voice, rhymes and somebody else saying the word between them. Limits lie a
little below what was measured (`docs/films.md`). Nothing here has been proved on people.
"""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor

import mir_eval
import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from frequens.media.decode.samples import RATE
from frequens.media.sound.words import APART_S, VoiceListener, Voices, find_words, heard_voices
from frequens.media.sound.words.matching import EDGE_S, LONGEST_S, _examples, _inside
from frequens.media.sound.words.spectrum import BANDS, ROWS
from frequens.simulator.camera import script_session
from frequens.simulator.camera.soundtrack import soundtrack

from .other_voices import spoken

WINDOW_S = 0.05
SESSIONS = [
    (engine, over_db, seed, talks)
    for engine in ("espeak", "flite")
    for over_db in (20, 10)
    for seed, talks in ((50, 0.75), (51, 0.2))
]


def heard_session(job):
    engine, over_db, seed, talks = job
    heard = spoken(engine, over_db, seed, talks=talks)
    return np.array(heard.presses_s), heard_voices(heard.samples)


@pytest.fixture(scope="module")
def sessions():
    with ProcessPoolExecutor(2) as pool:
        return list(pool.map(heard_session, SESSIONS))


def scored(said, voices, examples, chance):
    """True instants but the examples', and those found of them."""
    marked = chance.choice(said, examples, replace=False)
    # A mark stands on a frame, not on the instant.
    found = find_words(voices, (marked + chance.uniform(-1 / 60, 1 / 60, examples)).tolist())
    assert found.learned
    rest = np.sort([at for at in said if at not in marked])
    return rest, np.sort(found.t_s[found.score > 0]), found


@pytest.mark.long
def test_three_marked_words_find_the_others(sessions):
    chance = np.random.default_rng(1)
    f, false = [], 0
    for said, voices in sessions:
        rest, found, _ = scored(said, voices, 3, chance)
        value, precision, _ = mir_eval.onset.f_measure(rest, found, window=WINDOW_S)
        f.append(value)
        false += round(len(found) * (1 - precision))
    assert np.mean(f) > 0.82
    assert false / (len(sessions) * 75 / 60) < 2.5


@pytest.mark.long
def test_the_likeliest_are_the_words(sessions):
    """Whatever is shown unasked, the order is what the slider goes by."""
    chance = np.random.default_rng(2)
    f = []
    for said, voices in sessions:
        rest, _, found = scored(said, voices, 3, chance)
        best = np.sort(found.t_s[: len(rest)])
        f.append(mir_eval.onset.f_measure(rest, best, window=WINDOW_S)[0])
    assert np.mean(f) > 0.85


@pytest.mark.long
def test_what_was_marked_or_refused_is_not_offered_again(sessions):
    said, voices = sessions[0]
    marked = said[:3].tolist()
    found = find_words(voices, marked)
    refused = float(found.t_s[0])
    after = find_words(voices, marked, [refused])
    for gone in (*marked, refused):
        assert np.all(np.abs(after.t_s - gone) > 0.1)
    assert np.all(np.abs(found.t_s[:, None] - marked) > 0.1)


def spoken_at(instants, length_s, word_s=0.3):
    """Words at instants by the tone they rise from, Hz, and a little noise."""
    samples = 0.002 * np.random.default_rng(3).standard_normal(round(length_s * RATE))
    t = np.arange(round(word_s * RATE)) / RATE
    for tone, at in instants.items():
        sweep = np.sin(2 * np.pi * (tone * t + 900 * t**2)) * np.hanning(len(t))
        for instant in at:
            samples[round(instant * RATE) :][: len(t)] += sweep
    return heard_voices(samples.astype(np.float32))


def test_refusing_a_wrong_place_moves_what_sounds_like_it_behind():
    """A rhyme said twice: once refused, the other falls."""
    at = {"word": (1.0, 3.0, 5.0, 7.0), "other": (9.0, 11.0, 13.0)}
    voices = spoken_at({700.0: at["word"], 1_150.0: at["other"]}, 20)

    def score_at(found, instant):
        near = np.abs(found.t_s - instant)
        return found.score[np.argmin(near)] if near.min() < 0.1 else -np.inf

    before = find_words(voices, at["word"][:2])
    after = find_words(voices, at["word"][:2], [at["other"][0]])
    assert score_at(before, 5.0) > score_at(before, 11.0)
    assert score_at(after, 11.0) <= score_at(before, 11.0)
    assert score_at(after, 5.0) == pytest.approx(score_at(before, 5.0))


@pytest.mark.parametrize("rest_s", [0.45, 0.6])
def test_a_word_at_the_very_end_of_the_film_is_found(rest_s):
    found = find_words(spoken_at({700.0: (1.0, 3.0, 5.0, 9.0)}, 9.0 + rest_s), [1.0, 3.0])
    assert all(np.abs(found.t_s - at).min() < 0.05 for at in (5.0, 9.0))
    assert found.t_s.max() < 9.0 + rest_s


@pytest.mark.parametrize(("word_s", "lasts_s"), [(0.3, 0.3), (0.55, 0.55), (1.6, LONGEST_S)])
def test_of_a_long_word_no_more_is_an_example_than_a_word_lasts(word_s, lasts_s):
    assert LONGEST_S == 0.6
    examples = _examples(spoken_at({700.0: (1.0, 4.0)}, 6.0, word_s).db(), [1.0, 4.0])
    told = examples.patches.shape[1] / ROWS - 2 * EDGE_S
    assert told == pytest.approx(lasts_s, abs=0.08)


def test_a_sound_of_no_length_has_no_rows():
    assert Voices.none().rows.shape == (0, BANDS)
    assert len(find_words(Voices.none(), [1.0]).t_s) == 0


def test_marks_where_nobody_speaks_teach_nothing():
    silence = heard_voices(np.zeros(5 * RATE, np.float32))
    found = find_words(silence, [1.0, 2.0])
    assert not found.learned
    assert len(found.t_s) == 0
    assert not find_words(Voices.none(), [1.0]).learned


def test_blocks_of_any_length_are_heard_alike():
    samples = spoken("flite", 20, 9).samples[: 8 * RATE]
    whole, pieces = heard_voices(samples, len(samples)), heard_voices(samples, 4_801)
    assert np.array_equal(whole.rows, pieces.rows)
    assert whole.rows.shape == (8 * ROWS, BANDS)


def test_levels_are_kept_in_sixths_of_a_decibel():
    """Kept files are read by later versions: what a number means does not change."""
    kept = Voices(np.array([[0, 1, 6, 252] * (BANDS // 4)], np.uint8))
    assert kept.db()[0, :4].tolist() == pytest.approx([0, 1 / 6, 1, 42])
    noise = np.random.default_rng(5).normal(0, 1e-3, 4 * RATE)
    noise[2 * RATE : 2 * RATE + RATE // 2] += np.sin(np.arange(RATE // 2) * 2 * np.pi * 800 / RATE)
    # So loud a tone is over every floor; more is not told.
    assert heard_voices(noise.astype(np.float32)).rows.max() == 252


@pytest.mark.parametrize(
    ("at", "is_inside"), [(-1.0, True), (-1.01, False), (4.0, True), (4.01, False)]
)
def test_marks_far_outside_the_sound_teach_nothing(at, is_inside):
    assert _inside([at], Voices(np.zeros((3 * ROWS, BANDS), np.uint8)).db()) == [at] * is_inside


@pytest.mark.long
def test_what_was_heard_survives_saving(tmp_path, sessions):
    _, voices = sessions[0]
    voices.save(tmp_path / "voices.npz")
    assert np.array_equal(Voices.load(tmp_path / "voices.npz").rows, voices.rows)


def test_the_sound_may_begin_late_or_before_the_picture():
    burst = np.sin(2 * np.pi * 800 * np.arange(RATE // 2) / RATE).astype(np.float32)
    late, early = VoiceListener(), VoiceListener()
    late.add(RATE, burst)
    early.add(-RATE // 4, burst)
    rows = late.finish(2.0).rows, early.finish(2.0).rows
    assert rows[0][: ROWS - 3].max() == 0
    assert rows[0][ROWS + 5 : ROWS + 20].max() > 0
    assert rows[1][:15].max() > 0
    assert rows[1][ROWS // 4 + 5 :].max() == 0
    assert len(rows[0]) == len(rows[1]) == 2 * ROWS


@settings(max_examples=25)
@example(0, [2.0, 9.3e16], [9.3e16, -1e300])
@given(
    st.integers(0, 2**31),
    st.lists(st.floats(-5, 12) | st.floats(), min_size=1, max_size=6),
    st.lists(st.floats(-5, 12) | st.floats(), max_size=4),
)
def test_any_instants_may_be_asked_about(seed, marked, refused):
    chance = np.random.default_rng(seed)
    voices = Voices(chance.integers(0, 250, (600, BANDS)).astype(np.uint8))
    found = find_words(voices, marked, refused)
    assert np.all(np.isfinite(found.score))
    assert np.all(np.diff(found.score) <= 0)
    assert np.all((found.t_s >= 0) & (found.t_s <= 6))
    assert all(abs(a - b) > 0.9 * APART_S for n, a in enumerate(found.t_s) for b in found.t_s[:n])


def test_the_simulated_word_is_found_in_the_demos_own_sound():
    script = script_session(60, 6, animal="pony")
    said = np.array([rep.marker for rep in script.reps if rep.marker])
    found = find_words(heard_voices(soundtrack(script)), said[:3].tolist())
    usual = found.t_s[found.score > 0]
    hit = [np.abs(usual - at).min() < WINDOW_S for at in said[3:]] if len(usual) else [False]
    assert np.mean(hit) >= 0.7
