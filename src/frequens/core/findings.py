"""All findings of a session as one document, under the keys of `docs/measures.md`."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from functools import cache
from typing import Any

from .decisions.judging import Digest, digest, digest_by_hand, judge
from .decisions.judging.digest import Parts
from .linking.attempts import link_reps
from .measures.blocks import bout_rows
from .measures.certainty import Certainty, apart, dry_by_chance, fits, more_signs_p, pay
from .measures.chains import Course, chains, courses
from .measures.conditions import conditions, said
from .measures.exposures import Exposed, exposed, exposures
from .measures.film_certainty import sources
from .measures.helping import fading, follow_ups, helped, placement, prompts, strongest_help
from .measures.offering import offered, signs
from .measures.pauses import Pause, pauses, pauses_of
from .measures.pays import (
    Pays,
    direct_reward_s,
    direct_rewards,
    paid_directly,
    pay_gaps,
    pays_of,
    pays_per_rep,
)
from .measures.quantities import values
from .measures.rates import cumulative, dry_spells, rate_curve, rates
from .measures.responding import (
    Presentation,
    asked_share,
    confusion,
    cues,
    presentations,
    response_latency,
    stimulus_control,
)
from .measures.returning import OptOuts, Return, back_by_onset, opt_outs, returns, returns_of
from .measures.splits import Segment, segments_of, splits
from .measures.staying import stay_of, stays
from .measures.step_in_force import in_force
from .measures.success import fidelity, held, success
from .measures.timing import (
    Hands,
    Missed,
    TimedAttempt,
    caught,
    caught_by,
    hands,
    marker_latencies,
    missed,
    reach_leads,
    reward_latencies,
    reward_latency_s,
    time_attempts,
    timing_counts,
    timing_errors,
)
from .model.events import (
    MICROSECONDS,
    Event,
    SessionRecord,
    seconds,
    ticks,
    uncertainty_of_difference,
)
from .model.reps import Attempt, Reps
from .statistics.density import density
from .statistics.summaries import wilson


@dataclass(frozen=True)
class MeasuredSession:
    """A session's findings, and what later judgements need of it."""

    findings: dict[str, Any]
    digest: Digest


def measure(record: SessionRecord) -> dict[str, Any]:
    """Findings of a session: plain values ready for a JSON writer.

    Times in seconds, rates per minute; what does not apply is None. Instants in `reps` are
    the marks' own times, so that each leads to its frame; the latencies beside them are
    differences of best estimates.
    """
    return measure_session(record).findings


def measure_session(record: SessionRecord) -> MeasuredSession:
    """Findings as `measure` gives them, with the digest that later judgements ask for."""
    reps = link_reps(record)
    timed = time_attempts(reps)
    help_of = strongest_help(reps)
    hand = hands(reps, help_of)
    reward, reach = reward_latencies(reps), reach_leads(reps, hand)
    rest, pays = pauses_of(reps), pays_of(reps)
    pause, dry, seen = pauses(reps, rest), dry_spells(reps), signs(reps)
    segments = segments_of(reps)
    help_given, fell = prompts(reps), caught_by(reps)
    asked, held_for = presentations(reps), held(reps)
    lost = missed(reps, timed, {key: h.summary.median for key, h in held_for.items()})
    sent, left = returns_of(reps), opt_outs(reps)
    came_back = returns(reps, sent)
    control = stimulus_control(reps, asked)
    paid = [seconds(reps.clock.at(t)) for t in reps.reinforcement_instants]
    total = seconds(reps.clock.total)
    per_min = 60 * len(paid) / total if total else None
    touched, linked = exposed(reps, left), courses(reps, help_of)
    followed = follow_ups(reps, rest, back_by_onset(sent))
    found: dict[str, Any] = plain(
        {
            "training_time_s": seconds(reps.clock.total),
            "counts": _counts(reps),
            "marker_latency_s": marker_latencies(timed),
            "marker_density": density(
                [t.marker_latency_s for t in timed if t.marker_latency_s is not None]
            ),
            "timing_error_s": timing_errors(timed),
            "timing": timing_counts(timed),
            "caught": caught(fell),
            "reward_latency_s": {
                **plain(reward.summary),
                "over_limit": reward.over_limit,
                "before_marker": reward.before_marker,
            },
            "reach_lead_s": {**plain(reach.summary), "before_marker": reach.before_marker},
            "rates": rates(reps),
            "rate_curve": rate_curve(reps),
            "cumulative": cumulative(reps),
            "success": success(reps.reps),
            "missed": {**plain(lost.share), "brief": lost.brief},
            "hand_first": hand.share,
            "pays_per_rep": pays_per_rep(pays, reps.reps),
            "pay_gap_s": pay_gaps(reps, pays),
            "paid_directly": paid_directly(reps),
            "direct_reward_s": direct_rewards(reps),
            "stays": stays(reps, pays),
            "returns": came_back,
            "opt_outs": {
                "count": left.count,
                "per_10_attempts": left.per_10_attempts,
                "away_min": left.away_min,
            },
            "cues": cues(asked),
            "confusion": confusion(asked),
            "asked_share": asked_share(reps, asked),
            "chains": chains(linked),
            "exposures": exposures(touched),
            "values": {
                key: {**plain(v.summary), **{k: w for k, w in plain(v).items() if k != "summary"}}
                for key, v in values(reps).items()
            },
            "bouts": bout_rows(reps, pays, left),
            "fading": fading(reps, help_of, asked),
            "fidelity": fidelity(reps),
            "response_latency_s": response_latency(asked),
            "pause_s": {**plain(pause.summary), "trend": pause.trend},
            "dry_spells": dry,
            "offered": offered(reps, dry),
            "signs": seen,
            "placement": {
                place: {**plain(placed), **_follow_up(followed.get(place))}
                for place, placed in placement(reps).items()
            },
            "prompts": {
                "attempts": help_given.attempts,
                "last_food_lure": help_given.last_food_lure,
                "cue_lead_s": {
                    **plain(help_given.cue_lead.summary),
                    "overlapped": help_given.cue_lead.overlapped,
                },
            },
            "helped": helped(reps, help_of),
            "in_force": in_force(segments, timed),
            "conditions": conditions(reps),
            "stimulus_control": control,
            "certainty": Certainty(
                pay=pay(paid, total / 60),
                fits=fits([a.onset.met for a in reps.reps if a.onset.met is not None]),
                d_prime=apart(control),
                signs_p=more_signs_p(seen.first_third, seen.last_third),
                dry_by_chance=dry_by_chance(dry, per_min, len(paid)),
            ),
            "held_s": {
                key: {**plain(h.summary), "rewards_per_attempt": h.rewards_per_attempt}
                for key, h in held_for.items()
            },
            "sources": sources(reps, asked, rest),
            "splits": splits(reps, segments, pause.is_rising),
            "loose": _loose(reps),
        }
    )
    parts = Parts(
        reps=reps,
        segments=segments,
        help_of=help_of,
        hand=hand,
        lost=lost,
        asked=asked,
        overlapped=help_given.cue_lead.overlapped,
        rest=rest,
        pause_trend=pause.trend,
        sent=sent,
        return_trend=came_back.trend,
        left=left,
        touched=touched,
        seen=seen,
    )
    # Plain already, and by far the longest parts.
    found["moments"] = [
        *_moments(reps, fell),
        *_outcomes(reps, asked, sent, left, touched),
    ]
    beside = _Beside(reps, segments, fell, help_of, hand, lost, asked, linked, rest, pays)
    found["reps"] = [_rep_row(t, beside) for t in timed]
    short = _digest(record, parts)
    found["advice"] = plain(judge([short], record.plan))
    return MeasuredSession(found, short)


