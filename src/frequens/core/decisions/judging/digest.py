"""One session in short: all that the judgement of a later one, or of itself, asks of it."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, fields
from itertools import accumulate
from statistics import median
from typing import Any, NamedTuple

from ...linking.leading_up import run_ups
from ...measures.conditions import level_name
from ...measures.exposures import Exposed
from ...measures.offering import Signs
from ...measures.pauses import Pause, Trend
from ...measures.responding import Presentation
from ...measures.returning import OptOuts, Return
from ...measures.splits import Segment
from ...measures.staying import is_stay, stay_of
from ...measures.timing import Hands, Missed
from ...model.events import ByHand, Event, SessionRecord, seconds
from ...model.reps import Attempt, Reps


class Trial(NamedTuple):
    """One judged attempt at the step in force. `help` is None where nobody knows (by hand).

    `stretch` is the place of its stretch in the session, from 0; `response_s` how long after its
    cue it began, None where nothing was asked.
    """

    step: str | None
    stretch: int
    met: bool
    value: float | None
    help: str | None
    conditions: Mapping[str, str]
    id: str | None
    response_s: float | None = None


@dataclass(frozen=True, slots=True)
class Rise:
    """A trend of pauses or returns: how many, chance's p, medians of the first and last third."""

    n: int
    p: float | None
    first_s: float | None
    last_s: float | None


@dataclass(frozen=True, slots=True)
class Worked:
    """When the animal was worked, on a clock that stops while nobody works.

    `stretches` are (step, from, to) and `paid` the reinforcements, in seconds of that clock,
    which leaves out breaks, waits in which nothing was asked and what comes after the last rep.
    """

    stretches: tuple[tuple[str | None, float, float], ...]
    paid: tuple[float, ...]
    total: float


@dataclass(frozen=True)
class Digest:
    """A session in short. Times in seconds unless the name says minutes.

    `trials` are the judged attempts at the step in force, in order; gifts and what nobody asked
    for are left out. `at_work` counts attempts and exposures by the step in force. `signs` counts
    severities 1 to 3; `unpaid` are (markers without reward, markers), the other pairs alike.
    `stays` are, by step, kept or not; `back_s` complete returns by the step of the rep they led to.
    """

    date: str | None
    time: str | None
    by_hand: bool
    trials: tuple[Trial, ...]
    at_work: Mapping[str, int]
    in_force: str | None
    attempts: int
    minutes: float
    rewards: int | None
    signs: tuple[int, int, int]
    signs_first: int
    signs_last: int
    opt_outs: int
    pauses: Rise | None
    returns: Rise | None
    back_s: Mapping[str, tuple[float, ...]]
    presentations: int
    repeated: int
    wrong: int
    windows: int
    alarms: int
    cued: int
    overlapped: int
    exposures: int
    food_first: int
    missed: tuple[int, int]
    missed_kinds: Mapping[str, int]
    unpaid: tuple[int, int]
    hand_first: tuple[int, int]
    stays: Mapping[str, tuple[bool, ...]]
    worked: Worked | None
    limit_s: float

    @classmethod
    def read(cls, plain: Mapping[str, Any]) -> Digest:
        """The digest that `as_plain_values` wrote."""
        made = {f.name: plain[f.name] for f in fields(cls)}
        made["trials"] = tuple(Trial(*trial) for trial in made["trials"])
        # JSON knows no tuples.
        for key in ("signs", "missed", "unpaid", "hand_first"):
            made[key] = tuple(made[key])
        for key in ("back_s", "stays"):
            made[key] = {step: tuple(values) for step, values in made[key].items()}
        for key in ("pauses", "returns"):
            made[key] = Rise(**made[key]) if made[key] else None
        if made["worked"]:
            stretches = tuple(tuple(one) for one in made["worked"]["stretches"])
            made["worked"] = Worked(
                stretches, tuple(made["worked"]["paid"]), made["worked"]["total"]
            )
        return cls(**made)

    def as_plain_values(self) -> dict[str, Any]:
        """Plain values for a JSON writer."""
        return asdict(self) | {"trials": [list(trial) for trial in self.trials]}

    @property
    def judged(self) -> int:
        """How many attempts were judged."""
        return len(self.trials)


