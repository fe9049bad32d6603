"""Heard clicks: where in the sound a clicker may have been pressed, ranked.

A suggestion is a place to look, never a mark. Scores order the suggestions of one film;
they are no probabilities.

The sound is band-passed to where clicks stand out of wind and voices; what rises steeply is
a candidate, one each 25 ms. Candidates are described by a few numbers (below) and weighed
by a logistic regression fitted on simulated sound (`tools/fit_clicks.py`); a confirmed
click gives its spectrum and the gap of its release as an example for the others.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .samples import RATE, Samples

Wave = NDArray[np.float64]

CLICK_BAND_HZ = (2_500.0, 12_000.0)
LOW_BAND_HZ = (150.0, 1_500.0)
#: One energy value a millisecond.
BIN = RATE // 1000
RISE_DB, APART_MS, MEDIAN_MS = 6.0, 25, 1000
#: Press and release lie this far apart, seconds.
RELEASE_S = (0.05, 0.30)
#: What is nearer than this is one press; a mark this near has taken the suggestion up.
MERGE_S = 0.35
CROWD_S = 0.5
BANDS, BANDS_HZ, SPECTRUM_MS = 28, (1_200.0, 14_000.0), 12
FLOOR = 1e-12


@dataclass(frozen=True, slots=True)
class Candidate:
    """A steep rise in the click band, `t_s` seconds after the first sample.

    Levels are decibels: `rise` over the 10 ms before, `prominence` over a second's median,
    `decay` from the first 8 ms to 12 ms later, `over_low` over the low band. `partner` is
    how alike (-1 to 1) the best later transient in the release's distance is, `gap_s` its
    distance (None: there is none), `release` its level against this one's, `echo` the same
    likeness for an earlier one. `crowd` counts what else rises in the half second around,
    weighed by its level. `spectrum`: 28 bands from 1.2 to 14 kHz, each
    10 log10(1 + power / background).
    """

    t_s: float
    rise: float
    prominence: float
    decay: float
    over_low: float
    crowd: float
    partner: float
    release: float
    gap_s: float | None
    echo: float
    spectrum: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Suggestion:
    """A press that may have been heard; `score` above 0 is more likely one than not."""

    t_s: float
    score: float


#: Weights of `_features` and, with an example, of `_likeness` too. From `tools/fit_clicks.py`.
PLAIN_WEIGHTS: tuple[float, ...] = (
    -1.859,
    -0.154,
    3.952,
    1.141,
    -2.383,
    1.067,
    -1.787,
    6.540,
    -0.274,
    -5.007,
    2.886,
    3.088,
)
PLAIN_BIAS = -7.095
EXAMPLE_WEIGHTS: tuple[float, ...] = (
    -1.818,
    0.413,
    1.156,
    1.229,
    -1.702,
    -0.028,
    -0.040,
    4.254,
    0.412,
    -6.407,
    -0.779,
    0.606,
    0.853,
    4.669,
    -7.407,
    1.603,
)
EXAMPLE_BIAS = -1.021


class Listener:
    """Finds candidates in sound that comes block by block; memory does not grow with it.

    Pieces of 20 s overlap by a second, so that a candidate sees the whole of its
    surroundings wherever a piece ends.
    """

    PIECE_S, OVERLAP_S = 20, 1

    def __init__(self) -> None:
        self.candidates: list[Candidate] = []
        self._held: list[Samples] = []
        self._held_length = 0
        self._start: int | None = None
        self._settled_s = float("-inf")

    def add(self, position: int, samples: Samples) -> None:
        """Samples at 48 kHz from `position` on; blocks follow each other without a gap."""
        if self._start is None:
            self._start = position
        self._held.append(samples)
        self._held_length += len(samples)
        if self._held_length >= (self.PIECE_S + 2 * self.OVERLAP_S) * RATE:
            self._listen(is_last=False)

    def finish(self) -> list[Candidate]:
        """All candidates of the sound, in time order."""
        if self._held:
            self._listen(is_last=True)
            self._held = []
        return self.candidates

    def _listen(self, is_last: bool) -> None:
        assert self._start is not None
        piece = np.concatenate(self._held)
        begin_s = self._start / RATE
        end_s = begin_s + len(piece) / RATE
        until_s = end_s if is_last else end_s - self.OVERLAP_S
        for found in find_candidates(piece, begin_s):
            if self._settled_s <= found.t_s < until_s:
                self.candidates.append(found)
        self._settled_s = until_s
        keep = 2 * self.OVERLAP_S * RATE
        self._held = [piece[-keep:]]
        self._held_length = len(self._held[0])
        self._start += len(piece) - self._held_length


def find_candidates(samples: Samples, begin_s: float = 0.0) -> list[Candidate]:
    """Candidates of a stretch of sound that begins at `begin_s`."""
    if len(samples) < 40 * BIN:
        return []
    band = _filtered(samples, CLICK_BAND_HZ)
    level = _bins_db(band)
    low = _bins_db(_filtered(samples, LOW_BAND_HZ))
    places, rises, over = _rises(level)
    onsets = [_onset(band, place) for place in places]
    background = _background(samples)
    spectra = np.array([_spectrum(samples, onset, background) for onset in onsets])
    peaks = np.array([level[p : p + 8].max() for p in places])
    times = np.array(onsets) / RATE
    found = []
    for n, place in enumerate(places):
        after = level[place + 12 : place + 25]
        partner, release, gap = _partner(times, spectra, peaks, n, 1)
        echo, _, _ = _partner(times, spectra, peaks, n, -1)
        found.append(
            Candidate(
                t_s=begin_s + float(times[n]),
                rise=float(rises[n]),
                prominence=float(over[n]),
                decay=float(peaks[n] - (after.mean() if len(after) else peaks[n])),
                over_low=float(peaks[n] - low[place : place + 8].max()),
                crowd=_crowd(times, peaks, n, gap),
                partner=partner,
                release=release,
                gap_s=gap,
                echo=echo,
                spectrum=tuple(np.round(spectra[n], 1).tolist()),
            )
        )
    return found


def _filtered(samples: Samples, band: tuple[float, float]) -> Wave:
    # Seconds to import, and the server, which only ranks, never comes here.
    from scipy import signal

    order = signal.butter(4, band, "bandpass", fs=RATE, output="sos")
    return np.asarray(signal.sosfilt(order, samples.astype(np.float64)))


def _bins_db(wave: Wave) -> Wave:
    bins = len(wave) // BIN
    power = np.mean(wave[: bins * BIN].reshape(bins, BIN) ** 2, axis=1)
    return np.asarray(10 * np.log10(power + FLOOR))


def _rises(level: Wave) -> tuple[list[int], Wave, Wave]:
    """Bins at which the level rises steeply, by how much, and how far over the second's median."""
    power = 10 ** (level / 10)
    before = np.full_like(level, np.inf)
    sums = np.concatenate(([0.0], np.cumsum(power)))
    before[10:] = 10 * np.log10((sums[10:-1] - sums[:-11]) / 10 + FLOOR)
    ahead = np.lib.stride_tricks.sliding_window_view(np.pad(level, (0, 3), mode="edge"), 4).max(1)
    # A median each 50 ms is as good as one each millisecond, and fifty times cheaper.
    half = MEDIAN_MS // 2
    at = np.arange(0, len(level), 50)
    medians = np.array([np.median(level[max(0, i - half) : i + half]) for i in at])
    median = np.interp(np.arange(len(level)), at, medians)
    rise, over = ahead - before, ahead - median
    steep = np.flatnonzero((rise >= RISE_DB) & (over >= RISE_DB))
    chosen: list[int] = []
    taken = np.zeros(len(level), bool)
    for place in steep[np.argsort(-rise[steep], kind="stable")]:
        if not taken[place]:
            chosen.append(int(place))
            taken[max(0, place - APART_MS) : place + APART_MS] = True
    chosen.sort()
    return chosen, rise[chosen], over[chosen]


