"""Which candidates are clicks: by themselves, by the film's own example, by the reviewer's.

Three logistic regressions fitted on simulated sound (`tools/fit_clicks.py`) weigh a candidate's
numbers. The first knows the candidate by itself. The second knows the film too: how much a
candidate sounds like the best of the others, because one clicker is pressed again and again and
a twig breaks once. The third adds what the reviewer has confirmed, each example by itself, so
that two clickers do not blur. What sounds like something refused falls behind.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from . import weights
from .candidates import BANDS, Candidates, Wave, normed

#: What is nearer than this is one press; a mark this near has taken the suggestion up.
MERGE_S = 0.35
#: Of a mark at a heard onset, seconds: 95 in 100 presses began within it (`docs/films.md`).
WIDTH_S = 0.004
#: How near a confirmed or refused instant a candidate must lie to be meant, seconds.
AT_S = 0.02
#: Of the film's best, so many are what the others are compared with, and so many nearest count.
BEST, NEAREST = 30, 3
#: What sounds this much alike is taken for the same thing.
SAME, MUCH_ALIKE = 0.8, 0.85
#: What scores this by itself is a clear one.
CLEAR = 1.0
#: In a film with fewer presses than can be compared, what scores this by itself is taken,
#: whatever else is confirmed.
CLEAR_ALONE = 2.0
#: How much sounding like a refused one takes off.
REFUSED = 8.0
#: And what a refused one loses itself.
GONE = 100.0


@dataclass(frozen=True)
class Ranking:
    """Presses that may have been heard, the likeliest first.

    `t_s`: seconds; `score`: above 0 more likely one than not. `learned`: confirmed clicks served
    as examples. `alone_s`: confirmed instants that none of the film's clicks sounds like; they
    teach nothing.
    """

    t_s: Wave
    score: Wave
    learned: bool = False
    alone_s: tuple[float, ...] = ()

    @property
    def usual(self) -> int:
        """How many are more likely a click than not."""
        return int(np.sum(self.score > 0))


def rank(
    sound: Sound, confirmed_s: Sequence[float] = (), refused_s: Sequence[float] = ()
) -> Ranking:
    """The film's clicks in order; of what lies within 350 ms only the best is kept."""
    candidates = sound.candidates
    if len(candidates) == 0:
        return Ranking(np.zeros(0), np.zeros(0))
    refused = sound.at(refused_s)
    own = sound.own_score(refused)
    confirmed = sound.at(confirmed_s)
    alone = [n for n in confirmed if sound.is_alone(n, own)]
    taught = [n for n in confirmed if n not in alone]
    score = sound.taught_score(taught, refused) if taught else own
    order = merged(candidates.t_s, score)
    return Ranking(
        candidates.t_s[order],
        score[order],
        learned=bool(taught),
        alone_s=tuple(candidates.t_s[alone].tolist()),
    )


def merged(times: Wave, score: Wave) -> NDArray[np.int64]:
    """Places from the best on, less those within 350 ms of a better one."""
    taken = np.zeros(len(times), bool)
    first = np.searchsorted(times, times - MERGE_S)
    last = np.searchsorted(times, times + MERGE_S, side="right")
    kept = []
    for n in np.argsort(-score, kind="stable").tolist():
        if not taken[n]:
            kept.append(n)
            taken[first[n] : last[n]] = True
    return np.array(kept, np.int64)


@dataclass(frozen=True)
class _Own:
    """What the film says of itself. `beside`: what `weights.CONFIRMED` weighs of it.

    `clear`: what each is worth at least where there are too few to be like each other (−∞ where
    there are not), and `given` what that added.
    """

    score: Wave
    beside: Wave
    clear: Wave
    given: Wave