def _digest(record: SessionRecord, parts: Parts) -> Digest:
    if record.by_hand is not None:
        return digest_by_hand(record, record.by_hand)
    return digest(parts)


def _follow_up(followed: Any) -> dict[str, Any]:
    if followed is None:
        return {"next_n": 0, "next_s": None, "next_met": plain(wilson(0, 0))}
    found: dict[str, Any] = plain(followed)
    return found


def plain(value: Any) -> Any:
    """Dataclasses, mappings, sequences and dates as dicts, lists and text, all the way down."""
    kind: Any = type(value)
    if kind in _LEAVES:
        return value
    if kind in (list, tuple):
        return [plain(item) for item in value]
    if isinstance(value, Mapping):
        return {key: plain(item) for key, item in value.items()}
    if kind is dt.date:
        return value.isoformat()
    return {name: plain(getattr(value, name)) for name in _names_of(kind)}


_LEAVES = frozenset({float, int, str, bool, type(None)})


@cache
def _names_of(kind: Any) -> tuple[str, ...]:
    return tuple(f.name for f in fields(kind))


def _counts(reps: Reps) -> Mapping[str, int]:
    markers = [e.marker for e in reps.record.of_kind("marker")]
    rewards = reps.record.of_kind("reward")
    return {
        "attempts": len(reps.attempts),
        "markers": markers.count("event"),
        "keep_going_markers": markers.count("keep_going"),
        "no_reward_markers": markers.count("no_reward"),
        "repeat_markers": sum(u.repeats is not None for u in reps.uses),
        "orphan_markers": sum(u.is_orphan for u in reps.uses),
        "unrewarded_markers": sum(u.is_unrewarded for u in reps.uses),
        "rewards": len(rewards),
        "pieces": sum(r.pieces for r in rewards),
        "further_markers": sum(u.is_further for u in reps.uses),
        "paid_waits": sum(u.is_paid_wait for u in reps.uses),
        "false_alarms": sum(a.false_alarm for a in reps.attempts),
        "unmarked_rewards": len(reps.unmarked_rewards),
        "direct_rewards": len(reps.unmarked.direct),
        "exposure_rewards": len(reps.unmarked.exposure),
        "free_rewards": len(reps.unmarked.free),
        "reinforcements": len(reps.reinforcement_instants),
    }


class _Beside:
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
        self.answered = {p.onset.id: p for p in asked if p.onset is not None}


