"""The findings of a session as one document: every key, and what stands under it.

Times are seconds of the session, lengths seconds, rates per minute, shares 0 to 1 with their 95 %
interval; None is what does not apply. `docs/measures.md` says what each key means. The API's schema
and the front end's types are made from these classes.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass, fields
from functools import cache
from typing import Any, Literal

from ..decisions.judging import Judgement
from ..measures.blocks import BoutRow
from ..measures.certainty import Certainty
from ..measures.chains import Chain
from ..measures.conditions import Condition
from ..measures.exposures import ExposureCounts
from ..measures.film_certainty import Sources
from ..measures.helping import Fading, Placed
from ..measures.led_reps import LedReps
from ..measures.offering import Offered, Signs
from ..measures.pauses import Trend
from ..measures.quantities import LevelOfValue
from ..measures.rates import CurvePoint, DrySpells, Rates, Step
from ..measures.responding import CueCounts, ResponseLatency, StimulusControl
from ..measures.returning import Returns
from ..measures.splits import Splits
from ..measures.staying import Stay, Stays
from ..measures.step_in_force import InForce
from ..measures.success import Fidelity, Success
from ..measures.timing import Timing, TimingCounts
from ..statistics.density import Density
from ..statistics.summaries import Share, Summary


@dataclass(frozen=True)
class Counts:
    """How many there were of everything that is counted."""

    attempts: int
    markers: int
    keep_going_markers: int
    no_reward_markers: int
    repeat_markers: int
    orphan_markers: int
    unrewarded_markers: int
    rewards: int
    pieces: int
    further_markers: int
    paid_waits: int
    false_alarms: int
    unmarked_rewards: int
    direct_rewards: int
    exposure_rewards: int
    free_rewards: int
    reinforcements: int


@dataclass(frozen=True, kw_only=True)
class RewardLatencies(Summary):
    """Reward latencies; how many came late, how many before the marker."""

    over_limit: int
    before_marker: int


@dataclass(frozen=True, kw_only=True)
class ReachLeads(Summary):
    """How long the hand moved before the marker; how many moved before it."""

    before_marker: int


@dataclass(frozen=True, kw_only=True)
class MissedMarkers(Share):
    """The share of reps without their marker, by the kind of rep."""

    brief: Mapping[str, bool]


@dataclass(frozen=True)
class OptOutCounts:
    """How often the animal went of its own accord, and for how long, minutes."""

    count: int
    per_10_attempts: float | None
    away_min: float


@dataclass(frozen=True, kw_only=True)
class Quantities(Summary):
    """One quantity's values, at the beginning and the end, and against its target."""

    first_third: float | None
    last_third: float | None
    target: float | None
    reached: Share | None
    conditions: Mapping[str, Mapping[str, LevelOfValue]]


@dataclass(frozen=True, kw_only=True)
class PauseLengths(Summary):
    """The pauses after the reward, and whether they grow."""

    trend: Trend


@dataclass(frozen=True, kw_only=True)
class PlacedRewards(Placed):
    """The rewards of one place, and the next rep after them."""

    next_n: int
    next_s: float | None
    next_met: Share


@dataclass(frozen=True, kw_only=True)
class CueLeads(Summary):
    """From the new cue to the old help; how many overlapped."""

    overlapped: int


@dataclass(frozen=True)
class Helping:
    """Attempts by the help given, and how the new cue stood before it."""

    attempts: Mapping[str, int]
    last_food_lure: int | None
    cue_lead_s: CueLeads


@dataclass(frozen=True, kw_only=True)
class HeldLengths(Summary):
    """How long one step was held, and how often that was paid."""

    rewards_per_attempt: float


@dataclass(frozen=True)
class Loose:
    """Ids of the marks that belong to no rep, so that a reader can be led to them."""

    orphan_markers: list[str]
    repeat_markers: list[str]
    unrewarded_markers: list[str]
    unmarked_rewards: list[str]


@dataclass(frozen=True)
class PartReached:
    """A part of a chain and when it was reached."""

    key: str
    t_s: float


