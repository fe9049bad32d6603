"""Sound of made-up sessions with known clicks in a noisy yard, to prove the listener on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..samples import RATE, Samples
from .clutter import PRESS_S, Clicker, add, any_clicker, level_of, yard

#: Clicks of one session lie at least this far apart, seconds.
APART_S = 1.2


@dataclass(frozen=True)
class HeardSession:
    """Mono samples at 48 kHz and the instants of the presses in seconds."""

    samples: Samples
    presses_s: tuple[float, ...]
    clicker: Clicker


def heard_session(seed: int, clicks: int, length_s: float, snr_db: float) -> HeardSession:
    """A session of `clicks` presses of one clicker, the same for the same seed.

    `snr_db`: mean power of a press's first 5 ms against that of the whole background, both
    above 300 Hz. (Within 2.5 to 12 kHz, where voices are weaker, it is some 10 dB more.)
    """
    chance = np.random.default_rng(seed)
    clicker = any_clicker(chance)
    track = yard(chance, length_s)
    press = clicker.press(chance)[: round(PRESS_S * RATE)]
    level = level_of(track) * 10 ** (snr_db / 20) / level_of(press)
    presses = _apart(chance, clicks, length_s)
    for at in presses:
        strength = level * chance.uniform(0.85, 1.15)
        add(track, at, clicker.press(chance) * strength)
        gap = clicker.gap_s * chance.uniform(0.8, 1.25)
        add(track, at + gap, clicker.let_go(chance) * strength)
    loudest = max(1.0, float(np.max(np.abs(track))))
    return HeardSession((track / loudest).astype(np.float32), presses, clicker)


def _apart(chance: np.random.Generator, count: int, length_s: float) -> tuple[float, ...]:
    """Instants on whole samples, each well after the one before."""
    room = length_s - 1.0 - count * APART_S
    if room < 0:
        raise ValueError(f"{count} clicks do not fit into {length_s:g} s")
    starts = np.sort(chance.uniform(0, room, count)) + 0.5 + np.arange(count) * APART_S
    return tuple(np.round(starts * RATE) / RATE)
