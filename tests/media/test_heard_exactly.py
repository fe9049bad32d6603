"""What is heard in one made sound, number by number, as it was first written down (2026-11-28).

Films that are taken in keep these numbers, and clicks are ranked by them for years: whoever
changes one changes every film's, and should know. That the numbers are good ones is for
`test_clicks` and `test_marker_words` to say. The sound is sums of sines and a noise by a rule
anybody can write down, so that no library's idea of chance is in it.

``python -m tests.media.test_heard_exactly`` writes them down anew.
"""

from __future__ import annotations

import io
import json
from dataclasses import fields
from pathlib import Path

import numpy as np
import pytest

from frequens.media.decode.samples import RATE
from frequens.media.sound import clicks
from frequens.media.sound.clicks.candidates import ClickBand, find_candidates
from frequens.media.sound.clicks.presses import presses_in
from frequens.media.sound.clicks.ranking import Sound, plain_features
from frequens.media.sound.track import _FineWriter
from frequens.media.sound.words import find_words, heard_voices

WRITTEN = Path(__file__).with_name("heard-exactly.json")
PARTS = (
    *("candidates", "features", "beside film", "of a few", "beside examples", "ranked"),
    *("presses", "presses let go loudly", "closely", "voices", "words", "ranked of a few"),
)
LENGTH_S = 14.0
PRESSES_S = tuple(1.0 + 0.9 * n for n in range(13))
#: Twigs: no two alike, some of them very faint.
TWIGS_S = (1.35, 3.02, 4.4, 6.25, 6.3, 8.75, 11.3)


def noise(length):
    """Numbers from -1 to 1 by a linear congruence (Numerical Recipes, from memory)."""
    state, made = np.uint64(20261128), np.empty(length)
    steps = 1 + np.arange(4096, dtype=np.uint64)
    # Jumps ahead: a^n and the sum of its powers, modulo 2^32, for a whole stretch at once.
    a, c, m = np.uint64(1664525), np.uint64(1013904223), np.uint64(0xFFFFFFFF)
    powers, sums = np.empty(len(steps), np.uint64), np.empty(len(steps), np.uint64)
    power, total = np.uint64(1), np.uint64(0)
    for n in range(len(steps)):
        total = (total * a + np.uint64(1)) & m
        power = (power * a) & m
        powers[n], sums[n] = power, total
    for start in range(0, length, len(steps)):
        stretch = (powers * state + sums * c) & m
        made[start : start + len(steps)] = stretch[: length - start] / 2.0**31 - 1
        state = stretch[-1]
    return made


def ring(hz, decay, length_s):
    t = np.arange(round(length_s * RATE)) / RATE
    return sum(np.sin(2 * np.pi * f * t + n) for n, f in enumerate(hz)) * np.exp(-t * decay)


def lay(track, at_s, sound):
    at = round(at_s * RATE)
    track[at : at + len(sound)] += sound[: len(track) - at]


def made_sound(release=0.5):
    """Presses with releases of that loudness, twigs, and something like words."""
    length = round(LENGTH_S * RATE)
    track = 0.002 * noise(length)
    for n, at in enumerate(PRESSES_S):
        strength = 0.2 + 0.02 * (n % 4)
        lay(track, at, strength * ring((3_100, 5_450, 8_230), 420, 0.05))
        lay(
            track, at + 0.11 + 0.004 * (n % 3), release * strength * ring((2_700, 6_120), 380, 0.05)
        )
    for n, at in enumerate(TWIGS_S):
        level = 0.3 if n % 2 else 0.012
        lay(track, at, level * ring((2_600 + 700 * n, 4_000 + 900 * n), 150 + 80 * n, 0.06))
    for at in (2.5, 5.2, 7.9, 10.6):
        lay(track, at, spoken(at))
    return track.astype(np.float32)


def spoken(at):
    """Something like a word of two sounds: pulses through two moving resonances."""
    t = np.arange(round(0.3 * RATE)) / RATE
    pulses = np.cumsum(130 + 25 * t + at) / RATE
    voice = np.zeros(len(t))
    for k in range(1, 24):
        low = np.exp(-(((130 * k - 500 - 900 * t) / 300) ** 2))
        high = 0.5 * np.exp(-(((130 * k - 1900) / 400) ** 2))
        voice += (low + high) * np.sin(2 * np.pi * k * pulses)
    return 0.03 * voice * np.sin(np.pi * t / 0.3)


