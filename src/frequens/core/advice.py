"""What to do next: the plan's rule, and the guards that come before it.

Everything said carries its numbers, and nothing proposes a correction, pressure or pain.
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from .events import seconds, ticks
from .offering import Signs
from .pauses import Pauses
from .rates import DrySpells
from .reps import Reps
from .rules import RULES, SERIOUS, Decision, with_defaults
from .splits import Segment, decision_at_end
from .summaries import wilson
from .timing import ReachLead

Verdict = Literal["raise", "hold", "lower", "split", "end"]
DEFAULT_RULE: Mapping[str, Any] = {"kind": "run"}
RATE_FLOOR_PER_MIN = 6.0
MINUTE_S = 60.0


@dataclass(frozen=True, slots=True)
class Reason:
    """Why, in a stable code, in plain words, and in numbers."""

    code: str
    text: str
    numbers: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Advice:
    """What to do at the approximation in force, and what the other schools would say.

    `then` is what rule and guards said before a limit of the plan ended the session: a limit
    ends the session, not the learning. None where none did, and after distress.
    """

    decision: Verdict
    then: Verdict | None
    rule: Mapping[str, Any]
    reasons: tuple[Reason, ...]
    other_rules: Mapping[str, Decision]


@dataclass(frozen=True)
class Evidence:
    """What the guards look at."""

    reps: Reps
    segment: Segment
    reach: ReachLead
    pauses: Pauses
    signs: Signs
    dry: DrySpells


def advice(evidence: Evidence) -> Advice:
    """Judge the last stretch of a session: guards first, then the plan's rule."""
    reps, segment = evidence.reps, evidence.segment
    rule = with_defaults(reps.record.plan.rule or DEFAULT_RULE)
    rising = evidence.pauses.is_rising
    said = decision_at_end(reps, segment, rule, rising)
    reasons = [_of_rule(rule, said), *_small_sample(segment)]
    decision: Verdict = said.decision
    then: Verdict | None = None
    for guard in GUARDS:
        for reason, change in guard(evidence):
            reasons.insert(0, reason)
            if reason.code in LIMITS and decision != "end":
                then = decision
            decision = change(decision)
            if reason.code == "distress":
                then = None
    return Advice(
        decision,
        then,
        rule,
        tuple(reasons),
        {
            kind: decision_at_end(reps, segment, with_defaults({"kind": kind}), rising)
            for kind in RULES
            if kind != rule["kind"]
        },
    )


#: Reasons that are limits of the plan.
LIMITS = ("session_cap", "rep_cap")
Change = Callable[[Verdict], Verdict]
Guard = Callable[[Evidence], Iterator[tuple[Reason, Change]]]


def _no_raise(decision: Verdict) -> Verdict:
    return "hold" if decision == "raise" else decision


def _no_change(decision: Verdict) -> Verdict:
    return "hold" if decision in ("raise", "lower", "split") else decision


def _end(decision: Verdict) -> Verdict:
    return "end"


def _fatigue(evidence: Evidence) -> Iterator[tuple[Reason, Change]]:
    """A tired animal: shorter sessions and a break before anything harder."""
    trend, signs = evidence.pauses.trend, evidence.signs
    if evidence.pauses.is_rising and trend.slope_per_min is not None and trend.p is not None:
        yield (
            Reason(
                "rising_pause",
                f"The animal came back more slowly as the session went on, by "
                f"{trend.slope_per_min:.1f} s each minute: make it shorter, or take a break.",
                {"slope_per_min": trend.slope_per_min, "p": trend.p},
            ),
            _no_raise,
        )
    if signs.last_third > signs.first_third:
        yield (
            Reason(
                "more_signs",
                f"Signs of strain grew: {signs.first_third} in the first third, "
                f"{signs.last_third} in the last: make it shorter, or take a break.",
                {"first_third": signs.first_third, "last_third": signs.last_third},
            ),
            _no_raise,
        )


def _dry_spell(evidence: Evidence) -> Iterator[tuple[Reason, Change]]:
    """A long wait for a reward at the present step."""
    limit = evidence.reps.record.settings.dry_spell_s
    here = [s for s in evidence.dry.spells if ticks(s.end_s) > evidence.segment.start]
    if here:
        longest = max(s.length_s for s in here)
        yield (
            Reason(
                "dry_spell",
                f"{longest:.0f} s went by without a reward; {limit:.0f} s is the limit: "
                "make the step easier before it gets harder.",
                {"longest_s": longest, "dry_spell_s": limit},
            ),
            _no_raise,
        )


def _rate_floor(evidence: Evidence) -> Iterator[tuple[Reason, Change]]:
    """Paid too rarely over the last whole minute: go a step back, or split this one."""
    reps, plan = evidence.reps, evidence.reps.record.plan
    floor = plan.rate_floor_per_min
    floor = RATE_FLOOR_PER_MIN if floor is None else floor
    clock, minute = reps.clock, ticks(MINUTE_S)
    end = clock.at(evidence.segment.end)
    if end - clock.at(evidence.segment.start) < minute:
        return
    paid = [clock.at(t) for t in reps.reinforcement_instants]
    count = bisect_right(paid, end) - bisect_left(paid, end - minute)
    if count >= floor:
        return
    step = plan.approximation(evidence.segment.approximation)
    place = plan.place(evidence.segment.approximation)
    easier = (step is not None and step.fallback is not None) or bool(place)
    wanted: Verdict = "lower" if easier else "split"
    what = "go one step back" if easier else "split this step into smaller ones"
    yield (
        Reason(
            "rate_floor",
            f"Only {counted(count, 'reward')} in the last whole minute; {floor:g} is the least: "
            f"{what}.",
            {"per_min": count, "rate_floor_per_min": floor},
        ),
        lambda decision: decision if decision == "lower" else wanted,
    )