def _onset(band: Wave, place: int) -> int:
    """The sample of the last upward crossing of 15 % of the peak before the peak."""
    half_ms = RATE // 2000
    start = max(0, (place - 3) * BIN)
    stretch = band[start : (place + 10) * BIN]
    envelope = np.sqrt(np.convolve(stretch**2, np.ones(half_ms) / half_ms)[: len(stretch)])
    peak = int(np.argmax(envelope))
    below = np.flatnonzero(envelope[: peak + 1] < 0.15 * envelope[peak])
    return start + (int(below[-1]) + 1 if len(below) else 0)


_WINDOW = np.hanning(SPECTRUM_MS * BIN)
_EDGES_HZ = np.geomspace(*BANDS_HZ, BANDS + 1)
_EDGES = np.searchsorted(np.fft.rfftfreq(SPECTRUM_MS * BIN, 1 / RATE), _EDGES_HZ)


def _bands(stretch: Wave) -> Wave:
    power = np.abs(np.fft.rfft(stretch * _WINDOW)) ** 2
    return np.array([power[a : max(b, a + 1)].mean() for a, b in pairwise(_EDGES)])


def _background(samples: Samples) -> Wave:
    """Median power by band, from 60 stretches spread over the sound."""
    length = SPECTRUM_MS * BIN
    starts = np.linspace(0, len(samples) - length, 60).astype(int)
    return np.median([_bands(samples[s : s + length].astype(np.float64)) for s in starts], axis=0)


