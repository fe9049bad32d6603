"""What the trainer does to the animal: was it paid, did food come first, and what did it cost?"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..linking.rewards import exposure_end, is_paid_by
from ..model.events import Event, seconds, ticks
from ..model.reps import Reps
from ..statistics.summaries import Share, Summary, summarise, wilson
from .returning import OptOuts

#: Food or a hand this long before announces the touch; a sign this long after belongs to it.
FOOD_BEFORE_S, SIGN_AFTER_S = 1.0, 10.0


@dataclass(frozen=True, slots=True)
class Exposed:
    """One exposure: the first reward that paid it, and whether food came first."""

    event: Event
    reward: Event | None
    food_first: bool
    severities: tuple[int, ...]
    opt_outs: int

    @property
    def latency_s(self) -> float | None:
        """First reward minus start, seconds."""
        return None if self.reward is None else seconds(self.reward.best - self.event.best)


@dataclass(frozen=True, slots=True)
class ExposureCounts:
    """Exposures of one label; `signs` by severity, from their start to 10 s after their end."""

    n: int
    paid: Share
    latency_s: Summary
    food_first: int
    signs: Mapping[str, int]
    value: Summary
    opt_outs: int


def exposed(reps: Reps, left: OptOuts) -> list[Exposed]:
    """Every exposure in time order."""
    record = reps.record
    exposures = record.of_kind("exposure")
    if not exposures:
        return []
    pay = ticks(reps.record.settings.exposure_pay_s)
    rewards = record.of_kind("reward")
    paid_by = [_payer(exposures, place, rewards, pay) for place in range(len(exposures))]
    signs = _by_exposure(exposures, record.of_kind("sign"))
    leaving = _by_exposure(exposures, [event for event, _ in left.starts])
    food = sorted([*record.of_kind("reach"), *rewards], key=lambda e: (e.best, e.kind))
    at = [e.best for e in food]
    found: list[Exposed] = []
    for place, event in enumerate(exposures):
        before = paid_by[place - 1] if place else None
        low = bisect_left(at, event.best - ticks(FOOD_BEFORE_S))
        early = food[low : bisect_right(at, event.best)]
        found.append(
            Exposed(
                event=event,
                reward=paid_by[place],
                food_first=any(e is not before and _is_before(e, event) for e in early),
                severities=tuple(sign.severity or 0 for sign in signs.get(place, ())),
                opt_outs=len(leaving.get(place, ())),
            )
        )
    return found


def _is_before(food: Event, exposure: Event) -> bool:
    # In one instant an exposure is taken before reach and reward.
    return food.best < exposure.best


def _payer(
    exposures: Sequence[Event], place: int, rewards: Sequence[Event], pay: int
) -> Event | None:
    exposure = exposures[place]
    first = bisect_left(rewards, exposure.best, key=lambda r: r.best)
    reward = rewards[first] if first < len(rewards) else None
    if reward is None or not is_paid_by(exposure, reward, pay):
        return None
    is_last = place + 1 == len(exposures)
    return reward if is_last or reward.best < exposures[place + 1].best else None


def _by_exposure(exposures: Sequence[Event], events: Sequence[Event]) -> dict[int, list[Event]]:
    """Events from an exposure's start to 10 s after its end, each with the latest one only."""
    starts = [e.best for e in exposures]
    found: dict[int, list[Event]] = {}
    for event in events:
        place = bisect_right(starts, event.best) - 1
        if place >= 0 and event.best <= exposure_end(exposures[place]) + ticks(SIGN_AFTER_S):
            found.setdefault(place, []).append(event)
    return found


def exposures(found: Sequence[Exposed]) -> Mapping[str, ExposureCounts]:
    """Exposures by label."""
    groups: dict[str, list[Exposed]] = {}
    for one in found:
        groups.setdefault(one.event.label or "", []).append(one)
    return {label: _counts(group) for label, group in groups.items()}


def _counts(group: Sequence[Exposed]) -> ExposureCounts:
    severities = [s for one in group for s in one.severities]
    return ExposureCounts(
        n=len(group),
        paid=wilson(sum(one.reward is not None for one in group), len(group)),
        latency_s=summarise(one.latency_s for one in group if one.latency_s is not None),
        food_first=sum(one.food_first for one in group),
        signs={str(level): severities.count(level) for level in (1, 2, 3)},
        value=summarise(one.event.value for one in group if one.event.value is not None),
        opt_outs=sum(one.opt_outs for one in group),
    )
