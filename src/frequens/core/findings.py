"""All findings of a session as one document, under the keys of `docs/measures.md`."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import fields
from functools import cache
from typing import Any

from .advice import Evidence, advice
from .conditions import conditions, said
from .events import (
    MICROSECONDS,
    Event,
    SessionRecord,
    seconds,
    ticks,
    uncertainty_of_difference,
)
from .helping import placement, prompts, strongest_help
from .offering import offered, signs
from .pauses import pause_pairs, pauses
from .rates import cumulative, dry_spells, rate_curve, rates
from .reps import Attempt, MarkerUse, Reps, link_reps
from .responding import response_latency, response_pairs, stimulus_control
from .sources import sources
from .splits import Segment, segments_of, splits
from .success import fidelity, held, success
from .timing import (
    TimedAttempt,
    caught,
    caught_by,
    hand_first,
    marker_latencies,
    reach_leads,
    reach_pairs,
    reward_latencies,
    reward_latency_s,
    time_attempts,
    timing_counts,
    timing_errors,
)


def measure(record: SessionRecord) -> dict[str, Any]:
    """Findings of a session: plain values ready for a JSON writer.

    Times in seconds, rates per minute; what does not apply is None. Instants in `reps` are
    the marks' own times, so that each leads to its frame; the latencies beside them are
    differences of best estimates.
    """
    reps = link_reps(record)
    timed = time_attempts(reps)
    reward, reach = reward_latencies(reps), reach_leads(reps)
    pause, dry, seen = pauses(reps), dry_spells(reps), signs(reps)
    segments = segments_of(reps)
    help_given, fell = prompts(reps), caught_by(reps)
    found: dict[str, Any] = plain(
        {
            "training_time_s": seconds(reps.clock.total),
            "counts": _counts(reps),
            "marker_latency_s": marker_latencies(timed),
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
            "success": success(reps.attempts),
            "fidelity": fidelity(reps),
            "response_latency_s": response_latency(reps),
            "pause_s": {**plain(pause.summary), "trend": pause.trend},
            "dry_spells": dry,
            "offered": offered(reps, dry),
            "signs": seen,
            "placement": placement(reps),
            "prompts": {
                "attempts": help_given.attempts,
                "last_food_lure": help_given.last_food_lure,
                "cue_lead_s": {
                    **plain(help_given.cue_lead.summary),
                    "overlapped": help_given.cue_lead.overlapped,
                },
            },
            "conditions": conditions(reps),
            "stimulus_control": stimulus_control(reps),
            "held_s": {
                key: {**plain(h.summary), "rewards_per_attempt": h.rewards_per_attempt}
                for key, h in held(reps).items()
            },
            "sources": sources(reps),
            "splits": splits(reps, segments, pause.is_rising),
            "advice": (
                advice(Evidence(reps, segments[-1], reach, pause, seen, dry)) if segments else None
            ),
            "loose": _loose(reps),
            "moments": _moments(reps, fell),
        }
    )
    # Plain already, and by far the longest part.
    found["reps"] = _rep_rows(reps, timed, segments, fell)
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
    markers = [e.marker for e in reps.record.ordered if e.kind == "marker"]
    rewards = [e for e in reps.record.ordered if e.kind == "reward"]
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
        "unmarked_rewards": len(reps.unmarked_rewards),
        "reinforcements": len(reps.reinforcement_instants),
    }


class _Beside:
    """What stands beside a rep besides its own marks, by the ids of its marks."""

    def __init__(self, reps: Reps, segments: Sequence[Segment], fell: Mapping[str, str]):
        self.caught = fell
        reaches = reach_pairs(reps)
        self.leads = {m.id: seconds(m.best - reach.best) for m, reach in reaches}
        self.hand_first = {m.id: hand_first(m, reach) for m, reach in reaches}
        self.reward_limit = ticks(reps.record.settings.reward_limit_s)
        self.stretch = {
            attempt.onset.id: place
            for place, segment in enumerate(segments)
            for attempt in segment.attempts
        }
        self.pauses = {
            after.onset.id: seconds(after.onset.best - reward.best)
            for reward, after in pause_pairs(reps)
        }
        self.responses = {
            onset.id: seconds(onset.best - cue.best) for cue, onset in response_pairs(reps)
        }
        self.help = strongest_help(reps)


def _rep_rows(
    reps: Reps,
    timed: Sequence[TimedAttempt],
    segments: Sequence[Segment],
    fell: Mapping[str, str],
) -> list[dict[str, Any]]:
    uses = {u.attempt.onset.id: u for u in reps.uses if u.attempt is not None}
    beside = _Beside(reps, segments, fell)
    return [_rep_row(t, uses.get(t.attempt.onset.id), beside) for t in timed]


def _rep_row(timed: TimedAttempt, use: MarkerUse | None, beside: _Beside) -> dict[str, Any]:
    attempt = timed.attempt
    reward = use.first_reward if use else None
    marker_id = attempt.marker.id if attempt.marker else None
    waited = reward_latency_s(use) if use else None
    return {
        "id": attempt.onset.id,
        "approximation": attempt.approximation,
        "stretch": beside.stretch.get(attempt.onset.id),
        "onset_s": _instant(attempt.onset),
        "offset_s": _instant(attempt.offset),
        "target_s": _target(attempt),
        "marker_s": _instant(attempt.marker),
        "reward_s": _instant(reward),
        "marker_latency_s": timed.marker_latency_s,
        "timing_error_s": timed.timing_error_s,
        "timing": timed.timing,
        "behaviour_over": timed.behaviour_over,
        "reward_latency_s": waited,
        "over_limit": None if waited is None else ticks(waited) > beside.reward_limit,
        "met": attempt.onset.met,
        "pieces": sum(r.pieces for r in use.rewards) if use and use.rewards else None,
        "uncertainty_s": (
            uncertainty_of_difference(attempt.marker, attempt.onset) if attempt.marker else None
        ),
        "offset_id": attempt.offset.id if attempt.offset else None,
        "marker_id": marker_id,
        "reward_ids": [r.id for r in use.rewards] if use else [],
        "placements": [r.placement for r in use.rewards if r.placement] if use else [],
        "caught": beside.caught.get(marker_id) if marker_id else None,
        "reach_lead_s": beside.leads.get(marker_id) if marker_id else None,
        "hand_first": beside.hand_first.get(marker_id) if marker_id else None,
        "pause_s": beside.pauses.get(attempt.onset.id),
        "response_s": beside.responses.get(attempt.onset.id),
        "held_s": None if attempt.held is None else seconds(attempt.held),
        "help": beside.help.get(attempt.onset.id),
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
