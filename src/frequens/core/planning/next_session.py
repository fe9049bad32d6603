"""The card of the next session: it follows the judgement, under the plan it was judged by.

Every number has its rule here; the trainer may change all of it. What is marked common
practice has no source but use.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from frequens.words import fill
from frequens.words.spoken import judgement as judgement_words
from frequens.words.spoken import next_session as words

from ..decisions.judging import Digest, Judgement
from .calculators.preparing import placement_budget, prepare_rewards
from .calculators.schedules import FIRST_SESSION_S
from .shaping import Learner, remarks, step_in_use, steps_in_use
from .shaping.between import step_between

Plan = Mapping[str, Any]
Findings = Mapping[str, Any]
#: A usual session where the plan sets no limit, seconds (common practice: 2 to 3 min).
USUAL_S = 150.0
#: What tires or strains gets less next time: two thirds; what distressed, half.
TIRED, DISTRESSED = 2 / 3, 1 / 2
TIRING = ("unease", "rising_pause", "more_signs", "dry_spell")
LEAST_S, LEAST_PER_MIN = 30.0, 6.0
WARM_UP_REPS = 3
#: More in one session nobody keeps to, and no script lists.
MOST_REPS = 60
MOST_CAUTIONS = 4
#: Where a behaviour that stands is taken, one thing at a time (common practice): the names that
#: conditions of the plan have for it.
PROOF = {
    "place": {"place", "location"},
    "time": {"time", "time of day"},
    "person": {"handler", "person"},
}


@dataclass(frozen=True, slots=True)
class NextSession:
    """A card for the next session. Steps are keys of the plan; None where there is none.

    `minutes` and `reps` are limits, `expected_reps` what comes of them at its pace; `pieces` to
    prepare are for all of it with a fifth to spare, `energy_share` their part of the day's energy
    (0 to 1) where it is known. `placement` shares the rewards out. `vary` names what has no levels
    in the plan and may be varied, one after another. `help` is the most help to give, None where
    the step says it. `between` is a step to put into the plan.
    """

    warm_up: str | None
    warm_up_reps: int
    criterion: str | None
    help: str | None
    between: Mapping[str, Any] | None
    minutes: float
    reps: int | None
    expected_reps: int
    pieces: int
    energy_share: float | None
    placement: Mapping[str, int]
    vary: tuple[str, ...]
    watch: tuple[str, ...]
    cautions: tuple[str, ...]
    stop_rules: tuple[str, ...]


def next_session(
    judgement: Judgement,
    digest: Digest,
    plan: Plan,
    learner: Learner | None = None,
    piece_kj: float | None = None,
    day_kj: float | None = None,
    findings: Findings | None = None,
) -> NextSession:
    """The card after a session in short, as it was judged, under a `frequens-plan` document.

    `findings` are those of a filmed session; without them nothing is said of its details.
    """
    steps = steps_in_use(plan)
    codes = [judgement.why.code, *(said.code for said in judgement.beside)]
    criterion = _criterion(judgement, steps)
    seconds = _seconds(plan, digest, codes)
    reps = plan.get("rep_cap")
    if reps is not None and _dose(codes) < 1:
        reps = max(1, round(reps * _dose(codes)))
    rate = max(_rate(digest), plan.get("rate_floor_per_min") or LEAST_PER_MIN)
    ready = prepare_rewards(seconds / 60, rate, _pieces_each(findings), 0.2, piece_kj, day_kj)
    mix = plan.get("placement") or {}
    return NextSession(
        warm_up=_below(steps, criterion),
        warm_up_reps=WARM_UP_REPS,
        criterion=criterion,
        help=judgement.help,
        between=missing_step(judgement, plan),
        minutes=round(seconds / 60, 1),
        reps=reps,
        expected_reps=max(1, min(reps or MOST_REPS, round(seconds / 60 * rate))),
        pieces=ready.pieces,
        energy_share=ready.energy_share,
        placement=placement_budget(ready.pieces, mix).rewards if mix else {},
        vary=_vary(judgement, plan),
        watch=_watch(judgement, codes, findings),
        cautions=_cautions(plan, learner),
        stop_rules=tuple(_stop_rules(plan, seconds, reps)),
    )


def _criterion(judgement: Judgement, steps: Sequence[Plan]) -> str | None:
    """The judgement's next step; the first of the plan where that is not in it."""
    keys = [step["key"] for step in steps]
    if judgement.next_step in keys:
        return judgement.next_step
    return keys[0] if keys else None


