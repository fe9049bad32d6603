"""Where a word that was marked some times may have been said again: places to look at.

Each marked word is laid beside the whole film, at five speeds and three heights of voice, and
compared by correlation of what stands over the noise (a template match in the spectrum: Sakoe &
Chiba 1978 bend time where this stretches it, which a word of one syllable does not need). A
logistic regression fitted on simulated voices (`tools/fit_words.py`) weighs ten numbers.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from . import weights
from .spectrum import ROWS, Rows, Voices

Wave = NDArray[np.float64]

#: A word is taken to last from so long to so long after its mark, seconds.
SHORTEST_S, LONGEST_S = 0.12, 0.6
#: What stands before and after a word says that it is no part of a longer one, seconds.
EDGE_S = 0.06
STRETCHES = (0.8, 0.9, 1.0, 1.12, 1.25)
SHIFTS = (-1, 0, 1)
#: The most examples that are laid beside the film.
MOST_EXAMPLES = 5
#: Places nearer than this are one, seconds.
APART_S = 0.3
#: A mark or refusal this near is meant for the place, seconds.
AT_S = 0.15
#: A lone example is compared with so many of its likest places.
FEW = 4
#: Under this likeness nothing is looked at.
LEAST = 0.35
#: What has less of an example's strength than this is no word.
FAINT = 0.2
#: One word stands apart from all others in its film: where so wide a gap lies not further than
#: this below or above the fitted limit, the limit moves into it. A false place costs a look.
GAP, GAP_FROM, GAP_TO = 0.6, -0.8, 2.0
#: Without one, what is shown unasked is likelier the word than not by e to this, to one.
CAUTION = 0.4
#: How much sounding more like a refused one than like an example takes off.
REFUSED = 12.0


@dataclass(frozen=True)
class Places:
    """Places at which a marked word may have been said again, the likeliest first.

    `t_s`: seconds, meant as the examples' marks were; `score`: above 0 more likely one than not,
    and no probability. `learned` is false where no example had a voice in it.
    """

    t_s: Wave
    score: Wave
    learned: bool

    @property
    def usual(self) -> int:
        """How many are more likely the word than not."""
        return int(np.sum(self.score > 0))


def find_words(
    voices: Voices, marked_s: Sequence[float], refused_s: Sequence[float] = ()
) -> Places:
    """Places that sound like the marked ones, less those and what was refused.

    Instants outside the film are left out.
    """
    film = voices.db()
    marked_s, refused_s = _inside(marked_s, film), _inside(refused_s, film)
    examples = _examples(film, marked_s)
    if examples is None:
        return Places(np.zeros(0), np.zeros(0), learned=False)
    found = examples.beside(film)
    if len(found.rows) == 0:
        return Places(np.zeros(0), np.zeros(0), learned=True)
    score = np.asarray(found.numbers @ weights.WORDS + weights.BIAS)
    if len(refused_s):
        score = score - _like_refused(film, examples, found, refused_s)
    times = found.rows / ROWS
    known = np.array([*marked_s, *refused_s])
    new = np.all(np.abs(times[:, None] - known[None, :]) > AT_S, axis=1)
    order = [n for n in np.argsort(-score, kind="stable") if new[n]]
    return Places(times[order], _limited(score[order]), learned=True)


def _inside(instants_s: Sequence[float], film: Rows) -> list[float]:
    """Those of the film, or so little beside it that a word there reaches into it."""
    return [at for at in instants_s if -1.0 <= at <= len(film) / ROWS + 1.0]


def _limited(score: Wave) -> Wave:
    """Falling scores, moved so that 0 lies in the widest gap near it, if that is wide enough."""
    gaps, middles = score[:-1] - score[1:], (score[:-1] + score[1:]) / 2
    gaps = np.where((middles >= GAP_FROM) & (middles <= GAP_TO), gaps, 0.0)
    if len(gaps) and gaps.max() >= GAP:
        return np.asarray(score - middles[np.argmax(gaps)])
    return score - CAUTION


@dataclass(frozen=True)
class Found:
    """Places in the film, by row, and what `weights.WORDS` weighs of each."""

    rows: NDArray[np.int64]
    numbers: Wave


@dataclass(frozen=True)
class Examples:
    """Marked words cut out of the film, all equally long: examples × rows × bands.

    `before` is how many of the rows lie before the mark.
    """

    patches: Rows
    before: int

    def likeness(self, found: Wave) -> float:
        """How alike they are to each other; a lone one to the few places most like it."""
        count = len(self.patches)
        if count < 2:
            return float(np.sort(found)[-1 - FEW : -1].mean()) if len(found) > FEW else 1.0
        flat = _whole(self.patches).reshape(count, -1)
        alike = flat @ flat.T
        return float((alike.sum() - count) / (count * (count - 1)))

    def beside(self, film: Rows) -> Found:
        """The film's places that are like one of them, with their ten numbers."""
        best = _Best(len(film), len(self.patches))
        faint = FAINT * float(self.patches.mean(axis=(1, 2)).min())
        for stretch in STRETCHES:
            patches = _stretched(self.patches, stretch)
            best.take(film, patches, round(self.before * stretch), stretch, faint)
        rows = best.peaks()
        return Found(rows, self._numbers(film, best, rows))

    def _numbers(self, film: Rows, best: _Best, rows: NDArray[np.int64]) -> Wave:
        count = len(rows)
        if not count:
            return np.zeros((0, len(weights.WORDS)))
        each = np.sort(best.whole[rows], axis=1)[:, ::-1]
        usual = best.usual
        own = self.likeness(each[:, 0])
        length = self.patches.shape[1]
        starts = np.clip(rows - self.before, 0, max(0, len(film) - length))
        patches = film[starts[:, None] + np.arange(length)]
        level = patches.mean(axis=(1, 2)) / float(self.patches.mean())
        stretch, shift = best.stretch[rows], best.shift[rows]
        return np.stack(
            [
                each[:, 0],
                each[:, min(1, each.shape[1] - 1)],
                each.mean(axis=1),
                self._moving_likeness(film, rows, stretch, shift),
                # From the film's usual likeness to the examples' own, whatever the noise.
                np.clip((each[:, 0] - usual) / max(own - usual, 0.05), -1.0, 1.5),
                np.minimum(np.abs(np.log(level + 1e-3)), 2.0),
                np.abs(np.log(stretch)) * 4,
                np.abs(shift).astype(float),
                np.full(count, usual),
                np.full(count, 1 / each.shape[1]),
            ],
            axis=1,
        )

    def _moving_likeness(
        self, film: Rows, rows: NDArray[np.int64], stretch: Wave, shift: NDArray[np.int64]
    ) -> Wave:
        """The best likeness of what changes, at each place's own stretch and shift."""
        alike = np.zeros(len(rows))
        for one, by in {(s, int(h)) for s, h in zip(stretch, shift, strict=True)}:
            patches = _shifted(_stretched(self.patches, one), by)
            here = (stretch == one) & (shift == by)
            starts = rows[here] - round(self.before * one)
            windows = _moving(film[starts[:, None] + np.arange(patches.shape[1])])
            flat = windows.reshape(len(windows), -1) @ _moving(patches).reshape(len(patches), -1).T
            alike[here] = flat.max(axis=1)
        return alike


