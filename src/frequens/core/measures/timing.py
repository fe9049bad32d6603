"""Was the marker on the behaviour, and did the reward come soon after it?"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ..model.events import Event, seconds, ticks, uncertainty_of_difference
from ..model.reps import Attempt, MarkerUse, Reps
from ..statistics.summaries import Share, Summary, summarise, wilson

Timing = Literal["early", "on_time", "late"]
#: An `other_behaviour` this long before an orphan marker is what the marker fell on.
OTHER_BEFORE_S = 1.0


@dataclass(frozen=True, slots=True)
class TimingCounts:
    """How many marked attempts were marked early, on time, late, or after the behaviour was over.

    `behaviour_over` is None where no attempt has an offset to judge it by.
    """

    early: int
    on_time: int
    late: int
    behaviour_over: int | None


@dataclass(frozen=True, slots=True)
class TimedAttempt:
    """An attempt and its marker's timing, seconds; None where it does not apply."""

    attempt: Attempt
    marker_latency_s: float | None
    timing_error_s: float | None
    timing: Timing | None
    behaviour_over: bool | None


@dataclass(frozen=True, slots=True)
class RewardLatency:
    """Summary of first reward minus marker in seconds, and its two counts."""

    summary: Summary
    over_limit: int
    before_marker: int


@dataclass(frozen=True, slots=True)
class ReachLead:
    """Summary of marker minus reach in seconds; `before_marker` counts hands that moved first."""

    summary: Summary
    before_marker: int


def marker_latency_s(attempt: Attempt) -> float | None:
    """Marker minus onset in seconds, None for an unmarked attempt."""
    marker = attempt.timing_marker
    return None if marker is None else seconds(marker.best - attempt.onset.best)


def timing_error_s(attempt: Attempt) -> float | None:
    """Marker minus target instant in seconds, None without either."""
    marker = attempt.timing_marker
    if marker is None or attempt.target is None:
        return None
    return seconds(marker.best - attempt.target)


def timing_uncertainty_s(attempt: Attempt) -> float | None:
    """Standard uncertainty in seconds of the attempt's timing error."""
    if attempt.timing_marker is None:
        return None
    return uncertainty_of_difference(attempt.timing_marker, aim_of(attempt))


def aim_of(attempt: Attempt) -> Event | None:
    """The event the marker was due on, as the step says: where the behaviour begins or ends."""
    return attempt.offset if attempt.mark_at == "offset" else attempt.onset


def timing(error_s: float | None, uncertainty_s: float | None, on_time_s: float) -> Timing | None:
    """Early, on time or late; None where there is no timing error. All in seconds."""
    if error_s is None or uncertainty_s is None:
        return None
    if error_s < -2 * uncertainty_s:
        return "early"
    return "on_time" if ticks(error_s) <= ticks(on_time_s) else "late"


def behaviour_over(attempt: Attempt) -> bool | None:
    """Whether the marker came clearly after the offset; None where that cannot be asked."""
    marker = attempt.timing_marker
    if marker is None or attempt.offset is None or attempt.mark_at == "offset":
        return None
    late_by = seconds(marker.best - attempt.offset.best)
    return late_by > 2 * uncertainty_of_difference(marker, attempt.offset)


def reward_latency_s(use: MarkerUse) -> float | None:
    """First reward minus marker in seconds, None for an unrewarded marker."""
    first = use.first_reward
    return None if first is None else seconds(first.best - use.marker.best)


def time_attempts(reps: Reps) -> tuple[TimedAttempt, ...]:
    """Every attempt with what its marker's timing amounts to, in time order."""
    on_time_s = reps.record.settings.on_time_s
    timed: list[TimedAttempt] = []
    for attempt in reps.attempts:
        error_s = timing_error_s(attempt)
        timed.append(
            TimedAttempt(
                attempt,
                marker_latency_s(attempt),
                error_s,
                timing(error_s, timing_uncertainty_s(attempt), on_time_s),
                behaviour_over(attempt),
            )
        )
    return tuple(timed)


def timing_counts(timed: Sequence[TimedAttempt]) -> TimingCounts:
    """Classes of all marked attempts."""
    classes = Counter(t.timing for t in timed)
    can_be_asked = any(t.attempt.offset and t.attempt.mark_at != "offset" for t in timed)
    return TimingCounts(
        early=classes["early"],
        on_time=classes["on_time"],
        late=classes["late"],
        behaviour_over=sum(t.behaviour_over is True for t in timed) if can_be_asked else None,
    )


def marker_latencies(timed: Sequence[TimedAttempt]) -> Summary:
    """Summary of marker minus onset over all marked attempts, seconds."""
    return summarise(t.marker_latency_s for t in timed if t.marker_latency_s is not None)


def timing_errors(timed: Sequence[TimedAttempt]) -> Summary:
    """Summary of marker minus target instant over all marked attempts, seconds."""
    return summarise(t.timing_error_s for t in timed if t.timing_error_s is not None)


def reward_latencies(reps: Reps) -> RewardLatency:
    """Reward latency over every rewarded event or keep-going marker, orphans included."""
    values = [v for v in map(reward_latency_s, reps.uses) if v is not None]
    limit = ticks(reps.record.settings.reward_limit_s)
    return RewardLatency(
        summary=summarise(values),
        over_limit=sum(ticks(v) > limit for v in values),
        before_marker=sum(v < 0 for v in values),
    )


