"""How often was the animal paid: rates per minute, the rate curve and dry spells."""

from __future__ import annotations

import itertools
from bisect import bisect_right
from dataclasses import dataclass

from ..model.events import seconds, ticks
from ..model.reps import Reps
from ..statistics.summaries import Rate, poisson_rate

#: Before this much training time a trailing rate says nothing.
CURVE_FROM_S = 10.0
#: Sampling of the rate curve in seconds of training time, and the most points it has.
CURVE_STEP_S = 1.0
CURVE_MOST = 2000


@dataclass(frozen=True, slots=True)
class Rates:
    """Counts per minute of training time, each with its exact 95 % interval."""

    reinforcement_per_min: Rate
    pieces_per_min: Rate
    attempts_per_min: Rate
    markers_per_min: Rate


@dataclass(frozen=True, slots=True)
class CurvePoint:
    """Trailing rate per minute at `t_s` of the recording, `training_s` of the training clock."""

    t_s: float
    training_s: float
    per_min: float


@dataclass(frozen=True, slots=True)
class Step:
    """The cumulative record at one reinforcement: so many until then, this one included."""

    t_s: float
    training_s: float
    count: int


@dataclass(frozen=True, slots=True)
class DrySpell:
    """A long gap between reinforcements: its edges on the recording, its length on the clock."""

    start_s: float
    end_s: float
    length_s: float


@dataclass(frozen=True, slots=True)
class DrySpells:
    """The longest gap of any length, None without training time, and every one over the limit."""

    longest_s: float | None
    spells: tuple[DrySpell, ...]


def rates(reps: Reps) -> Rates:
    """The session's rates per minute of training time."""
    minutes = seconds(reps.clock.total) / 60
    rewards = [r for use in reps.uses for r in use.rewards] + list(reps.unmarked_rewards)
    return Rates(
        reinforcement_per_min=poisson_rate(len(reps.reinforcement_instants), minutes),
        pieces_per_min=poisson_rate(sum(r.pieces for r in rewards), minutes),
        attempts_per_min=poisson_rate(len(reps.attempts), minutes),
        markers_per_min=poisson_rate(len(reps.event_uses), minutes),
    )


def rate_curve(reps: Reps) -> tuple[CurvePoint, ...]:
    """Reinforcements per minute in the trailing window (t - window, t].

    Once a second, in sessions over half an hour as often as gives 2000 points. Before one
    window has passed the elapsed training time divides. Starts at 10 s.
    """
    window = ticks(reps.record.settings.rate_window_s)
    paid = [reps.clock.at(t) for t in reps.reinforcement_instants]
    total = reps.clock.total
    step = max(1, -(-total // (CURVE_MOST * ticks(CURVE_STEP_S)))) * ticks(CURVE_STEP_S)
    points: list[CurvePoint] = []
    if window == 0:
        return ()
    for now in range(ticks(CURVE_FROM_S), total + 1, step):
        if now <= window:
            count, span = bisect_right(paid, now), now
        else:
            count, span = bisect_right(paid, now) - bisect_right(paid, now - window), window
        points.append(
            CurvePoint(seconds(reps.clock.instant(now)), seconds(now), count / (seconds(span) / 60))
        )
    return tuple(points)


def cumulative(reps: Reps) -> tuple[Step, ...]:
    """Every reinforcement of the session counted up, in time order."""
    return tuple(
        Step(seconds(t), seconds(reps.clock.at(t)), n)
        for n, t in enumerate(reps.reinforcement_instants, 1)
    )


def dry_spells(reps: Reps) -> DrySpells:
    """Gaps between reinforcements on the training clock, its start and end counting as edges."""
    clock = reps.clock
    if not clock.bouts or clock.total == 0:
        return DrySpells(None, ())
    instants = [clock.bouts[0].start, *reps.reinforcement_instants, clock.bouts[-1].end]
    limit = ticks(reps.record.settings.dry_spell_s)
    longest = 0
    spells: list[DrySpell] = []
    for start, end in itertools.pairwise(instants):
        length = clock.at(end) - clock.at(start)
        longest = max(longest, length)
        if length > limit:
            spells.append(DrySpell(seconds(start), seconds(end), seconds(length)))
    return DrySpells(seconds(longest), tuple(spells))
