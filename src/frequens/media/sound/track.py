"""The sound at its own time: samples without drift, what is drawn of it, clicks and voices."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import IO

import av
import numpy as np
from av.audio.stream import AudioStream
from numpy.typing import NDArray

from ..decode.container import open_film
from ..decode.frames import FrameIndex
from ..decode.samples import RATE, SamplePlacer, Samples
from .clicks import Candidates, Listener
from .clicks.candidates import ClickBand
from .words import VoiceListener, Voices

#: Values a second in the overview.
OVERVIEW_RATE = 200
#: Values a second where one looks closely.
FINE_RATE = 2000
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

    def add(self, position: int, samples: Samples, band: Samples) -> None:
        """A block and what of it lies in the click band."""
        places = (position + np.arange(len(samples))) * OVERVIEW_RATE // RATE
        inside = (places >= 0) & (places < len(self.low))
        if not inside.any():
            return
        places, samples, band = places[inside], samples[inside], band[inside]
        # Places rise: each is one run, whose first and last may have begun or go on elsewhere.
        starts = np.flatnonzero(np.diff(places, prepend=places[0] - 1))
        at = places[starts]
        self.low[at] = np.minimum(self.low[at], np.minimum.reduceat(samples, starts))
        self.high[at] = np.maximum(self.high[at], np.maximum.reduceat(samples, starts))
        self.power[at] += np.add.reduceat(band.astype(np.float64) ** 2, starts)
        self.counts[at] += np.diff(starts, append=len(places))

    def overview(self) -> SoundOverview:
        mean = self.power / np.maximum(self.counts, 1)
        level = 10 * np.log10(np.maximum(mean, 10 ** (FLOOR_DB / 10)))
        return SoundOverview(
            _int8(self.low * 127), _int8(self.high * 127), _int8(np.maximum(level, FLOOR_DB))
        )


class _FineWriter:
    """Writes the sound as one looks at it closely: `FINE_RATE` rows a second of three int8.

    Lowest and highest of the wave and the level in the click band, as in `SoundOverview`, row
    after row, so that a stretch can be had by itself. Written as it comes.
    """

    GROUP = RATE // FINE_RATE

    def __init__(self, file: IO[bytes], rows: int):
        self._file, self._left = file, rows
        self._held = self._held_band = np.zeros(0, np.float32)
        self._begun = False

    def add(self, position: int, samples: Samples, band: Samples) -> None:
        """A block and what of it lies in the click band; they follow each other."""
        if position < 0:
            samples, band = samples[-position:], band[-position:]
        elif position and not self._begun:
            # Before the sound begins there is silence.
            self._held = self._held_band = np.zeros(position, np.float32)
        self._begun = self._begun or len(samples) > 0
        self._held = np.concatenate([self._held, samples])
        self._held_band = np.concatenate([self._held_band, band])
        whole = len(self._held) - len(self._held) % self.GROUP
        self._write(self._held[:whole], self._held_band[:whole])
        self._held, self._held_band = self._held[whole:], self._held_band[whole:]

    def finish(self) -> None:
        """What is missing to the film's end is silent."""
        short = np.zeros(max(0, self._left * self.GROUP - len(self._held)), np.float32)
        if self._left:
            held, band = (np.concatenate([h, short]) for h in (self._held, self._held_band))
            whole = self._left * self.GROUP
            self._write(held[:whole], band[:whole])

    def _write(self, samples: Samples, band: Samples) -> None:
        wave = samples.reshape(-1, self.GROUP)[: self._left]
        power = np.mean(band.reshape(-1, self.GROUP)[: self._left].astype(np.float64) ** 2, axis=1)
        level = 10 * np.log10(np.maximum(power, 10 ** (FLOOR_DB / 10)))
        rows = [wave.min(axis=1) * 127, wave.max(axis=1) * 127, level] if len(wave) else []
        if rows:
            self._file.write(np.stack([_int8(row) for row in rows], axis=1).tobytes())
            self._left -= len(wave)


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


def _in_seconds(blocks: Iterator[tuple[int, Samples]]) -> Iterator[tuple[int, Samples]]:
    """Blocks that follow each other, put together to a second and more: cheaper to work on."""
    held: list[Samples] = []
    start = length = 0
    for position, samples in blocks:
        if not held:
            start, length = position, 0
        held.append(samples)
        length += len(samples)
        if length >= RATE:
            yield start, np.concatenate(held)
            held = []
    if held:
        yield start, np.concatenate(held)


@dataclass(frozen=True)
class ReadSound:
    """What one pass over a film's sound gives. Times of clicks are from the first frame on."""

    overview: SoundOverview
    clicks: Candidates
    voices: Voices


def read_sound(
    path: Path,
    index: FrameIndex,
    report: Report = lambda share: None,
    fine: IO[bytes] | None = None,
) -> ReadSound | None:
    """A film's sound over the time its frames cover; None for a silent film.

    `fine`: where to write it as one looks at it closely, `FINE_RATE` rows a second.
    """
    num, den = index.time_base
    origin = Fraction(index.pts[0] * num, den)
    length = max(1, index.duration_us * OVERVIEW_RATE // 1_000_000)
    builder, listener, band_of = _OverviewBuilder(length), Listener(), ClickBand()
    voices = VoiceListener()
    writer = _FineWriter(fine, max(1, index.duration_us * FINE_RATE // 1_000_000)) if fine else None
    heard = False
    for position, samples in _in_seconds(placed_sound(path, origin)):
        heard = True
        band = band_of(samples)
        builder.add(position, samples, band)
        listener.add(position, samples, band)
        voices.add(position, samples)
        if writer:
            writer.add(position, samples, band)
        report(min(1.0, max(0.0, position * OVERVIEW_RATE / RATE / length)))
    if not heard:
        return None
    if writer:
        writer.finish()
    end_s = index.duration_us / 1_000_000
    found = listener.finish()
    inside = (found.t_s >= 0) & (found.t_s < end_s)
    return ReadSound(builder.overview(), found[inside], voices.finish(end_s))
