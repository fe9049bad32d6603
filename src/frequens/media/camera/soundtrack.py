"""The simulated sound: clicker, bell and a breeze off the sea."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from ..samples import RATE, Samples
from .script import Script


def soundtrack(script: Script, noise: float = 0.02) -> Samples:
    """Mono samples at 48 kHz for the whole script; `noise` is the breeze's level, 0 to 1.

    A click's first sample lies on the marker's instant, rounded to a sample.
    """
    chance = np.random.default_rng(script.seed)
    track = _breeze(chance, round(script.length_s * RATE)) * noise
    for rep in script.reps:
        if rep.marker is not None:
            _add(track, rep.marker, _click(chance, 0.8))
            _add(track, rep.marker + 0.11, _click(chance, 0.45))
        if rep.step == "mouth" and rep.met:
            _add(track, rep.onset + 0.2, _ring() * 0.25)
    return np.clip(track, -1, 1).astype(np.float32)


def _add(track: NDArray[np.float64], at: float, sound: NDArray[np.float64]) -> None:
    start = round(at * RATE)
    if 0 <= start < len(track):
        piece = sound[: len(track) - start]
        track[start : start + len(piece)] += piece


def _breeze(chance: np.random.Generator, length: int) -> NDArray[np.float64]:
    white = chance.standard_normal(length)
    low = signal.sosfilt(signal.butter(1, 500, fs=RATE, output="sos"), white)
    swell = 0.7 + 0.3 * np.sin(np.arange(length) / RATE * 0.8)
    return np.asarray(low / (np.std(low) or 1) * swell)


def _click(chance: np.random.Generator, level: float) -> NDArray[np.float64]:
    t = np.arange(round(0.012 * RATE)) / RATE
    tone = np.sin(2 * np.pi * 3900 * t) + 0.6 * np.sin(2 * np.pi * 6100 * t + 0.7)
    burst = 0.6 * tone + 0.4 * chance.standard_normal(len(t))
    return np.asarray(level * burst * np.exp(-t / 0.0018))


def _ring() -> NDArray[np.float64]:
    t = np.arange(round(1.8 * RATE)) / RATE
    partials = ((0.5, 1.4), (1.0, 1.0), (1.19, 0.8), (1.5, 0.5), (2.0, 0.45), (2.74, 0.3))
    sounding = [
        level * np.sin(2 * np.pi * 740 * p * t) * np.exp(-t * p * 2.2) for p, level in partials
    ]
    return np.asarray(np.sum(sounding, axis=0) / 4)
