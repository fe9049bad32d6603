"""Decoded sound as samples that keep their place in time."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import av
import numpy as np
from numpy.typing import NDArray

RATE = 48_000
#: Time stamps this close to the running count are rounding, not gaps.
JITTER_S = 0.005
Samples = NDArray[np.float32]


class SamplePlacer:
    """Resamples decoded sound to 48 kHz mono and keeps every block at its presentation time.

    `feed` yields blocks whose positions follow each other without gap: missing sound is
    filled with silence, overlap is cut, jitter up to 5 ms is taken as rounding.
    """

    def __init__(self, origin: Fraction):
        self.origin = origin
        self.position: int | None = None
        self._resampler = av.AudioResampler(format="fltp", layout="mono", rate=RATE)

    def feed(self, frame: av.AudioFrame | None) -> Iterator[tuple[int, Samples]]:
        """Blocks of (first sample after `origin`, samples); None flushes."""
        for block in self._resampler.resample(frame):
            samples = block.to_ndarray()[0]
            start = self._start_of(block)
            if self.position is None:
                self.position = start
            lead = start - self.position
            if abs(lead) <= JITTER_S * RATE:
                lead = 0
            if lead > 0:
                yield self.position, np.zeros(lead, np.float32)
                self.position += lead
            elif lead < 0:
                samples = samples[-lead:]
            if len(samples):
                yield self.position, samples
                self.position += len(samples)

    def _start_of(self, block: av.AudioFrame) -> int:
        if block.pts is None or block.time_base is None:
            return self.position or 0
        # In whole numbers: fractions here took a third of the time to read a film's sound.
        base, origin = block.time_base, self.origin
        ticks = block.pts * base.numerator * origin.denominator
        ticks -= origin.numerator * base.denominator
        per_sample = base.denominator * origin.denominator
        return (2 * RATE * ticks + per_sample) // (2 * per_sample)
