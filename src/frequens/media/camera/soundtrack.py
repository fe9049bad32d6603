"""The simulated sound: clicker, bell and a breeze off the sea."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from ..samples import RATE, Samples
from .clutter import Clicker, add, yard
from .script import Script

#: The clicker of Saltmarsh Steading.
CLICKER = Clicker(((3_900.0, 0.62), (6_100.0, 0.38)), 0.0018, 0.11, 0.55, seed=1)


def soundtrack(script: Script, noise: float = 0.02, clutter: float = 0.0) -> Samples:
    """Mono samples at 48 kHz for the whole script.

    `noise` is the breeze's level and `clutter` that of voices, tubs and hooves, 0 to 1. A
    click's first sample lies on the marker's instant, rounded to a sample.
    """
    chance = np.random.default_rng(script.seed)
    track = _breeze(chance, round(script.length_s * RATE)) * noise
    if clutter:
        track += yard(np.random.default_rng(script.seed + 1), script.length_s) * clutter
    for rep in script.reps:
        if rep.marker is not None:
            add(track, rep.marker, CLICKER.press(chance) * 0.8)
            add(track, rep.marker + CLICKER.gap_s, CLICKER.let_go(chance) * 0.8)
        if rep.step == "mouth" and rep.met:
            add(track, rep.onset + 0.2, _ring() * 0.25)
    return np.clip(track, -1, 1).astype(np.float32)


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
