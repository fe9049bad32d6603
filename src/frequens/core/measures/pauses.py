"""Does the animal come back for more: from the reward to the next onset."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..model.events import Event, seconds, ticks
from ..model.reps import Attempt, Reps
from ..statistics.summaries import Summary, summarise

#: Beyond this many pauses the slope is taken on as many of them, evenly spread: the pairs
#: grow with the square.
SLOPE_MOST = 300
LEAST_FOR_TREND = 3


@dataclass(frozen=True, slots=True)
class Trend:
    """How a value changes through a session: slope a minute, Kendall's tau and its p."""

    slope_per_min: float | None
    tau: float | None
    p: float | None


@dataclass(frozen=True, slots=True)
class Pauses:
    """Summary of the pauses in seconds and their trend over the training time."""

    summary: Summary
    trend: Trend

    @property
    def is_rising(self) -> bool:
        """Whether the pauses grow through the session beyond what chance explains (p < 0.05)."""
        slope, p = self.trend.slope_per_min, self.trend.p
        return slope is not None and p is not None and slope > 0 and p < 0.05


@dataclass(frozen=True, slots=True)
class Pause:
    """From the mark that begins it, of the rep it follows, to the onset of the next attempt."""

    begins: Event
    rep: Attempt
    next: Attempt

    @property
    def length_s(self) -> float:
        """Its length in seconds."""
        return seconds(self.next.onset.best - self.begins.best)


def pauses_of(reps: Reps) -> list[Pause]:
    """Every pause, in time order.

    It begins at the later of a rep's last reward and its offset (without one its first release)
    and ends with the next onset of the same bout; where that of an earlier rep comes later
    still, that one begins it.
    """
    onsets = [a.onset.best for a in reps.attempts]
    found: dict[int, Pause] = {}
    for attempt in reps.reps:
        if not attempt.rewards:
            continue
        begins = attempt.rewards[-1]
        end = attempt.offset or attempt.release
        if end is not None and end.best > begins.best:
            begins = end
        following = max(bisect_left(onsets, begins.best), attempt.place + 1)
        if following < len(onsets) and reps.attempts[following].bout == attempt.bout:
            before = found.get(following)
            if before is None or begins.best > before.begins.best:
                found[following] = Pause(begins, attempt, reps.attempts[following])
    return [found[place] for place in sorted(found)]


def pauses(reps: Reps, found: Sequence[Pause]) -> Pauses:
    """Pauses from reward to onset, and how they change over the training time."""
    values = [pause.length_s for pause in found]
    minutes = [seconds(reps.clock.at(pause.next.onset.best)) / 60 for pause in found]
    return Pauses(summarise(values), trend(minutes, values))


def trend(minutes: Sequence[float], values: Sequence[float]) -> Trend:
    """Theil (1950) and Sen (1968, JASA 63:1379-1389) slope; Kendall (1938) tau-b and its p.

    All None for fewer than three values or no difference in time.
    """
    if len(values) < LEAST_FOR_TREND or min(minutes) == max(minutes):
        return Trend(None, None, None)
    # Takes longer to import than to use; sessions without a trend do without it.
    from scipy import stats

    tau, p = stats.kendalltau(minutes, values)
    return Trend(
        _theil_sen(np.asarray(minutes), np.asarray(values)),
        None if np.isnan(tau) else float(tau),
        None if np.isnan(p) else float(p),
    )


def _theil_sen(x: np.ndarray, y: np.ndarray) -> float:
    if len(x) > SLOPE_MOST:
        kept = np.linspace(0, len(x) - 1, SLOPE_MOST).round().astype(int)
        x, y = x[kept], y[kept]
    one, other = np.triu_indices(len(x), 1)
    apart = x[other] != x[one]
    slopes = (y[other] - y[one])[apart] / (x[other] - x[one])[apart]
    return float(np.median(slopes))


def third_of(reps: Reps, instant: int) -> int:
    """In which third of the training time an instant lies: 0, 1 or 2."""
    total = reps.clock.total
    if total <= ticks(0):
        return 0
    return min(2, reps.clock.at(instant) * 3 // total)