@dataclass(frozen=True)
class Parts:
    """What measuring a session has worked out already."""

    reps: Reps
    segments: Sequence[Segment]
    help_of: Mapping[str, str]
    hand: Hands
    lost: Missed
    asked: Sequence[Presentation]
    overlapped: int
    rest: Sequence[Pause]
    pause_trend: Trend
    sent: Sequence[Return]
    return_trend: Trend
    left: OptOuts
    touched: Sequence[Exposed]
    seen: Signs


def digest(parts: Parts) -> Digest:
    """A coded session in short."""
    reps, record = parts.reps, parts.reps.record
    severities = [sign.severity or 0 for sign in record.of_kind("sign")]
    windows = reps.windows.all
    is_prompted = bool(record.of_kind("prompt"))
    uses = reps.event_uses
    return Digest(
        date=record.session.date,
        time=record.session.time,
        by_hand=False,
        trials=tuple(_trials(parts)),
        at_work=_at_work(parts),
        in_force=_in_force(record, parts.segments),
        attempts=len(reps.attempts),
        minutes=seconds(reps.clock.total) / 60,
        rewards=len(reps.reinforcement_instants),
        signs=(severities.count(1), severities.count(2), severities.count(3)),
        signs_first=parts.seen.first_third,
        signs_last=parts.seen.last_third,
        opt_outs=parts.left.count,
        pauses=_rise([p.length_s for p in parts.rest], parts.pause_trend),
        returns=_rise(
            [seconds(r.length) for r in parts.sent if r.onset is not None], parts.return_trend
        ),
        back_s=_back(parts),
        presentations=len(parts.asked),
        repeated=sum(p.said > 1 for p in parts.asked),
        wrong=sum(p.answer == "wrong" for p in parts.asked),
        windows=len(windows),
        alarms=len({w.start for a in reps.attempts if (w := reps.windows.holding(a.onset))}),
        cued=sum(bool(run.cues) for run in run_ups(reps)) if is_prompted else 0,
        overlapped=parts.overlapped,
        exposures=len(parts.touched),
        food_first=sum(touch.food_first for touch in parts.touched),
        missed=(parts.lost.share.count, parts.lost.share.of),
        missed_kinds=parts.lost.kinds,
        unpaid=(sum(u.is_unrewarded for u in uses), len(uses)),
        hand_first=(parts.hand.share.count, parts.hand.share.of),
        stays=_stays(reps),
        worked=_worked(parts),
        limit_s=record.settings.dry_spell_s,
    )


def digest_by_hand(record: SessionRecord, counts: ByHand) -> Digest:
    """A session that was counted, not filmed: its successes spread evenly over its reps.

    Attempt i of n is met where the whole part of i * met / n grows.
    """
    judged, met = counts.judged, counts.met
    severities = [severity for _, severity in counts.signs]
    conditions = {name: level_name(level) for name, level in (counts.conditions or {}).items()}
    return Digest(
        date=record.session.date,
        time=record.session.time,
        by_hand=True,
        trials=tuple(
            Trial(
                counts.approximation,
                0,
                i * met // judged > (i - 1) * met // judged,
                None,
                counts.help,
                conditions,
                None,
            )
            for i in range(1, judged + 1)
        ),
        at_work={counts.approximation or "": 1},
        in_force=counts.approximation,
        attempts=max(judged, counts.attempts or 0),
        minutes=counts.minutes or 0.0,
        rewards=counts.rewards,
        signs=(severities.count(1), severities.count(2), severities.count(3)),
        signs_first=0,
        signs_last=0,
        opt_outs=counts.opt_outs,
        pauses=None,
        returns=None,
        back_s={},
        presentations=0,
        repeated=0,
        wrong=0,
        windows=0,
        alarms=0,
        cued=0,
        overlapped=0,
        exposures=0,
        food_first=0,
        missed=(0, 0),
        missed_kinds={},
        unpaid=(0, 0),
        hand_first=(0, 0),
        stays={},
        worked=None,
        limit_s=record.settings.dry_spell_s,
    )