@dataclass(frozen=True)
class Rep:
    """One attempt with its marks' own times and ids, and all that was measured of it."""

    id: str
    approximation: str | None
    stretch: int | None
    onset_s: float
    offset_s: float | None
    target_s: float | None
    marker_s: float | None
    reward_s: float | None
    marker_latency_s: float | None
    timing_error_s: float | None
    timing: Timing | None
    behaviour_over: bool | None
    missed: bool | None
    reward_latency_s: float | None
    over_limit: bool | None
    met: bool | None
    value: float | None
    false_alarm: bool
    pays: int
    pieces: int | None
    uncertainty_s: float | None
    offset_id: str | None
    marker_id: str | None
    further_ids: list[str]
    keep_going_ids: list[str]
    reward_ids: list[str]
    paid_directly: bool
    direct_reward_s: float | None
    placements: list[str]
    caught: str | None
    reach_lead_s: float | None
    hand_first: bool | None
    pause_s: float | None
    next_pause_s: float | None
    held_s: float | None
    stay: Stay | None
    help: str | None
    cue: str | None
    said: int | None
    answer: Literal["hit", "wrong", "miss"] | None
    response_s: float | None
    parts: list[PartReached]
    broke_at: str | None
    conditions: dict[str, str]
    tapped_met: bool | None


@dataclass(frozen=True)
class Moment:
    """What is no rep and yet is counted, with its instant, so that it opens its frames."""

    id: str
    kind: str
    t_s: float
    label: str | None
    severity: int | None


@dataclass(frozen=True)
class Outcome:
    """What came of a cue, a window, a sending away, a touch; `s` seconds until then."""

    id: str
    role: str
    t_s: float
    outcome: str | None
    s: float | None


@dataclass(frozen=True)
class Findings:
    """A session measured."""

    training_time_s: float
    counts: Counts
    marker_latency_s: Summary
    marker_density: Density
    timing_error_s: Summary
    timing: TimingCounts
    caught: Mapping[str, int]
    reward_latency_s: RewardLatencies
    reach_lead_s: ReachLeads
    rates: Rates
    rate_curve: tuple[CurvePoint, ...]
    cumulative: tuple[Step, ...]
    success: Success
    missed: MissedMarkers
    hand_first: Share
    pays_per_rep: Summary
    pay_gap_s: Summary
    paid_directly: Share
    direct_reward_s: Summary
    stays: Mapping[str, Stays]
    returns: Returns
    opt_outs: OptOutCounts
    cues: Mapping[str, CueCounts]
    confusion: Mapping[str, Mapping[str, int]]
    asked_share: Share
    chains: Mapping[str, Chain]
    exposures: Mapping[str, ExposureCounts]
    values: Mapping[str, Quantities]
    bouts: tuple[BoutRow, ...]
    fading: Fading | None
    fidelity: Fidelity
    led: LedReps | None
    response_latency_s: ResponseLatency
    pause_s: PauseLengths
    dry_spells: DrySpells
    offered: Offered
    signs: Signs
    placement: Mapping[str, PlacedRewards]
    prompts: Helping
    helped: Share | None
    in_force: InForce | None
    conditions: Mapping[str, Condition]
    stimulus_control: StimulusControl
    certainty: Certainty
    held_s: Mapping[str, HeldLengths]
    sources: Sources
    splits: Splits
    loose: Loose
    moments: list[Moment | Outcome]
    reps: list[Rep]
    advice: Judgement


def as_plain_values(value: Any) -> Any:
    """Dataclasses, mappings, sequences and dates as dicts, lists and text, all the way down."""
    kind: Any = type(value)
    if kind in _LEAVES:
        return value
    if kind in (list, tuple):
        return [item if type(item) in _LEAVES else as_plain_values(item) for item in value]
    if isinstance(value, Mapping):
        return {key: as_plain_values(item) for key, item in value.items()}
    if kind is dt.date:
        return value.isoformat()
    # By far the longest parts, and plain already but for a rep's parts.
    if kind is Rep:
        return {**value.__dict__, "parts": as_plain_values(value.parts)}
    if kind in (Moment, Outcome):
        return {**value.__dict__}
    return {
        name: item if type(item := getattr(value, name)) in _LEAVES else as_plain_values(item)
        for name in names_of(kind)
    }


_LEAVES = frozenset({float, int, str, bool, type(None)})


@cache
def names_of(kind: Any) -> tuple[str, ...]:
    """The names of a dataclass's fields, in their order."""
    return tuple(f.name for f in fields(kind))