def _mechanics(evidence: Evidence) -> Iterator[tuple[Reason, Change]]:
    """The trainer's own hands come before any change of criterion."""
    unpaid = sum(u.is_unrewarded for u in evidence.reps.uses)
    if unpaid:
        yield (
            Reason(
                "unrewarded_markers",
                f"{counted(unpaid, 'marker')} brought no reward: "
                "every marker is a promise. Mend that before the step changes.",
                {"unrewarded_markers": unpaid},
            ),
            _no_change,
        )
    first, of = evidence.reach.before_marker, evidence.reach.summary.n
    if first:
        yield (
            Reason(
                "hand_first",
                f"The hand moved before the marker on {first} of {of}: the animal may be "
                "watching the hand. Still hands until the marker, before the step changes.",
                {"before_marker": first, "n": of},
            ),
            _no_change,
        )


def _caps(evidence: Evidence) -> Iterator[tuple[Reason, Change]]:
    """The session's own limits: end on a success."""
    reps, plan = evidence.reps, evidence.reps.record.plan
    passed, count = seconds(reps.clock.total), len(reps.attempts)
    if plan.session_cap_s is not None and passed >= plan.session_cap_s:
        yield (
            Reason(
                "session_cap",
                f"{passed / 60:.1f} min of training; {plan.session_cap_s / 60:.1f} is the "
                "plan's limit: end on a success.",
                {"training_time_s": passed, "session_cap_s": plan.session_cap_s},
            ),
            _end,
        )
    if plan.rep_cap is not None and count >= plan.rep_cap:
        yield (
            Reason(
                "rep_cap",
                f"{counted(count, 'rep')}; {plan.rep_cap} is the plan's limit: end on a success.",
                {"attempts": count, "rep_cap": plan.rep_cap},
            ),
            _end,
        )


def _distress(evidence: Evidence) -> Iterator[tuple[Reason, Change]]:
    """A severe sign ends the session, whatever the numbers say."""
    severe = [label for label, sign in evidence.signs.labels.items() if sign.worst >= SERIOUS]
    if severe:
        yield (
            Reason(
                "distress",
                f"A severe sign was seen ({', '.join(severe)}): stop here. Give distance and "
                "rest; where fear or pain may be behind it, ask a veterinarian or a qualified "
                "behaviour professional.",
                {"severity": SERIOUS},
            ),
            _end,
        )


#: Later ones overrule earlier ones and are said before them.
GUARDS: Sequence[Guard] = (_dry_spell, _fatigue, _rate_floor, _mechanics, _caps, _distress)


def _small_sample(segment: Segment) -> Iterator[Reason]:
    judged = [j.met for j in segment.judged]
    share = wilson(sum(judged), len(judged))
    if share.low is None or share.high is None:
        yield Reason("not_judged", "No rep at this step is judged yet.", {"judged": 0})
        return
    yield Reason(
        "small_sample",
        f"{share.count} of {share.of} is compatible with a true share of "
        f"{share.low * 100:.0f} % to {share.high * 100:.0f} %.",
        {"met": share.count, "judged": share.of, "low": share.low, "high": share.high},
    )


def _of_rule(rule: Mapping[str, Any], said: Decision) -> Reason:
    numbers = dict(said.numbers)
    code = {"raise": "rule_raise", "lower": "rule_lower"}.get(said.decision, said.reason)
    return Reason(code, _RULE_WORDS[rule["kind"]](numbers, said), numbers)


def counted(n: float, one: str) -> str:
    """A count with its noun: 1 rep, 3 reps."""
    return f"{n:g} {one}" if n == 1 else f"{n:g} {one}s"


def _run_words(n: Mapping[str, float], said: Decision) -> str:
    if said.decision == "lower":
        return f"The last {n['misses']:g} reps all failed; {n['miss']:g} in a row mean: easier."
    word = "that is enough" if said.decision == "raise" else f"{n['need']:g} are asked for"
    return f"{counted(n['run'], 'rep')} in a row fit; {word}."


def _share_words(n: Mapping[str, float], said: Decision) -> str:
    if "share" not in n:
        return f"{counted(n['judged'], 'judged rep')}; the rule looks at the last {n['window']:g}."
    return f"{n['met']:g} of the last {n['window']:g} reps fit ({n['share'] * 100:.0f} %)."


def _block_words(n: Mapping[str, float], said: Decision) -> str:
    if "met" in n:
        return f"{n['met']:g} of this block of {n['size']:g} fit."
    if "into" in n:
        return (
            f"{counted(n['into'], 'rep')} into a block of {n['size']:g}; it is judged at its end."
        )
    return f"No judged rep yet; blocks of {n['size']:g} are judged."


def _percentile_words(n: Mapping[str, float], said: Decision) -> str:
    if "criterion" not in n:
        return f"{counted(n['values'], 'measured rep')}; the rule needs {n['window']:g}."
    return f"The next rep is paid if it is better than {n['criterion']:g}."


def _comfort_words(n: Mapping[str, float], said: Decision) -> str:
    if said.decision == "lower":
        return "The animal showed strain at this step: go back to where it was at ease."
    return (
        f"{counted(n['clean'], 'session')} in a row at ease at this step; {n['clean_sessions']:g} "
        "are asked for."
    )


_RULE_WORDS: Mapping[str, Callable[[Mapping[str, float], Decision], str]] = {
    "run": _run_words,
    "share": _share_words,
    "block": _block_words,
    "percentile": _percentile_words,
    "comfort": _comfort_words,
}
