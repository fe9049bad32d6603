"""Steep rises in the band where clicks stand out, each described by a few numbers.

The sound is band-passed to where clicks stand out of wind and voices; what rises steeply is a
candidate, one each 25 ms.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields
from itertools import pairwise
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ...decode.samples import RATE, Samples

Wave = NDArray[np.float64]

CLICK_BAND_HZ = (2_500.0, 12_000.0)
LOW_BAND_HZ = (150.0, 1_500.0)
#: One energy value a millisecond.
BIN = RATE // 1000
RISE_DB, APART_MS, MEDIAN_MS = 6.0, 25, 1000
#: Press and release lie this far apart, seconds.
RELEASE_S = (0.05, 0.30)
CROWD_S = 0.5
BANDS, BANDS_HZ, SPECTRUM_MS = 28, (1_200.0, 14_000.0), 12
#: Power that counts as silence, -90 dB of full scale: below it a phone's own rounding lies.
FLOOR = 1e-9
#: A band that no candidate lifts by this much is not there at all.
DEAD_DB = 3.0


@dataclass(frozen=True)
class Candidates:
    """Steep rises in the click band in time order, one row each.

    `t_s` is seconds. Levels are decibels: `rise` over the 10 ms before, `prominence` over a
    second's median, `decay` from the first 8 ms to 12 ms later and `fade` to 40 ms later,
    `over_low` over the low band. `partner` is how alike (-1 to 1) the best later transient in
    the release's distance is, `gap_s` its distance (NaN: there is none), `release` its level
    against this one's, `echo` the same likeness for an earlier one. `crowd` counts what else
    rises in the half second around, weighed by its level. `spectra`: 28 bands from 1.2 to
    14 kHz, each 10 log10(1 + power / background).
    """

    t_s: Wave
    rise: Wave
    prominence: Wave
    decay: Wave
    fade: Wave
    over_low: Wave
    crowd: Wave
    partner: Wave
    release: Wave
    gap_s: Wave
    echo: Wave
    spectra: NDArray[np.float32]

    def __len__(self) -> int:
        return len(self.t_s)

    def __getitem__(self, which: NDArray[np.bool_] | NDArray[np.int64]) -> Candidates:
        return Candidates(*(getattr(self, field.name)[which] for field in fields(self)))

    @classmethod
    def none(cls) -> Candidates:
        """Of a sound in which nothing rises."""
        row = np.zeros(0)
        return cls(
            *(row, row, row, row, row, row),
            *(row, row, row, row, row),
            np.zeros((0, BANDS), np.float32),
        )

    @classmethod
    def joined(cls, parts: Sequence[Candidates]) -> Candidates:
        """Those of several stretches, one after another."""
        if not parts:
            return cls.none()
        return cls(*(np.concatenate([getattr(p, f.name) for p in parts]) for f in fields(cls)))

    def save(self, path: Path) -> None:
        """Write them as a NumPy archive, one array a field."""
        with path.open("wb") as file:
            np.savez_compressed(file, **{f.name: getattr(self, f.name) for f in fields(self)})

    @classmethod
    def load(cls, path: Path) -> Candidates:
        """Read what `save` wrote."""
        with np.load(path, allow_pickle=False) as kept:
            return cls(*(kept[field.name] for field in fields(cls)))


class Listener:
    """Finds candidates in sound that comes block by block; memory does not grow with it.

    Pieces of 20 s overlap by a second, so that a candidate sees the whole of its
    surroundings wherever a piece ends.
    """

    PIECE_S, OVERLAP_S = 20, 1

    def __init__(self) -> None:
        self._found: list[Candidates] = []
        #: Blocks and what of each lies in the click band.
        self._held: list[tuple[Samples, Samples]] = []
        self._held_length = 0
        self._start: int | None = None
        self._settled_s = float("-inf")

    def add(self, position: int, samples: Samples, band: Samples) -> None:
        """Samples at 48 kHz from `position` on, and what of them `ClickBand` lets through.

        Blocks follow each other without a gap.
        """
        if self._start is None:
            self._start = position
        self._held.append((samples, band))
        self._held_length += len(samples)
        if self._held_length >= (self.PIECE_S + 2 * self.OVERLAP_S) * RATE:
            self._listen(is_last=False)

    def finish(self) -> Candidates:
        """All candidates of the sound, in time order."""
        if self._held:
            self._listen(is_last=True)
            self._held = []
        return Candidates.joined(self._found)

    def _listen(self, is_last: bool) -> None:
        assert self._start is not None
        piece, band = (np.concatenate(blocks) for blocks in zip(*self._held, strict=True))
        begin_s = self._start / RATE
        end_s = begin_s + len(piece) / RATE
        until_s = end_s if is_last else end_s - self.OVERLAP_S
        found = find_candidates(piece, begin_s, band)
        self._found.append(found[(found.t_s >= self._settled_s) & (found.t_s < until_s)])
        self._settled_s = until_s
        # Whole bins are left behind: every piece is cut into the same ones.
        keep = 2 * self.OVERLAP_S * RATE + len(piece) % BIN
        self._held = [(piece[-keep:], band[-keep:])]
        self._held_length = len(self._held[0][0])
        self._start += len(piece) - self._held_length


class ClickBand:
    """Lets the click band through, block after block."""

    def __init__(self) -> None:
        self._filter = _sections(CLICK_BAND_HZ)
        self._state = np.zeros((len(self._filter), 2), np.float32)

    def __call__(self, samples: Samples) -> Samples:
        from scipy import signal

        band, self._state = signal.sosfilt(self._filter, samples, zi=self._state)
        return np.asarray(band, np.float32)


def find_candidates(
    samples: Samples, begin_s: float = 0.0, band: Samples | None = None
) -> Candidates:
    """Candidates of a stretch of sound that begins at `begin_s`.

    `band`: what of it lies in the click band, where it is known already.
    """
    if len(samples) < 40 * BIN:
        return Candidates.none()
    if band is None:
        band = ClickBand()(samples)
    level = _bins_db(band)
    low = _bins_db(_low_band(samples))
    places, rises, over = _rises(level)
    if len(places) == 0:
        return Candidates.none()
    onsets = np.array([_onset(band, place) for place in places])
    spectra = _spectra(samples, onsets)
    peaks = _window_max(level, places, 8)
    times = onsets / RATE
    partner, release, gap = _partners(times, spectra, peaks, 1)
    echo, _, _ = _partners(times, spectra, peaks, -1)
    return Candidates(
        t_s=begin_s + times,
        rise=rises,
        prominence=over,
        decay=peaks - _window_mean(level, places + 12, 13),
        fade=peaks - _window_mean(level, places + 40, 25),
        over_low=peaks - _window_max(low, places, 8),
        crowd=_crowds(times, peaks, gap),
        partner=partner,
        release=release,
        gap_s=gap,
        echo=echo,
        spectra=np.round(spectra, 1).astype(np.float32),
    )


def _sections(band: tuple[float, float]) -> NDArray[np.float32]:
    # Seconds to import, and the server, which only ranks, never comes here.
    from scipy import signal

    return np.asarray(signal.butter(4, band, "bandpass", fs=RATE, output="sos"), np.float32)


def _low_band(samples: Samples) -> Samples:
    from scipy import signal

    return np.asarray(signal.sosfilt(_sections(LOW_BAND_HZ), samples), np.float32)


def _bins_db(wave: Samples) -> Wave:
    bins = len(wave) // BIN
    stretches = wave[: bins * BIN].reshape(bins, BIN)
    power = np.einsum("ij,ij->i", stretches, stretches, dtype=np.float64) / BIN
    return np.asarray(10 * np.log10(power + FLOOR))


def _window_max(level: Wave, places: NDArray[np.int64], length: int) -> Wave:
    padded = np.pad(level, (0, length), mode="edge")
    return np.asarray(np.max(padded[places[:, None] + np.arange(length)], axis=1))


def _window_mean(level: Wave, places: NDArray[np.int64], length: int) -> Wave:
    """Mean over a stretch; what lies beyond the end counts as the last value."""
    at = np.minimum(places[:, None] + np.arange(length), len(level) - 1)
    return np.asarray(np.mean(level[at], axis=1))


def _rises(level: Wave) -> tuple[NDArray[np.int64], Wave, Wave]:
    """Bins at which the level rises steeply, by how much, and how far over the second's median."""
    power = 10 ** (level / 10)
    before = np.full_like(level, np.inf)
    sums = np.concatenate(([0.0], np.cumsum(power)))
    before[10:] = 10 * np.log10(np.maximum((sums[10:-1] - sums[:-11]) / 10, FLOOR))
    ahead = np.lib.stride_tricks.sliding_window_view(np.pad(level, (0, 3), mode="edge"), 4).max(1)
    # A median each 50 ms is as good as one each millisecond, and fifty times cheaper.
    at = np.arange(0, len(level), 50)
    median = np.interp(np.arange(len(level)), at, _medians(level, at, MEDIAN_MS // 2))
    rise, over = ahead - before, ahead - median
    steep = np.flatnonzero((rise >= RISE_DB) & (over >= RISE_DB))
    chosen: list[int] = []
    taken = np.zeros(len(level), bool)
    for place in steep[np.argsort(-rise[steep], kind="stable")]:
        if not taken[place]:
            chosen.append(int(place))
            taken[max(0, place - APART_MS) : place + APART_MS] = True
    places = np.array(sorted(chosen), np.int64)
    return places, rise[places], over[places]


def _medians(level: Wave, at: NDArray[np.int64], half: int) -> Wave:
    """Of `half` values either way of each place; near an end of those there are."""
    medians = np.empty(len(at))
    whole = (at >= half) & (at + half <= len(level))
    if whole.any():
        windows = np.lib.stride_tricks.sliding_window_view(level, 2 * half)
        medians[whole] = np.median(windows[at[whole] - half], axis=1)
    for n in np.flatnonzero(~whole):
        medians[n] = np.median(level[max(0, at[n] - half) : at[n] + half])
    return medians


_HALF_MS = np.ones(RATE // 2000, np.float32) / (RATE // 2000)


def _onset(band: Samples, place: int) -> int:
    """The sample of the last upward crossing before the peak: of 15 % of the peak, or, where the
    noise before stands higher, of twice the noise, and of 70 % at most."""
    start = max(0, (place - 3) * BIN)
    stretch = band[start : (place + 10) * BIN]
    before = band[max(0, start - 10 * BIN) : start]
    noise = float(np.sqrt(np.mean(before**2))) if len(before) else 0.0
    envelope = np.sqrt(np.convolve(stretch**2, _HALF_MS)[: len(stretch)])
    peak = int(np.argmax(envelope))
    level = min(max(0.15 * envelope[peak], 2 * noise), 0.7 * envelope[peak])
    below = np.flatnonzero(envelope[: peak + 1] < level)
    return start + (int(below[-1]) + 1 if len(below) else 0)


_LENGTH = SPECTRUM_MS * BIN
_WINDOW = np.hanning(_LENGTH).astype(np.float32)
_EDGES_HZ = np.geomspace(*BANDS_HZ, BANDS + 1)
_EDGES = np.searchsorted(np.fft.rfftfreq(_LENGTH, 1 / RATE), _EDGES_HZ)
#: What silence (`FLOOR`) has in every band.
_SILENCE = FLOOR * float(np.sum(_WINDOW**2))


def _bands(samples: Samples, starts: NDArray[np.int64]) -> Wave:
    """Power by band of the stretches that begin there: stretches × bands."""
    padded = np.pad(samples, (0, _LENGTH))
    rows = padded[starts[:, None] + np.arange(_LENGTH)] * _WINDOW
    power = np.abs(np.fft.rfft(rows, axis=1)) ** 2
    return np.stack([power[:, a : max(b, a + 1)].mean(axis=1) for a, b in pairwise(_EDGES)], axis=1)


def _spectra(samples: Samples, onsets: NDArray[np.int64]) -> Wave:
    """Each band over the background: the median of 60 stretches spread over the sound."""
    spread = np.linspace(0, len(samples) - _LENGTH, 60).astype(np.int64)
    background = np.median(_bands(samples, spread), axis=0) + _SILENCE
    # The window's middle lies on the press, where its power is.
    power = _bands(samples, np.maximum(0, onsets - _LENGTH // 4))
    return np.asarray(10 * np.log10(1 + power / background))


def normed(spectra: NDArray[np.floating]) -> Wave:
    """Rows without their mean and of length 1: their products are correlations.

    Bands in which nothing ever rises are left out: above half a narrow recording's rate all
    sounds are alike in having nothing.
    """
    rows = np.asarray(spectra, np.float64)
    is_live = rows.max(axis=0, initial=0) > DEAD_DB
    if not is_live.any():
        return np.zeros((len(rows), 1))
    rows = rows[:, is_live]
    rows = rows - rows.mean(axis=-1, keepdims=True)
    size = np.sqrt(np.sum(rows**2, axis=-1, keepdims=True))
    return np.asarray(rows / np.where(size > 0, size, 1.0))


def _partners(times: Wave, spectra: Wave, peaks: Wave, direction: int) -> tuple[Wave, Wave, Wave]:
    """Likeness, relative level and distance of the best transient a release's distance away."""
    count = len(times)
    likeness, level, gap = np.zeros(count), np.full(count, -30.0), np.full(count, np.nan)
    rows = normed(spectra)
    near, far = RELEASE_S if direction > 0 else (-RELEASE_S[1], -RELEASE_S[0])
    first = np.searchsorted(times, times + near)
    last = np.searchsorted(times, times + far, side="right")
    for n in range(count):
        if first[n] == last[n]:
            continue
        others = np.arange(first[n], last[n])
        # A release is no louder than its press, give or take; an echo's press no softer.
        others = others[(peaks[others] - peaks[n]) * direction <= 3]
        if len(others):
            alike = rows[others] @ rows[n]
            best = int(np.argmax(alike))
            likeness[n] = alike[best]
            level[n] = peaks[others[best]] - peaks[n]
            gap[n] = abs(times[others[best]] - times[n])
    return likeness, level, gap


def _crowds(times: Wave, peaks: Wave, gaps: Wave) -> Wave:
    """How much else rises near by: neighbours weighed by level, one's own release left out."""
    first = np.searchsorted(times, times - CROWD_S)
    last = np.searchsorted(times, times + CROWD_S, side="right")
    crowd = np.empty(len(times))
    for n, gap in enumerate(gaps):
        others = np.arange(first[n], last[n])
        away = times[others] - times[n]
        counts = (away != 0) & ~(np.abs(away - gap) <= 1e-9)
        over = np.clip(peaks[others[counts]] - peaks[n], -30, 10)
        crowd[n] = np.sum(10 ** (over / 20))
    return crowd