def _trials(parts: Parts) -> Iterable[Trial]:
    answered = {p.onset.id: seconds(p.length) for p in parts.asked if p.onset is not None}
    for place, segment in enumerate(parts.segments):
        for attempt in segment.attempts:
            onset = attempt.onset
            if onset.met is not None:
                yield Trial(
                    segment.approximation,
                    place,
                    onset.met,
                    onset.value,
                    parts.help_of.get(onset.id, "none"),
                    {name: level_name(level) for name, level in (onset.conditions or {}).items()},
                    onset.id,
                    answered.get(onset.id),
                )


def _at_work(parts: Parts) -> dict[str, int]:
    """Attempts, judged or not, and exposures by the step in force."""
    found: dict[str, int] = {}
    for segment in parts.segments:
        touches = sum(segment.start <= t.event.best < segment.end for t in parts.touched)
        if segment.attempts or touches:
            key = segment.approximation or ""
            found[key] = found.get(key, 0) + len(segment.attempts) + touches
    return found


def _in_force(record: SessionRecord, segments: Sequence[Segment]) -> str | None:
    """The criterion in force at the end; without one, the step of the last attempt."""
    changes = record.of_kind("criterion")
    if changes:
        return changes[-1].approximation
    return segments[-1].approximation if segments else None


def _rise(values: Sequence[float], trend: Trend) -> Rise | None:
    if not values:
        return None
    third = len(values) // 3
    return Rise(
        len(values),
        trend.p,
        median(values[:third]) if third else None,
        median(values[-third:]) if third else None,
    )


def _back(parts: Parts) -> dict[str, tuple[float, ...]]:
    by_id = {attempt.onset.id: attempt for attempt in parts.reps.attempts}
    found: dict[str, list[float]] = {}
    for sent in parts.sent:
        if sent.onset is not None:
            key = by_id[sent.onset.id].approximation or ""
            found.setdefault(key, []).append(seconds(sent.length))
    return {key: tuple(values) for key, values in found.items()}


def _stays(reps: Reps) -> dict[str, tuple[bool, ...]]:
    """By step, in order; those without release or offset do not count."""
    found: dict[str, list[bool]] = {}
    for attempt in reps.reps:
        outcome = stay_of(attempt) if is_stay(attempt) else None
        if outcome is not None:
            found.setdefault(attempt.approximation or "", []).append(outcome == "kept")
    return {key: tuple(kept) for key, kept in found.items()}


def _worked(parts: Parts) -> Worked | None:
    """The clock that stops while nobody works: in breaks, in waits, and after the last rep."""
    reps = parts.reps
    if not reps.attempts or reps.clock.total == 0:
        return None
    clock = reps.clock
    end = clock.at(max(_last_instant(attempt) for attempt in reps.attempts))
    idle = [(clock.at(w.start), clock.at(w.end)) for w in reps.windows.all]
    starts = [begin for begin, _ in idle]
    before = list(accumulate((to - begin for begin, to in idle), initial=0))

    def at(instant: int) -> float:
        passed = min(clock.at(instant), end)
        place = bisect_left(starts, passed)
        # Of the wait it lies in, only what has passed of it.
        still = max(0, idle[place - 1][1] - passed) if place else 0
        return seconds(passed - before[place] + still)

    return Worked(
        tuple((s.approximation, at(s.start), at(s.end)) for s in parts.segments),
        tuple(at(paid) for paid in reps.reinforcement_instants),
        at(clock.bouts[-1].end),
    )


def _last_instant(attempt: Attempt) -> int:
    known: list[Event | None] = [attempt.onset, attempt.coded_end, *attempt.rewards[-1:]]
    return max(event.best for event in known if event is not None)