def _spectrum(samples: Samples, onset: int, background: Wave) -> Wave:
    length = SPECTRUM_MS * BIN
    # The window's middle lies on the press, where its power is.
    start = max(0, onset - length // 4)
    stretch = samples[start : start + length].astype(np.float64)
    power = _bands(np.pad(stretch, (0, length - len(stretch))))
    return np.asarray(10 * np.log10(1 + power / (background + FLOOR)))


def _alike(one: Wave, other: Wave) -> float:
    """Correlation of two spectra in decibels, -1 to 1."""
    a, b = one - one.mean(), other - other.mean()
    size = float(np.sqrt((a @ a) * (b @ b)))
    return float(a @ b) / size if size > 0 else 0.0


def _partner(
    times: Wave, spectra: Wave, peaks: Wave, n: int, direction: int
) -> tuple[float, float, float | None]:
    """Likeness, relative level and distance of the best transient a release's distance away."""
    away = (times - times[n]) * direction
    near = np.flatnonzero((away >= RELEASE_S[0]) & (away <= RELEASE_S[1]))
    # A release is no louder than its press, give or take; an echo's press no softer.
    near = near[(peaks[near] - peaks[n]) * direction <= 3]
    if len(near) == 0:
        return 0.0, -30.0, None
    likeness = [_alike(spectra[n], spectra[m]) for m in near]
    best = int(np.argmax(likeness))
    m = near[best]
    return likeness[best], float(peaks[m] - peaks[n]), float(away[m])


def _crowd(times: Wave, peaks: Wave, n: int, gap: float | None) -> float:
    """How much else rises near by: neighbours weighed by level, its own release left out."""
    away = times - times[n]
    near = (np.abs(away) <= CROWD_S) & (away != 0)
    if gap is not None:
        near &= np.abs(away - gap) > 1e-9
    return float(np.sum(10 ** (np.clip(peaks[near] - peaks[n], -30, 10) / 20)))


def _features(c: Candidate) -> tuple[float, ...]:
    """What the plain score weighs, each scaled to about 1."""
    has_release = c.gap_s is not None
    tilt = np.polyfit(np.arange(BANDS), c.spectrum, 1)[0] if c.spectrum else 0.0
    peaky = max(c.spectrum) - float(np.mean(c.spectrum)) if c.spectrum else 0.0
    return (
        c.rise / 20,
        c.prominence / 20,
        c.decay / 20,
        c.over_low / 20,
        min(c.crowd, 6.0) / 3,
        float(has_release),
        c.partner if has_release else 0.0,
        c.partner**4 if c.partner > 0 else 0.0,
        max(c.release, -30.0) / 20,
        max(c.echo, 0.0) ** 2,
        float(tilt),
        peaky / 20,
    )


@dataclass(frozen=True, slots=True)
class Example:
    """What confirmed clicks have in common: a mean spectrum and their release's gap."""

    spectrum: tuple[float, ...]
    gap_s: float | None


def example_of(candidates: Sequence[Candidate], confirmed_s: Sequence[float]) -> Example | None:
    """The example that confirmed instants give; None where nothing was heard at any of them."""
    chosen = []
    for at in confirmed_s:
        near = [c for c in candidates if abs(c.t_s - at) <= 0.02]
        if near:
            chosen.append(min(near, key=lambda c: abs(c.t_s - at)))
    if not chosen:
        return None
    gaps = [c.gap_s for c in chosen if c.gap_s is not None and c.partner > 0.5]
    spectrum = np.mean([_levelled(c.spectrum) for c in chosen], axis=0)
    return Example(tuple(spectrum.tolist()), float(np.median(gaps)) if gaps else None)


def _levelled(spectrum: Sequence[float]) -> Wave:
    values = np.array(spectrum, np.float64)
    values -= values.mean()
    return values


def _likeness(c: Candidate, example: Example) -> tuple[float, ...]:
    """What an example adds: alike in spectrum, how far off, and in the release's gap."""
    alike = _alike(np.asarray(c.spectrum), np.asarray(example.spectrum))
    off = float(np.sqrt(np.mean((_levelled(c.spectrum) - np.asarray(example.spectrum)) ** 2)))
    gap = 0.0
    if example.gap_s is not None and c.gap_s is not None:
        gap = float(np.exp(-(((c.gap_s - example.gap_s) / (0.25 * example.gap_s)) ** 2)))
    return alike, max(alike, 0.0) ** 4, off / 10, gap


def suggest(candidates: Sequence[Candidate], example: Example | None = None) -> list[Suggestion]:
    """Suggestions, the likeliest first: of what lies within 350 ms only the best is kept."""
    scored = [Suggestion(c.t_s, _score(c, example)) for c in candidates]
    kept: list[Suggestion] = []
    for suggestion in sorted(scored, key=lambda s: -s.score):
        if all(abs(suggestion.t_s - other.t_s) > MERGE_S for other in kept):
            kept.append(suggestion)
    return kept


def _score(c: Candidate, example: Example | None) -> float:
    if example is None:
        return float(np.dot(PLAIN_WEIGHTS, _features(c)) + PLAIN_BIAS)
    values = (*_features(c), *_likeness(c, example))
    return float(np.dot(EXAMPLE_WEIGHTS, values) + EXAMPLE_BIAS)


def to_plain(candidates: Sequence[Candidate]) -> list[dict[str, Any]]:
    """Candidates as JSON values."""
    return [asdict(c) for c in candidates]


def from_plain(values: Sequence[dict[str, Any]]) -> list[Candidate]:
    """Candidates from JSON values."""
    return [Candidate(**{**v, "spectrum": tuple(v["spectrum"])}) for v in values]
