"""What a voice leaves in the sound: the mel spectrum over its own noise floor, each 10 ms."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ...decode.samples import RATE, Samples

Rows = NDArray[np.float32]

#: Rows a second, and how long a stretch each describes, seconds.
ROWS, WINDOW_S = 100, 0.025
BANDS, BANDS_HZ = 32, (150.0, 7_500.0)
#: The floor is the level below which a band lies a fifth of the time, 4 s either way.
FLOOR_SHARE, FLOOR_EVERY, FLOOR_REACH = 0.2, 2 * ROWS, 4 * ROWS
#: So far over the floor lies noise itself, decibels; what is over is kept up to the second.
MARGIN_DB, MOST_DB = 6.0, 42.0
#: Power that counts as silence, -90 dB of full scale.
SILENCE = 1e-9
_STEP, _LENGTH = RATE // ROWS, round(WINDOW_S * RATE)
_SCALE = 6.0


@dataclass(frozen=True)
class Voices:
    """Rows of 32 bands, 100 a second, decibels over the noise floor in sixths (uint8)."""

    rows: NDArray[np.uint8]

    def __len__(self) -> int:
        return len(self.rows)

    @classmethod
    def none(cls) -> Voices:
        return cls(np.zeros((0, BANDS), np.uint8))

    def db(self) -> Rows:
        """Decibels over the floor."""
        return self.rows.astype(np.float32) / np.float32(_SCALE)

    def save(self, path: Path) -> None:
        with path.open("wb") as file:
            np.savez_compressed(file, rows=self.rows)

    @classmethod
    def load(cls, path: Path) -> Voices:
        with np.load(path) as kept:
            return cls(kept["rows"])


class VoiceListener:
    """Hears a whole film block by block; row *n* is centred *n* hundredths after the zero."""

    def __init__(self) -> None:
        self._rows: list[NDArray[np.float32]] = []
        self._held = np.zeros(_LENGTH // 2, np.float32)
        self._begun = False

    def add(self, position: int, samples: Samples) -> None:
        """A block that begins `position` samples after the zero; blocks follow each other."""
        if position < 0:
            samples = samples[-position:]
        elif position and not self._begun:
            # Before the sound begins there is silence.
            self._held = np.zeros(_LENGTH // 2 + position, np.float32)
        self._begun = self._begun or len(samples) > 0
        self._held = np.concatenate([self._held, samples])
        count = (len(self._held) - _LENGTH) // _STEP + 1
        if count > 0:
            self._rows.append(_levels(self._held, count))
            self._held = self._held[count * _STEP :]

    def finish(self, length_s: float) -> Voices:
        """The film's rows to its end."""
        self.add(0, np.zeros(_LENGTH, np.float32))
        if not self._rows:
            return Voices.none()
        length = max(1, round(length_s * ROWS))
        level = np.concatenate(self._rows)[:length]
        over = np.clip(level - _floor(level) - MARGIN_DB, 0, MOST_DB)
        # Where the sound ends before the picture nothing is heard.
        rows = np.pad(over, ((0, length - len(over)), (0, 0)))
        return Voices(np.round(rows * _SCALE).astype(np.uint8))


def heard_voices(samples: Samples, block: int = RATE) -> Voices:
    """What voices leave in samples that begin with the film."""
    listener = VoiceListener()
    for start in range(0, len(samples), block):
        listener.add(start, samples[start : start + block])
    return listener.finish(len(samples) / RATE)


def _levels(samples: Samples, count: int) -> NDArray[np.float32]:
    """Decibels by band of stretches a hundredth apart: count × bands."""
    from scipy import fft

    found = np.empty((count, BANDS), np.float32)
    for first in range(0, count, 512):
        last = min(count, first + 512)
        starts = np.arange(first, last) * _STEP
        stretches = samples[starts[:, None] + np.arange(_LENGTH)] * _WINDOW
        power = np.abs(fft.rfft(stretches, axis=1)) ** 2 @ _FILTERS
        found[first:last] = 10 * np.log10(power + SILENCE)
    return found


def _floor(level: NDArray[np.float32]) -> NDArray[np.float32]:
    at = np.arange(0, len(level) + FLOOR_EVERY, FLOOR_EVERY)
    known = np.stack(
        [
            # A row in two is as good for this as every one.
            np.quantile(level[max(0, n - FLOOR_REACH) : n + FLOOR_REACH : 2], FLOOR_SHARE, axis=0)
            for n in np.minimum(at, len(level) - 1)
        ]
    )
    rows = np.arange(len(level))
    return np.stack([np.interp(rows, at, band) for band in known.T], axis=1).astype(np.float32)


def _mel(hz: NDArray[np.floating] | float) -> NDArray[np.float64]:
    """O'Shaughnessy's formula: 2595 log10(1 + f / 700)."""
    return np.asarray(2595 * np.log10(1 + np.asarray(hz) / 700))


def _filters() -> NDArray[np.float32]:
    """Triangles evenly apart on the mel scale: bins × bands, the power at full scale 1."""
    hz = np.fft.rfftfreq(_LENGTH, 1 / RATE)
    edges = np.linspace(_mel(BANDS_HZ[0]), _mel(BANDS_HZ[1]), BANDS + 2)
    low, middle, high = edges[:-2], edges[1:-1], edges[2:]
    at = _mel(hz)[:, None]
    rising, falling = (at - low) / (middle - low), (high - at) / (high - middle)
    return np.maximum(0, np.minimum(rising, falling)).astype(np.float32)


_WINDOW = np.hanning(_LENGTH).astype(np.float32)
_WINDOW /= np.float32(np.sum(_WINDOW) / 2)
_FILTERS = _filters()