class Sound:
    """A film's candidates with what is worked out of them for ranking."""

    def __init__(self, candidates: Candidates):
        self.candidates = candidates
        self.rows = normed(candidates.spectra).astype(np.float32)
        self.level = np.asarray(candidates.spectra, np.float64).mean(axis=1)
        self.log_gap = np.log(candidates.gap_s).astype(np.float32)
        self.features = plain_features(candidates)
        self._own: dict[tuple[int, ...], _Own] = {}
        self.release_rows = self._release_rows()

    def _release_rows(self) -> NDArray[np.float32]:
        """The spectrum of each one's release, zeros where it has none."""
        times, gaps = self.candidates.t_s, self.candidates.gap_s
        has = np.isfinite(gaps)
        place = np.searchsorted(times, times + np.where(has, gaps, 0) - 1e-6)
        return np.where(has[:, None], self.rows[np.minimum(place, len(times) - 1)], np.float32(0))

    def at(self, instants_s: Sequence[float]) -> list[int]:
        """The candidates nearest to instants, where there are any."""
        times = self.candidates.t_s
        near = [(int(np.argmin(np.abs(times - at))), at) for at in instants_s]
        return sorted({n for n, at in near if abs(times[n] - at) <= AT_S})

    def plain_score(self) -> Wave:
        """What each is worth by itself."""
        return np.asarray(self.features @ weights.PLAIN + weights.PLAIN_BIAS)

    def own_score(self, refused: list[int]) -> Wave:
        """With the film as its own example."""
        return self._with_own(refused).score

    def _with_own(self, refused: list[int]) -> _Own:
        """The own score and what the taught one needs of it.

        Kept for the refusals asked about last: every confirmed click asks again.
        """
        key = tuple(refused)
        kept = self._own.get(key)
        if kept is None:
            plain = self.plain_score()
            score = self.beside_film(plain, refused) @ weights.OWN + weights.OWN_BIAS
            best = merged(self.candidates.t_s, score)[: NEAREST + 1]
            few = len(best) <= NEAREST or score[best[NEAREST]] <= 0
            clear = plain - CLEAR_ALONE if few else np.full(len(plain), -np.inf)
            given = np.maximum(clear - score, 0)
            score = score + given
            score = score - self._like_refused(refused, self._best(score, refused))
            kept = _Own(score, self.beside_film(score, refused), clear, given)
            # One film is asked about in several threads: each answers with its own.
            self._own = {key: kept}
        return kept

    def taught_score(self, taught: list[int], refused: list[int]) -> Wave:
        """With confirmed clicks as examples too. One of a few takes no other clear one away."""
        own = self._with_own(refused)
        known = self.beside_examples(taught, refused)
        score = np.asarray(known @ weights.CONFIRMED + weights.CONFIRMED_BIAS)
        score = np.maximum(score + own.given, own.clear)
        return score - self._like_refused(refused, np.array(taught))

    def beside_film(self, score: Wave, refused: Sequence[int] = ()) -> Wave:
        """Each by itself and beside the film's best: what `weights.OWN` weighs."""
        best = self._best(score, refused)
        film = np.broadcast_to(self._film(best, score), (len(score), 2))
        return np.concatenate([self.features, self._likeness(best, score), film], axis=1)

    def beside_examples(self, taught: list[int], refused: list[int]) -> Wave:
        """By itself, beside the film and beside the taught: what `weights.CONFIRMED` weighs."""
        examples = self._likeness(np.array(taught), None)
        return np.concatenate([self._with_own(refused).beside, examples], axis=1)

    def is_alone(self, n: int, own: Wave) -> bool:
        """Whether none of the film's clicks, where it has some, sounds like this one."""
        best = self._best(own, ())
        away = np.abs(self.candidates.t_s[best] - self.candidates.t_s[n]) > MERGE_S
        clicks = best[away & (own[best] > 0)]
        return len(clicks) > NEAREST and bool(np.all(self.rows[clicks] @ self.rows[n] < SAME))

    def _best(self, score: Wave, refused: Sequence[int]) -> NDArray[np.int64]:
        best = merged(self.candidates.t_s, score)[:BEST]
        return best[~np.isin(best, refused)]

    def _film(self, best: NDArray[np.int64], score: Wave) -> Wave:
        """Whether somebody clicks here at all: the best ten's worth, and the clear ones among
        the best that sound like others, in tens."""
        if len(best) < 2:
            return np.array([np.clip(score[best[0]], -6, 6) / 6 if len(best) else -1, 0])
        alike = self.rows[best] @ self.rows[best].T
        np.fill_diagonal(alike, 0)
        nearest = np.sort(alike, axis=1)[:, -NEAREST:].mean(axis=1)
        clear = np.sum((score[best] > CLEAR) & (nearest > MUCH_ALIKE))
        return np.array([np.clip(score[best[:10]], -6, 6).mean() / 6, clear / 10])

    def _likeness(self, examples: NDArray[np.int64], score: Wave | None) -> Wave:
        """How each sounds beside its three nearest examples: candidates × 8.

        Alike to the nearest and to the third, the mean to the fourth and the twelfth power, in
        the release's distance and sound, in level, and what these examples are worth. With
        `score` the examples are the film's, and what lies within a press of one is not compared.
        """
        count, c = len(self.rows), self.candidates
        if len(examples) == 0:
            return np.zeros((count, 8))
        alike = self.rows @ self.rows[examples].T
        release = self.release_rows @ self.release_rows[examples].T
        ratio = self.log_gap[:, None] - self.log_gap[examples][None, :]
        gap = np.nan_to_num(np.exp(-((ratio / np.float32(0.25)) ** 2)))
        order = alike + np.float32(0.2) * gap * np.maximum(release, 0)
        if score is not None:
            near = np.abs(c.t_s[:, None] - c.t_s[examples][None, :]) <= MERGE_S
            order[near] = -2
        top = _nearest_few(order)
        counts = np.take_along_axis(order, top, axis=1) > -2

        def nearest(values: NDArray[np.floating]) -> Wave:
            return np.where(counts, np.take_along_axis(values, top, axis=1), 0.0)

        near_alike = nearest(alike)
        mean = np.maximum(near_alike.mean(axis=1), 0)
        worth = np.zeros_like(order) if score is None else np.clip(score[examples], -6, 6) / 6
        apart = np.abs(self.level[:, None] - self.level[examples][None, :])
        return np.stack(
            [
                near_alike[:, 0],
                near_alike[:, -1],
                mean**4,
                mean**12,
                nearest(gap).mean(axis=1),
                np.maximum(nearest(release).mean(axis=1), 0),
                nearest(np.broadcast_to(worth, order.shape)).mean(axis=1),
                nearest(apart).mean(axis=1) / 10,
            ],
            axis=1,
        )

    def _like_refused(self, refused: list[int], examples: NDArray[np.int64]) -> Wave | float:
        """What is taken off those that sound more like a refused one than like an example."""
        if not refused:
            return 0.0
        like = self._nearest(np.array(refused)) ** 12
        unlike = self._nearest(examples) ** 12 if len(examples) else 0.0
        off = REFUSED * np.maximum(0, like - unlike)
        off[refused] = GONE
        return np.asarray(off)

    def _nearest(self, examples: NDArray[np.int64]) -> Wave:
        """Likeness to the nearest of some, itself left out, from 0 to 1."""
        alike = self.rows @ self.rows[examples].T
        alike[examples, np.arange(len(examples))] = 0
        return np.asarray(np.maximum(alike.max(axis=1), 0), np.float64)