def rows(values, digits):
    kept = np.round(np.asarray(values, np.float64), digits)
    return np.where(np.isnan(kept), None, kept).tolist()


def heard():
    """Everything that is worked out of the made sound, by name."""
    samples = made_sound()
    candidates = find_candidates(samples, 2.0)
    sound, few = Sound(candidates), Sound(candidates[np.arange(6)])
    wrong = [at + 2.0 for at in TWIGS_S[1:4:2]]
    right = [at + 2.0 for at in PRESSES_S[:3]]
    ranked = {
        "plain": clicks.rank(sound),
        "confirmed": clicks.rank(sound, right),
        "refused": clicks.rank(sound, (), wrong),
        "both": clicks.rank(sound, right, wrong),
        "wrong first": clicks.rank(sound, wrong[:1]),
        "a press refused": clicks.rank(sound, right[:1], [PRESSES_S[6] + 2.0]),
    }
    ranked_of_few = {
        "plain": clicks.rank(few),
        "confirmed": clicks.rank(few, right[:1]),
        "both": clicks.rank(few, right[:1], wrong[:1]),
    }

    def said(ranking):
        return {
            "t_s": rows(ranking.t_s, 4),
            "score": rows(ranking.score, 2),
            "alone": rows(ranking.alone_s, 3),
        }

    found = {
        "candidates": {f.name: rows(getattr(candidates, f.name), 3) for f in fields(candidates)},
        "features": rows(plain_features(candidates), 3),
        "beside film": rows(sound.beside_film(sound.plain_score()), 3),
        "of a few": rows(few.beside_film(few.plain_score()), 3),
        "beside examples": rows(sound.beside_examples(sound.at(right), []), 3),
        "ranked": {name: said(ranking) for name, ranking in ranked.items()},
        "ranked of a few": {name: said(ranking) for name, ranking in ranked_of_few.items()},
        "presses": rows(presses_in(candidates), 4),
        "presses let go loudly": rows(presses_in(find_candidates(made_sound(release=3.0))), 4),
    }
    band = ClickBand()(samples)
    file = io.BytesIO()
    writer = _FineWriter(file, 40)
    for start in range(0, RATE, 700):
        writer.add(start, samples[start : start + 700], band[start : start + 700])
    writer.finish()
    found["closely"] = list(file.getvalue())
    voices = heard_voices(samples)
    found["voices"] = rows(voices.rows[240:300:4], 0)
    words = find_words(voices, [2.5, 5.2])
    found["words"] = {"t_s": rows(words.t_s, 3), "score": rows(words.score, 2)}
    return found


@pytest.fixture(scope="module")
def found():
    return json.loads(json.dumps(heard()))


def test_all_of_it_is_written_down(found):
    assert set(found) == set(json.loads(WRITTEN.read_text())) == set(PARTS)


@pytest.mark.parametrize("part", PARTS)
def test_it_is_what_was_written_down(found, part):
    def same(one, other, within, place):
        if isinstance(one, dict):
            assert one.keys() == other.keys(), place
            for key in one:
                same(one[key], other[key], within, f"{place} {key}")
            return
        assert np.shape(one) == np.shape(other), place
        assert np.asarray(one, float) == pytest.approx(
            np.asarray(other, float), abs=within, nan_ok=True
        ), place

    # Other machines add in another order: the last digit may differ.
    within = {"closely": 1, "voices": 1, "ranked": 0.02, "ranked of a few": 0.02}.get(part, 0.003)
    same(found[part], json.loads(WRITTEN.read_text())[part], within, part)


def test_what_was_put_there_is_among_what_is_written_down(found):
    """The numbers are of something: each press is heard, to four milliseconds."""
    plain = found["ranked"]["plain"]
    taken = np.array([t for t, s in zip(plain["t_s"], plain["score"], strict=True) if s > 0])
    for at in PRESSES_S:
        assert np.min(np.abs(taken - at - 2.0)) < 0.004
    assert len(found["presses"]) == len(taken)


if __name__ == "__main__":
    WRITTEN.write_text(json.dumps(heard(), separators=(",", ":")) + "\n")
