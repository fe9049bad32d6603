"""Fit what weighs places to look at for marker words, on simulated voices; prints `weights.py`.

`python tools/fit_words.py`. It is judged elsewhere, on voices that share nothing with these.
"""

from __future__ import annotations

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from frequens.media.decode.samples import RATE, Samples
from frequens.media.sound.words import heard_voices, matching
from frequens.media.sound.words.spectrum import ROWS
from frequens.simulator.camera.clutter import add, level_of, yard
from frequens.simulator.camera.microphone import any_microphone
from frequens.simulator.camera.rooms import any_room, heard_in
from frequens.simulator.camera.voices import any_speaker, any_word, hurried, rhyme

SESSIONS, LENGTH_S, SAID = 110, 75.0, 16
#: A suggestion this near to a word is one of it, seconds.
HIT_S = 0.06


@dataclass(frozen=True)
class Spoken:
    """A session's sound and when the marker word began, seconds."""

    samples: Samples
    said_s: tuple[float, ...]


def spoken(seed: int) -> Spoken:
    """A trainer who marks with a word, talks besides, and is not alone in the yard."""
    chance = np.random.default_rng([seed, 7])
    length = round(LENGTH_S * RATE)
    me, other = any_speaker(chance), any_speaker(chance)
    word = any_word(chance, 1 if chance.random() < 0.7 else 2)
    slots = np.arange(0.8, LENGTH_S - 1.5, 0.95)
    slots = slots + chance.uniform(-0.1, 0.1, len(slots))
    order = chance.permutation(len(slots))
    # Some say hardly anything but the word, some never stop talking.
    talks = chance.uniform(0.0, 0.9)
    track = np.zeros(length)
    said = []
    for place, slot in enumerate(order):
        at = slots[slot]
        level = np.exp(0.2 * chance.standard_normal())
        if place < SAID:
            add(track, at, me.say(word, chance) * level)
            said.append(round(at * RATE) / RATE)
        elif chance.random() < talks:
            add(track, at, _besides(me, other, word, chance) * level)
    track = heard_in(track, any_room(chance).response(chance))
    ground = yard(chance, LENGTH_S, busy=0.3)
    ground = ground + 0.02 * np.std(ground) * chance.standard_normal(length)
    over_db = chance.uniform(5, 28)
    ground *= level_of(track) / level_of(ground) * 10 ** (-over_db / 20)
    made = any_microphone(chance).record(track + ground, chance)
    return Spoken(made.astype(np.float32), tuple(sorted(said)))


def _besides(me, other, word, chance) -> NDArray[np.float64]:  # type: ignore[no-untyped-def]
    """Other words of the same voice, words that rhyme, sentences, and somebody else's saying it."""
    kind = chance.random()
    if kind < 0.35:
        return np.asarray(me.say(any_word(chance, int(chance.integers(1, 3))), chance))
    if kind < 0.55:
        return np.asarray(me.say(rhyme(word, chance), chance))
    if kind < 0.7:
        return np.asarray(other.say(word, chance))
    words = [hurried(me).say(any_word(chance), chance) for _ in range(int(chance.integers(2, 4)))]
    return np.concatenate([w * 0.8 for w in words])


def rows_of(seed: int) -> tuple[NDArray[np.float64], NDArray[np.bool_]]:
    """What each place of a session shows, with one, two and three of its words as examples."""
    sound = spoken(seed)
    chance = np.random.default_rng([seed, 8])
    film = heard_voices(sound.samples).db()
    numbers, is_word = [], []
    for count in (1, 2, 3, 3, 5):
        marked = chance.choice(sound.said_s, count, replace=False)
        # A mark stands on a frame.
        marks = marked + chance.uniform(-1 / 60, 1 / 60, count)
        examples = matching._examples(film, marks)
        if examples is None:
            continue
        found = examples.beside(film)
        times = found.rows / ROWS
        away = np.abs(times[:, None] - np.array(sound.said_s)).min(axis=1)
        own = np.abs(times[:, None] - marked).min(axis=1) < matching.AT_S
        known = ~own
        numbers.append(found.numbers[known])
        is_word.append(away[known] <= HIT_S)
    if not numbers:
        return np.zeros((0, 10)), np.zeros(0, bool)
    return np.concatenate(numbers), np.concatenate(is_word)


def main() -> None:
    from sklearn.linear_model import LogisticRegression

    with ProcessPoolExecutor(2) as pool:
        found = list(pool.map(rows_of, range(SESSIONS)))
    numbers = np.concatenate([n for n, _ in found])
    is_word = np.concatenate([w for _, w in found])
    fit = LogisticRegression(C=1.0, max_iter=2000).fit(numbers, is_word)
    said = ", ".join(f"{w:.3f}" for w in fit.coef_[0])
    share = fit.score(numbers, is_word)
    sys.stderr.write(f"{len(is_word)} places, {is_word.sum()} words, {share:.3f} told apart\n")
    print(f"WORDS = np.array([{said}])\nBIAS = {fit.intercept_[0]:.3f}")


if __name__ == "__main__":
    main()