def _nearest_few(order: NDArray[np.floating]) -> NDArray[np.int64]:
    """Places of each row's highest few, the highest first."""
    few = min(NEAREST, order.shape[1])
    top = np.argpartition(order, -few, axis=1)[:, -few:]
    within = np.argsort(-np.take_along_axis(order, top, axis=1), axis=1)
    return np.take_along_axis(top, within, axis=1)


_TILT = (np.arange(BANDS) - (BANDS - 1) / 2) / np.sum((np.arange(BANDS) - (BANDS - 1) / 2) ** 2)


def plain_features(c: Candidates) -> Wave:
    """What a candidate shows by itself, each scaled to about 1: candidates × features."""
    has_release = np.isfinite(c.gap_s)
    spectra = np.asarray(c.spectra, np.float64)
    return np.stack(
        [
            c.rise / 20,
            c.prominence / 20,
            c.decay / 20,
            c.fade / 20,
            c.over_low / 20,
            np.minimum(c.crowd, 6.0) / 3,
            has_release.astype(float),
            np.where(has_release, c.partner, 0.0),
            np.maximum(c.partner, 0.0) ** 4,
            np.maximum(c.release, -30.0) / 20,
            np.maximum(c.echo, 0.0) ** 2,
            spectra @ _TILT,
            (spectra.max(axis=1) - spectra.mean(axis=1)) / 20,
            spectra.mean(axis=1) / 20,
        ],
        axis=1,
    )
