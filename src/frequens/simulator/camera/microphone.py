"""What a phone makes of a sound: hiss, a narrower band, gain that follows, a gate, clipping."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import signal

from frequens.media.decode.samples import RATE

Wave = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Microphone:
    """How one records. `hiss` is its own noise's level beside the sound's root mean square, and
    `top_hz` where it hears no more. Above 0, `gain`, `gate` and `clip` are how much of a sound
    is levelled out, shut away and cut off, as shares."""

    hiss: float = 0.0
    top_hz: float = 20_000.0
    gain: float = 0.0
    gate: float = 0.0
    clip: float = 0.0

    def record(self, sound: Wave, chance: np.random.Generator) -> Wave:
        """The sound as it lies on the film, peaks within ±1."""
        made = sound + self.hiss * float(np.std(sound)) * chance.standard_normal(len(sound))
        if self.top_hz < 20_000:
            made = signal.sosfiltfilt(signal.butter(6, self.top_hz, fs=RATE, output="sos"), made)
        if self.gain:
            made = made * self._following(made)
        if self.gate:
            made = made * self._open(made)
        if self.clip:
            made = np.clip(made, *np.quantile(made, [self.clip / 2, 1 - self.clip / 2]))
        return np.asarray(made / max(1.0, float(np.max(np.abs(made)))))

    def _following(self, sound: Wave) -> Wave:
        """A gain that falls within 5 ms of a loud sound and comes back within a second."""
        step = RATE // 200
        blocks = np.array([np.max(np.abs(b)) for b in np.array_split(sound, len(sound) // step)])
        level = np.empty(len(blocks))
        now = float(np.median(blocks)) + 1e-6
        for n, peak in enumerate(blocks):
            now = peak if peak > now else now * 0.985 + peak * 0.015
            level[n] = now + 1e-6
        gain = (np.median(level) / level) ** self.gain
        return np.interp(np.arange(len(sound)), (np.arange(len(blocks)) + 1.0) * step, gain)

    def _open(self, sound: Wave) -> Wave:
        """1 where somebody may be speaking, near 0 where the phone takes it for silence."""
        step = RATE // 100
        blocks = np.array([np.mean(b**2) for b in np.array_split(sound, len(sound) // step)])
        loud = blocks > np.quantile(blocks, self.gate)
        held = np.convolve(loud, np.ones(15))[: len(loud)] > 0
        opened = np.where(held, 1.0, 0.003)
        return np.interp(np.arange(len(sound)), np.arange(len(blocks)) * float(step), opened)


def any_microphone(chance: np.random.Generator) -> Microphone:
    """Half of them as good as one wishes; the others each with something."""
    if chance.random() < 0.4:
        return Microphone(hiss=float(10 ** chance.uniform(-4, -1)))
    kind = int(chance.integers(5))
    return Microphone(
        hiss=float(10 ** chance.uniform(-4, -0.3 if kind == 4 else -1.5)),
        top_hz=float(chance.uniform(3_600, 14_000)) if kind == 0 else 20_000.0,
        gain=float(chance.uniform(0.3, 0.9)) if kind == 1 else 0.0,
        gate=float(chance.uniform(0.3, 0.7)) if kind == 2 else 0.0,
        clip=float(10 ** chance.uniform(-4, -1.7)) if kind == 3 else 0.0,
    )