def _rep_row(timed: TimedAttempt, beside: _Beside) -> dict[str, Any]:
    attempt, key = timed.attempt, timed.attempt.onset.id
    use, marker = attempt.timing_use, attempt.timing_marker
    reward = use.first_reward if use else None
    waited = reward_latency_s(use) if use else None
    asked, course = beside.answered.get(key), beside.courses.get(key)
    return {
        "id": key,
        "approximation": attempt.approximation,
        "stretch": beside.stretch.get(key),
        "onset_s": _instant(attempt.onset),
        "offset_s": _instant(attempt.offset),
        "target_s": _target(attempt),
        "marker_s": _instant(marker),
        "reward_s": _instant(reward),
        "marker_latency_s": timed.marker_latency_s,
        "timing_error_s": timed.timing_error_s,
        "timing": timed.timing,
        "behaviour_over": timed.behaviour_over,
        "missed": beside.missed.get(key),
        "reward_latency_s": waited,
        "over_limit": None if waited is None else ticks(waited) > beside.reward_limit,
        "met": attempt.onset.met,
        "value": attempt.onset.value,
        "false_alarm": attempt.false_alarm,
        "pays": len(beside.pays.get(key, ())),
        "pieces": sum(r.pieces for r in attempt.rewards) if attempt.rewards else None,
        "uncertainty_s": uncertainty_of_difference(marker, attempt.onset) if marker else None,
        "offset_id": attempt.offset.id if attempt.offset else None,
        "marker_id": marker.id if marker else None,
        "further_ids": [m.id for m in attempt.further],
        "keep_going_ids": [m.id for m in attempt.keep_going],
        "reward_ids": [r.id for r in attempt.rewards],
        "paid_directly": bool(attempt.direct),
        "direct_reward_s": direct_reward_s(attempt),
        "placements": [r.placement for r in attempt.rewards if r.placement],
        "caught": beside.caught.get(marker.id) if marker else None,
        "reach_lead_s": beside.hand.lead_s.get(key),
        "hand_first": beside.hand.first.get(key),
        "pause_s": beside.pauses.get(key),
        "next_pause_s": beside.begun.get(key),
        "held_s": None if attempt.held is None else seconds(attempt.held),
        "stay": None if attempt.false_alarm else stay_of(attempt),
        "help": beside.help.get(key),
        "cue": asked.label if asked else None,
        "said": asked.said if asked else None,
        "answer": asked.answer if asked else None,
        "response_s": seconds(asked.length) if asked else None,
        "parts": (
            [{"key": r.part.key, "t_s": _instant(r.event)} for r in course.reached]
            if course
            else []
        ),
        "broke_at": course.broke_at if course else None,
        "conditions": {k: said(v) for k, v in (attempt.onset.conditions or {}).items()},
    }


def _instant(event: Event | None) -> float | None:
    return None if event is None else event.t_us / MICROSECONDS


def _target(attempt: Attempt) -> float | None:
    """The target as a mark on the aim's own frame would stand, past it by the hold."""
    if attempt.target is None:
        return None
    aim = attempt.offset if attempt.mark_at == "offset" and attempt.offset else attempt.onset
    return aim.t_us / MICROSECONDS + seconds(attempt.target - aim.best)


def _loose(reps: Reps) -> Mapping[str, list[str]]:
    """Ids of the marks that belong to no rep, so that a reader can be led to them."""
    return {
        "orphan_markers": [u.marker.id for u in reps.uses if u.is_orphan],
        "repeat_markers": [u.marker.id for u in reps.uses if u.repeats is not None],
        "unrewarded_markers": [u.marker.id for u in reps.uses if u.is_unrewarded],
        "unmarked_rewards": [r.id for r in reps.unmarked_rewards],
    }


#: Kinds that belong to no rep and are counted all the same.
_MOMENTS = ("other_behaviour", "sign", "criterion", "cue", "no_cue_window", "off_task_start")


def _moments(reps: Reps, fell: Mapping[str, str]) -> list[dict[str, Any]]:
    """What is no rep and yet is counted: each with its instant, so that it opens its frames.

    Markers on no rep say what they fell on, rewards without a marker stand among them.
    """
    orphans = {u.marker.id: fell.get(u.marker.id) for u in reps.uses if u.is_orphan}
    unmarked = {r.id for r in reps.unmarked_rewards}
    return [
        {
            "id": event.id,
            "kind": event.kind,
            "t_s": _instant(event),
            "label": orphans.get(event.id) or event.approximation or event.label,
            "severity": event.severity,
        }
        for event in reps.record.ordered
        if event.kind in _MOMENTS or event.id in orphans or event.id in unmarked
    ]


def _outcomes(
    reps: Reps,
    asked: Sequence[Presentation],
    sent: Sequence[Return],
    left: OptOuts,
    touched: Sequence[Exposed],
) -> list[dict[str, Any]]:
    """What came of each cue, window, wait, sending away and touch; (id, role) is unique."""
    rows: list[dict[str, Any]] = []

    def add(event: Event, role: str, outcome: str | None, length_s: float | None) -> None:
        rows.append(
            {
                "id": event.id,
                "role": role,
                "t_s": _instant(event),
                "outcome": outcome,
                "s": length_s,
            }
        )

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
