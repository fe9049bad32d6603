"""Criterion splits: how long each approximation was in force, and was it changed in time?"""

from __future__ import annotations

import itertools
from bisect import bisect_left
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from ..model.events import Event, Kind, seconds
from ..model.reps import Attempt, Reps
from ..rules.schools import (
    Decision,
    Judged,
    SessionComfort,
    Verdict,
    attempts_short,
    decide,
    first_said,
)
from ..statistics.summaries import Rate, poisson_rate, summarise
from .success import success
from .timing import marker_latency_s, reward_latency_s

ChangeKind = Literal["with_rule", "early", "late", "none"]


@dataclass(frozen=True, slots=True)
class Change:
    """The trainer's own change at a segment's end against the rule.

    `attempts` are those still missing for the rule (``early``) or past its word (``late``);
    None where the rule cannot say how many.
    """

    kind: ChangeKind
    attempts: int | None


@dataclass(frozen=True, slots=True)
class Split:
    """What happened while one approximation was in force; times in seconds.

    `start_s` and `end_s` on the recording, the others on the training clock. Pooled over a
    session's segments it has their first start, last end and every change; decision and `change`
    are the last one's. `stretches` are the segments' places from 0.
    """

    approximation: str | None
    start_s: float | None
    end_s: float | None
    training_time_s: float
    attempts: int
    judged: int
    met: int
    share: float | None
    low: float | None
    high: float | None
    longest_run: int
    attempts_to_first_met: int | None
    time_to_first_met_s: float | None
    attempts_to_rule: int | None
    time_to_rule_s: float | None
    reinforcement_per_min: Rate
    marker_latency_s: float | None
    reward_latency_s: float | None
    decision: Decision | None
    change: Change
    changes: tuple[Change, ...]
    stretches: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Splits:
    """Every segment in time order, and pooled by approximation in plan order."""

    segments: tuple[Split, ...]
    approximations: tuple[Split, ...]


@dataclass(frozen=True)
class Segment:
    """A stretch under one approximation, in ticks, with its attempts."""

    approximation: str | None
    start: int
    end: int
    attempts: tuple[Attempt, ...]

    @cached_property
    def judged(self) -> list[Judged]:
        """What the rules see of the judged attempts, in time order."""
        return [
            Judged(a.onset.met, a.onset.value) for a in self.attempts if a.onset.met is not None
        ]


def segments_of(reps: Reps) -> list[Segment]:
    """The session cut at its criterion changes; without any, at changes between attempts.

    Attempts that name another approximation than the one in force are left out of the
    stretch; they count where their own approximation is pooled.
    """
    if not reps.clock.bouts:
        return []
    start, end = reps.clock.bouts[0].start, reps.clock.bouts[-1].end
    changes = reps.record.of_kind("criterion")
    if not changes:
        return _runs(reps.reps, start, end)
    before = [a for a in reps.reps if a.onset.best < changes[0].best]
    found = _runs(before, start, changes[0].best) if before else []
    onsets = [a.onset.best for a in reps.reps]
    for change, following in itertools.zip_longest(changes, changes[1:]):
        until = following.best if following is not None else max(end, change.best)
        low = bisect_left(onsets, change.best)
        high = bisect_left(onsets, until) if following is not None else len(onsets)
        own = [a for a in reps.reps[low:high] if a.approximation == change.approximation]
        if found and found[-1].approximation == change.approximation:
            last = found.pop()
            found.append(Segment(last.approximation, last.start, until, (*last.attempts, *own)))
        else:
            found.append(Segment(change.approximation, change.best, until, tuple(own)))
    return found


def _runs(attempts: Sequence[Attempt], start: int, end: int) -> list[Segment]:
    groups = [list(g) for _, g in itertools.groupby(attempts, key=lambda a: a.approximation)]
    if not groups:
        return []
    starts = [start, *(g[0].onset.best for g in groups[1:])]
    return [
        Segment(group[0].approximation, at, until, tuple(group))
        for group, at, until in zip(groups, starts, [*starts[1:], end], strict=True)
    ]


def splits(reps: Reps, found: Sequence[Segment], rising_pause: bool) -> Splits:
    """Every segment, and each approximation over all of its attempts.

    `found` are the session's segments; `rising_pause` is what the comfort-gated school
    wants to know of the pauses.
    """
    measured = _Measured(reps, rising_pause)
    segments = tuple(
        measured.split([(place, segment)], segment.attempts, [_change(reps, segment, following)])
        for place, (segment, following) in enumerate(itertools.zip_longest(found, found[1:]))
    )
    pooled: list[Split] = []
    for key in _keys_in_order(reps, found):
        own = [(n, s) for n, s in enumerate(found) if s.approximation == key]
        attempts = tuple(a for a in reps.reps if a.approximation == key)
        changes = [segments[n].change for n, _ in own]
        pooled.append(measured.split(own, attempts, changes))
    return Splits(segments, tuple(pooled))