def _below(steps: Sequence[Plan], key: str | None) -> str | None:
    """The step to warm up with: the one below, at the first the first."""
    keys = [step["key"] for step in steps]
    return keys[max(0, keys.index(key) - 1)] if key in keys else None


def missing_step(judgement: Judgement, plan: Plan) -> Mapping[str, Any] | None:
    """The step to put into the plan; None where no step is missing or both are not there."""
    low, high = judgement.split_between or (None, None)
    above = step_in_use(plan, high)
    below = step_in_use(plan, low)
    if above is None or (low is not None and below is None):
        return None
    keys = {step["key"] for step in plan.get("approximations", [])}
    key, n = f"{above['key']}-half", 2
    while key in keys:
        key, n = f"{above['key']}-half{n}", n + 1
    return step_between(key, below, above)


def _dose(codes: Sequence[str]) -> float:
    if "distress" in codes:
        return DISTRESSED
    return TIRED if any(code in codes for code in TIRING) else 1.0


def _seconds(plan: Plan, digest: Digest, codes: Sequence[str]) -> float:
    cap: float | None = plan.get("session_cap_s")
    usual = USUAL_S if cap is None else cap
    if digest.attempts == 0:
        usual = min(usual, FIRST_SESSION_S)
    if _dose(codes) == 1:
        return usual
    # Shorter than it was, whatever was allowed.
    worked = 60 * digest.minutes if digest.minutes else usual
    return max(LEAST_S, min(usual, worked) * _dose(codes))


def _rate(digest: Digest) -> float:
    return digest.rewards / digest.minutes if digest.rewards and digest.minutes else 0.0


def _pieces_each(findings: Findings | None) -> float:
    counts = findings["counts"] if findings else {"rewards": 0}
    return max(1.0, counts["pieces"] / counts["rewards"]) if counts["rewards"] else 1.0


def _vary(judgement: Judgement, plan: Plan) -> tuple[str, ...]:
    """One thing at a time: what is raised today is not varied as well."""
    if judgement.decision == "raise":
        return ()
    conditions = plan.get("conditions", [])
    by_levels = {one["name"] for one in conditions if one.get("levels")}
    names = tuple(one["name"] for one in conditions if one["name"] not in by_levels)
    if judgement.decision == "proof":
        elsewhere = [what for what, told in PROOF.items() if not told & by_levels]
        return (*names, *(words.ELSEWHERE[what] for what in elsewhere))
    if judgement.why.code == "uneven":
        numbers = judgement.why.numbers
        return () if numbers["condition"] in by_levels else (fill(words.LAGS, numbers),)
    return names


def _watch(
    judgement: Judgement, codes: Sequence[str], findings: Findings | None
) -> tuple[str, ...]:
    """What to look at in the animal and in one's own hands, in the order of what was said."""
    said = [words.WATCH[code] for code in codes if code in words.WATCH]
    if judgement.help is not None:
        said.insert(
            0, fill(words.WATCH_HANDS["fade"], {}, help=judgement_words.HELP[judgement.help])
        )
    timing = findings["timing"] if findings else None
    if timing is not None and "mend_timing" in codes:
        if timing["late"] or timing["behaviour_over"]:
            said.append(words.WATCH_HANDS["late"])
        if timing["early"]:
            said.append(words.WATCH_HANDS["early"])
    if findings is not None and findings["reward_latency_s"]["over_limit"]:
        said.append(words.WATCH_HANDS["slow_reward"])
    if findings is not None and findings["counts"]["orphan_markers"]:
        said.append(words.WATCH_HANDS["orphan_markers"])
    return tuple(dict.fromkeys(said)) or (words.WATCH_HANDS["nothing"],)


def _cautions(plan: Plan, learner: Learner | None) -> tuple[str, ...]:
    found = [r for r in remarks(plan, learner) if r.sort == "caution"]
    return tuple(f"{r.title} {r.text}" for r in found[:MOST_CAUTIONS])


def _stop_rules(plan: Plan, seconds: float, reps: int | None) -> list[str]:
    limit = words.STOP["limit.reps" if reps else "limit"]
    said = [fill(limit, {"minutes": seconds / 60, "reps": reps})]
    rule = plan.get("rule") or {}
    if rule.get("kind", "run") == "run":
        said.append(fill(words.STOP["misses"], {"miss": rule.get("miss", 3)}))
    said.append(words.STOP["ease"])
    return said
