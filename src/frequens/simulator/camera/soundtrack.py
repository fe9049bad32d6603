"""The simulated sound: clicker or word, bell and a breeze off the sea."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from frequens.media.decode.samples import RATE, Samples

from ..animals import Animal
from .clutter import Clicker, add, yard
from .script import Rep, Script
from .voices import Speaker, any_word, hurried

#: The clickers of Saltmarsh Steading.
CLICKERS: dict[Animal, Clicker] = {
    "goat": Clicker(((3_900.0, 0.62), (6_100.0, 0.38)), 0.0018, 0.11, 0.55, seed=1),
    "hen": Clicker(((2_700.0, 0.5), (5_200.0, 0.3), (7_900.0, 0.2)), 0.0026, 0.16, 0.4, seed=9),
}
#: Who marks with a word, and talks besides.
TEASEL = Speaker(pitch_hz=205.0, throat=1.02, dull=0.88, breathy=0.04, varies=0.7)
TALKS_S, TALK_ENDS_S = 0.25, 1.3


def soundtrack(script: Script, noise: float = 0.02, clutter: float = 0.0) -> Samples:
    """Mono samples at 48 kHz for the whole script.

    `noise` is the breeze's level and `clutter` that of voices, tubs and hooves, 0 to 1. A
    marker's first sample lies on its instant, rounded to a sample.
    """
    chance = np.random.default_rng(script.seed)
    track = _breeze(chance, round(script.length_s * RATE)) * noise
    if clutter:
        track += yard(np.random.default_rng(script.seed + 1), script.length_s) * clutter
    for rep in script.reps:
        if rep.marker is not None:
            _mark(track, script, rep.marker, chance)
        if script.animal == "goat" and rep.step == script.role.pulls and rep.met:
            add(track, rep.onset + 0.2, _ring() * 0.25)
        if script.role.word is not None:
            _chat(track, rep, chance)
    return np.clip(track, -1, 1).astype(np.float32)


def _mark(
    track: NDArray[np.float64], script: Script, at: float, chance: np.random.Generator
) -> None:
    word = script.role.word
    if word is not None:
        add(track, at, TEASEL.say(word, chance) * 0.5)
        return
    clicker = CLICKERS[script.animal]
    add(track, at, clicker.press(chance) * 0.8)
    add(track, at + clicker.gap_s, clicker.let_go(chance) * 0.8)


def _chat(track: NDArray[np.float64], rep: Rep, chance: np.random.Generator) -> None:
    """Now and then something said once the reward is there: other words of the same voice."""
    after = max(rep.offset, rep.reward or 0.0)
    if chance.random() < 0.5:
        said = hurried(TEASEL).say(any_word(chance, 2), chance)
        add(track, after + TALKS_S, said[: round((TALK_ENDS_S - TALKS_S) * RATE)] * 0.35)


def _breeze(chance: np.random.Generator, length: int) -> NDArray[np.float64]:
    white = chance.standard_normal(length)
    low = signal.sosfilt(signal.butter(1, 500, fs=RATE, output="sos"), white)
    swell = 0.7 + 0.3 * np.sin(np.arange(length) / RATE * 0.8)
    return np.asarray(low / (np.std(low) or 1) * swell)


def _ring() -> NDArray[np.float64]:
    t = np.arange(round(1.8 * RATE)) / RATE
    partials = ((0.5, 1.4), (1.0, 1.0), (1.19, 0.8), (1.5, 0.5), (2.0, 0.45), (2.74, 0.3))
    sounding = [
        level * np.sin(2 * np.pi * 740 * p * t) * np.exp(-t * p * 2.2) for p, level in partials
    ]
    return np.asarray(np.sum(sounding, axis=0) / 4)