def _keys_in_order(reps: Reps, found: Sequence[Segment]) -> list[str | None]:
    keys = dict.fromkeys([s.approximation for s in found] + [a.approximation for a in reps.reps])
    places = {step.key: n for n, step in enumerate(reps.record.plan.approximations)}
    met_in = {key: n for n, key in enumerate(keys)}
    return sorted(keys, key=lambda k: (places.get(k or "", len(places)), met_in[k]))


class _Measured:
    """What every split asks of the session, worked out once."""

    def __init__(self, reps: Reps, rising_pause: bool):
        self.reps = reps
        self.rising_pause = rising_pause
        self.rule = reps.record.plan.rule
        self.paid = reps.reinforcement_instants
        self.last = segments_end(reps)
        self.latency_of = {
            a.onset.id: reward_latency_s(a.timing_use) for a in reps.reps if a.timing_use
        }

    def split(
        self,
        placed: Sequence[tuple[int, Segment]],
        attempts: Sequence[Attempt],
        changes: Sequence[Change],
    ) -> Split:
        clock = self.reps.clock
        segments = [segment for _, segment in placed]
        passed = sum(clock.at(s.end) - clock.at(s.start) for s in segments)
        begun = segments[0].start if segments else None
        won = success(tuple(attempts))
        judged = [(n, a) for n, a in enumerate(attempts, 1) if a.onset.met is not None]
        first = next((n for n, a in judged if a.onset.met), None)
        said = (
            first_said(self.rule, [Judged(bool(a.onset.met), a.onset.value) for _, a in judged])
            if self.rule
            else None
        )
        to_rule = judged[said - 1][0] if said is not None else None

        def time_to(number: int | None) -> float | None:
            """Training time under this approximation up to its attempt `number`."""
            if number is None or begun is None:
                return None
            at = attempts[number - 1].onset.best
            return seconds(
                sum(clock.at(min(s.end, at)) - clock.at(min(s.start, at)) for s in segments)
            )

        paid = sum(
            # An edge between two stretches belongs to the later one: nothing is counted twice.
            bisect_left(self.paid, s.end + (s.end == self.last)) - bisect_left(self.paid, s.start)
            for s in segments
        )
        key = attempts[0].approximation if attempts else None
        return Split(
            approximation=segments[0].approximation if segments else key,
            start_s=seconds(segments[0].start) if segments else None,
            end_s=seconds(segments[-1].end) if segments else None,
            training_time_s=seconds(passed),
            attempts=len(attempts),
            judged=won.judged,
            met=won.met,
            share=won.share,
            low=won.low,
            high=won.high,
            longest_run=won.longest_run,
            attempts_to_first_met=first,
            time_to_first_met_s=time_to(first),
            attempts_to_rule=to_rule,
            time_to_rule_s=time_to(to_rule),
            reinforcement_per_min=poisson_rate(paid, seconds(passed) / 60),
            marker_latency_s=_median(marker_latency_s(a) for a in attempts),
            reward_latency_s=_median(self.latency_of.get(a.onset.id) for a in attempts),
            decision=(
                decision_at_end(self.reps, segments[-1], self.rule, self.rising_pause)
                if segments and self.rule
                else None
            ),
            change=changes[-1] if changes else Change("none", None),
            changes=tuple(changes),
            stretches=tuple(place for place, _ in placed),
        )


def segments_end(reps: Reps) -> int | None:
    """Where the session's last stretch ends, ticks."""
    return reps.clock.bouts[-1].end if reps.clock.bouts else None


def _median(values: Any) -> float | None:
    return summarise(v for v in values if v is not None).median


def comfort_of(reps: Reps, segment: Segment, rising_pause: bool) -> SessionComfort:
    """One stretch of a session as the comfort-gated school sees it."""

    def inside(kind: Kind) -> list[Event]:
        return [e for e in reps.record.of_kind(kind) if segment.start <= e.best <= segment.end]

    return SessionComfort(
        tuple(e.severity or 0 for e in inside("sign")),
        len(inside("off_task_start")),
        rising_pause,
    )


def decision_at_end(
    reps: Reps, segment: Segment, rule: Mapping[str, Any], rising_pause: bool
) -> Decision:
    """What a rule says at a segment's end."""
    comfort = (comfort_of(reps, segment, rising_pause),) if rule["kind"] == "comfort" else ()
    return decide(rule, segment.judged, comfort)


def _change(reps: Reps, segment: Segment, following: Segment | None) -> Change:
    """The change that ended a segment against the plan's rule."""
    rule = reps.record.plan.rule
    if following is None or rule is None or rule["kind"] == "comfort":
        return Change("none", None)
    here, there = (reps.record.plan.place(s.approximation) for s in (segment, following))
    judged = segment.judged
    is_down = here is not None and there is not None and there < here
    verdict: Verdict = "lower" if is_down else "raise"
    said = first_said(rule, judged, verdict)
    if said is None:
        return Change("early", attempts_short(rule, judged, verdict))
    past = len(judged) - said
    return Change("late", past) if past else Change("with_rule", 0)
