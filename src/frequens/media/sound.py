"""The sound at its own time: samples without drift, an overview for drawing, and heard clicks."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from av.audio.stream import AudioStream
from numpy.typing import NDArray
from scipy import signal

from .clicks import CLICK_BAND_HZ, Candidate, Listener
from .container import open_film
from .frames import FrameIndex
from .samples import RATE, SamplePlacer, Samples

#: Values a second in the overview.
OVERVIEW_RATE = 200
FLOOR_DB = -100
Report = Callable[[float], None]


@dataclass(frozen=True)
class SoundOverview:
    """200 values a second from the first displayed frame on.

    `low` and `high` are the extremes of the wave as int8 (127 = full scale), `click_db` the
    level in 2.5 to 12 kHz as int8 decibels (0 = full scale), where clicks stand out.
    """

    low: NDArray[np.int8]
    high: NDArray[np.int8]
    click_db: NDArray[np.int8]

    def to_bytes(self) -> bytes:
        """The three rows one after another."""
        return self.low.tobytes() + self.high.tobytes() + self.click_db.tobytes()


class _OverviewBuilder:
    """Fills an overview block by block; memory does not grow with the sound's own rate."""

    def __init__(self, length: int):
        self.low = np.zeros(length, np.float32)
        self.high = np.zeros(length, np.float32)
        self.power = np.zeros(length, np.float64)
        self.counts = np.zeros(length, np.int64)
        self._filter = signal.butter(4, CLICK_BAND_HZ, "bandpass", fs=RATE, output="sos")
        self._state = signal.sosfilt_zi(self._filter) * 0

    def add(self, position: int, samples: Samples) -> None:
        band, self._state = signal.sosfilt(self._filter, samples, zi=self._state)
        places = (position + np.arange(len(samples))) * OVERVIEW_RATE // RATE
        inside = (places >= 0) & (places < len(self.low))
        places, samples, band = places[inside], samples[inside], band[inside]
        np.minimum.at(self.low, places, samples)
        np.maximum.at(self.high, places, samples)
        np.add.at(self.power, places, band**2)
        np.add.at(self.counts, places, 1)

    def overview(self) -> SoundOverview:
        mean = self.power / np.maximum(self.counts, 1)
        level = 10 * np.log10(np.maximum(mean, 10 ** (FLOOR_DB / 10)))
        return SoundOverview(
            _int8(self.low * 127), _int8(self.high * 127), _int8(np.maximum(level, FLOOR_DB))
        )


def _int8(values: NDArray[np.floating]) -> NDArray[np.int8]:
    return np.clip(np.round(values), -128, 127).astype(np.int8)


def placed_sound(path: Path, origin: Fraction) -> Iterator[tuple[int, Samples]]:
    """The film's sound in blocks of (sample after `origin` seconds, 48 kHz mono samples).

    Yields nothing for a silent film; a damaged stretch is left out and stays silent.
    """
    with open_film(path) as container:
        if not container.streams.audio:
            return
        stream: AudioStream = container.streams.audio[0]
        placer = SamplePlacer(origin)
        for packet in container.demux(stream):
            try:
                frames = packet.decode()
            except av.FFmpegError:
                continue
            for frame in frames:
                yield from placer.feed(frame)
        yield from placer.feed(None)


@dataclass(frozen=True)
class ReadSound:
    """What one pass over a film's sound gives. Times of clicks are from the first frame on."""

    overview: SoundOverview
    clicks: list[Candidate]


def read_sound(
    path: Path, index: FrameIndex, report: Report = lambda share: None
) -> ReadSound | None:
    """A film's sound over the time its frames cover; None for a silent film."""
    num, den = index.time_base
    origin = Fraction(index.pts[0] * num, den)
    length = max(1, index.duration_us * OVERVIEW_RATE // 1_000_000)
    builder, listener = _OverviewBuilder(length), Listener()
    heard = False
    for position, samples in placed_sound(path, origin):
        heard = True
        builder.add(position, samples)
        listener.add(position, samples)
        report(min(1.0, max(0.0, position * OVERVIEW_RATE / RATE / length)))
    if not heard:
        return None
    end_s = index.duration_us / 1_000_000
    return ReadSound(builder.overview(), [c for c in listener.finish() if 0 <= c.t_s < end_s])
