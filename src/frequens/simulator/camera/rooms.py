"""What a room or a yard does to a sound on its way: reflections, and a tail that dies away."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from frequens.media.decode.samples import RATE

Wave = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Room:
    """A place to hear from.

    `dies_s` is the time in which the tail falls by 60 dB; `direct_db` how far the direct sound
    stands over all that comes later; `reflections` how many single ones come before the tail.
    """

    dies_s: float
    direct_db: float
    reflections: int

    def response(self, chance: np.random.Generator) -> Wave:
        """The impulse response at 48 kHz; its first sample is the direct sound, 1."""
        length = max(64, round(min(1.2, self.dies_s * 1.1 + 0.05) * RATE))
        t = np.arange(length) / RATE
        # High notes die sooner: a bright tail over a dull one of twice its time.
        white = chance.standard_normal(length)
        dull = signal.sosfilt(signal.butter(1, 3_000, fs=RATE, output="sos"), white) * 2
        fall = 6.9 / self.dies_s
        tail = 0.5 * white * np.exp(-fall * 1.6 * t) + dull * np.exp(-fall * t)
        tail[: round(0.001 * RATE)] = 0
        for _ in range(self.reflections):
            place = round(chance.uniform(0.0008, 0.035) * RATE)
            if place < length:
                tail[place] += (
                    chance.choice([-1, 1]) * chance.uniform(4, 16) * np.exp(-fall * place / RATE)
                )
        size = float(np.sqrt(np.sum(tail**2))) or 1.0
        tail *= 10 ** (-self.direct_db / 20) / size
        tail[0] = 1.0
        return np.asarray(tail)


def any_room(chance: np.random.Generator) -> Room:
    """From an open field, over a yard, to an empty barn heard from its other end."""
    return Room(
        float(np.exp(chance.uniform(np.log(0.03), np.log(0.9)))),
        float(chance.uniform(-6, 18)),
        int(chance.integers(0, 12)),
    )


def heard_in(sound: Wave, response: Wave) -> Wave:
    """The sound through a response, as long as it was."""
    return np.asarray(signal.fftconvolve(sound, response)[: len(sound)])
