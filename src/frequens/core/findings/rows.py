"""The rows of the findings: each rep, and each thing that is no rep and yet counted."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from ..measures.chains import Course
from ..measures.conditions import level_name
from ..measures.exposures import Exposed
from ..measures.led_reps import tapped_met
from ..measures.pauses import Pause
from ..measures.pays import Pays, direct_reward_s
from ..measures.responding import Presentation
from ..measures.returning import OptOuts, Return
from ..measures.splits import Segment
from ..measures.staying import stay_of
from ..measures.timing import Hands, Missed, TimedAttempt, reward_latency_s
from ..model.events import MICROSECONDS, Event, seconds, ticks, uncertainty_of_difference
from ..model.reps import Attempt, Reps
from .document import Moment, Outcome, PartReached, Rep


class Beside:
    """What stands beside a rep besides its own marks, by its onset's id or its marker's."""

    def __init__(
        self,
        reps: Reps,
        segments: Sequence[Segment],
        fell: Mapping[str, str],
        help_of: Mapping[str, str],
        hand: Hands,
        lost: Missed,
        asked: Sequence[Presentation],
        linked: Mapping[str, Course],
        rest: Sequence[Pause],
        pays: Pays,
    ):
        self.pays, self.caught, self.help, self.hand = pays, fell, help_of, hand
        self.missed, self.courses = lost.of, linked
        self.reward_limit = ticks(reps.record.settings.reward_limit_s)
        self.stretch = {
            attempt.onset.id: place
            for place, segment in enumerate(segments)
            for attempt in segment.attempts
        }
        self.pauses = {p.next.onset.id: p.length_s for p in rest}
        self.begun = {p.rep.onset.id: p.length_s for p in rest}
        self.tapped_met = tapped_met(reps)
        self.answered = {p.onset.id: p for p in asked if p.onset is not None}


def rep_row(timed: TimedAttempt, beside: Beside) -> Rep:
    """One attempt as a row."""
    attempt, key = timed.attempt, timed.attempt.onset.id
    use, marker = attempt.timing_use, attempt.timing_marker
    reward = use.first_reward if use else None
    waited = reward_latency_s(use) if use else None
    asked, course = beside.answered.get(key), beside.courses.get(key)
    return Rep(
        id=key,
        approximation=attempt.approximation,
        stretch=beside.stretch.get(key),
        onset_s=attempt.onset.t_us / MICROSECONDS,
        offset_s=_instant(attempt.offset),
        target_s=_target(attempt),
        marker_s=_instant(marker),
        reward_s=_instant(reward),
        marker_latency_s=timed.marker_latency_s,
        timing_error_s=timed.timing_error_s,
        timing=timed.timing,
        behaviour_over=timed.behaviour_over,
        missed=beside.missed.get(key),
        reward_latency_s=waited,
        over_limit=None if waited is None else ticks(waited) > beside.reward_limit,
        met=attempt.onset.met,
        value=attempt.onset.value,
        false_alarm=attempt.false_alarm,
        pays=len(beside.pays.get(key, ())),
        pieces=sum(r.pieces for r in attempt.rewards) if attempt.rewards else None,
        uncertainty_s=uncertainty_of_difference(marker, attempt.onset) if marker else None,
        offset_id=attempt.offset.id if attempt.offset else None,
        marker_id=marker.id if marker else None,
        further_ids=[m.id for m in attempt.further],
        keep_going_ids=[m.id for m in attempt.keep_going],
        reward_ids=[r.id for r in attempt.rewards],
        paid_directly=bool(attempt.direct),
        direct_reward_s=direct_reward_s(attempt),
        placements=[r.placement for r in attempt.rewards if r.placement],
        caught=beside.caught.get(marker.id) if marker else None,
        reach_lead_s=beside.hand.lead_s.get(key),
        hand_first=beside.hand.first.get(key),
        pause_s=beside.pauses.get(key),
        next_pause_s=beside.begun.get(key),
        held_s=None if attempt.held is None else seconds(attempt.held),
        stay=None if attempt.false_alarm else stay_of(attempt),
        help=beside.help.get(key),
        cue=asked.label if asked else None,
        said=asked.said if asked else None,
        answer=asked.answer if asked else None,
        response_s=seconds(asked.length) if asked else None,
        parts=[
            PartReached(reached.part.key, reached.event.t_us / MICROSECONDS)
            for reached in (course.reached if course else ())
        ],
        broke_at=course.broke_at if course else None,
        conditions={k: level_name(v) for k, v in (attempt.onset.conditions or {}).items()},
        tapped_met=beside.tapped_met.get(key),
    )


def _instant(event: Event | None) -> float | None:
    """A mark's own time, seconds."""
    return None if event is None else event.t_us / MICROSECONDS


def _target(attempt: Attempt) -> float | None:
    """The target as a mark on the aim's own frame would stand, past it by the hold."""
    if attempt.target is None:
        return None
    aim = attempt.offset if attempt.mark_at == "offset" and attempt.offset else attempt.onset
    return aim.t_us / MICROSECONDS + seconds(attempt.target - aim.best)


#: Kinds that belong to no rep and are counted all the same.
_MOMENTS = ("other_behaviour", "sign", "criterion", "cue", "no_cue_window", "off_task_start")


def moments(reps: Reps, fell: Mapping[str, str]) -> list[Moment]:
    """What is no rep and yet is counted: each with its instant, so that it opens its frames.

    Markers on no rep say what they fell on, rewards without a marker stand among them.
    """
    orphans = {u.marker.id: fell.get(u.marker.id) for u in reps.uses if u.is_orphan}
    unmarked = {r.id for r in reps.unmarked_rewards}
    return [
        Moment(
            id=event.id,
            kind=event.kind,
            t_s=event.t_us / MICROSECONDS,
            label=orphans.get(event.id) or event.approximation or event.label,
            severity=event.severity,
        )
        for event in reps.record.ordered
        if event.kind in _MOMENTS or event.id in orphans or event.id in unmarked
    ]


def outcomes(
    reps: Reps,
    asked: Sequence[Presentation],
    sent: Sequence[Return],
    left: OptOuts,
    touched: Sequence[Exposed],
) -> list[Outcome]:
    """What came of each cue, window, wait, sending away and touch; (id, role) is unique."""
    rows: list[Outcome] = []

    def add(event: Event, role: str, outcome: str | None, length_s: float | None) -> None:
        t_s = event.t_us / MICROSECONDS
        rows.append(Outcome(event.id, role, t_s, outcome, length_s))

    for p in asked:
        add(p.first, "presentation", p.answer, seconds(p.length) if p.responded else None)
    alarms = {
        window.event.id
        for a in reps.attempts
        if a.false_alarm and (window := reps.windows.holding(a.onset)) is not None
    }
    for window in reps.windows.all:
        is_alarm = window.event.id in alarms
        add(window.event, "window", "false_alarm" if is_alarm else "correct_rejection", None)
    for use in reps.uses:
        if use.is_paid_wait:
            outcome = "paid" if use.rewards else "unpaid"
            add(use.marker, "paid_wait", outcome, reward_latency_s(use))
    for reward in reps.unmarked.free:
        add(reward, "free_reward", None, None)
    for one in sent:
        add(one.reset, "return", one.outcome, seconds(one.length))
    for event, away in left.starts:
        add(event, "opt_out", None, seconds(away))
    for touch in touched:
        outcome = "paid" if touch.reward is not None else "unpaid"
        add(touch.event, "exposure", outcome, touch.latency_s)
        if touch.food_first:
            add(touch.event, "food_first", None, None)
    return rows
