"""How fast it comes back when sent away, and how often it leaves by itself."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from ..model.events import Event, seconds, ticks
from ..model.reps import Reps
from ..statistics.summaries import Summary, summarise
from .pauses import Trend, trend
from .responding import HALF, survival


@dataclass(frozen=True, slots=True)
class Return:
    """One sending away and what came of it, `length` in ticks until then."""

    reset: Event
    outcome: Literal["back", "lost", "cut"]
    length: int
    onset: Event | None


@dataclass(frozen=True, slots=True)
class Returns:
    """All returns: those that came back in seconds, the middle with the others censored, and how
    many were lost or cut off."""

    n: int
    back_s: Summary
    km_median_s: float | None
    lost: int
    cut: int
    trend: Trend


def returns_of(reps: Reps) -> list[Return]:
    """Every reset outside breaks with what came first after it, in time order."""
    if not reps.record.of_kind("reset"):
        return []
    limit = ticks(reps.record.settings.return_limit_s)
    ordered = reps.record.ordered
    found: list[Return] = []
    following: Event | None = None
    for event in reversed(ordered):
        if event.kind == "reset" and not reps.clock.in_break(event.best):
            found.append(_return(reps, event, following, limit))
        if event.kind in ("onset", "off_task_start", "reset"):
            following = event
    return found[::-1]


def _return(reps: Reps, reset: Event, following: Event | None, limit: int) -> Return:
    # The clock has a bout wherever there is an event.
    end = reps.clock.bouts[reps.clock.bout_of(reset.best)].end
    is_inside = following is not None and following.best <= end
    at = following.best if following is not None and is_inside else end
    if at - reset.best > limit:
        return Return(reset, "lost", limit, None)
    if following is None or not is_inside or following.kind == "reset":
        return Return(reset, "cut", at - reset.best, None)
    if following.kind == "onset":
        return Return(reset, "back", at - reset.best, following)
    return Return(reset, "lost", at - reset.best, None)


def returns(reps: Reps, found: Sequence[Return]) -> Returns:
    """Summary, Kaplan and Meier's median (1958) and the trend of the complete ones."""
    back = [r for r in found if r.onset is not None]
    values = [seconds(r.length) for r in back]
    minutes = [seconds(reps.clock.at(r.onset.best)) / 60 for r in back if r.onset is not None]
    steps = survival([(r.length, r.outcome == "back") for r in found])
    outcomes = [r.outcome for r in found]
    return Returns(
        n=len(found),
        back_s=summarise(values),
        km_median_s=next((seconds(t) for t, share, _, _ in steps if share <= HALF), None),
        lost=outcomes.count("lost"),
        cut=outcomes.count("cut"),
        trend=trend(minutes, values),
    )


def back_by_onset(found: Sequence[Return]) -> Mapping[str, float]:
    """Complete returns in seconds by the onset that ended them."""
    return {r.onset.id: seconds(r.length) for r in found if r.onset is not None}


@dataclass(frozen=True)
class OptOuts:
    """Leaving the work, outside breaks: each start with the ticks it was away by it."""

    reps: Reps
    starts: tuple[tuple[Event, int], ...]

    @property
    def count(self) -> int:
        return len(self.starts)

    @property
    def per_10_attempts(self) -> float | None:
        """Starts for every ten attempts."""
        attempts = len(self.reps.attempts)
        return 10 * self.count / attempts if attempts else None

    @cached_property
    def away_min(self) -> float:
        """Minutes away on the training clock."""
        return seconds(sum(away for _, away in self.starts)) / 60


def opt_outs(reps: Reps) -> OptOuts:
    """Away until the end of it or of the bout; a start while away counts and adds no time."""
    starts: list[tuple[Event, int]] = []
    clock = reps.clock
    away: tuple[Event, int] | None = None

    def come_back(at: int) -> None:
        nonlocal away
        if away is not None:
            place = away[1]
            starts[place] = (away[0], clock.at(at) - clock.at(away[0].best))
            away = None

    events = reps.record.ordered if reps.record.of_kind("off_task_start") else ()
    for event in events:
        if away is not None:
            end = clock.bouts[clock.bout_of(away[0].best)].end
            if event.best > end or event.kind == "bout_end":
                come_back(end)
            elif event.kind == "off_task_end":
                come_back(event.best)
        if event.kind == "off_task_start" and not clock.in_break(event.best):
            starts.append((event, 0))
            if away is None:
                away = (event, len(starts) - 1)
    if away is not None:
        come_back(clock.bouts[clock.bout_of(away[0].best)].end)
    return OptOuts(reps, tuple(starts))