class _Best:
    """At each row of the film the best likeness to each example so far, and by what."""

    def __init__(self, length: int, count: int):
        self.whole = np.zeros((length, count))
        self.stretch = np.ones(length)
        self.shift = np.zeros(length, np.int64)
        self._top = np.zeros(length)

    def take(self, film: Rows, patches: Rows, lead: int, stretch: float, faint: float) -> None:
        """Lay examples beside every second row at which something is to be heard."""
        count, length, bands = patches.shape
        if len(film) < length:
            return
        total, power = _sliding(film.sum(axis=1), length), _sliding((film**2).sum(axis=1), length)
        size = np.sqrt(np.maximum(power - total**2 / (length * bands), 0)) + 1e-6
        is_heard = total > faint * length * bands
        starts = np.flatnonzero(is_heard & (np.arange(len(is_heard)) % 2 == 0))
        kernels = np.stack([_whole(_shifted(patches, shift)) for shift in SHIFTS])
        table = kernels.reshape(len(SHIFTS) * count, -1).T
        for few in np.array_split(starts, 1 + len(starts) // 2048):
            windows = film[few[:, None] + np.arange(length)].reshape(len(few), -1)
            alike = (windows @ table).reshape(len(few), len(SHIFTS), count)
            self._keep(few + lead, alike / size[few, None, None], stretch)

    def _keep(self, rows: NDArray[np.int64], alike: Wave, stretch: float) -> None:
        by_shift = alike.max(axis=2)
        top = by_shift.max(axis=1)
        self.whole[rows] = np.maximum(self.whole[rows], alike.max(axis=1))
        better = top > self._top[rows]
        changed = rows[better]
        self._top[changed] = top[better]
        self.stretch[changed] = stretch
        self.shift[changed] = np.array(SHIFTS)[np.argmax(by_shift, axis=1)[better]]

    @property
    def usual(self) -> float:
        """How alike anything that is heard is, in the middle."""
        heard = self._top[self._top > 0]
        return float(np.median(heard)) if len(heard) else 0.0

    def peaks(self) -> NDArray[np.int64]:
        """Rows of the best places, at least `APART_S` from a better one, in time order."""
        apart = round(APART_S * ROWS)
        taken = np.zeros(len(self._top), bool)
        chosen = []
        likely = np.flatnonzero(self._top > LEAST)
        for row in likely[np.argsort(-self._top[likely], kind="stable")]:
            if not taken[row]:
                chosen.append(row)
                taken[max(0, row - apart) : row + apart + 1] = True
        return np.array(sorted(chosen), np.int64)


def _examples(film: Rows, marked_s: Sequence[float]) -> Examples | None:
    """The last few marked words that have a voice in them; None: there is none."""
    before, edge = round(EDGE_S * ROWS), round(EDGE_S * ROWS)
    rows = [round(at * ROWS) for at in marked_s]
    rows = [r for r in rows if before <= r < len(film) - round(SHORTEST_S * ROWS) - edge]
    lengths = [_length(film, row) for row in rows]
    heard = [(row, length) for row, length in zip(rows, lengths, strict=True) if length]
    if not heard:
        return None
    heard = heard[-MOST_EXAMPLES:]
    length = before + round(float(np.median([n for _, n in heard]))) + edge
    padded = np.pad(film, ((0, length), (0, 0)))
    patches = np.stack([padded[row - before : row - before + length] for row, _ in heard])
    return Examples(patches, before)


def _length(film: Rows, row: int) -> int:
    """How many rows the word marked there lasts; 0 where nothing is heard."""
    shortest, longest = round(SHORTEST_S * ROWS), round(LONGEST_S * ROWS)
    level = film[row : row + longest].mean(axis=1)
    loudest = float(level.max())
    if loudest < 2.0:
        return 0
    # A stop in a word is silent for some hundredths: what comes after it belongs to the word.
    quiet = level < 0.2 * loudest
    runs = np.convolve(quiet, np.ones(9), "valid") == 9
    ends = np.flatnonzero(runs[shortest:])
    return int(ends[0]) + shortest if len(ends) else longest


def _stretched(patches: Rows, by: float) -> Rows:
    length = patches.shape[1]
    at = np.linspace(0, length - 1, round(length * by))
    low = np.minimum(at.astype(int), length - 2)
    share = (at - low)[None, :, None].astype(np.float32)
    return np.asarray(patches[:, low] * (1 - share) + patches[:, low + 1] * share)


def _shifted(patches: Rows, by: int) -> Rows:
    """A voice a band higher or lower; what is missing at the edge is silent."""
    if not by:
        return patches
    moved = np.zeros_like(patches)
    if by > 0:
        moved[..., by:] = patches[..., :-by]
    else:
        moved[..., :by] = patches[..., -by:]
    return moved


def _whole(patches: Rows) -> Rows:
    """Without their mean, of length 1."""
    rows = patches - patches.mean(axis=(1, 2), keepdims=True)
    return np.asarray(rows / (np.sqrt((rows**2).sum(axis=(1, 2), keepdims=True)) + 1e-6))


def _moving(patches: Rows) -> Rows:
    """Only what changes in each band, of length 1: what hums all along is no likeness."""
    rows = patches - patches.mean(axis=1, keepdims=True)
    return np.asarray(rows / (np.sqrt((rows**2).sum(axis=(1, 2), keepdims=True)) + 1e-6))


def _sliding(values: Rows, length: int) -> Wave:
    sums = np.concatenate(([0.0], np.cumsum(values, dtype=np.float64)))
    return np.asarray(sums[length:] - sums[:-length])


def _like_refused(film: Rows, examples: Examples, found: Found, refused_s: Sequence[float]) -> Wave:
    """What is taken off places that sound more like a refused one than like an example."""
    length, count = examples.patches.shape[1], len(film)
    padded = np.pad(film, ((0, length), (0, 0)))

    def cut(rows: NDArray[np.int64]) -> Rows:
        starts = np.clip(rows - examples.before, 0, max(0, count - 1))
        return _whole(padded[starts[:, None] + np.arange(length)]).reshape(len(rows), -1)

    refused = np.array([round(at * ROWS) for at in refused_s], np.int64)
    like = (cut(found.rows) @ cut(refused).T).max(axis=1)
    return np.asarray(REFUSED * np.maximum(0, like - found.numbers[:, 0]))
