"""All findings of a session as one document, under the keys of `docs/measures.md`."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, TypeVar

from ..decisions.judging import Digest, digest, digest_by_hand, judge
from ..decisions.judging.digest import Parts
from ..linking.attempts import link_reps
from ..measures.blocks import bout_rows
from ..measures.certainty import Certainty, apart, dry_by_chance, fits, more_signs_p, pay
from ..measures.chains import chains, courses
from ..measures.conditions import conditions
from ..measures.exposures import exposed, exposures
from ..measures.film_certainty import sources
from ..measures.helping import (
    Followed,
    Placed,
    fading,
    follow_ups,
    helped,
    placement,
    prompts,
    strongest_help,
)
from ..measures.led_reps import led_reps
from ..measures.offering import offered, signs
from ..measures.pauses import pauses, pauses_of
from ..measures.pays import (
    direct_rewards,
    paid_directly,
    pay_gaps,
    pays_of,
    pays_per_rep,
)
from ..measures.quantities import Values, values
from ..measures.rates import cumulative, dry_spells, rate_curve, rates
from ..measures.responding import (
    asked_share,
    confusion,
    cues,
    presentations,
    response_latency,
    stimulus_control,
)
from ..measures.returning import back_by_onset, opt_outs, returns, returns_of
from ..measures.splits import segments_of, splits
from ..measures.staying import stays
from ..measures.step_in_force import in_force
from ..measures.success import fidelity, held, success
from ..measures.timing import (
    caught,
    caught_by,
    hands,
    marker_latencies,
    missed,
    reach_leads,
    reward_latencies,
    time_attempts,
    timing_counts,
    timing_errors,
)
from ..model.events import (
    SessionRecord,
    seconds,
)
from ..model.reps import Reps
from ..statistics.density import density
from ..statistics.summaries import wilson
from .document import (
    Counts,
    CueLeads,
    Findings,
    HeldLengths,
    Helping,
    Loose,
    MissedMarkers,
    OptOutCounts,
    PauseLengths,
    PlacedRewards,
    Quantities,
    ReachLeads,
    RewardLatencies,
    as_plain_values,
    names_of,
)
from .rows import Beside, moments, outcomes, rep_row

Kind = TypeVar("Kind")


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
    short = _digest(record, parts)
    beside = Beside(reps, segments, fell, help_of, hand, lost, asked, linked, rest, pays)
    measured = Findings(
        training_time_s=seconds(reps.clock.total),
        counts=_counts(reps),
        marker_latency_s=marker_latencies(timed),
        marker_density=density(
            [t.marker_latency_s for t in timed if t.marker_latency_s is not None]
        ),
        timing_error_s=timing_errors(timed),
        timing=timing_counts(timed),
        caught=caught(fell),
        reward_latency_s=_with(
            RewardLatencies,
            reward.summary,
            over_limit=reward.over_limit,
            before_marker=reward.before_marker,
        ),
        reach_lead_s=_with(ReachLeads, reach.summary, before_marker=reach.before_marker),
        rates=rates(reps),
        rate_curve=rate_curve(reps),
        cumulative=cumulative(reps),
        success=success(reps.reps),
        missed=_with(MissedMarkers, lost.share, brief=lost.brief),
        hand_first=hand.share,
        pays_per_rep=pays_per_rep(pays, reps.reps),
        pay_gap_s=pay_gaps(reps, pays),
        paid_directly=paid_directly(reps),
        direct_reward_s=direct_rewards(reps),
        stays=stays(reps, pays),
        returns=came_back,
        opt_outs=OptOutCounts(left.count, left.per_10_attempts, left.away_min),
        cues=cues(asked),
        confusion=confusion(asked),
        asked_share=asked_share(reps, asked),
        chains=chains(linked),
        exposures=exposures(touched),
        values={key: _quantities(found) for key, found in values(reps).items()},
        bouts=bout_rows(reps, pays, left),
        fading=fading(reps, help_of, asked),
        fidelity=fidelity(reps),
        led=led_reps(reps),
        response_latency_s=response_latency(asked),
        pause_s=_with(PauseLengths, pause.summary, trend=pause.trend),
        dry_spells=dry,
        offered=offered(reps, dry),
        signs=seen,
        placement={
            place: _placed(placed, followed.get(place)) for place, placed in placement(reps).items()
        },
        prompts=Helping(
            attempts=help_given.attempts,
            last_food_lure=help_given.last_food_lure,
            cue_lead_s=_with(
                CueLeads, help_given.cue_lead.summary, overlapped=help_given.cue_lead.overlapped
            ),
        ),
        helped=helped(reps, help_of),
        in_force=in_force(segments, timed),
        conditions=conditions(reps),
        stimulus_control=control,
        certainty=Certainty(
            pay=pay(paid, total / 60),
            fits=fits([a.onset.met for a in reps.reps if a.onset.met is not None]),
            d_prime=apart(control),
            signs_p=more_signs_p(seen.first_third, seen.last_third),
            dry_by_chance=dry_by_chance(dry, per_min, len(paid)),
        ),
        held_s={
            key: _with(HeldLengths, h.summary, rewards_per_attempt=h.rewards_per_attempt)
            for key, h in held_for.items()
        },
        sources=sources(reps, asked, rest),
        splits=splits(reps, segments, pause.is_rising),
        loose=_loose(reps),
        moments=[*moments(reps, fell), *outcomes(reps, asked, sent, left, touched)],
        reps=[rep_row(t, beside) for t in timed],
        advice=judge([short], record.plan),
    )
    return MeasuredSession(as_plain_values(measured), short)


def _digest(record: SessionRecord, parts: Parts) -> Digest:
    if record.by_hand is not None:
        return digest_by_hand(record, record.by_hand)
    return digest(parts)


def _with(kind: type[Kind], of: Any, **more: Any) -> Kind:
    """What a measure came to, with what stands beside it on the same level."""
    measured: Any = type(of)
    return kind(**{name: getattr(of, name) for name in names_of(measured)}, **more)


def _quantities(found: Values) -> Quantities:
    own = {name: getattr(found, name) for name in names_of(Values) if name != "summary"}
    return _with(Quantities, found.summary, **own)


def _placed(placed: Placed, followed: Followed | None) -> PlacedRewards:
    after = followed or Followed(next_n=0, next_s=None, next_met=wilson(0, 0))
    return _with(
        PlacedRewards,
        placed,
        next_n=after.next_n,
        next_s=after.next_s,
        next_met=after.next_met,
    )


def _counts(reps: Reps) -> Counts:
    markers = [e.marker for e in reps.record.of_kind("marker")]
    rewards = reps.record.of_kind("reward")
    return Counts(
        attempts=len(reps.attempts),
        markers=markers.count("event"),
        keep_going_markers=markers.count("keep_going"),
        no_reward_markers=markers.count("no_reward"),
        repeat_markers=sum(u.repeats is not None for u in reps.uses),
        orphan_markers=sum(u.is_orphan for u in reps.uses),
        unrewarded_markers=sum(u.is_unrewarded for u in reps.uses),
        rewards=len(rewards),
        pieces=sum(r.pieces for r in rewards),
        further_markers=sum(u.is_further for u in reps.uses),
        paid_waits=sum(u.is_paid_wait for u in reps.uses),
        false_alarms=sum(a.false_alarm for a in reps.attempts),
        unmarked_rewards=len(reps.unmarked_rewards),
        direct_rewards=len(reps.unmarked.direct),
        exposure_rewards=len(reps.unmarked.exposure),
        free_rewards=len(reps.unmarked.free),
        reinforcements=len(reps.reinforcement_instants),
    )


def _loose(reps: Reps) -> Loose:
    return Loose(
        orphan_markers=[u.marker.id for u in reps.uses if u.is_orphan],
        repeat_markers=[u.marker.id for u in reps.uses if u.repeats is not None],
        unrewarded_markers=[u.marker.id for u in reps.uses if u.is_unrewarded],
        unmarked_rewards=[r.id for r in reps.unmarked_rewards],
    )