def reach_pairs(reps: Reps) -> list[tuple[Event, Event]]:
    """Each marker with a reach, and the first reach that belongs to it."""
    return [
        (use.marker, min(use.reaches, key=lambda r: r.best))
        for use in reps.event_uses
        if use.reaches
    ]


def reach_leads(reps: Reps, hands: Hands) -> ReachLead:
    """Marker minus the first reach that belongs to it, over all markers with a reach.

    `before_marker` counts hands that moved first where the hand was no help, and on no rep.
    """
    pairs = reach_pairs(reps)
    leads = [seconds(marker.best - reach.best) for marker, reach in pairs]
    own = {use.marker.id for use in reps.event_uses if use.attempt is not None}
    loose = sum(hand_first(*pair) for pair in pairs if pair[0].id not in own)
    return ReachLead(summarise(leads), hands.share.count + loose)


@dataclass(frozen=True)
class Hands:
    """Attempts whose hand moved before the marker, where the hand was no help.

    `first` says it of each attempt with a reach whose help was none or physical, by its onset's
    id: with a lure, target, empty hand or gesture the hand is the help.
    """

    first: Mapping[str, bool]
    lead_s: Mapping[str, float]
    share: Share


def hands(reps: Reps, help_of: Mapping[str, str]) -> Hands:
    """Each attempt's hand at its earliest marker with a reach; `help_of` by onset id."""
    pair_of = {marker.id: (marker, reach) for marker, reach in reach_pairs(reps)}
    first: dict[str, bool] = {}
    lead_s: dict[str, float] = {}
    for onset_id, uses in reps.uses_of.items():
        pairs = [pair_of[use.marker.id] for use in uses if use.marker.id in pair_of]
        if pairs:
            marker, reach = pairs[0]
            lead_s[onset_id] = seconds(marker.best - reach.best)
            if help_of[onset_id] in ("none", "physical"):
                first[onset_id] = hand_first(marker, reach)
    return Hands(first, lead_s, wilson(sum(first.values()), len(first)))


@dataclass(frozen=True)
class Missed:
    """Reps early, late, or marked after the behaviour was over, among those with a timing class.

    `brief` are steps whose behaviour lasts shorter than a hand can answer; there a marker after
    it is no miss.
    """

    share: Share
    brief: Mapping[str, bool]
    of: Mapping[str, bool]
    #: How many were `early`, `late`, or on time and yet `over`.
    kinds: Mapping[str, int]


def missed(
    reps: Reps, timed: Sequence[TimedAttempt], held_median_s: Mapping[str, float | None]
) -> Missed:
    """What hands could have reached and did not; `held_median_s` by step."""
    limit = ticks(reps.record.settings.on_time_s)
    brief = {
        key: ticks(median) < limit for key, median in held_median_s.items() if median is not None
    }
    of: dict[str, bool] = {}
    kinds = {"early": 0, "late": 0, "over": 0}
    for t in timed:
        if t.timing is None or t.attempt.false_alarm:
            continue
        is_over = t.behaviour_over is True and not brief.get(t.attempt.approximation or "", False)
        of[t.attempt.onset.id] = t.timing != "on_time" or is_over
        if t.timing != "on_time":
            kinds[t.timing] += 1
        elif is_over:
            kinds["over"] += 1
    return Missed(wilson(sum(of.values()), len(of)), brief, of, kinds)


def hand_first(marker: Event, reach: Event) -> bool:
    """Whether the hand moved before the marker, beyond what the frames leave open."""
    return seconds(marker.best - reach.best) > 2 * uncertainty_of_difference(marker, reach)


def caught(fell: Mapping[str, str]) -> dict[str, int]:
    """What the event markers fell on, as `caught_by` says, as counts by name."""
    counts: Counter[str] = Counter(target=0, before_onset=0, after_offset=0, nothing_coded=0)
    counts.update(fell.values())
    return dict(counts)


def caught_by(reps: Reps) -> dict[str, str]:
    """What each event marker fell on, repeats and paid waits aside, by the marker's id."""
    found: dict[str, str] = {}
    others = _other_behaviour_before(reps)
    for use in reps.event_uses:
        if use.repeats is not None or use.is_paid_wait:
            continue
        at, attempt = use.marker.best, use.attempt
        if attempt is None:
            label = others.get(use.marker.id)
            found[use.marker.id] = f"other:{label}" if label else "nothing_coded"
        elif at < attempt.onset.best:
            found[use.marker.id] = "before_onset"
        elif attempt.offset is not None and at > attempt.offset.best:
            found[use.marker.id] = "after_offset"
        else:
            found[use.marker.id] = "target"
    return found


def _other_behaviour_before(reps: Reps) -> dict[str, str]:
    """Marker id to the label of the other behaviour just before it, no onset between."""
    found: dict[str, str] = {}
    if not reps.record.of_kind("other_behaviour"):
        return found
    latest: Event | None = None
    for event in reps.record.ordered:
        if event.kind == "onset":
            latest = None
        elif event.kind == "other_behaviour":
            latest = event
        elif (
            event.kind == "marker"
            and latest is not None
            and latest.label
            and event.best - latest.best <= ticks(OTHER_BEFORE_S)
        ):
            found[event.id] = latest.label
    return found
